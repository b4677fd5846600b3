import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, scene, showWith, units } from '../../../../tests/support/rig.ts';
import {
  applyLive,
  beatAt,
  chaseAt,
  compileChase,
  compileRig,
  darkLevel,
  endedMsAgo,
  initialLive,
  isPlaying,
  liveCommandSchema,
  liveStateSchema,
  newPlay,
  playLevel,
  pruneLive,
  sequenceOf,
  type ChaseProgram,
  type LiveCommand,
  type LiveState,
} from '../index.ts';
import { PLAYING_LIMIT } from './state.ts';

const SCENES = ['a', 'b', 'c', 'd'];
const show = showWith(
  ...units({ slug: 'u', profile: 'generic-dimmer', mode: '1ch', address: 1 }),
  ...SCENES.map((s) => scene(s, { u: { Dimmer: 1 } })),
);
const chaseOf = (fields: Parameters<typeof chase>[2], steps = SCENES) => {
  const record = chase('c', steps, fields);
  assert.ok(record.kind === 'chase');
  return record;
};
const program = (fields: Parameters<typeof chase>[2], steps = SCENES): ChaseProgram =>
  compileChase(compileRig(show), show, chaseOf(fields, steps));
const point = (p: ChaseProgram, at: number): string => {
  const { from, to, mix } = chaseAt(p, at, { from: 0, to: 0, mix: 0 });
  return `${from}>${to}@${Math.round(mix * 100)}`;
};

describe('the order of a chase', () => {
  const cases: [order: 'repeat' | 'once' | 'thereAndBack', direction: 'forward' | 'backward', expected: number[]][] = [
    ['repeat', 'forward', [0, 1, 2, 3]],
    ['repeat', 'backward', [3, 2, 1, 0]],
    ['once', 'forward', [0, 1, 2, 3]],
    ['thereAndBack', 'forward', [0, 1, 2, 3, 2, 1]],
    ['thereAndBack', 'backward', [3, 2, 1, 0, 1, 2]],
  ];
  for (const [order, direction, expected] of cases)
    test(`${order} ${direction}`, () => assert.deepEqual(sequenceOf(chaseOf({ order, direction })), expected));
  test('there and back of two steps is just the two', () => {
    assert.deepEqual(sequenceOf(chaseOf({ order: 'thereAndBack' }, ['a', 'b'])), [0, 1]);
  });
  test('shuffled plays every step once in each round, by its seed', () => {
    const sequence = sequenceOf(chaseOf({ order: 'shuffled', seed: 5 }));
    for (let i = 0; i < sequence.length; i += 4) assert.deepEqual(sequence.slice(i, i + 4).sort(), [0, 1, 2, 3]);
    assert.deepEqual(sequenceOf(chaseOf({ order: 'shuffled', seed: 5 })), sequence);
    assert.notDeepEqual(sequenceOf(chaseOf({ order: 'shuffled', seed: 6 })), sequence);
  });
});

describe('where a chase is', () => {
  test('fade, then hold, then the next; the first round starts from nothing', () => {
    const p = program({ fade: 1, hold: 3 });
    assert.deepEqual(
      [0, 0.5, 1, 3.9, 4.25, 15.9, 16.5].map((t) => point(p, t)),
      ['-1>0@0', '-1>0@50', '-1>0@100', '-1>0@100', '0>1@25', '-1>3@100', '3>0@50'],
    );
  });
  test('a step’s own times count before the chase’s', () => {
    const record = {
      ...chaseOf({ fade: 1, hold: 1 }),
      steps: [
        { sceneId: 'scene:a' as const, hold: 5 },
        { sceneId: 'scene:b' as const, fade: 0 },
      ],
    };
    const p = compileChase(compileRig(show), show, record);
    assert.equal(p.total, 7);
    assert.equal(point(p, 6), '-1>1@100');
  });
  test('once stays on the last step', () => {
    const p = program({ fade: 0, hold: 1, order: 'once' });
    assert.equal(point(p, 1e9), '-1>3@100');
  });
  test('without steps or before its start it is nowhere; with no times it stays on the first', () => {
    assert.equal(point(program({}, []), 5), '-1>-1@100');
    assert.equal(point(program({}), -1), '-1>-1@100');
    assert.equal(point(program({ fade: 0, hold: 0 }), 99), '-1>0@100');
  });
  test('every moment gives a step there is, and a mix from 0 to 1', () => {
    const p = program({ fade: 0.3, hold: 0.7, order: 'shuffled' });
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e8, noNaN: true }), (t) => {
        const { from, to, mix } = chaseAt(p, t, { from: 0, to: 0, mix: 0 });
        assert.ok(to >= 0 && to < 4 && from >= -1 && from < 4 && mix >= 0 && mix <= 1);
      }),
    );
  });
});

