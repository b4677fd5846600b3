import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { profileBySlug, showWith, units } from '../../../tests/support/rig.ts';
import { fromHex } from '../colour/convert.ts';
import { recordsOf, type Document } from '../document/change.ts';
import { makeReader, type Frames } from '../patch/readout.ts';
import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import { drawnPlainly } from './beam-unit.ts';
import { brightness, carryOn, makeBeams, NO_BLADE, readBeams, type BeamSet } from './beams.ts';

const ROOM = { widthM: 20, depthM: 20, heightM: 8 };
const near = (actual: number, wanted: number, by = 1e-3): void =>
  assert.ok(Math.abs(actual - wanted) < by, `${actual} is not ${wanted}`);

/** One unit at address 1 of universe 1, two metres up, with fields of its own. */
function showOf(profile: string, mode: string, fields: Partial<UnitRecord> = {}): Document {
  return showWith(
    ...units({ slug: 'a', profile, mode, address: 1 }).map((r) =>
      r.kind === 'unit' ? { ...r, position: { x: 0, y: 0, z: 2 }, ...fields } : r,
    ),
  );
}
const litOf = (show: Document) =>
  recordsOf(show, 'unit').map((unit) => ({
    unit,
    profile: recordsOf(show, 'profile').find((p) => p.id === unit.profileId),
    reader: makeReader(show, unit),
  }));
/** Slots from the first on; the rest stays at nothing. */
const frames = (...slots: number[]): Frames => {
  const all = new Uint8Array(512);
  all.set(slots);
  return new Map([[1, all]]);
};
/** Beams as they are when that was sent, and so many seconds went by between two looks. */
function beamsOf(show: Document, sent: Frames, passedS = 0, calm = false): BeamSet {
  const set = makeBeams(show, litOf(show));
  readBeams(set, sent, ROOM, 0, calm);
  readBeams(set, sent, ROOM, passedS, calm);
  return set;
}
const three = (array: Float32Array, i: number): number[] => [...array.subarray(i * 3, i * 3 + 3)];

/** Pan, tilt, speed, shutter open, full, then what is asked for. */
const heron = (
  part: Partial<Record<'shutter' | 'colour' | 'gobo' | 'turn' | 'prism' | 'zoom' | 'focus', number>>,
): Frames => {
  const { shutter = 255, colour = 0, gobo = 0, turn = 0, prism = 0, zoom = 128, focus = 128 } = part;
  return frames(128, 0, 128, 0, 0, shutter, 255, 255, colour, gobo, turn, prism, zoom, focus, 0, 0);
};
const HERON = showOf('quillon-heron', '16ch', { rotation: { x: 180, y: 0, z: 0 } });

describe('pictures in a beam', () => {
  const names = (set: BeamSet): string[] => set.pictures.map(({ picture }) => picture);
  test('the slot that is in, and none where it is open', () => {
    assert.equal(beamsOf(HERON, heron({ gobo: 5 })).picture[0], -1);
    const set = beamsOf(HERON, heron({ gobo: 20 }));
    assert.equal(names(set)[set.picture[0]!], 'reeds');
    assert.equal(
      names(beamsOf(HERON, heron({ gobo: 100 })))[beamsOf(HERON, heron({ gobo: 100 })).picture[0]!],
      'lattice',
    );
  });
  test('turned by degrees; turning by revolutions a minute: 60 make a quarter in a quarter of a second', () => {
    // 0-127 are 0-360 degrees.
    near(beamsOf(HERON, heron({ gobo: 20, turn: 127 })).turn[0]!, 2 * Math.PI, 0.01);
    near(beamsOf(HERON, heron({ gobo: 20, turn: 190 }), 0.25).turn[0]!, Math.PI / 2, 0.01);
    near(beamsOf(HERON, heron({ gobo: 20, turn: 255 }), 0.25).turn[0]!, (3 * Math.PI) / 2, 0.01);
  });
  test('goes on turning from where it was when something is edited', () => {
    const before = beamsOf(HERON, heron({ gobo: 20, turn: 190 }), 0.25);
    const after = makeBeams(HERON, litOf(HERON));
    carryOn(before, after);
    readBeams(after, heron({ gobo: 20, turn: 190 }), ROOM, 0);
    near(after.turn[0]!, before.turn[0]!);
  });
  test('a wheel that turns lets all of them pass by', () => {
    const set = makeBeams(HERON, litOf(HERON));
    const seen = new Set<number>();
    for (let i = 0; i < 100; i++) {
      readBeams(set, heron({ gobo: 255 }), ROOM, 0.01);
      seen.add(set.picture[0]!);
    }
    assert.equal(seen.size, set.pictures.length + (seen.has(-1) ? 1 : 0));
  });
});

