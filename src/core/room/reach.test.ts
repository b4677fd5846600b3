import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { showWith, units } from '../../../tests/support/rig.ts';
import { recordsOf } from '../document/change.ts';
import { makeReader } from '../patch/readout.ts';
import { brightness, makeBeams, type BeamSet } from './beams.ts';
import { BEAMS_A_BODY, makeReached, readReached } from './reach.ts';

const document = showWith(
  ...units(
    ...Array.from({ length: 12 }, (_, i) => ({
      slug: `u${i}`,
      profile: 'fernlight-brambleq',
      mode: '8ch',
      address: 1 + i * 8,
    })),
  ),
);
/** Twelve beams of any place, direction and width. */
function beamsOf(rows: readonly (readonly [from: number[], way: number[], outer: number, light: number])[]): BeamSet {
  const profiles = recordsOf(document, 'profile');
  const set = makeBeams(
    document,
    recordsOf(document, 'unit').map((unit) => ({ unit, profile: profiles[0], reader: makeReader(document, unit) })),
  );
  set.colour.fill(0);
  set.split.fill(2);
  rows.forEach(([from, way, outer, light], i) => {
    const long = Math.hypot(...way);
    set.origin.set(from, i * 3);
    set.direction.set(
      way.map((v) => v / long),
      i * 3,
    );
    set.outer[i] = outer;
    set.intensity[i] = 10;
    set.colour[i * 3] = light;
  });
  return set;
}
const beamsAt = (set: BeamSet, ball: number[]): number[] => {
  const reached = makeReached(Float32Array.from(ball));
  readReached(reached, set);
  return [...reached.beams.subarray(0, reached.count[0])];
};

test('a beam straight at a body meets it, one past it or away from it does not', () => {
  const set = beamsOf([
    [[0, -5, 0], [0, 1, 0], 0.2, 1],
    [[0, -5, 0], [0, -1, 0], 0.2, 1],
    [[0, -5, 0], [1, 1, 0], 0.2, 1],
    [[0, 5, 0], [0, -1, 0], 0.2, 0],
  ]);
  assert.deepEqual(beamsAt(set, [0, 0, 0, 0.5]), [0]);
  // At 5 m the light of the first is a metre wide to each side: a ball of a quarter metre at 1.2 m is just lit.
  assert.deepEqual(beamsAt(set, [1.2, 0, 0, 0.25]), [0]);
  assert.deepEqual(beamsAt(set, [1.4, 0, 0, 0.25]), []);
});

test('the strongest first, and no more than there is room for', () => {
  const set = beamsOf(
    Array.from({ length: 12 }, (_, i) => [[0, -5, 0], [0, 1, 0], 0.3, 0.1 + (0.9 * (((i * 5) % 12) + 1)) / 12]),
  );
  const found = beamsAt(set, [0, 0, 0, 0.3]);
  assert.equal(found.length, BEAMS_A_BODY);
  const bright = found.map((beam) => brightness(set, beam));
  assert.deepEqual(
    bright,
    [...bright].sort((a, b) => b - a),
  );
  assert.ok(Math.min(...bright) > 0.3, 'the four faintest are left out');
});

test('wherever light falls on a ball, its beam is among those that meet it', () => {
  const m = fc.double({ min: -6, max: 6, noNaN: true });
  const place = fc.tuple(m, m, m);
  fc.assert(
    fc.property(
      place,
      place,
      place,
      fc.double({ min: 0.02, max: 3, noNaN: true }),
      fc.double({ min: 0.01, max: 2, noNaN: true }),
      fc.double({ min: 0.1, max: 8, noNaN: true }),
      fc.double({ min: 0, max: 0.99, noNaN: true }),
      (from, axis, off, outer, radius, ahead, aside) => {
        fc.pre(Math.hypot(...axis) > 0.1 && Math.hypot(...off) > 0.1);
        const one = (v: readonly number[]): number[] => v.map((c) => c / Math.hypot(...v));
        const way = one(axis);
        const [nx, ny, nz] = [
          way[1]! * 0.3 - way[2]! * 0.5,
          way[2]! * 0.9 - way[0]! * 0.3,
          way[0]! * 0.5 - way[1]! * 0.9,
        ];
        fc.pre(Math.hypot(nx, ny, nz) > 0.01);
        const side = one([nx, ny, nz]);
        // A place inside of the cone, and a ball that has it on its surface, to any side of it.
        const lit = from.map((v, i) => v + way[i]! * ahead + side[i]! * ahead * outer * aside);
        const middle = lit.map((v, i) => v + one(off)[i]! * radius);
        assert.deepEqual(beamsAt(beamsOf([[from, way, outer, 1]]), [...middle, radius]), [0]);
      },
    ),
    { numRuns: 500 },
  );
});
