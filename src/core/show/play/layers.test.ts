import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { after, drawing, scene, showWith, slotsAt, units } from '../../../../tests/support/rig.ts';
import { make } from '../../records/index.ts';
import {
  applyLive,
  compilePlay,
  compileRig,
  initialLive,
  isOver,
  liveCommandSchema,
  liveStateSchema,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type LiveCommand,
} from '../index.ts';
import { AREAS, at, group, RIG, show, two } from '../../../../tests/support/room.ts';

describe('a room and the areas in it', () => {
  test('an area plays something of its own over the room, whatever the priority there', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:high' }],
      [0, { do: 'play', target: 'scene:own', areaId: 'area:bar' }],
    );
    assert.deepEqual(two(state), [153, 51]);
    const back = applyLive(state, { do: 'releaseAll', areaId: 'area:bar', fadeOutMs: 0 }, 9000, 'x', show);
    assert.deepEqual(two(back, 9500), [153, 153]);
  });
  test('an area alone rests, and is handed back with a fade', () => {
    const state = after(show, [0, { do: 'play', target: 'scene:room' }], [0, { do: 'play', target: 'area:bar' }]);
    assert.deepEqual(two(state), [204, 0]);
    const back = applyLive(state, { do: 'release', target: 'area:bar' }, 9000, 'x', show);
    assert.deepEqual(two(back, 9500), [204, 102]);
    assert.deepEqual(two(back, 11_000), [204, 204]);
  });
  test('an outer area reaches what lies in it', () => {
    const state = after(show, [0, { do: 'play', target: 'scene:room' }], [0, { do: 'play', target: 'area:hall' }]);
    assert.deepEqual(two(state), [0, 0]);
  });
  test('one area is dark alone and comes back', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:room' }],
      [1000, { do: 'areaDark', areaId: 'area:bar', on: true }],
    );
    assert.deepEqual(two(state, 1250), [204, 102]);
    assert.deepEqual(two(state, 1600), [204, 0]);
    const back = applyLive(state, { do: 'areaDark', areaId: 'area:bar', on: false }, 2000, 'x', show);
    assert.deepEqual(two(back, 2600), [204, 204]);
  });
  test('a scene that is held to an area reaches nothing else', () =>
    assert.deepEqual(two(after(show, [0, { do: 'play', target: 'scene:barred' }])), [0, 255]));
  test('a play on some units reaches those', () =>
    assert.deepEqual(two(after(show, [0, { do: 'play', target: 'scene:room', on: ['unit:a'] }])), [204, 0]));
});

describe('masters besides the grand master', () => {
  const playing: [number, LiveCommand] = [0, { do: 'play', target: 'scene:room' }];
  const cases: [name: string, command: LiveCommand, expected: number[]][] = [
    ['a group', { do: 'group', groupId: 'group:g', level: 0.5 }, [204, 102]],
    ['a kind of fixture', { do: 'kind', kind: 'dimmer', level: 0.25 }, [51, 51]],
    ['solo of units', { do: 'solo', units: ['unit:a'] }, [204, 0]],
    ['an area', { do: 'area', areaId: 'area:hall', level: 0.5 }, [102, 102]],
  ];
  for (const [name, command, expected] of cases)
    test(name, () => assert.deepEqual(two(after(show, playing, [10, command])), expected));
  test('full again leaves nothing behind', () => {
    const state = after(
      show,
      playing,
      [1, { do: 'group', groupId: 'group:g', level: 0.5 }],
      [2, { do: 'group', groupId: 'group:g', level: 1 }],
    );
    assert.deepEqual(state.groups, {});
  });
  test('raw bytes pass a group master as little as its lights do', () => {
    const state = after(
      show,
      [0, { do: 'raw', set: { '1.2': 200 } }],
      [1, { do: 'group', groupId: 'group:g', level: 0.5 }],
    );
    assert.equal(at(state, 100)[1], 100);
  });
  test('a group holds the level of its members, the lower of unit and group', () => {
    const limited = showWith(
      ...AREAS,
      ...RIG,
      make('group', { ...group, levelLimit: 0.5 }),
      scene('all', { a: { Dimmer: 1 }, b: { Dimmer: 1 } }),
    );
    assert.deepEqual([...slotsAt(limited, { play: ['scene:all'], at: 50 }).subarray(0, 2)], [255, 128]);
  });
  test('Dark leaves haze alone, or takes it along', () => {
    const mist: [number, LiveCommand] = [0, { do: 'play', target: 'scene:mist' }];
    const with0 = at(after(show, mist), 5000)[9]!;
    assert.ok(with0 > 0);
    assert.equal(at(after(show, mist, [1000, { do: 'dark', on: true }]), 5000)[9], with0);
    assert.ok(at(after(show, mist, [1000, { do: 'dark', on: true, haze: true }]), 5000)[9]! < with0);
  });
});

