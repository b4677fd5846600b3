import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { ownDirection, type Joint } from '../plot/beam.ts';
import { lengthOf, minus, plus, times } from '../plot/vector.ts';
import { onLine, ownWay, steerTo, type Steering } from './steer.ts';

const steering = (joint: Joint, pan = 540, tilt = 270): Steering => ({
  joint,
  rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1),
  x: 0,
  y: 0,
  z: 0,
  panFrom: -pan / 2,
  panTo: pan / 2,
  tiltFrom: -tilt / 2,
  tiltTo: tilt / 2,
  panRange: pan,
  panZero: -pan / 2,
  tiltRange: tilt,
  tiltZero: -tilt / 2,
});
const deg = (most: number) => fc.integer({ min: -most * 100, max: most * 100 }).map((v) => v / 100);
const away = (a: { x: number; y: number; z: number }, b: { x: number; y: number; z: number }): number =>
  (2 * Math.asin(Math.min(1, lengthOf(minus(a, b)) / 2)) * 180) / Math.PI;
const triple = ({ x, y, z }: { x: number; y: number; z: number }): Float64Array => Float64Array.of(x, y, z);

describe('aiming while a frame is drawn', () => {
  test('is the drawing module the other way round, from wherever it stands', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('head' as const, 'mirror' as const),
        deg(170),
        deg(80),
        deg(200),
        deg(100),
        (joint, pan, tilt, p, t) => {
          const to = steering(joint, 720, 360);
          const way = ownDirection(joint, pan, tilt);
          const own = new Float64Array(3);
          ownWay(joint, pan, tilt, own);
          assert.ok(away(way, { x: own[0]!, y: own[1]!, z: own[2]! }) < 1e-6);
          const angles = new Float64Array(2);
          steerTo(to, own, p, t, angles);
          assert.ok(away(ownDirection(joint, angles[0]!, angles[1]!), way) < 1e-5, `${angles}`);
          // No other way there is nearer by a full turn.
          assert.ok(Math.abs(angles[0]! - p) <= 180 + 1e-6 || Math.abs(angles[0]!) > 180);
        },
      ),
      { numRuns: 500 },
    );
  });

  test('a straight line: every moment of it lies between both places, and its ends are where the head stands', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('head' as const, 'mirror' as const),
        fc.tuple(deg(120), deg(70), fc.double({ min: 1, max: 9, noNaN: true })),
        fc.tuple(deg(120), deg(70), fc.double({ min: 1, max: 9, noNaN: true })),
        (joint, [p0, t0, r0], [p1, t1, r1]) => {
          fc.pre(Math.abs(t0) > 2 && Math.abs(t1) > 2);
          const head = steering(joint, 720, 360);
          const [a, b] = [times(ownDirection(joint, p0, t0), r0), times(ownDirection(joint, p1, t1), r1)];
          const angles = new Float64Array(2);
          if (!onLine(head, triple(a), triple(b), 0.5, p0, t0, p1, t1, angles)) {
            // Only what would have to turn round is left to turn.
            return assert.ok(joint === 'head' ? t0 < 0 !== t1 < 0 || Math.abs(p1 - p0) > 179 : Math.abs(p1 - p0) > 90);
          }
          for (const mix of [0, 0.1, 0.37, 0.5, 0.8, 1]) {
            assert.ok(onLine(head, triple(a), triple(b), mix, p0, t0, p1, t1, angles));
            const on = plus(a, times(minus(b, a), mix));
            fc.pre(lengthOf(on) > 0.05);
            assert.ok(away(ownDirection(joint, angles[0]!, angles[1]!), times(on, 1 / lengthOf(on))) < 1e-4);
          }
          onLine(head, triple(a), triple(b), 0, p0, t0, p1, t1, angles);
          assert.ok(Math.abs(angles[0]! - p0) < 1e-6 && Math.abs(angles[1]! - t0) < 1e-6);
          onLine(head, triple(a), triple(b), 1, p0, t0, p1, t1, angles);
          assert.ok(Math.abs(angles[0]! - p1) < 1 && Math.abs(angles[1]! - t1) < 1e-6);
        },
      ),
      { numRuns: 500 },
    );
  });
});