describe('a prism', () => {
  test('makes three beams with a third of the light each, at equal angles round the axis', () => {
    const out = beamsOf(HERON, heron({ prism: 0 }));
    const set = beamsOf(HERON, heron({ prism: 40 }));
    assert.deepEqual(
      [0, 1, 2].map((i) => brightness(out, i) > 0),
      [true, false, false],
    );
    for (let i = 0; i < 3; i++) near(brightness(set, i), brightness(out, 0) / 3);
    const ways = [0, 1, 2].map((i) => three(set.direction, i));
    const apart = (a: number[], b: number[]): number => a.reduce((sum, v, k) => sum + v * b[k]!, 0);
    near(apart(ways[0]!, ways[1]!), apart(ways[1]!, ways[2]!));
    near(apart(ways[0]!, ways[1]!), apart(ways[2]!, ways[0]!));
    // Round the axis, which looks straight down but for half a step of 16 bit.
    near(
      ways.reduce((sum, way) => sum + way[0]!, 0),
      0,
      0.02,
    );
  });
});

describe('colours of a wheel', () => {
  const SCAN = showOf('tansy-flitter-250', '6ch');
  // Pan, tilt, colour, gobo, shutter, level. Each slot has 12 values: white, white and poppy, poppy and so on.
  const scan = (colour: number): Frames => frames(128, 128, colour, 0, 255, 255);
  test('half colours split the beam in the middle', () => {
    const set = beamsOf(SCAN, scan(14));
    near(set.split[0]!, 0);
    const poppy = fromHex('#e82020')!;
    near(three(set.colour, 0)[1]!, 1);
    three(set.colour2, 0).forEach((v, i) => near(v, [poppy.r, poppy.g, poppy.b][i]!));
    assert.ok(beamsOf(SCAN, scan(0)).split[0]! > 1, 'a whole colour does not');
  });
  test('a wheel that turns moves the edge across', () => {
    // The last value turns backward as fast as it goes: 90 a minute, six colours, a ninth of a turn of the wheel a second.
    const set = makeBeams(SCAN, litOf(SCAN));
    const edges: number[] = [];
    for (let i = 0; i < 40; i++) {
      readBeams(set, scan(255), ROOM, 0.01);
      edges.push(set.split[0]!);
    }
    const steps = edges.slice(1).map((edge, i) => edge - edges[i]!);
    // 1.5 turns a second, six colours, two half widths a colour.
    for (const step of steps) assert.ok(Math.abs(step - 0.18) < 1e-3 || Math.abs(step - 0.18 + 2) < 1e-3, String(step));
  });
});

describe('edges', () => {
  const ratio = (set: BeamSet): number => set.inner[0]! / set.outer[0]!;
  test('a lens is sharp in the middle of its range and soft at its ends', () => {
    const [middle, near1, end] = [128, 60, 0].map((focus) => ratio(beamsOf(HERON, heron({ focus }))));
    assert.ok(middle! > 0.95 && middle! > near1! && near1! > end! && end! > 0);
  });
  test('what a fixed lamp was set to: beam angle, edge, blades', () => {
    const focus = {
      beamDeg: 40,
      edge: 0.5,
      shutters: [
        { in: 0.25, deg: 0 },
        { in: 0, deg: 0 },
        { in: 0.5, deg: 10 },
        { in: 0, deg: 0 },
      ],
      gelName: '',
    };
    const set = beamsOf(showOf('fernlight-brambleq', '8ch', { focus }), frames(255, 255, 255, 255));
    near(set.halfBeam[0]!, (20 * Math.PI) / 180);
    assert.ok(ratio(set) > 0.95);
    const half = Math.tan(set.halfField[0]!);
    const blades = [...set.blades.subarray(0, 8)];
    near(blades[0]!, Math.PI / 2);
    near(blades[1]!, half / 2);
    assert.equal(blades[3], NO_BLADE);
    near(blades[4]!, (-80 * Math.PI) / 180);
    near(blades[5]!, 0);
  });
});