describe('flash, solo, freeze', () => {
  test('a flash is over all that plays, at once, and gone when it is let go', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:high' }],
      [100, { do: 'flash', target: 'scene:slow', on: true }],
    );
    assert.deepEqual(two(state, 101), [255, 255]);
    const gone = applyLive(state, { do: 'flash', target: 'scene:slow', on: false }, 200, 'x', show);
    assert.deepEqual(two(gone, 201), [153, 153]);
  });
  test('solo of something that plays hides the rest until it is let go', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:room' }],
      [0, { do: 'play', target: 'scene:own' }],
      [0, { do: 'soloPlay', playId: 'p1', on: true }],
    );
    assert.deepEqual(two(state), [0, 51]);
    assert.deepEqual(two(applyLive(state, { do: 'releasePlay', playId: 'p1' }, 100, 'x', show), 900), [204, 204]);
  });
  test('frozen it stands still, and goes on from where it stood', () => {
    const frozen = after(show, [0, { do: 'play', target: 'chase:walk' }], [1500, { do: 'freeze', on: true }]);
    assert.deepEqual(two(frozen, 2600), two(frozen, 1500));
    const on = applyLive(frozen, { do: 'freeze', on: false }, 10_000, 'x', show);
    assert.deepEqual(
      [two(on, 10_400), two(on, 10_600)],
      [
        [0, 51],
        [204, 204],
      ],
    );
  });
  test('masters and the hand work while it is frozen', () => {
    const frozen = after(
      show,
      [0, { do: 'play', target: 'scene:room' }],
      [100, { do: 'freeze', on: true }],
      [200, { do: 'hand', set: { 'unit:a': { Dimmer: 1 } } }],
      [200, { do: 'grand', level: 0.5 }],
    );
    assert.deepEqual(two(frozen, 300), [128, 102]);
  });
});

