import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import type { Place3 } from '../plot/paper.ts';
import { applied, inRoom, rotationOf } from '../plot/rotation.ts';
import { ownDirection } from '../plot/beam.ts';
import { profileBySlug } from '../../../tests/support/rig.ts';
import { documentOf } from '../document/change.ts';
import { make } from '../records/index.ts';
import { AS_WIRED } from '../records/movement.ts';
import { axesOf, FULL_16, sentFor } from './axes.ts';
import { solve } from './solve.ts';
import { bestRotation, readingAt, trueUp, unusableReadings, withTrueUp, type Reading, type Wiring } from './trueup.ts';

const PLAIN: Wiring = { swap: false, invertPan: false, invertTilt: false };

/** What a head that really hangs so shows on its channels when it meets spots at these of its own angles. */
function readingsOf(
  unit: { position: Place3; rotation: Place3 },
  wiring: Wiring,
  angles: readonly (readonly [pan: number, tilt: number])[],
  { panOffset = 0, tiltOffset = 0, noise = (): number => 0 } = {},
): Reading[] {
  return angles.map(([pan, tilt], i) => {
    const own = ownDirection('head', pan, tilt);
    const far = 3 + (i % 3);
    const spot = inRoom(unit, { x: own.x * far, y: own.y * far, z: own.z * far });
    const [p, t] = [
      (wiring.invertPan ? -1 : 1) * (pan + panOffset) + noise(),
      (wiring.invertTilt ? -1 : 1) * (tilt + tiltOffset) + noise(),
    ];
    return { spot, pan: wiring.swap ? t : p, tilt: wiring.swap ? p : t };
  });
}
/** Where a head that is trued up so sends its beam when its channels stand so. */
function beamOf(found: ReturnType<typeof trueUp>['best'], pan: number, tilt: number): Place3 {
  const [p, t] = found.swap ? [tilt, pan] : [pan, tilt];
  const own = ownDirection(
    'head',
    (found.invertPan ? -1 : 1) * (p - found.panOffset),
    (found.invertTilt ? -1 : 1) * (t - found.tiltOffset),
  );
  return applied(rotationOf(found.hanging), own);
}
const angle = (a: Place3, b: Place3): number =>
  (Math.acos(Math.max(-1, Math.min(1, a.x * b.x + a.y * b.y + a.z * b.z))) * 180) / Math.PI;
const HANGS = { position: { x: 1, y: 2, z: 4 }, rotation: { x: 0, y: 180, z: 30 } };
const SPOTS = [
  [20, 40],
  [-60, 30],
  [100, 55],
  [-130, 70],
] as const;

test('the rotation between two lists of directions is found, whatever it is', () => {
  const degrees = fc.double({ min: -180, max: 180, noNaN: true });
  fc.assert(
    fc.property(fc.record({ x: degrees, y: degrees, z: degrees }), (turns) => {
      const r = rotationOf(turns);
      const own = [
        { x: 1, y: 0, z: 0 },
        { x: 0, y: 0.6, z: 0.8 },
      ];
      const found = bestRotation(
        own,
        own.map((o) => applied(r, o)),
      );
      found.forEach((value, i) => assert.ok(Math.abs(value - r[i]!) < 1e-6));
    }),
  );
});

