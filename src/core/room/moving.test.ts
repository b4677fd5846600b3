import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { units } from '../../../tests/support/rig.ts';
import { frontDirection } from '../plot/beam.ts';
import { applied, rotationOf } from '../plot/rotation.ts';
import type { UnitRecord } from '../records/index.ts';
import {
  angleOn,
  axisOf,
  caughtBy,
  evenlyBetween,
  facedWall,
  heightOn,
  lookingAt,
  onPlane,
  sameHeight,
  turnsBy,
  type Ray,
  type TurnHandle,
} from './moving.ts';

const near = (actual: number, wanted: number, by = 1e-6): void =>
  assert.ok(Math.abs(actual - wanted) < by, `${actual} is not ${wanted}`);
const par = (position: UnitRecord['position'], rotation = { x: 0, y: 0, z: 0 }): UnitRecord => ({
  ...(units({ slug: 'a', profile: 'fernlight-brambleq', mode: '8ch', address: 1 })[0] as UnitRecord),
  position,
  rotation,
});
const towards = (from: Ray['from'], to: Ray['from']): Ray => {
  const d = { x: to.x - from.x, y: to.y - from.y, z: to.z - from.z };
  const far = Math.hypot(d.x, d.y, d.z);
  return { from, way: { x: d.x / far, y: d.y / far, z: d.z / far } };
};
const EYE = { x: 1, y: -8, z: 4 };

test('a ray meets the floor, a wall and an upright where one looks', () => {
  const floor = onPlane(towards(EYE, { x: 2, y: 1, z: 0 }), { x: 0, y: 0, z: 0 }, { x: 0, y: 0, z: 1 })!;
  assert.deepEqual(
    [floor.x, floor.y, floor.z].map((v) => Math.round(v * 1e6) / 1e6 + 0),
    [2, 1, 0],
  );
  const wall = onPlane(towards(EYE, { x: -1, y: 3, z: 2.5 }), { x: 9, y: 3, z: 9 }, { x: 0, y: 1, z: 0 })!;
  near(wall.z, 2.5);
  near(heightOn(towards(EYE, { x: 3, y: 2, z: 1.5 }), { x: 3, y: 2, z: 0 })!, 1.5);
  assert.equal(onPlane({ from: EYE, way: { x: 0, y: 1, z: 0 } }, { x: 0, y: 0, z: 0 }, { x: 0, y: 0, z: 1 }), null);
  assert.equal(heightOn({ from: EYE, way: { x: 0, y: 0, z: -1 } }, { x: 0, y: 0, z: 0 }), null);
  assert.deepEqual(facedWall(towards(EYE, { x: 0, y: 5, z: 0 })), { x: 0, y: 1, z: 0 });
  assert.deepEqual(facedWall({ from: EYE, way: { x: -0.9, y: 0.3, z: 0 } }), { x: 1, y: 0, z: 0 });
});

test('turned, leant and rolled about their own axes: what is on the axis stays, everything else goes round it', () => {
  const degrees = fc.integer({ min: -179, max: 180 });
  fc.assert(
    fc.property(
      fc.record({ x: degrees, y: degrees, z: degrees }),
      fc.constantFrom<TurnHandle>('turn', 'lean', 'roll'),
      fc.integer({ min: -170, max: 170 }),
      (rotation, handle, deg) => {
        const axis = axisOf({ rotation }, handle);
        const after = rotationOf(turnsBy(rotation, handle, deg));
        const before = rotationOf(rotation);
        // Whatever it is, each of its own directions keeps its angle to the axis and goes round by that many degrees.
        for (const own of [
          { x: 1, y: 0, z: 0 },
          { x: 0, y: 1, z: 0 },
          { x: 0, y: 0, z: 1 },
        ]) {
          const [a, b] = [applied(before, own), applied(after, own)];
          const along = (v: typeof a): number => v.x * axis.x + v.y * axis.y + v.z * axis.z;
          near(along(a), along(b), 1e-4);
          const flat = 1 - along(a) ** 2;
          if (flat < 0.01) continue;
          const cos = (a.x * b.x + a.y * b.y + a.z * b.z - along(a) ** 2) / flat;
          near(cos, Math.cos((deg * Math.PI) / 180), 1e-3);
        }
      },
    ),
  );
});

test('the angle a hand points at goes round with the hand, counter-clockwise seen against the axis', () => {
  const at = { x: 1, y: 1, z: 1 };
  const axis = { x: 0, y: 0, z: 1 };
  const angle = (x: number, y: number): number => angleOn(towards({ x: 1, y: 1, z: 9 }, { x, y, z: 1 }), at, axis)!;
  const start = angle(2, 1);
  near((angle(1, 2) - start + 360) % 360, 90);
  near((angle(0, 1) - start + 360) % 360, 180);
});

test('a grid catches the ways that move, and no others', () => {
  const caught = caughtBy({ x: 0.12, y: 0, z: -0.02 }, { x: 0.33, y: 0.777, z: 2 }, 0.1);
  near(0.33 + caught.x, 0.5);
  assert.deepEqual([caught.y, Math.abs(caught.z)], [0, 0]);
  assert.deepEqual(caughtBy({ x: 0.12, y: 0, z: 1 }, { x: 0, y: 0, z: 0 }, 0), { x: 0.12, y: 0, z: 1 });
});

test('as high as the first; evenly from the first to the last, in their order', () => {
  const row = [
    par({ x: 0, y: 0, z: 4 }),
    par({ x: 7, y: 7, z: 7 }),
    par({ x: 1, y: 1, z: 0 }),
    par({ x: 6, y: 3, z: 1 }),
  ];
  assert.deepEqual(
    sameHeight(row).map((u) => u.position),
    [
      { x: 0, y: 0, z: 4 },
      { x: 7, y: 7, z: 4 },
      { x: 1, y: 1, z: 4 },
      { x: 6, y: 3, z: 4 },
    ],
  );
  assert.deepEqual(
    evenlyBetween(row).map((u) => u.position),
    [
      { x: 0, y: 0, z: 4 },
      { x: 2, y: 1, z: 3 },
      { x: 4, y: 2, z: 2 },
      { x: 6, y: 3, z: 1 },
    ],
  );
  assert.deepEqual(evenlyBetween(row.slice(0, 2)), []);
});

test('looking at a place: lamps lean to it, others turn their front to it as they stand or hang', () => {
  const lamp = lookingAt(par({ x: 0, y: 0, z: 3 }), { x: 0, y: 3, z: 0 }, true);
  const way = frontDirection(lamp);
  near(way.y, Math.SQRT1_2);
  near(way.z, -Math.SQRT1_2);
  for (const rotation of [
    { x: 0, y: 0, z: 0 },
    { x: 0, y: 180, z: 30 },
    { x: 180, y: 0, z: -70 },
  ]) {
    const head = lookingAt(par({ x: 1, y: 1, z: 3 }, rotation), { x: -3, y: 1, z: 0 }, false);
    const front = frontDirection(head);
    near(front.x, -1, 1e-6);
    near(front.z, 0, 1e-6);
    assert.deepEqual([head.rotation.x, head.rotation.y], [rotation.x, rotation.y]);
  }
  const under = par({ x: 1, y: 1, z: 3 });
  assert.equal(lookingAt(under, { x: 1, y: 1, z: 0 }, false), under);
});
