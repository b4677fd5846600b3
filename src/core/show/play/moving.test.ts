import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, chase, scene, showWith, slotsAt } from '../../../../tests/support/rig.ts';
import { changeFaults } from '../../rules/faults.ts';
import { applyChange } from '../../document/change.ts';
import { make } from '../../records/index.ts';
import { applyLive, beatAt, liveCommandSchema, positionOf, paceOf, reanchor, type LiveState } from '../index.ts';
import { AREAS, group, RIG, show, two } from '../../../../tests/support/room.ts';

describe('chases while they run', () => {
  const started = after(show, [0, { do: 'play', target: 'chase:walk' }]);
  const where = (state: LiveState, ms: number): number => {
    const play = state.playing[0]!;
    return positionOf(play, paceOf(show, play), ms, beatAt(state.tempo, ms));
  };
  test('twice as fast from now on, without a jump', () => {
    const fast = applyLive(started, { do: 'speed', playId: 'p0', speed: 2 }, 600, 'x', show);
    assert.equal(where(fast, 600), where(started, 600));
    assert.ok(Math.abs(where(fast, 1100) - 1.6) < 1e-9);
    assert.equal(
      where(applyLive(fast, { do: 'speed', playId: 'p0', speed: 0 }, 1100, 'x', show), 9000),
      where(fast, 1100),
    );
  });
  test('steps by hand hold it, round the end and before the beginning', () => {
    let state = started;
    const step = (by: 1 | -1): number[] => {
      state = applyLive(state, { do: 'step', playId: 'p0', by }, 700, 'x', show);
      return two(state, 5000);
    };
    assert.deepEqual(
      [step(1), step(1), step(-1), step(-1), step(-1)],
      [
        [0, 51],
        [204, 204],
        [0, 51],
        [204, 204],
        [0, 51],
      ],
    );
  });
  test('now: it begins at this moment', () =>
    assert.equal(where(applyLive(started, { do: 'now', playId: 'p0' }, 1700, 'x', show), 1700), 0));
  test('a play of that id is not there: nothing changes', () =>
    assert.equal(applyLive(started, { do: 'speed', playId: 'nobody', speed: 2 }, 1, 'x', show), started));
});

describe('steps that move by themselves', () => {
  const moving = showWith(
    ...RIG,
    ...AREAS,
    group,
    scene('low', { a: { Dimmer: 0.2 } }),
    scene('x', { a: { Dimmer: 0.4 } }),
    chase('inner', ['low', 'x'], { fade: 0, hold: 0.5 }),
    make('effect', {
      id: 'effect:e',
      number: 1,
      name: 'E',
      on: ['unit:a'],
      rate: 0.25,
      fadeInMs: 0,
      parts: [{ does: 'level', wave: 'rise' }],
    }),
    make('chase', {
      id: 'chase:outer',
      number: 9,
      name: 'Outer',
      fade: 0,
      hold: 2,
      steps: [
        { chaseId: 'chase:inner' },
        { effectId: 'effect:e' },
        { values: { 'unit:a': { Dimmer: 1 } }, name: 'Full' },
      ],
    }),
  );
  const first = (ms: number): number => slotsAt(moving, { play: ['chase:outer'], at: ms })[0]!;
  test('another chase as it runs, an effect, values of its own', () => {
    assert.deepEqual([first(100), first(600), first(1100)], [51, 102, 51]);
    assert.ok(Math.abs(first(3000) - 191) <= 1);
    assert.equal(first(4500), 255);
    assert.equal(first(6100), 51);
  });
  test('fading from one that moves into another', () => {
    const faded = applyChange(moving, {
      put: [{ ...(moving.get('chase:outer') as never as object), fade: 1, hold: 1 } as never],
      remove: [],
    });
    const half = slotsAt(faded, { play: ['chase:outer'], at: 4500 })[0]!;
    // Half way from the effect (at 4.5 s: an eighth of its turn, 32) to full.
    assert.ok(Math.abs(half - 144) <= 2, String(half));
  });
  test('a chase that would show itself is refused by name, also round a corner', () => {
    const inner = moving.get('chase:inner')!;
    assert.ok(inner.kind === 'chase');
    const faults = changeFaults(moving, { put: [{ ...inner, steps: [{ chaseId: 'chase:outer' }] }], remove: [] });
    assert.deepEqual(
      faults.map((f) => [f.code, f.path]),
      [['CHASE_IN_ITSELF', 'chase:inner.steps.0.chaseId']],
    );
    assert.match(faults[0]!.message, /inner.*Outer/);
    const self = changeFaults(moving, { put: [{ ...inner, steps: [{ chaseId: 'chase:inner' }] }], remove: [] });
    assert.equal(self[0]?.code, 'CHASE_IN_ITSELF');
  });
  test('should one come in all the same, it shows nothing and the rest goes on', () => {
    const loop = new Map(moving);
    const inner = moving.get('chase:inner')!;
    assert.ok(inner.kind === 'chase');
    loop.set('chase:inner', { ...inner, steps: [{ chaseId: 'chase:outer' }] });
    assert.equal(slotsAt(loop, { play: ['chase:outer', 'scene:x'], at: 100 })[0], 102);
  });
  test('10,000 steps, and times that are all nothing', () => {
    const long = applyChange(moving, {
      put: [
        make('chase', {
          id: 'chase:long',
          number: 3,
          name: 'Long',
          fade: 0,
          hold: 0,
          steps: Array.from({ length: 10_000 }, (_, i) => ({ sceneId: i % 2 ? 'scene:x' : 'scene:low' }) as const),
        }),
      ],
      remove: [],
    });
    assert.equal(slotsAt(long, { play: ['chase:long'], at: 1e9 })[0], 51);
  });
});