describe('mirrors', () => {
  const SCAN = showOf('tansy-flitter', '6ch', { rotation: { x: 0, y: 180, z: 0 } });
  const [PAN_DEG, TILT_DEG] = [180, 90];
  const at = (panDeg: number, tiltDeg: number): Frames =>
    frames(128 + (panDeg / PAN_DEG) * 255, 128 + (tiltDeg / TILT_DEG) * 255, 0, 0, 255, 255);
  test('in the middle the beam leaves along the axis: straight down of one that hangs, from in front of its case', () => {
    const set = beamsOf(SCAN, at(0, 0));
    three(set.direction, 0).forEach((v, i) => near(v, [0, 0, -1][i]!, 0.02));
    near(set.origin[1]!, 0.21, 0.001);
  });
  test('pan swings it about the front, tilt leans it to the front', () => {
    // Rolled by 180 degrees its own right is stage right.
    three(beamsOf(SCAN, at(45, 0)).direction, 0).forEach((v, i) =>
      near(v, [-Math.SQRT1_2, 0, -Math.SQRT1_2][i]!, 0.02),
    );
    three(beamsOf(SCAN, at(0, 45)).direction, 0).forEach((v, i) => near(v, [0, Math.SQRT1_2, -Math.SQRT1_2][i]!, 0.02));
  });
  test('a drum sweeps by itself, as fast as its channel says', () => {
    const show = showOf('marrow-barrel', '4ch');
    const set = makeBeams(show, litOf(show));
    const seen: number[] = [];
    for (let i = 0; i < 20; i++) {
      readBeams(set, frames(127, 255, 0, 0), ROOM, 0.02);
      seen.push(Math.round((Math.atan2(set.direction[0]!, set.direction[2]!) * 180) / Math.PI));
    }
    assert.ok(Math.min(...seen) < -20 && Math.max(...seen) > 20, seen.join());
    const still = beamsOf(show, frames(0, 255, 0, 0), 0.5);
    near(still.direction[0]!, beamsOf(show, frames(0, 255, 0, 0), 0.1).direction[0]!);
  });
  test('an axis that runs the other way is sent the other way, and looks where it should', () => {
    const turned = showOf('tansy-flitter', '6ch', { rotation: { x: 0, y: 180, z: 0 }, invertPan: true });
    const [one, other] = [
      beamsOf(SCAN, frames(200, 128, 0, 0, 255, 255)),
      beamsOf(turned, frames(55, 128, 0, 0, 255, 255)),
    ];
    three(one.direction, 0).forEach((v, i) => near(v, three(other.direction, 0)[i]!));
  });
});