describe('times', () => {
  test('a delay, then the fade', () => {
    const state = after(show, [0, { do: 'play', target: 'scene:slow' }]);
    assert.deepEqual(
      [two(state, 400), two(state, 1000), two(state, 1600)],
      [
        [0, 0],
        [128, 128],
        [255, 255],
      ],
    );
  });
  test('fades of the command in place of its own', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:room', fadeInMs: 1000 }],
      [5000, { do: 'release', target: 'scene:room', fadeOutMs: 1000 }],
    );
    assert.deepEqual(
      [two(state, 500), two(state, 5500)],
      [
        [102, 102],
        [102, 102],
      ],
    );
  });
  test('one instead of the others: a crossfade', () => {
    const state = after(
      show,
      [0, { do: 'play', target: 'scene:room' }],
      [5000, { do: 'play', target: 'scene:own', instead: true, fadeInMs: 1000 }],
    );
    assert.equal(state.playing[0]!.releasedAt, 5000);
    assert.deepEqual(two(state, 5500)[0], 102);
    assert.deepEqual(two(state, 6100), [0, 51]);
  });
  test('what is not in yet, or out already, leaves no trace: not in what is compared either', () => {
    const two = showWith(
      ...units({ slug: 'a', profile: 'generic-dimmer', mode: '1ch', universe: 1, address: 1 }),
      scene('s', { a: { Dimmer: 0.4 } }, { priority: 50 }),
      ...(['over', 'highest'] as const).map((levels, i) =>
        make('effect', {
          id: `effect:e${i}`,
          number: i + 1,
          name: levels,
          on: ['unit:a'],
          rate: 0,
          light: 0.2,
          levels,
          priority: 150,
          fadeInMs: 0,
          fadeOutMs: 0,
          parts: [{ does: 'level', size: 0, offset: 1 }],
        }),
      ),
    );
    const state = after(
      two,
      [0, { do: 'play', target: 'effect:e0' }],
      [0, { do: 'play', target: 'scene:s' }],
      [0, { do: 'play', target: 'effect:e1' }],
      [0, { do: 'release', target: 'effect:e1' }],
    );
    const rig = compileRig(two);
    const live = prepareLive(rig, state, (play) => compilePlay(rig, two, play), two);
    assert.equal(render(rig.arrays, live, 50, makeFrame(rig.arrays))[0], 51);
  });
  test('single attributes have their own', () => {
    const heads = units({ slug: 'h', profile: 'tansy-flitter', mode: '5ch', address: 1 });
    const timed = showWith(
      ...heads,
      scene(
        's',
        { h: { Pan: 1, Tilt: 1 } },
        { fadeInMs: 1000, times: { Pan: { fadeInMs: 4000 }, Tilt: { snap: true, delayMs: 500 } } },
      ),
    );
    const rest = slotsAt(timed, {});
    const moved = (ms: number): number[] => [...slotsAt(timed, { play: ['scene:s'], at: ms }).subarray(0, 2)];
    assert.equal(moved(400)[1], rest[1]);
    assert.equal(moved(600)[1], 255);
    const half = rest[0]! + (255 - rest[0]!) / 2;
    assert.ok(Math.abs(moved(2000)[0]! - half) <= 1);
  });
  test('a scene names a mood; what it says itself of a special channel wins', () => {
    const mood = (fields: object, values = {}): Uint8Array =>
      slotsAt(showWith(...RIG, ...AREAS, scene('s', values, fields)), { play: ['scene:s'], at: 10 });
    const calm = mood({ mood: 'calm' });
    const peak = mood({ mood: 'peak' });
    assert.notDeepEqual([...calm.subarray(19, 25)], [...peak.subarray(19, 25)]);
  });
  test('moods take one another’s place in the same place', () => {
    const state = after(
      show,
      [0, { do: 'mood', mood: 'calm' }],
      [10, { do: 'mood', mood: 'peak' }],
      [10, { do: 'mood', mood: 'peak' }],
    );
    assert.deepEqual(
      state.playing.map((p) => [p.target, p.releasedAt]),
      [
        ['mood:calm', 10],
        ['mood:peak', null],
      ],
    );
    assert.equal(
      applyLive(state, { do: 'mood', mood: null }, 20, 'x', show).playing.filter((p) => p.releasedAt === null).length,
      0,
    );
  });
});

