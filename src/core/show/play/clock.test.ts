import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, scene, showWith, units } from '../../../../tests/support/rig.ts';
import { steady } from './beat-map.ts';
import { darkLevel, endedMsAgo, fadeLevel, isOver, playLevel, positionOf } from './clock.ts';
import { compilePlay, compileRig, newPlay, type Play, type Program } from '../index.ts';

const TEMPO = steady(120, 10_000, 8);

describe('a fade', () => {
  const NEVER = Infinity;
  /** Begins at 1000; in, released at, out, asked at, level. */
  const cases: readonly (readonly [inMs: number, released: number, outMs: number, now: number, wanted: number])[] = [
    [1000, NEVER, 500, 999, 0],
    [1000, NEVER, 500, 1000, 0],
    [1000, NEVER, 500, 1250, 0.25],
    [1000, NEVER, 500, 2000, 1],
    [1000, NEVER, 500, 90_000, 1],
    [0, NEVER, 500, 999, 0],
    [0, NEVER, 500, 1000, 1],
    [1000, 3000, 500, 3000, 1],
    [1000, 3000, 500, 3250, 0.5],
    [1000, 3000, 500, 3500, 0],
    [1000, 3000, 500, 9000, 0],
    // Let go on the way in: down from where it was.
    [1000, 1500, 500, 1750, 0.25],
    // Let go before it began, and without a fade.
    [1000, 500, 500, 2000, 0],
    [1000, 3000, 0, 3000, 0],
  ];
  for (const [inMs, released, outMs, now, wanted] of cases)
    test(`in ${inMs}, let go at ${released}, out ${outMs}: ${wanted} at ${now}`, () =>
      assert.equal(fadeLevel(1000, inMs, released, outMs, now), wanted));

  test('never jumps: in a millisecond no further than its steepest slope', () => {
    const ms = fc.integer({ min: 100, max: 5000 });
    fc.assert(
      fc.property(ms, ms, ms, fc.integer({ min: 0, max: 12_000 }), (inMs, outMs, held, now) => {
        const level = (at: number): number => fadeLevel(1000, inMs, 1000 + held, outMs, at);
        const steepest = Math.max(1 / inMs, 1 / outMs);
        assert.ok(Math.abs(level(now + 1) - level(now)) <= steepest + 1e-9);
      }),
    );
  });
});

test('Dark takes half a second, there and back, from wherever it is', () => {
  assert.deepEqual(
    [0, 250, 500, 900].map((ms) => darkLevel({ on: true, at: 0, from: 1 }, ms)),
    [1, 0.5, 0, 0],
  );
  assert.equal(darkLevel({ on: false, at: 1000, from: 0.4 }, 1000), 0.4);
  assert.equal(darkLevel({ on: false, at: 1000, from: 0.4 }, 1500), 1);
});

describe('where something that plays stands', () => {
  const play = (fields: Partial<Play> = {}): Play => ({
    ...newPlay({ id: 'p', target: 'effect:x', startedAt: 2000, startedBeat: 4 }),
    ...fields,
  });
  test('in seconds since its start, at its own rate and pace', () => {
    const pace = { beats: false, rate: 0.5 };
    assert.equal(positionOf(play(), pace, 6000, 0), 2);
    assert.equal(positionOf(play({ speed: 2 }), pace, 6000, 0), 4);
    assert.equal(positionOf(play({ speed: 0 }), pace, 6000, 0), 0);
  });
  test('in beats', () => assert.equal(positionOf(play(), { beats: true, rate: 0.25 }, 99, 12), 2));
  test('from the clock it was set by last', () =>
    assert.equal(positionOf(play({ clock: { at: 10, ms: 5000, beat: 0 } }), { beats: false, rate: 1 }, 6000, 0), 11));
});

describe('a chase that runs once', () => {
  const show = showWith(
    ...units({ slug: 'u', profile: 'generic-dimmer', mode: '1ch', address: 1 }),
    scene('a', { u: { Dimmer: 1 } }),
    scene('b', { u: { Dimmer: 0.5 } }),
    chase('c', ['a', 'b'], { order: 'once', fade: 0, hold: 1, fadeOutMs: 500 }),
    chase('beats', ['a', 'b'], { order: 'once', timeUnit: 'beats', fade: 0, hold: 1 }),
  );
  const rig = compileRig(show);
  const started = (target: Play['target'], fields: Partial<Play> = {}): [Play, Program] => {
    const play = { ...newPlay({ id: 'p', target, startedAt: 0 }), ...fields };
    return [play, compilePlay(rig, show, play)!];
  };
  test('is through after its round, twice as soon at twice the speed', () => {
    const [play, program] = started('chase:c');
    assert.equal(endedMsAgo(play, program, TEMPO, 1999), -1);
    assert.ok(Math.abs(endedMsAgo(play, program, TEMPO, 2300) - 300) < 1e-6);
    const [quick] = started('chase:c', { speed: 2 });
    assert.ok(Math.abs(endedMsAgo(quick, program, TEMPO, 1300) - 300) < 1e-6);
  });
  test('in beats of the tempo', () => {
    const tempo = steady(60, 0, 0);
    const [play, program] = started('chase:beats');
    assert.ok(Math.abs(endedMsAgo(play, program, tempo, 2500) - 500) < 1e-6);
  });
  test('held it does not end', () => {
    const [play, program] = started('chase:c', { speed: 0 });
    assert.equal(endedMsAgo(play, program, TEMPO, 60_000), -1);
  });
  test('fades out, and is over when that is done', () => {
    const [play, program] = started('chase:c');
    assert.equal(playLevel(play, program, 2250, endedMsAgo(play, program, TEMPO, 2250)), 0.5);
    assert.equal(isOver(play, program, TEMPO, 2400), false);
    assert.equal(isOver(play, program, TEMPO, 2500), true);
  });
});