describe('fades of what plays', () => {
  const fading = { ...program({ fadeInMs: 1000, fadeOutMs: 2000 }) };
  const at = (now: number, releasedAt: number | null = null): number =>
    playLevel(newPlay({ id: 'p', target: 'scene:a', startedAt: 0, releasedAt }), fading, now);
  test('in, hold and out', () => {
    assert.deepEqual(
      [-1, 0, 500, 1000, 9000].map((t) => at(t)),
      [0, 0, 0.5, 1, 1],
    );
    assert.deepEqual(
      [2000, 3000, 4000].map((t) => at(t, 2000)),
      [1, 0.5, 0],
    );
  });
  test('let go half way in, it goes down from there', () => {
    assert.equal(at(500, 500), 0.5);
    assert.equal(at(1500, 500), 0.25);
  });
  test('a chase that runs once fades out when it is through', () => {
    const once = program({ fade: 0, hold: 1, order: 'once', fadeOutMs: 1000 });
    const play = newPlay({ id: 'p', target: 'chase:c', startedAt: 0 });
    const tempo = initialLive(0).tempo;
    assert.equal(endedMsAgo(play, once, tempo, 3999), -1);
    assert.equal(endedMsAgo(play, once, tempo, 4500), 500);
    assert.equal(playLevel(play, once, 4500, 500), 0.5);
    const beats = program({ fade: 0, hold: 1, order: 'once', timeUnit: 'beats' });
    assert.equal(Math.round(endedMsAgo(play, beats, tempo, 2100)), 100);
  });
});

