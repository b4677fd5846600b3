import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { profileBySlug, showWith, units } from '../../../tests/support/rig.ts';
import type { Document } from '../document/change.ts';
import { recordsOf } from '../document/change.ts';
import { makeReader } from '../patch/readout.ts';
import { rotationOf, type Rotation } from '../plot/rotation.ts';
import type { UnitRecord } from '../records/index.ts';
import { drawnPlainly } from './beam-unit.ts';
import { PHASES } from './optics.ts';
import { makeBeams, readBeams, type BeamSet } from './beams.ts';
import { along, FAR_M, hitOf } from './box.ts';
import { makePools, readPools } from './pools.ts';
import { minus, lengthOf } from '../plot/vector.ts';
import { approached, HALF_SIGHT, looking, orbited, slid, VIEWPOINTS, viewpointOf } from './viewpoints.ts';

const ROOM = { widthM: 10, depthM: 8, heightM: 4 };
const near = (actual: number, wanted: number, by = 1e-4): void =>
  assert.ok(Math.abs(actual - wanted) < by, `${actual} is not ${wanted}`);

describe('where a ray meets the room', () => {
  const from = { x: 1, y: 2, z: 3 };
  test('each face, from inside', () => {
    assert.deepEqual(hitOf(ROOM, from, { x: 0, y: 0, z: -1 }), { distanceM: 3, face: 'floor' });
    assert.deepEqual(hitOf(ROOM, from, { x: 0, y: 0, z: 1 }), { distanceM: 1, face: 'ceiling' });
    assert.deepEqual(hitOf(ROOM, from, { x: 1, y: 0, z: 0 }), { distanceM: 4, face: 'right' });
    assert.deepEqual(hitOf(ROOM, from, { x: -1, y: 0, z: 0 }), { distanceM: 6, face: 'left' });
    assert.deepEqual(hitOf(ROOM, from, { x: 0, y: 1, z: 0 }), { distanceM: 2, face: 'back' });
    assert.deepEqual(hitOf(ROOM, from, { x: 0, y: -1, z: 0 }), { distanceM: 6, face: 'front' });
  });
  test('slantwise, the nearer of two: 3-4-5', () => {
    const hit = hitOf(ROOM, { x: 0, y: 0, z: 3 }, { x: 0.8, y: 0, z: -0.6 });
    near(hit.distanceM, 5);
    assert.equal(hit.face, 'floor');
    assert.deepEqual(along({ x: 0, y: 0, z: 3 }, { x: 0.8, y: 0, z: -0.6 }, 5), { x: 4, y: 0, z: 0 });
  });
  test('nothing where it leads away from a room it is outside of', () => {
    assert.deepEqual(hitOf(ROOM, { x: 20, y: 0, z: 2 }, { x: 1, y: 0, z: 0 }), { distanceM: FAR_M, face: null });
  });
  test('always on the face it says, and nowhere beyond a wall', () => {
    const unit = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, unit, unit, unit, unit, (x, y, z, dx, dy, dz) => {
        const long = Math.hypot(dx, dy, dz);
        fc.pre(long > 0.01);
        const at = { x: x * 4.9, y: y * 3.9, z: 2 + z * 1.9 };
        const way = { x: dx / long, y: dy / long, z: dz / long };
        const hit = hitOf(ROOM, at, way);
        assert.ok(hit.face !== null);
        const end = along(at, way, hit.distanceM);
        assert.ok(Math.abs(end.x) < 5.0001 && Math.abs(end.y) < 4.0001 && end.z > -0.0001 && end.z < 4.0001);
      }),
    );
  });
});