describe('a head that hangs', () => {
  test('as it was noted: nothing to change, with two spots already', () => {
    const { best } = trueUp('head', HANGS, readingsOf(HANGS, PLAIN, SPOTS.slice(0, 2)));
    assert.deepEqual({ swap: best.swap, invertPan: best.invertPan, invertTilt: best.invertTilt }, PLAIN);
    assert.ok(best.residualDeg < 1e-4);
    for (const axis of ['x', 'y', 'z'] as const) assert.ok(Math.abs(best.hanging[axis] - HANGS.rotation[axis]) < 0.01);
  });
  test('with its pan the other way round: that is found, and not mistaken for a turn', () => {
    const wired = { ...PLAIN, invertPan: true };
    const { best, second } = trueUp('head', HANGS, readingsOf(HANGS, wired, SPOTS));
    assert.deepEqual([best.swap, best.invertPan, best.invertTilt], [false, true, false]);
    assert.equal(second, null, 'nothing else is nearly as good');
  });
  test('with pan and tilt swapped', () => {
    const { best } = trueUp('head', HANGS, readingsOf(HANGS, { ...PLAIN, swap: true }, SPOTS));
    assert.deepEqual([best.swap, best.invertPan, best.residualDeg < 1e-3], [true, false, true]);
  });
  test('with its tilt off by four degrees: three spots and more tell', () => {
    const { best } = trueUp('head', HANGS, readingsOf(HANGS, PLAIN, SPOTS, { tiltOffset: 4 }));
    assert.ok(Math.abs(best.tiltOffset - 4) < 0.05, String(best.tiltOffset));
    assert.ok(best.residualDeg < 0.05);
  });
  test('with its pan off: as an offset, for it hangs as was noted', () => {
    const { best } = trueUp('head', HANGS, readingsOf(HANGS, PLAIN, SPOTS, { panOffset: 6 }));
    assert.ok(Math.abs(best.panOffset - 6) < 0.05, String(best.panOffset));
    assert.deepEqual(best.hanging, HANGS.rotation);
  });
  test('and one reading that was taken at another spot is named', () => {
    const readings = readingsOf(HANGS, PLAIN, [...SPOTS, [150, 35]]);
    const wrong = readings.map((r, i) => (i === 2 ? { ...r, spot: readings[0]!.spot } : r));
    const { contradicts, best } = trueUp('head', HANGS, wrong);
    assert.equal(contradicts, 2);
    assert.ok(best.residualDeg > 5);
    assert.equal(trueUp('head', HANGS, readings).contradicts, null);
  });
});

test('random hangings, wirings and offsets come back within the noise that was put in', () => {
  const degrees = fc.double({ min: -180, max: 180, noNaN: true });
  const bool = fc.boolean();
  fc.assert(
    fc.property(
      fc.record({ x: degrees, y: degrees, z: degrees }),
      fc.record({ swap: bool, invertPan: bool, invertTilt: bool }),
      fc.double({ min: -10, max: 10, noNaN: true }),
      fc.integer({ min: 1, max: 1_000_000 }),
      (rotation, wiring, tiltOffset, seed) => {
        const unit = { position: { x: 0.5, y: -1, z: 3 }, rotation };
        let state = seed;
        const noise = (): number => {
          state = (state * 16807) % 2147483647;
          return (state / 2147483647 - 0.5) * 0.1;
        };
        const angles = [
          [20, 40],
          [-60, 30],
          [100, 75],
          [-130, 60],
          [10, -50],
        ] as const;
        const readings = readingsOf(unit, wiring, angles, { tiltOffset, noise });
        const { best } = trueUp('head', { ...unit, rotation: { x: 0, y: 0, z: 0 } }, readings);
        assert.ok(best.residualDeg < 0.5, `${best.residualDeg} is left`);
        // And at spots that were not among them its beam goes where that of the real head does.
        for (const [pan, tilt] of [
          [0, 20],
          [45, 60],
          [-100, 45],
        ] as const) {
          const [reading] = readingsOf(unit, wiring, [[pan, tilt]], { tiltOffset });
          const real = applied(rotationOf(rotation), ownDirection('head', pan, tilt));
          assert.ok(angle(beamOf(best, reading!.pan, reading!.tilt), real) < 0.6);
        }
      },
    ),
    { numRuns: 150 },
  );
});

test('readings that tell nothing are said so', () => {
  const at = { x: 0, y: 0, z: 3 };
  const reading = (spot: Place3): Reading => ({ spot, pan: 0, tilt: 10 });
  assert.match(unusableReadings(at, [reading({ x: 0, y: 0, z: 0 })])!, /two spots/);
  assert.match(unusableReadings(at, [reading(at), reading({ x: 1, y: 0, z: 0 })])!, /spot 1 is at the head/);
  const line = [1, 2, 3].map((z) => reading({ x: 0, y: 0, z: 3 - z }));
  assert.match(unusableReadings(at, line)!, /one line/);
  assert.equal(unusableReadings(at, [reading({ x: 0, y: 0, z: 0 }), reading({ x: 3, y: 0, z: 0 })]), null);
});