describe('fans', () => {
  test('two motors each turn every other beam', () => {
    const show = showOf('marrow-whirligig-duo', '8ch');
    const sent = (left: number, right: number): Frames => frames(255, 255, 255, 0, left, right, 0, 0);
    const [still, left] = [beamsOf(show, sent(0, 0), 0.3), beamsOf(show, sent(100, 0), 0.3)];
    const same = (i: number): boolean =>
      three(still.direction, i).every((v, k) => Math.abs(v - three(left.direction, i)[k]!) < 1e-6);
    assert.deepEqual(
      Array.from({ length: 12 }, (_, i) => same(i)),
      Array.from({ length: 12 }, (_, i) => i % 2 === 1),
    );
  });
  test('a laser: thin, as large as its size says, off the middle as it is shifted, in two colours', () => {
    const rgb = showOf('tansy-gossamer-rgb', '11ch');
    // On, level, pattern, size, turn, x, y, colours, speed.
    const sent = (size: number, x: number): Frames => frames(255, 255, 0, size, 0, x, 128, 255, 255, 255, 0);
    const spread = (set: BeamSet): number =>
      Math.max(...Array.from({ length: set.count }, (_, i) => Math.abs(set.direction[i * 3]!)));
    const [small, large] = [beamsOf(rgb, sent(0, 128)), beamsOf(rgb, sent(255, 128))];
    assert.ok(spread(small) < 0.1 && spread(large) > 0.35, `${spread(small)} ${spread(large)}`);
    assert.ok(small.halfBeam[0]! < 0.01);
    const middle = (set: BeamSet): number =>
      Array.from({ length: set.count }, (_, i) => set.direction[i * 3]!).reduce((a, b) => a + b, 0);
    assert.ok(middle(beamsOf(rgb, sent(100, 255))) > 1);
    const rg = beamsOf(showOf('tansy-gossamer', '5ch'), frames(255, 0, 255, 0, 0));
    assert.ok(three(rg.colour, 0)[0]! > three(rg.colour, 0)[1]! && three(rg.colour, 1)[1]! > three(rg.colour, 1)[0]!);
  });
});

describe('strobes', () => {
  const lit = (set: BeamSet): boolean => brightness(set, 0) > 0;
  test('flash as often as their channel says', () => {
    const set = makeBeams(HERON, litOf(HERON));
    // 119 is the fastest: 12 a second.
    let flashes = 0;
    let before = true;
    for (let i = 0; i < 1000; i++) {
      readBeams(set, heron({ shutter: 119 }), ROOM, 0.002);
      if (lit(set) && !before) flashes++;
      before = lit(set);
      assert.equal(set.shut[0] === 1, !lit(set));
    }
    assert.ok(flashes === 24 || flashes === 23, `${flashes} in two seconds`);
  });
  test('not for people who asked for calm, nor where nobody knows how fast: they are dim', () => {
    const open = brightness(beamsOf(HERON, heron({})), 0);
    for (let s = 0; s < 1; s += 0.13) near(brightness(beamsOf(HERON, heron({ shutter: 119 }), s, true), 0), open * 0.3);
    const heronProfile = profileBySlug('quillon-heron');
    const unsaid: ProfileRecord = {
      ...heronProfile,
      channels: heronProfile.channels.map((c) => ({ ...c, ranges: c.ranges.map(({ physical: _, ...r }) => r) })),
    };
    assert.ok(drawnPlainly(unsaid, undefined).some((words) => words.startsWith('how fast it strobes')));
  });
});

test('whatever is sent to whatever fixture: every beam is a beam', () => {
  const slugs = [
    ['quillon-heron', '16ch'],
    ['tansy-flitter-250', '7ch'],
    ['marrow-barrel', '4ch'],
    ['tansy-gossamer-rgb', '11ch'],
    ['marrow-whirligig-duo', '8ch'],
  ] as const;
  for (const [slug, mode] of slugs) {
    const show = showOf(slug, mode);
    const set = makeBeams(show, litOf(show));
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 24, maxLength: 24 }),
        fc.double({ min: 0, max: 5, noNaN: true }),
        (slots, s) => {
          readBeams(set, frames(...slots), ROOM, s);
          for (let i = 0; i < set.count; i++) {
            near(Math.hypot(...three(set.direction, i)), 1);
            near(Math.hypot(...three(set.across, i)), 1);
            if (brightness(set, i) > 0)
              near(
                three(set.across, i).reduce((sum, v, k) => sum + v * three(set.direction, i)[k]!, 0),
                0,
                0.3,
              );
            assert.ok(set.inner[i]! < set.outer[i]! && set.inner[i]! > 0 && Number.isFinite(set.outer[i]!));
            assert.ok(set.blur[i]! >= 0 && set.blur[i]! <= 1 && Number.isFinite(set.turn[i]!));
            assert.ok(set.picture[i]! >= -1 && set.picture[i]! < set.pictures.length);
          }
        },
      ),
      { numRuns: 100 },
    );
  }
});