describe('anything people may do, in any order', () => {
  const commands: fc.Arbitrary<LiveCommand> = fc.oneof(
    fc.record({
      do: fc.constant('play' as const),
      target: fc.constantFrom('scene:room', 'scene:own', 'chase:walk', 'area:bar', 'mood:calm'),
      instead: fc.boolean(),
    }) as fc.Arbitrary<LiveCommand>,
    fc.record({
      do: fc.constant('release' as const),
      target: fc.constantFrom('scene:room', 'scene:own', 'chase:walk', 'area:bar', 'mood:calm'),
    }) as fc.Arbitrary<LiveCommand>,
    fc.record({
      do: fc.constant('flash' as const),
      target: fc.constantFrom('scene:room', 'scene:own'),
      on: fc.boolean(),
    }) as fc.Arbitrary<LiveCommand>,
    fc.record({ do: fc.constant('freeze' as const), on: fc.boolean() }),
    fc.record({
      do: fc.constant('speed' as const),
      playId: fc.constantFrom('p0', 'p3'),
      speed: fc.constantFrom(0, 0.5, 3),
    }),
    fc.constant<LiveCommand>({ do: 'nudge', beats: 0.1 }),
  );
  test('once all is let go and the fades are over, nothing is left', () => {
    fc.assert(
      fc.property(fc.array(commands, { maxLength: 25 }), (list) => {
        let state = initialLive(0);
        list.forEach(
          (command, i) => (state = applyLive(state, liveCommandSchema.parse(command), i * 130, `p${i}`, show)),
        );
        const end = list.length * 130;
        for (const target of ['scene:room', 'scene:own'] as const)
          state = applyLive(state, { do: 'flash', target, on: false }, end, 'x', show);
        state = applyLive(state, { do: 'freeze', on: false }, end, 'x', show);
        state = applyLive(state, { do: 'releaseAll' }, end, 'x', show);
        assert.ok(liveStateSchema.safeParse(state).success);
        const { rig, at: frameAt } = drawing(show, state);
        for (const play of state.playing) {
          const program = compilePlay(rig, show, play)!;
          assert.ok(isOver(play, program, state.tempo, end + 60_000), `${play.target} is left`);
        }
        const frame = frameAt(end + 60_000);
        assert.deepEqual([...frame], [...slotsAt(show, {})].concat([...frame].slice(512)));
      }),
      { numRuns: 150 },
    );
  });
  test('a frame is a pure function: the same state and moment, the same bytes', () => {
    fc.assert(
      fc.property(fc.array(commands, { maxLength: 10 }), fc.integer({ min: 0, max: 60_000 }), (list, ms) => {
        let state = initialLive(0);
        list.forEach(
          (command, i) => (state = applyLive(state, liveCommandSchema.parse(command), i * 100, `p${i}`, show)),
        );
        assert.deepEqual(at(state, ms), at(structuredClone(state), ms));
      }),
      { numRuns: 60 },
    );
  });
});

describe('what fails', () => {
  test('one layer that throws is taken out, the rest goes on', () => {
    const state = after(show, [0, { do: 'play', target: 'scene:room' }], [0, { do: 'play', target: 'scene:own' }]);
    const { live, at: frameAt } = drawing(show, state);
    Object.defineProperty(live.layers[1]!.program, 'slots', { get: () => assert.fail('broken') });
    assert.equal(frameAt(500)[0], 204);
    assert.match(live.layers[1]!.failed!, /broken/);
  });
  test('no number at all in an effect leaves the light as it is', () => {
    const broken = showWith(
      ...RIG,
      ...AREAS,
      make('effect', { id: 'effect:e', number: 1, name: 'E', on: ['unit:a'], fadeInMs: 0, parts: [{ does: 'level' }] }),
    );
    const rig = compileRig(broken);
    const state = after(broken, [0, { do: 'play', target: 'effect:e' }]);
    const program = compilePlay(rig, broken, state.playing[0]!)!;
    assert.ok(program.type === 'effect');
    program.parts[0]!.behind[0] = NaN;
    const live = prepareLive(rig, state, () => program, broken);
    assert.equal(render(rig.arrays, live, 700, makeFrame(rig.arrays))[0], 0);
  });
  test('commands with what cannot be are refused', () => {
    for (const bad of [
      { do: 'speed', playId: 'a', speed: 1e6 },
      { do: 'speed', playId: 'a', speed: -1 },
      { do: 'play', target: 'unit:a' },
      { do: 'play', target: 'mood:wild' },
      { do: 'handEffect', spec: { parts: [{ does: 'level' }] }, on: [] },
      { do: 'kind', kind: 'sun', level: 1 },
      { do: 'tweak', playId: 'a', spec: { rate: Infinity, parts: [{ does: 'level' }] } },
    ])
      assert.ok(!liveCommandSchema.safeParse(bad).success, JSON.stringify(bad));
  });
  test('a play whose record is gone is nothing', () => {
    const rig = compileRig(show);
    assert.equal(compilePlay(rig, show, newPlay({ id: 'p', target: 'scene:gone', startedAt: 0 })), null);
  });
});
