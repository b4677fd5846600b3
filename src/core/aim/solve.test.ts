import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { headDirection, mirrorDirection, ownDirection } from '../plot/beam.ts';
import type { Place3 } from '../plot/paper.ts';
import { solve, solveOwn, type Movable, type Solved } from './solve.ts';

const near = (actual: number, wanted: number, by = 1e-6): void =>
  assert.ok(Math.abs(actual - wanted) < by, `${actual} is not ${wanted}`);
const HEAD: Movable = { joint: 'head', pan: [-270, 270], tilt: [-135, 135] };
const SCANNER: Movable = { joint: 'mirror', pan: [-90, 90], tilt: [-45, 45] };
const STANDS = { position: { x: 0, y: 0, z: 0 }, rotation: { x: 0, y: 0, z: 0 } };
const is = (found: Solved | null, pan: number, tilt: number, flipped = false): void => {
  near(found!.pan, pan);
  near(found!.tilt, tilt);
  assert.deepEqual([found!.flipped, found!.missDeg], [flipped, 0]);
};

describe('by hand', () => {
  test('one that stands: up, forward, to its sides and behind it', () => {
    is(solve(HEAD, STANDS, { x: 0, y: 0, z: 3 }), 0, 0);
    is(solve(HEAD, STANDS, { x: 0, y: 2, z: 0 }), 0, 90);
    is(solve(HEAD, STANDS, { x: -3, y: 0, z: 3 }), 90, 45);
    is(solve(HEAD, STANDS, { x: 3, y: 0, z: 0 }), -90, 90);
    // Behind it the head leans back, and does not turn round.
    is(solve(HEAD, STANDS, { x: 0, y: -2, z: 2 }), 0, -45, true);
    // Slightly to one side of that: still the near way.
    const behind = solve(HEAD, STANDS, { x: 0.1, y: -2, z: 2 })!;
    assert.ok(Math.abs(behind.pan) < 5 && behind.flipped);
  });
  test('one that hangs upside down, and one on its side', () => {
    const hangs = { position: { x: 0, y: 0, z: 4 }, rotation: { x: 0, y: 180, z: 0 } };
    is(solve(HEAD, hangs, { x: 0, y: 0, z: 0 }), 0, 0);
    is(solve(HEAD, hangs, { x: 0, y: 4, z: 0 }), 0, 45);
    // Its right is turned over.
    is(solve(HEAD, hangs, { x: 4, y: 0, z: 0 }), 90, 45);
    const lies = { position: { x: 0, y: 0, z: 0 }, rotation: { x: 90, y: 0, z: 0 } };
    // Its axis looks down-stage, its front up.
    is(solve(HEAD, lies, { x: 0, y: -1, z: 0 }), 0, 0);
    is(solve(HEAD, lies, { x: 0, y: -1, z: 1 }), 0, 45);
  });
  test('what cannot be reached: the nearest, and by how much it misses', () => {
    const short: Movable = { joint: 'head', pan: [-30, 30], tilt: [-90, 90] };
    const found = solve(short, STANDS, { x: 3, y: 0, z: 0 })!;
    near(found.pan, -30);
    near(found.tilt, 90);
    near(found.missDeg, 60);
    // Below its feet: as low as it goes, to the side it is on.
    const low = solve(HEAD, STANDS, { x: 0, y: 0.001, z: -2 })!;
    near(low.tilt, 135);
    near(low.missDeg, 45, 0.1);
  });
  test('with one axis alone it does what that can', () => {
    const tilts: Movable = { joint: 'head', pan: [0, 0], tilt: [-90, 90] };
    const found = solve(tilts, STANDS, { x: 1, y: 1, z: 0 })!;
    assert.deepEqual([found.pan, Math.round(found.tilt)], [0, 90]);
    near(found.missDeg, 45);
    const pans: Movable = { joint: 'head', pan: [-270, 270], tilt: [90, 90] };
    is(solve(pans, STANDS, { x: -1, y: 0, z: 0 }), 90, 90);
  });
  test('a mirror: along the axis in the middle, swung about its front', () => {
    is(solve(SCANNER, STANDS, { x: 0, y: 0, z: 2 }), 0, 0);
    is(solve(SCANNER, STANDS, { x: 2, y: 0, z: 2 }), 45, 0);
    is(solve(SCANNER, STANDS, { x: 0, y: 2, z: 2 }), 0, 45);
    const behind = solve(SCANNER, STANDS, { x: 0, y: 0, z: -2 })!;
    near(behind.missDeg, 90);
  });
  test('at the unit itself there is no way; in the middle of its ranges twice round the nearest is taken', () => {
    assert.equal(solve(HEAD, STANDS, { x: 0, y: 0, z: 0 }), null);
    const wide: Movable = { joint: 'head', pan: [-315, 315], tilt: [-135, 135] };
    is(solve(wide, STANDS, { x: 0, y: 2, z: 0 }), 0, 90);
  });
});