const FRESNEL = profileBySlug('fernlight-brambleq');
const [HEAD_X, HEAD_Z] = [2, 3];
/** A par that hangs and looks down, a moving head that stands, a bar, a derby. */
const document = showWith(
  ...units(
    { slug: 'par', profile: 'fernlight-brambleq', mode: '8ch', address: 1 },
    { slug: 'head', profile: 'quillon-heron', mode: '16ch', address: 21 },
    { slug: 'bar', profile: 'quillon-stave16', mode: '48ch', address: 101 },
    { slug: 'derby', profile: 'marrow-whirligig', mode: '6ch', address: 201 },
    { slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', address: 300 },
  ).map((record) => {
    if (record.kind !== 'unit') return record;
    const placed: Record<string, Partial<UnitRecord>> = {
      'unit:par': { position: { x: 0, y: 0, z: 4 }, rotation: { x: -90, y: 0, z: 0 } },
      'unit:head': { position: { x: HEAD_X, y: 0, z: HEAD_Z }, rotation: { x: 180, y: 0, z: 0 } },
      'unit:bar': { position: { x: 0, y: 0, z: 1 }, rotation: { x: 0, y: 0, z: 90 } },
      'unit:derby': { position: { x: -2, y: 0, z: 3 } },
    };
    return { ...record, ...placed[record.id] };
  }),
);
const litOf = (show: Document) =>
  recordsOf(show, 'unit').map((unit) => ({
    unit,
    profile: recordsOf(show, 'profile').find((p) => p.id === unit.profileId),
    reader: makeReader(show, unit),
  }));
const beamsOf = (
  fill: (slots: Uint8Array) => void,
  passedS = 0,
  set: BeamSet = makeBeams(document, litOf(document)),
) => {
  const slots = new Uint8Array(512);
  fill(slots);
  readBeams(set, new Map([[1, slots]]), ROOM, passedS);
  return set;
};
const own = (set: BeamSet, id: string) => set.units.find((u) => u.unit.id === id)!;
const three = (array: Float32Array, i: number) =>
  [...array.subarray(i * 3, i * 3 + 3)].map((v) => Math.round(v * 1e3) / 1e3 + 0);

describe('beams from what is sent', () => {
  const set = makeBeams(document, litOf(document));
  test('of those that send any: one of a par, three of a head with a prism of three facets, one for every four cells of a bar of sixteen, a fan of a derby', () => {
    assert.deepEqual(
      set.units.map(({ unit, count }) => [unit.id, count]),
      [
        ['unit:par', 1],
        ['unit:head', 3],
        ['unit:bar', 4],
        ['unit:derby', 12],
      ],
    );
    assert.equal(set.count, 20);
  });
  test('a lamp that looks down lights the floor below it, as far as it hangs', () => {
    const { first } = own(set, 'unit:par');
    const lit = beamsOf((slots) => slots.fill(255, 0, 4), 0, set);
    assert.deepEqual(three(lit.origin, first), [0, 0, 4]);
    assert.deepEqual(three(lit.direction, first), [0, 0, -1]);
    near(lit.lengthM[first]!, 4);
    near(lit.halfBeam[first]!, ((FRESNEL.physical.beamDeg ?? 30) / 2) * (Math.PI / 180));
  });
  test('a head in the middle of both goes along its axis: one that hangs upside down shines straight down', () => {
    const { first } = own(set, 'unit:head');
    const lit = beamsOf((slots) => slots.fill(128, 20, 30), 0, set);
    near(lit.direction[first * 3 + 2]!, -1, 0.01);
    near(lit.lengthM[first]!, HEAD_Z, 0.05);
  });
  test('cells stand along the width of the bar, which is turned by a quarter', () => {
    const { first, widthM } = own(set, 'unit:bar');
    const lit = beamsOf((slots) => void (slots[100] = 255), 0, set);
    const ends = [three(lit.origin, first), three(lit.origin, first + 3)];
    near(ends[0]![1]!, -widthM * (3 / 8), 0.01);
    near(ends[1]![1]!, widthM * (3 / 8), 0.01);
    // Its front is turned from up-stage to stage right.
    assert.deepEqual(three(lit.direction, first), [-1, 0, 0]);
    assert.deepEqual(three(lit.colour, first), [0.25, 0, 0], 'one of its four cells');
    assert.deepEqual(three(lit.colour, first + 1), [0, 0, 0]);
  });
  test('a fan has the colours of its cells or emitters and turns as fast as its channel says', () => {
    const made = makeBeams(document, litOf(document));
    const derby = own(made, 'unit:derby');
    const place = made.units.indexOf(derby);
    beamsOf((slots) => void (slots[200] = 255), 1, made);
    const stopped = made.phases[place * PHASES]!;
    beamsOf((slots) => slots.fill(255, 200, 206), 0.5, made);
    assert.notEqual(made.phases[place * PHASES], stopped, 'it turns');
    const turned = made.phases[place * PHASES]! - stopped;
    beamsOf((slots) => slots.fill(255, 200, 206), 0.5, made);
    near((made.phases[place * PHASES]! - stopped + 2) % 1, (2 * turned + 2) % 1);
  });
  test('what a profile does not say is drawn plainly, and told', () => {
    const [bar, derby, lamp] = ['unit:bar', 'unit:derby', 'unit:lamp'].map((id) => {
      const found = litOf(document).find(({ unit }) => unit.id === id)!;
      return drawnPlainly(found.profile, found.reader);
    });
    assert.deepEqual([bar, derby, lamp], [[], ['how its beams lie (a fan of 12)'], []]);
    const head = litOf(document).find(({ unit }) => unit.id === 'unit:head')!;
    assert.deepEqual(drawnPlainly({ ...head.profile!, physical: {} }, head.reader), [
      'beam angle (15° is drawn)',
      'range of pan (540°)',
      'range of tilt (270°)',
      'luminous flux (3000 lm)',
      'where its focus is sharp (the middle of its range)',
    ]);
  });
  test('every direction has length 1, whatever is sent', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 512, maxLength: 512 }), (bytes) => {
        const lit = beamsOf((slots) => slots.set(bytes), 0.02, set);
        for (let i = 0; i < lit.count; i++) {
          near(Math.hypot(...lit.direction.subarray(i * 3, i * 3 + 3)), 1, 1e-3);
          assert.ok(lit.lengthM[i]! >= 0 && lit.lengthM[i]! <= FAR_M);
          assert.ok(lit.halfField[i]! >= lit.halfBeam[i]! && lit.halfField[i]! < Math.PI / 2);
          for (const c of three(lit.colour, i)) assert.ok(c >= 0 && c <= 1);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('pools', () => {
  const oneBeam = (from: number[], way: number[], halfDeg: number): BeamSet => {
    const set = makeBeams(document, litOf(document));
    set.colour.fill(0);
    set.origin.set(from);
    set.direction.set(way);
    set.colour.set([1, 1, 1]);
    set.outer[0] = Math.tan((halfDeg * Math.PI) / 180);
    set.split.fill(2);
    return set;
  };
  test('straight down: a square as large as the field on the floor', () => {
    const beams = oneBeam([1, 1, 3], [0, 0, -1], 20);
    const pools = makePools(beams);
    readPools(pools, beams, ROOM);
    assert.equal(pools.count, 1);
    assert.deepEqual(
      [...pools.at.subarray(0, 3)].map((v) => Math.round(v * 100) / 100),
      [1, 1, 0],
    );
    near(Math.hypot(...pools.across.subarray(0, 3)), 3 * Math.tan((20 * Math.PI) / 180), 0.01);
  });
  test('what is lit lies within: every ray of the field that meets the face does so inside its piece', () => {
    const angle = fc.double({ min: 0, max: 2 * Math.PI, noNaN: true });
    fc.assert(
      fc.property(
        angle,
        fc.double({ min: 0, max: 1.3, noNaN: true }),
        fc.integer({ min: 2, max: 40 }),
        angle,
        (a, lean, halfDeg, around) => {
          const way = [Math.sin(lean) * Math.cos(a), Math.sin(lean) * Math.sin(a), -Math.cos(lean)];
          const from = [0.5, -0.5, 2.5];
          const beams = oneBeam(from, way, halfDeg);
          const pools = makePools(beams);
          readPools(pools, beams, ROOM);
          // A ray just inside of the edge of the field.
          const r: Rotation = rotationOf({ x: 0, y: (Math.PI - lean) * (180 / Math.PI), z: (a * 180) / Math.PI });
          const half = (halfDeg * 0.95 * Math.PI) / 180;
          const local = [Math.sin(half) * Math.cos(around), Math.sin(half) * Math.sin(around), Math.cos(half)];
          const ray = [0, 1, 2].map(
            (row) => r[row * 3]! * local[0]! + r[row * 3 + 1]! * local[1]! + r[row * 3 + 2]! * local[2]!,
          );
          const hit = hitOf(ROOM, { x: from[0]!, y: from[1]!, z: from[2]! }, { x: ray[0]!, y: ray[1]!, z: ray[2]! });
          if (hit.face !== 'floor') return;
          const p = along(
            { x: from[0]!, y: from[1]!, z: from[2]! },
            { x: ray[0]!, y: ray[1]!, z: ray[2]! },
            hit.distanceM,
          );
          const floor = Array.from({ length: pools.count }, (_, i) => i).find((i) => pools.at[i * 3 + 2] === 0);
          assert.ok(floor !== undefined);
          for (const [axis, at] of [
            [0, p.x],
            [1, p.y],
          ] as const) {
            const size = Math.abs(pools.across[floor * 3 + axis]!) + Math.abs(pools.up[floor * 3 + axis]!);
            assert.ok(Math.abs(at - pools.at[floor * 3 + axis]!) <= size + 0.02, `${at} is outside`);
          }
        },
      ),
      { numRuns: 500 },
    );
  });
  test('in a corner up to three faces; of a dark beam none', () => {
    const beams = oneBeam([4.5, 3.5, 0.6], [0.577, 0.577, -0.577], 35);
    const pools = makePools(beams);
    readPools(pools, beams, ROOM);
    assert.equal(pools.count, 3);
    beams.colour.fill(0);
    readPools(pools, beams, ROOM);
    assert.equal(pools.count, 0);
  });
});

describe('viewpoints', () => {
  test('the room is in sight from each outside one', () => {
    for (const key of VIEWPOINTS) {
      const { eye, target } = viewpointOf(key, ROOM);
      assert.ok([eye.x, eye.y, eye.z, target.x, target.y, target.z].every(Number.isFinite), key);
    }
    const { eye } = viewpointOf('front', ROOM);
    // Half the height at the front wall, seen under half the angle of sight.
    assert.ok(Math.atan2(ROOM.heightM / 2, -eye.y - ROOM.depthM / 2) < HALF_SIGHT);
    assert.ok(Math.atan2(ROOM.widthM / 2, -eye.y - ROOM.depthM / 2) < Math.atan(Math.tan(HALF_SIGHT) * 1.6));
  });
  test('nearer to what is chosen, from the same side', () => {
    const from = viewpointOf('front', ROOM);
    const next = looking(from, [{ x: 2, y: 1, z: 3 }])!;
    assert.deepEqual(next.target, { x: 2, y: 1, z: 3 });
    near(next.eye.x, 2);
    assert.ok(next.eye.y < 1 && next.eye.y > from.eye.y);
    assert.equal(looking(from, []), null);
  });
  test('round, along and nearer: the distance and the place looked at stay as they should', () => {
    const from = viewpointOf('audience', ROOM);
    const far = ({ eye, target }: typeof from): number => lengthOf(minus(eye, target));
    const round = orbited(from, 0.4, 0.1);
    near(far(round), far(from));
    assert.deepEqual(round.target, from.target);
    near(
      Math.atan2(round.eye.y - round.target.y, round.eye.x - round.target.x),
      Math.atan2(from.eye.y, from.eye.x) + 0.4,
    );
    // Over the top nobody goes.
    const over = orbited(from, 0, 9);
    assert.ok(over.eye.z < over.target.z + far(from) && over.eye.z > over.target.z + far(from) * 0.99);
    const along = slid(viewpointOf('front', ROOM), 1, 2);
    near(along.eye.x, along.target.x);
    assert.ok(along.eye.x > 0 && along.target.z > ROOM.heightM / 2, 'to the right and up');
    near(far(approached(from, 0.5)), far(from) / 2);
  });
});
