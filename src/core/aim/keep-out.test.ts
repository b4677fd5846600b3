import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { documentOf } from '../document/change.ts';
import { ownDirection } from '../plot/beam.ts';
import { applied, inOwn, rotationOf } from '../plot/rotation.ts';
import { lengthOf, minus, plus, times } from '../plot/vector.ts';
import type { Place3 } from '../plot/paper.ts';
import { contains } from '../polygon.ts';
import { make, type AreaRecord, type ThingRecord } from '../records/index.ts';
import { seenFrom, volumesOf, type Volume } from './keep-out.ts';
import { gapTo, leftBy } from './seen.ts';

const area = (over: Partial<Parameters<typeof make<'area'>>[1]> = {}): AreaRecord =>
  make('area', {
    id: 'area:floor',
    number: 1,
    name: 'Floor',
    outline: [
      { x: -3, y: -2 },
      { x: 3, y: -2 },
      { x: 3, y: 2 },
      { x: 0, y: 0.5 },
      { x: -3, y: 2 },
    ],
    keepOut: { on: true, fromM: 1.2, toM: 1.9, level: 0, softDeg: 4, steepDeg: null },
    ...over,
  });
const screen: ThingRecord = make('thing', {
  id: 'thing:screen',
  number: 1,
  name: 'Screen',
  shape: 'screen',
  position: { x: 1, y: 4, z: 1 },
  rotation: { x: 10, y: 5, z: 30 },
  size: { widthM: 3, depthM: 0.2, heightM: 2 },
  keepOut: { on: true, fromM: 0, toM: 0, level: 0.2, softDeg: 3, steepDeg: null },
});
const volumes = (...records: (AreaRecord | ThingRecord)[]): Volume[] =>
  volumesOf(documentOf([make('show', { id: 'show:t', name: 'T' }), ...records]));

/** Points of a volume in the room, inside and on its skin. */
function* pointsOf({ standing, outline, low, high }: Volume, n: number): Iterable<Place3> {
  const [xs, ys] = [outline.map((c) => c.x), outline.map((c) => c.y)];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const [x, y] = [x0 + ((x1 - x0) * i) / n, y0 + ((y1 - y0) * j) / n];
      if (!contains(outline, { x, y })) continue;
      for (let k = 0; k <= 4; k++)
        yield plus(
          standing.position,
          applied(rotationOf(standing.rotation), { x, y, z: low + ((high - low) * k) / 4 }),
        );
    }
  // Along its edges, where the nearest point mostly is.
  for (let i = 0; i < outline.length; i++) {
    const [a, b] = [outline[i]!, outline[(i + 1) % outline.length]!];
    for (let s = 0; s <= 40; s++) {
      const [x, y] = [a.x + ((b.x - a.x) * s) / 40, a.y + ((b.y - a.y) * s) / 40];
      for (let k = 0; k <= 8; k++)
        yield plus(
          standing.position,
          applied(rotationOf(standing.rotation), { x, y, z: low + ((high - low) * k) / 8 }),
        );
    }
  }
}
const metres = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
const turn = fc.double({ min: -180, max: 180, noNaN: true });
const heads = fc.record({
  position: fc.record({ x: metres(8), y: metres(8), z: fc.double({ min: 0, max: 6, noNaN: true }) }),
  rotation: fc.record({ x: turn, y: turn, z: turn }),
});

