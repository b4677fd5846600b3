import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { profileBySlug, units } from '../../../tests/support/rig.ts';
import { beamOnPlan, bounds, cellPoints, hits, planSize, turned } from './geometry.ts';

const bar = (deg: number) => {
  const [unit] = units({
    slug: 'bar',
    profile: 'quillon-pixbar16',
    mode: '50ch',
    address: 1,
    fields: { position: { x: 2, y: 1, z: 3 }, rotation: { x: 0, y: 0, z: deg } },
  });
  assert.ok(unit?.kind === 'unit');
  return unit;
};
const size = planSize(profileBySlug('quillon-pixbar16'));
const near = (a: number, b: number): void => assert.ok(Math.abs(a - b) < 1e-9, `${a} is not ${b}`);

describe('the plan', () => {
  test('takes sizes from the profile, but never too small to see', () => {
    assert.equal(size.widthM, 1);
    assert.ok(size.depthM >= 0.08);
    assert.deepEqual(planSize(undefined), { widthM: 0.3, depthM: 0.3 });
  });
  test('turns counter-clockwise as seen from above', () => {
    const p = turned({ x: 1, y: 0 }, 90);
    near(p.x, 0);
    near(p.y, 1);
  });
  test('lays cells along the width, first at the left, in any turn', () => {
    const flat = cellPoints(bar(0), size, 16);
    near(flat[0]!.x, 2 - 0.5 + 1 / 32);
    near(flat[15]!.x, 2 + 0.5 - 1 / 32);
    const up = cellPoints(bar(90), size, 16);
    near(up[0]!.x, 2);
    near(up[0]!.y, 1 - 0.5 + 1 / 32);
  });
  test('hits a turned unit where it lies', () => {
    assert.ok(hits(bar(0), size, { x: 2.45, y: 1 }, 0));
    assert.ok(!hits(bar(90), size, { x: 2.45, y: 1 }, 0));
    assert.ok(hits(bar(90), size, { x: 2, y: 1.45 }, 0));
    assert.ok(hits(bar(0), size, { x: 2.6, y: 1 }, 0.2));
  });
  test('bounds of nothing are nothing', () => {
    assert.equal(bounds([]), null);
    assert.deepEqual(
      bounds([
        { x: 1, y: 5 },
        { x: -2, y: 3 },
      ]),
      { min: { x: -2, y: 3 }, max: { x: 1, y: 5 } },
    );
  });
  test('a beam straight down lies nowhere; tilted it points up-stage, and turned half it points back', () => {
    near(beamOnPlan(0.5, 0.5, 540, 270, 0).flatness, 0);
    const ahead = beamOnPlan(0.5, 0.5 + 90 / 270, 540, 270, 0);
    near(ahead.directionDeg, 90);
    near(ahead.flatness, 1);
    near(beamOnPlan(0.5 + 180 / 540, 0.6, 540, 270, 0).directionDeg, 270);
    near(beamOnPlan(0.5, 0.4, 540, 270, 0).directionDeg, 270);
  });
});