describe('live commands', () => {
  const state = initialLive(0, 120);
  const after = (...commands: LiveCommand[]): LiveState =>
    commands.reduce((s, command, i) => applyLive(s, command, 1000 * (i + 1), `p${i}`), state);

  test('play once however often it is pressed, and release', () => {
    const played = after({ do: 'play', target: 'scene:a' }, { do: 'play', target: 'scene:a' });
    assert.equal(played.playing.length, 1);
    assert.equal(played.playing[0]?.startedBeat, 2);
    const released = applyLive(played, { do: 'release', target: 'scene:a' }, 9000, 'x');
    assert.equal(isPlaying(released, 'scene:a'), false);
    assert.equal(applyLive(released, { do: 'play', target: 'scene:a' }, 9100, 'y').playing.length, 2);
  });
  test('release all leaves nothing that goes on', () => {
    const { playing } = after(
      { do: 'play', target: 'scene:a' },
      { do: 'play', target: 'chase:c' },
      { do: 'releaseAll' },
    );
    assert.deepEqual(
      playing.map((p) => p.releasedAt),
      [3000, 3000],
    );
  });
  test('when as many play as may, the oldest that fades out makes room, else the oldest', () => {
    const ids = ['p1', 'p2', ...Array.from({ length: PLAYING_LIMIT - 2 }, (_, i) => `q${i}`)];
    const full: LiveState = { ...state, playing: ids.map((id) => newPlay({ id, target: 'scene:a', startedAt: 0 })) };
    const more = (from: LiveState): string[] =>
      applyLive(from, { do: 'play', target: 'scene:b' }, 50, 'new').playing.map((p) => p.id);
    assert.deepEqual(more(full), [...ids.slice(1), 'new']);
    const fading = applyLive(full, { do: 'releasePlay', playId: 'p2' }, 10, 'x');
    assert.deepEqual(more(fading), ['p1', ...ids.slice(2), 'new']);
  });
  test('the hand gathers attributes and lets single ones go', () => {
    const held = after(
      { do: 'hand', set: { 'unit:a': { Dimmer: 1, Pan: 0.5 }, 'unit:b': { Dimmer: 1 } } },
      { do: 'hand', set: { 'unit:a': { Pan: null }, 'unit:b': { Dimmer: null } } },
    );
    assert.deepEqual(held.hand, { 'unit:a': { Dimmer: 1 } });
    assert.deepEqual(applyLive(held, { do: 'letGo', units: ['unit:b'] }, 1, 'x').hand, held.hand);
    assert.deepEqual(applyLive(held, { do: 'letGo' }, 1, 'x').hand, {});
  });
  test('dark can be turned round half way without a jump', () => {
    const dark = applyLive(state, { do: 'dark', on: true }, 1000, 'x');
    const back = applyLive(dark, { do: 'dark', on: false }, 1250, 'x');
    assert.equal(darkLevel(dark.dark, 1250), 0.5);
    assert.equal(darkLevel(back.dark, 1250), 0.5);
    assert.equal(darkLevel(back.dark, 1750), 1);
    assert.equal(applyLive(dark, { do: 'dark', on: true }, 1400, 'x'), dark);
  });
  test('beats go on steadily over a change of tempo, and a tap pulls them onto the moment', () => {
    const faster = applyLive(state, { do: 'tempo', bpm: 240, beatNow: false }, 1100, 'x');
    assert.equal(beatAt(faster.tempo, 1100), beatAt(state.tempo, 1100));
    assert.equal(beatAt(faster.tempo, 1350) - beatAt(faster.tempo, 1100), 1);
    assert.equal(beatAt(applyLive(state, { do: 'tempo', bpm: 120, beatNow: true }, 1100, 'x').tempo, 1100), 2);
  });
  test('what a show no longer has is dropped, and the same state is kept when nothing is', () => {
    const held = after({ do: 'play', target: 'scene:a' }, { do: 'hand', set: { 'unit:u': { Dimmer: 1 } } });
    assert.equal(
      pruneLive(held, () => true),
      held,
    );
    assert.deepEqual(pruneLive(held, (id) => id === 'scene:a').hand, {});
    assert.deepEqual(pruneLive(held, (id) => id === 'unit:u').playing, []);
  });
  test('are refused when they make no sense', () => {
    for (const command of [
      { do: 'grand', level: 2 },
      { do: 'play', target: 'unit:a' },
      { do: 'tempo', bpm: 5 },
      { do: 'hand', set: { 'scene:a': { Dimmer: 1 } } },
      { do: 'explode' },
    ])
      assert.equal(liveCommandSchema.safeParse(command).success, false, JSON.stringify(command));
  });
  test('always give a state that can be kept', () => {
    const anyCommand = fc.oneof(
      fc.record({ do: fc.constant('play' as const), target: fc.constantFrom('scene:a' as const, 'chase:c' as const) }),
      fc.record({
        do: fc.constant('release' as const),
        target: fc.constantFrom('scene:a' as const, 'chase:c' as const),
      }),
      fc.record({ do: fc.constant('grand' as const), level: fc.double({ min: 0, max: 1, noNaN: true }) }),
      fc.record({ do: fc.constant('dark' as const), on: fc.boolean() }),
      fc.record({ do: fc.constant('tempo' as const), bpm: fc.integer({ min: 20, max: 300 }), beatNow: fc.boolean() }),
    );
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 30 }), (commands) => {
        assert.ok(liveStateSchema.safeParse(JSON.parse(JSON.stringify(after(...commands)))).success);
      }),
    );
  });
});