describe('how far a beam is from what it keeps out of', () => {
  for (const record of [area(), screen])
    test(`of ${record.name}: as near as its nearest point, found one by one`, () => {
      const [volume] = volumes(record) as [Volume];
      const points = [...pointsOf(volume, 24)];
      fc.assert(
        fc.property(heads, turn, turn, (head, pan, tilt) => {
          const seen = seenFrom(volume, head);
          const own = ownDirection('head', pan, tilt);
          const gap = gapTo(seen, own.x, own.y, own.z, Math.PI);
          if (seen.inside) return assert.equal(gap, 0);
          let nearest = Math.PI;
          for (const point of points) {
            const way = minus(point, head.position);
            const at = times(way, 1 / lengthOf(way));
            const room = applied(rotationOf(head.rotation), own);
            nearest = Math.min(nearest, 2 * Math.asin(Math.min(1, lengthOf(minus(at, room)) / 2)));
          }
          // A grid of points is never nearer, and hardly farther, than the volume itself.
          assert.ok(gap <= nearest + 1e-6, `${gap} of ${nearest}`);
          const close = points.reduce((least, p) => Math.min(least, lengthOf(minus(p, head.position))), Infinity);
          assert.ok(gap >= nearest - 0.25 / Math.max(0.4, close) - 0.02, `${gap} of ${nearest} at ${close} m`);
        }),
        { numRuns: 120 },
      );
    });

  test('what meets it has nothing between it: every ray to a point inside', () => {
    const [volume] = volumes(area()) as [Volume];
    const inside = [...pointsOf(volume, 12)].filter((p) => {
      const own = inOwn(volume.standing, p);
      return own.z > 1.21 && own.z < 1.89 && contains(volume.outline, own);
    });
    fc.assert(
      fc.property(heads, fc.nat(inside.length - 1), (head, n) => {
        const way = minus(inside[n]!, head.position);
        fc.pre(lengthOf(way) > 0.01);
        const room = times(way, 1 / lengthOf(way));
        const r = rotationOf(head.rotation);
        const own = {
          x: r[0]! * room.x + r[3]! * room.y + r[6]! * room.z,
          y: r[1]! * room.x + r[4]! * room.y + r[7]! * room.z,
          z: r[2]! * room.x + r[5]! * room.y + r[8]! * room.z,
        };
        const seen = seenFrom(volume, head);
        const gap = gapTo(seen, own.x, own.y, own.z, Math.PI);
        assert.ok(gap < 1e-9, `${gap}`);
        assert.equal(leftBy(seen, own.x, own.y, own.z, 0.05), 0);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what is left of the level', () => {
  const [floor] = volumes(area()) as [Volume];
  const hung = { position: { x: 0, y: -8, z: 5 }, rotation: { x: 0, y: 0, z: 0 } };
  const half = (6 * Math.PI) / 360;
  const along = (seen: ReturnType<typeof seenFrom>, down: number): number => {
    const rad = (down * Math.PI) / 180;
    return leftBy(seen, 0, Math.cos(rad), -Math.sin(rad), half);
  };
  test('goes down and up again without a step', () => {
    const seen = seenFrom(floor, hung);
    let was = along(seen, 0);
    assert.equal(was, 1);
    let least = 1;
    for (let down = 0; down <= 80; down += 0.02) {
      const now = along(seen, down);
      assert.ok(Math.abs(now - was) < 0.02, `${was} to ${now} at ${down}`);
      least = Math.min(least, now);
      was = now;
    }
    assert.equal(least, 0);
    assert.equal(was, 1);
  });
  test('steep beams pass where that is said, without a step either', () => {
    const [steep] = volumes(
      area({ keepOut: { on: true, fromM: 1.2, toM: 1.9, level: 0, softDeg: 4, steepDeg: 60 } }),
    ) as [Volume];
    const seen = seenFrom(steep, { position: { x: 0.5, y: -1, z: 6 }, rotation: hung.rotation });
    assert.equal(leftBy(seen, 0, 0, -1, half), 1);
    const way = (deg: number) => [0, Math.cos((deg * Math.PI) / 180), -Math.sin((deg * Math.PI) / 180)] as const;
    let was = leftBy(seen, ...way(90), half);
    for (let deg = 90; deg > 20; deg -= 0.02) {
      const now = leftBy(seen, ...way(deg), half);
      assert.ok(Math.abs(now - was) < 0.02);
      was = now;
    }
  });
  test('to what it is told to, and not at all where it is off or nowhere', () => {
    const [wall] = volumes(screen) as [Volume];
    const from = { position: { x: 1, y: 0, z: 2 }, rotation: { x: 0, y: 0, z: 0 } };
    assert.ok(Math.abs(leftBy(seenFrom(wall, from), 0, 1, 0, half) - 0.2) < 1e-9);
    assert.deepEqual(volumes(area({ keepOut: { ...area().keepOut!, on: false } })), []);
    assert.deepEqual(volumes(area({ outline: null })), []);
    assert.deepEqual(volumes(area({ keepOut: null })), []);
  });
});