describe('effects by hand', () => {
  const spec = {
    rate: 1,
    beats: false,
    light: null,
    levels: 'over' as const,
    parts: [{ does: 'level' as const, wave: 'rise' as const }],
  };
  const effect = (on: 'unit:a' | 'unit:b', more: object = {}) =>
    liveCommandSchema.parse({ do: 'handEffect', spec: { ...spec, ...more }, on: [on] });
  test('over what plays; a level by hand scales it', () => {
    const state = after(show, [0, { do: 'play', target: 'scene:room' }], [0, effect('unit:a')]);
    assert.equal(two(state, 500)[0], 128);
    const half = applyLive(state, { do: 'hand', set: { 'unit:a': { Dimmer: 0.5 } } }, 10, 'x', show);
    assert.equal(two(half, 500)[0], 64);
  });
  test('one that drives the same of the same unit takes the place of the other there', () => {
    const state = after(show, [0, effect('unit:a')], [0, effect('unit:b')], [0, effect('unit:a', { rate: 2 })]);
    assert.deepEqual(
      state.handEffects.map((p) => p.on),
      [['unit:b'], ['unit:a']],
    );
  });
  test('let go with the rest, by unit, or alone', () => {
    const state = after(show, [0, effect('unit:a')], [0, effect('unit:b')]);
    assert.deepEqual(applyLive(state, { do: 'letGo' }, 1, 'x', show).handEffects, []);
    assert.deepEqual(
      applyLive(state, { do: 'letGo', units: ['unit:a'] }, 1, 'x', show).handEffects.map((p) => p.on),
      [['unit:b']],
    );
    assert.equal(applyLive(state, { do: 'letGoEffect', playId: 'p0' }, 1, 'x', show).handEffects.length, 1);
  });
  test('a change goes on from where it stands, and what was kept is no change any more', () => {
    const stored = showWith(
      ...RIG,
      ...AREAS,
      make('effect', {
        id: 'effect:e',
        number: 1,
        name: 'E',
        on: ['unit:a'],
        ...(spec as object),
        fadeInMs: 0,
      } as never),
    );
    const state = after(stored, [0, { do: 'play', target: 'effect:e' }]);
    const next = liveCommandSchema.parse({ do: 'tweak', playId: 'p0', spec: { ...spec, rate: 2 } });
    const changed = applyLive(state, next, 250, 'x', stored);
    const where = (s: LiveState, ms: number): number => positionOf(s.playing[0]!, paceOf(stored, s.playing[0]!), ms, 0);
    assert.deepEqual([where(changed, 250), where(changed, 500)], [0.25, 0.75]);
    const record = stored.get('effect:e')!;
    const kept = applyChange(stored, { put: [{ ...record, rate: 2 } as never], remove: [] });
    const anchored = reanchor(changed, stored, kept, 500);
    assert.equal(anchored.playing[0]!.spec, null);
    assert.equal(positionOf(anchored.playing[0]!, paceOf(kept, anchored.playing[0]!), 500, 0), 0.75);
    const edited = applyChange(stored, { put: [{ ...record, rate: 4 } as never], remove: [] });
    assert.equal(positionOf(reanchor(state, stored, edited, 500).playing[0]!, { beats: false, rate: 4 }, 500, 0), 0.5);
  });
});