const degrees = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
const place = fc.record({ x: degrees(20), y: degrees(20), z: degrees(20) });
const rotation = fc.record({ x: degrees(180), y: degrees(180), z: degrees(180) });
const travel = (most: number) =>
  fc.tuple(degrees(most), degrees(most)).map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]);
const angle = (a: Place3, b: Place3): number => {
  const cos = a.x * b.x + a.y * b.y + a.z * b.z;
  return (Math.acos(Math.max(-1, Math.min(1, cos))) * 180) / Math.PI;
};

test('whatever it hangs like, its beam meets the place or misses it by what is said', () => {
  fc.assert(
    fc.property(
      fc.constantFrom<Movable['joint']>('head', 'mirror'),
      travel(320),
      travel(140),
      place,
      rotation,
      place,
      (joint, pan, tilt, position, turns, target) => {
        const far = Math.hypot(target.x - position.x, target.y - position.y, target.z - position.z);
        fc.pre(far > 0.01);
        const axes = { joint, pan, tilt };
        const found = solve(axes, { position, rotation: turns }, target)!;
        assert.ok(found.pan >= pan[0] - 1e-9 && found.pan <= pan[1] + 1e-9, 'within its travel');
        assert.ok(found.tilt >= tilt[0] - 1e-9 && found.tilt <= tilt[1] + 1e-9);
        // The other way round, by the module that draws beams.
        const drawn = (joint === 'head' ? headDirection : mirrorDirection)(
          { rotation: turns },
          0.5 + found.pan / 1000,
          0.5 + found.tilt / 1000,
          1000,
          1000,
        );
        const wanted = {
          x: (target.x - position.x) / far,
          y: (target.y - position.y) / far,
          z: (target.z - position.z) / far,
        };
        near(angle(drawn, wanted), found.missDeg, 0.01);
      },
    ),
    { numRuns: 2000 },
  );
});

test('nothing within its travel is nearer than what is found', () => {
  fc.assert(
    fc.property(
      fc.constantFrom<Movable['joint']>('head', 'mirror'),
      travel(270),
      travel(135),
      place,
      (joint, pan, tilt, at) => {
        const far = Math.hypot(at.x, at.y, at.z);
        fc.pre(far > 0.1);
        const way = { x: at.x / far, y: at.y / far, z: at.z / far };
        const found = solveOwn({ joint, pan, tilt }, way);
        for (let i = 0; i <= 12; i++)
          for (let k = 0; k <= 12; k++) {
            const p = pan[0] + ((pan[1] - pan[0]) * i) / 12;
            const t = tilt[0] + ((tilt[1] - tilt[0]) * k) / 12;
            const miss = angle(ownDirection(joint, p, t), way);
            assert.ok(miss > found.missDeg - 1e-3, `${p} ${t} misses by ${miss}, not ${found.missDeg}`);
          }
      },
    ),
    { numRuns: 300 },
  );
});

test('a place that moves a little moves the head a little, unless it passes over its axis or its back', () => {
  fc.assert(
    fc.property(place, degrees(0.01), degrees(0.01), (at, dx, dy) => {
      const far = Math.hypot(at.x, at.y, at.z);
      const flat = Math.hypot(at.x, at.y);
      // Not near the axis, where pan turns fast, and not near the side, where it changes from one way to the other.
      fc.pre(far > 2 && flat / far > 0.3 && Math.abs(at.y) / far > 0.1);
      const [one, other] = [solve(HEAD, STANDS, at)!, solve(HEAD, STANDS, { ...at, x: at.x + dx, y: at.y + dy })!];
      fc.pre(one.missDeg === 0 && other.missDeg === 0);
      const moved = (Math.hypot(dx, dy) / far) * (180 / Math.PI);
      assert.ok(Math.abs(one.pan - other.pan) < 5 * moved + 1e-6 && Math.abs(one.tilt - other.tilt) < 2 * moved + 1e-6);
    }),
    { numRuns: 500 },
  );
});
