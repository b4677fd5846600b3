import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { curvesSchema, type CurvePoint } from '../records/curve.ts';
import { areaTo, curveFrom, point, simplified, valueAt, withPoint } from './curves.ts';

const near = (a: number, b: number, off = 1e-9): void => assert.ok(Math.abs(a - b) <= off, `${a} is not ${b}`);
const CURVE: readonly CurvePoint[] = [point(1, 0), point(3, 1, 'ease'), point(5, 0, 'step'), point(6, 0.5)];

describe('curves', () => {
  test('have the values that were worked out by hand', () => {
    const at = [0, 1, 2, 3, 3.5, 4, 5, 5.9, 6, 99];
    const ease = (t: number): number => 1 - t * t * (3 - 2 * t);
    const want = [0, 0, 0.5, 1, ease(0.25), 0.5, 0, 0, 0.5, 0.5];
    at.forEach((s, i) => near(valueAt(CURVE, s), want[i]!));
  });
  test('of two points at one moment the second counts from there on', () => {
    const jump = [point(0, 0), point(2, 1), point(2, 0.25), point(4, 0.25)];
    near(valueAt(jump, 1.999), 0.9995);
    near(valueAt(jump, 2), 0.25);
  });
  test('the area under one is the sum of its values', () => {
    const random = seeded(3);
    for (let n = 0; n < 20; n++) {
      let at = random();
      const shapes = ['step', 'line', 'ease'] as const;
      const points = Array.from({ length: 6 }, () =>
        point((at += random() * 2), random() * 4, shapes[Math.floor(random() * 3)]),
      );
      let sum = 0;
      const step = 1e-3;
      for (let s = 0; s < 12; s += step) sum += valueAt(points, s + step / 2) * step;
      near(areaTo(points, 12), sum, 0.01);
    }
    near(areaTo([point(2, 0.5)], 4), 2);
  });
  test('a part of one is that part', () => {
    const random = seeded(8);
    // A soft piece that is cut has another course; straight and stepped ones stay as they are.
    const points = [point(0, 0.2), point(2, 0.9, 'step'), point(3, 0.1), point(7, 0.6)];
    for (let n = 0; n < 50; n++) {
      const from = random() * 6;
      const part = curveFrom(points, from, from + 1);
      for (const s of [0, 0.3, 0.77, 0.999]) near(valueAt(part, s), valueAt(points, from + s));
    }
  });
  test('a point is put in its place, within what may be', () => {
    const points = withPoint('level', [point(0, 0), point(2, 1)], point(1, 7));
    assert.deepEqual(
      points.map(({ at, value }) => [at, value]),
      [
        [0, 0],
        [1, 1],
        [2, 1],
      ],
    );
    assert.equal(withPoint('level', points, point(1.001, 0.5)).length, 3, 'in place of one that is there');
  });
  test('few points say what many values said', () => {
    const values = Array.from({ length: 2000 }, (_, i) => Math.abs(Math.sin(i / 90)));
    const few = simplified(values, 0.01, 0.02);
    assert.ok(few.length < 120, `${few.length} points`);
    values.forEach((value, i) => near(valueAt(few, i * 0.01), value, 0.0201));
    assert.deepEqual(simplified([], 1, 1), []);
  });
  test('points out of order, out of range, none or too many are refused with their place', () => {
    const said = (points: unknown[]): string => {
      const read = curvesSchema.safeParse({ level: points });
      return read.success ? '' : read.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join();
    };
    assert.equal(said([{ at: 0, value: 0 }]), '');
    assert.match(
      said([
        { at: 2, value: 0 },
        { at: 1, value: 0 },
      ]),
      /level\.1\.at: must not be before/,
    );
    assert.match(said([{ at: 0, value: 2 }]), /level\.0\.value: must be 0 to 1/);
    assert.match(said([]), /at least one point/);
    assert.match(said(Array.from({ length: 100_000 }, (_, i) => ({ at: i / 100, value: 0 }))), /at most 20000 points/);
  });
});