describe('what was found, taken over by the unit', () => {
  test('aims it right: its channels, worked out anew, bring the beam of the real head to any place', () => {
    fc.assert(
      fc.property(
        fc.record({
          x: fc.integer({ min: -180, max: 180 }),
          y: fc.integer({ min: -60, max: 60 }),
          z: fc.integer({ min: -180, max: 180 }),
        }),
        fc.record({ swap: fc.boolean(), invertPan: fc.boolean(), invertTilt: fc.boolean() }),
        fc.integer({ min: -8, max: 8 }),
        (rotation, wired, off) => {
          const heron = profileBySlug('quillon-heron');
          const real = make('unit', {
            id: 'unit:a',
            number: 1,
            name: 'A',
            profileId: heron.id,
            mode: '16ch',
            position: { x: 0, y: 0, z: 4 },
            rotation,
            invertPan: wired.invertPan,
            invertTilt: wired.invertTilt,
            movement: { ...AS_WIRED, swap: wired.swap, tiltOffsetDeg: off },
          });
          const noted = {
            ...real,
            rotation: { x: 0, y: 180, z: 0 },
            invertPan: false,
            invertTilt: false,
            movement: null,
          };
          const [there, here] = [real, noted].map((u) =>
            documentOf([make('show', { id: 'show:t', name: 'T' }), heron, u]),
          );
          const axes = axesOf(there!, real)!;
          const ranges = { panDeg: axes.panRange!.rangeDeg, tiltDeg: axes.tiltRange!.rangeDeg };
          const readings = [
            [20, 40],
            [-70, 60],
            [110, 35],
            [-15, 80],
          ].map(([pan, tilt]) => {
            const own = ownDirection('head', pan!, tilt!);
            const spot = inRoom(real, { x: own.x * 4, y: own.y * 4, z: own.z * 4 });
            const { panDmx, tiltDmx } = sentFor(axes, real, { pan: pan!, tilt: tilt! });
            return readingAt(spot, panDmx! / FULL_16, tiltDmx! / FULL_16, ranges);
          });
          const { best } = trueUp('head', noted, readings);
          assert.ok(best.residualDeg < 0.1, String(best.residualDeg));
          const now = withTrueUp(noted, best);
          const [document, mine] = [documentOf([...here!.values()].map((r) => (r.id === now.id ? now : r))), now];
          const own = ownDirection('head', 45, 55);
          const place = inRoom(real, { x: own.x * 3, y: own.y * 3, z: own.z * 3 });
          const mineAxes = axesOf(document, mine)!;
          const found = solve(mineAxes, mineAxes.standing, place)!;
          const sent = sentFor(mineAxes, mine, found);
          // What the real head makes of these channels.
          const [a, b] = wired.swap ? [sent.tiltDmx!, sent.panDmx!] : [sent.panDmx!, sent.tiltDmx!];
          const angleOf = (dmx: number, range: number, inverted: boolean, offset: number): number =>
            ((inverted ? 1 - dmx / FULL_16 : dmx / FULL_16) - 0.5) * range - offset;
          const beam = applied(
            rotationOf(real.rotation),
            ownDirection(
              'head',
              angleOf(a, ranges.panDeg, wired.invertPan, 0),
              angleOf(b, ranges.tiltDeg, wired.invertTilt, off),
            ),
          );
          const way = { x: place.x - 0, y: place.y - 0, z: place.z - 4 };
          const far = Math.hypot(way.x, way.y, way.z);
          assert.ok(angle(beam, { x: way.x / far, y: way.y / far, z: way.z / far }) < 0.2 || found.missDeg > 0.1);
        },
      ),
      { numRuns: 60 },
    );
  });
});
