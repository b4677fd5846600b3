import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import type { Axis, Place3 } from './paper.ts';
import { mirroredAcross, product, rotationOf, turnedAbout, turnOnPaper, turnsOf } from './rotation.ts';

const deg = fc.integer({ min: -180, max: 180 });
const turns = fc.record({ x: deg, y: deg, z: deg });
const axis = fc.constantFrom<Axis>('x', 'y', 'z');
const same = (one: Float64Array, two: Float64Array, what = ''): void =>
  one.forEach((v, i) =>
    assert.ok(Math.abs(v - two[i]!) < 1e-4, `${what} ${[...one].join()} is not ${[...two].join()}`),
  );
const about = (one: Axis, by: number): Place3 => ({ x: 0, y: 0, z: 0, [one]: by });
/** How a mirror across an axis sees a rotation, with the unit's own axis turned back. */
const mirroredMatrix = (of: Place3, across: Axis, own: Axis): Float64Array => {
  const flip = (one: Axis): Float64Array =>
    Float64Array.of(one === 'x' ? -1 : 1, 0, 0, 0, one === 'y' ? -1 : 1, 0, 0, 0, one === 'z' ? -1 : 1);
  return product(flip(across), product(rotationOf(of), flip(own)));
};

describe('turns', () => {
  test('are found again from what they make, straight up and down too', () => {
    fc.assert(fc.property(turns, (of) => same(rotationOf(turnsOf(rotationOf(of))), rotationOf(of))));
    for (const y of [90, -90])
      same(rotationOf(turnsOf(rotationOf({ x: 20, y, z: 50 }))), rotationOf({ x: 20, y, z: 50 }));
  });
  test('are found where rounding leaves next to nothing of the level', () => {
    const lying = { x: -90, y: -84, z: 90 };
    const r = product(rotationOf({ x: -174, y: 0, z: 0 }), rotationOf(lying));
    for (const noise of [0, 1e-16, -1e-16, 3e-17]) {
      const noisy = r.map((v, i) => v * (i === 6 ? 1 - Math.abs(noise) : 1) + noise);
      same(rotationOf(turnsOf(noisy, lying)), r);
    }
  });
  test('stay said as they were said, where there are two ways', () =>
    assert.deepEqual(turnsOf(rotationOf({ x: 0, y: 180, z: 30 }), { x: 0, y: 180, z: 20 }), { x: 0, y: 180, z: 30 }));
  test('about an axis of the room are put together, not added', () => {
    fc.assert(
      fc.property(turns, axis, deg, (of, one, by) =>
        same(rotationOf(turnedAbout(of, one, by)), product(rotationOf(about(one, by)), rotationOf(of))),
      ),
    );
    // A lamp that lies on its side and is tipped forward: sums would tip it about its own axis.
    assert.deepEqual(turnedAbout({ x: 0, y: 0, z: 90 }, 'x', 90), { x: 0, y: -90, z: 90 });
  });
  test('all round come back to where they were, number by number', () => {
    fc.assert(
      fc.property(axis, deg, axis, (one, by, other) => {
        let now = about(one, by);
        for (let i = 0; i < 4; i++) now = turnedAbout(now, other, 90);
        same(rotationOf(now), rotationOf(about(one, by)));
      }),
    );
    assert.deepEqual(turnedAbout({ x: 0, y: 180, z: 30 }, 'z', 15), { x: 0, y: 180, z: 45 });
  });
  test('in a mirror are those of the mirror, and twice those of before', () => {
    fc.assert(
      fc.property(turns, axis, axis, (of, across, own) => {
        const seen = mirroredAcross(of, across, own);
        same(rotationOf(seen), mirroredMatrix(of, across, own));
        same(rotationOf(mirroredAcross(seen, across, own)), rotationOf(of));
      }),
    );
    assert.deepEqual(mirroredAcross({ x: 0, y: 0, z: 30 }, 'x', 'x'), { x: 0, y: 0, z: -30 });
    assert.deepEqual(mirroredAcross({ x: 0, y: 180, z: 30 }, 'x', 'x'), { x: 0, y: 180, z: -30 });
    assert.deepEqual(mirroredAcross({ x: 0, y: 0, z: 30 }, 'y', 'x'), { x: 0, y: 0, z: 150 });
  });
  test('on a paper are what is seen there', () => {
    assert.equal(turnOnPaper('plan', { x: 0, y: 0, z: 40 }), 40);
    assert.equal(turnOnPaper('front', { x: 0, y: 40, z: 0 }), -40);
    assert.equal(turnOnPaper('side', { x: 40, y: 0, z: 0 }), 40);
    // From behind, leaning the other way: what is seen is neither of the two numbers.
    assert.equal(turnOnPaper('front', { x: 0, y: 30, z: 180 }), -150);
  });
});
