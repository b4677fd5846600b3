import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { after, drawing, scene, showWith, units, type LiveCommandGiven } from '../../../../tests/support/rig.ts';
import { axesOf } from '../../aim/axes.ts';
import { getRecord, type Document } from '../../document/change.ts';
import { makeReader, readAxis, readCell } from '../../patch/readout.ts';
import { ownDirection } from '../../plot/beam.ts';
import type { Place3 } from '../../plot/paper.ts';
import { applied, rotationOf } from '../../plot/rotation.ts';
import { plus, times } from '../../plot/vector.ts';
import { contains } from '../../polygon.ts';
import { make, type AnyRecord, type UnitRecord } from '../../records/index.ts';
import { AS_WIRED, type Movement } from '../../records/movement.ts';

const OUTLINE = [
  { x: -4, y: -4 },
  { x: 4, y: -4 },
  { x: 4, y: 4 },
  { x: -4, y: 4 },
];
const floor = (over: object = {}): AnyRecord =>
  make('area', {
    id: 'area:floor',
    number: 1,
    name: 'Floor',
    outline: OUTLINE,
    keepOut: { on: true, fromM: 1.2, toM: 1.9, level: 0, softDeg: 4, steepDeg: null, ...over },
  });
const HUNG = { x: 0, y: 180, z: 0 };
const head = (fields: Partial<UnitRecord> = {}): AnyRecord[] =>
  units({
    slug: 'a',
    profile: 'quillon-heron',
    mode: '16ch',
    address: 1,
    fields: { position: { x: 5, y: 0, z: 5 }, rotation: HUNG, ...fields },
  });

/** What a receiver sees of a head: where its beam begins and goes, how wide, and its level. */
function seen(document: Document, bytes: Uint8Array): { from: Place3; way: Place3; half: number; level: number } {
  const unit = getRecord(document, 'unit', 'unit:a')!;
  const axes = axesOf(document, unit)!;
  const reader = makeReader(document, unit);
  const frames = new Map([[1, bytes.subarray(0, 512)]]);
  const { panRange, tiltRange } = axes;
  const pan = (readAxis(unit, reader, 'pan', frames, panRange!.rangeDeg) - 0.5) * panRange!.rangeDeg;
  const tilt = (readAxis(unit, reader, 'tilt', frames, tiltRange!.rangeDeg) - 0.5) * tiltRange!.rangeDeg;
  const way = applied(rotationOf(unit.rotation), ownDirection('head', pan, tilt));
  const light = readCell(reader, 0, frames, { r: 0, g: 0, b: 0, strobing: false });
  const { beamDeg = 15 } = getRecord(document, 'profile', unit.profileId)!.physical;
  return { from: unit.position, way, half: (beamDeg * Math.PI) / 360, level: (light.r + light.g + light.b) / 3 };
}

/** Whether a beam's axis goes through the volume, step by step. */
function inEyes({ from, way }: { from: Place3; way: Place3 }): boolean {
  for (let far = 0; far < 20; far += 0.02) {
    const at = plus(from, times(way, far));
    if (at.z >= 1.2 && at.z <= 1.9 && contains(OUTLINE, at)) return true;
  }
  return false;
}

const open = (document: Document): Record<string, unknown> => {
  const channel = getRecord(document, 'profile', 'profile:quillon-heron')!.channels.find(
    (c) => c.attribute === 'Shutter1',
  );
  const range = channel?.ranges.find((r) => r.light === 'open')?.name;
  return range ? { Shutter1: { range, at: 0.5 } } : {};
};

describe('never in the eyes', () => {
  test('no frame of any movement lights a beam that goes through it: by hand, a scene, an effect, identify, raw', () => {
    const document = showWith(...head(), floor(), scene('s', { a: { Dimmer: 1 } }));
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.constantFrom('hand', 'effect', 'identify', 'raw'),
        fc.double({ min: 0, max: 4000, noNaN: true }),
        (pan, tilt, how, ms) => {
          const set = { Dimmer: 1, Pan: pan, Tilt: tilt, ...open(document) } as never;
          const hand: LiveCommandGiven = { do: 'hand', set: { 'unit:a': set } };
          const commands: (readonly [number, LiveCommandGiven])[] = [[0, { do: 'play', target: 'scene:s' }]];
          if (how !== 'raw') commands.push([0, hand]);
          if (how === 'effect')
            commands.push([
              0,
              {
                do: 'handEffect',
                on: ['unit:a'],
                spec: { rate: 0.5, beats: false, light: null, levels: 'over', parts: [{ does: 'aim' }] },
              } as never,
            ]);
          if (how === 'identify') commands.push([0, { do: 'identify', units: ['unit:a'] }]);
          if (how === 'raw')
            commands.push([
              0,
              {
                do: 'raw',
                set: Object.fromEntries(
                  Array.from({ length: 16 }, (_, i) => [
                    `1.${i + 1}`,
                    i === 0 ? Math.floor(pan * 255) : i === 2 ? Math.floor(tilt * 255) : 255,
                  ]),
                ),
              } as never,
            ]);
          const { at } = drawing(document, after(document, ...commands));
          const found = seen(document, at(ms));
          if (inEyes(found)) assert.ok(found.level < 0.005, `${how} gives ${found.level}`);
        },
      ),
      { numRuns: 250 },
    );
  });

  test('light comes and goes without a flash while a head turns through it, and is whole outside', () => {
    const document = showWith(...head(), floor());
    const levels: number[] = [];
    for (let tilt = 0.5; tilt <= 0.85; tilt += 0.0005) {
      const set = { Dimmer: 1, Pan: 0.3333, Tilt: tilt, ...open(document) } as never;
      const { at } = drawing(document, after(document, [0, { do: 'hand', set: { 'unit:a': set } }]));
      levels.push(seen(document, at(1000)).level);
    }
    assert.ok(Math.min(...levels) < 0.01 && Math.max(...levels) > 0.9, `${Math.min(...levels)} ${Math.max(...levels)}`);
    for (let i = 1; i < levels.length; i++) assert.ok(Math.abs(levels[i]! - levels[i - 1]!) < 0.1);
  });

  test('a twin that hangs elsewhere counts too: what one of them would do to eyes takes the light of both', () => {
    const over = { x: -40, y: 0, z: 5 };
    const twin = { ...(head({ position: { x: 5, y: 0, z: 5 } })[0] as UnitRecord), id: 'unit:b' as const, number: 2 };
    const aimed = { Dimmer: 1, Pan: 0.3333, Tilt: 0.72 };
    const level = (...more: AnyRecord[]): number => {
      const document = showWith(...head({ position: over }), ...more, floor());
      const set = { ...aimed, ...open(document) } as never;
      return seen(document, drawing(document, after(document, [0, { do: 'hand', set: { 'unit:a': set } }])).at(0))
        .level;
    };
    const [alone, both] = [level(), level({ ...twin, patch: null, relation: { twinOf: 'unit:a' } } as AnyRecord)];
    assert.ok(alone > 0.9 && both < 0.01, `${alone} ${both}`);
  });

  test('off on purpose lets it through, and a level that is told is kept', () => {
    const aimed = { Dimmer: 1, Pan: 0.3333, Tilt: 0.72 };
    const level = (keep: object): number => {
      const document = showWith(...head(), floor(keep));
      const set = { ...aimed, ...open(document) } as never;
      return seen(document, drawing(document, after(document, [0, { do: 'hand', set: { 'unit:a': set } }])).at(0))
        .level;
    };
    const [free, some, none] = [level({ on: false }), level({ level: 0.3 }), level({})];
    assert.ok(free > 0.9 && none < 0.01, `${free} ${none}`);
    assert.ok(Math.abs(some - 0.3 * free) < 0.02, String(some));
  });
});

describe('limits of movement', () => {
  const limited = (movement: Partial<Movement>, fields: Partial<UnitRecord> = {}): Document =>
    showWith(...head({ ...fields, movement: { ...AS_WIRED, ...movement } }));
  const panOf = (bytes: Uint8Array): number => (bytes[0]! * 256 + bytes[1]!) / 65_535;
  const tiltOf = (bytes: Uint8Array): number => (bytes[2]! * 256 + bytes[3]!) / 65_535;
  const hand = (Pan: number, Tilt = 0.5): LiveCommandGiven => ({ do: 'hand', set: { 'unit:a': { Pan, Tilt } } });

  test('of angle hold whatever is sent, turned round or not, also for raw bytes', () => {
    const pan = { fromDeg: -90, toDeg: 45 };
    const [low, high] = [0.5 - 90 / 540, 0.5 + 45 / 540];
    for (const invertPan of [false, true]) {
      const document = limited({ pan }, { invertPan });
      const sent = (command: LiveCommandGiven): number => {
        const at = panOf(drawing(document, after(document, [0, command])).at(0));
        return invertPan ? 1 - at : at;
      };
      assert.ok(Math.abs(sent(hand(0)) - low) < 1e-4 && Math.abs(sent(hand(1)) - high) < 1e-4);
      assert.ok(Math.abs(sent(hand(0.45)) - 0.45) < 1e-4);
      for (const byte of [0, 255]) {
        const at = sent({ do: 'raw', set: { '1.1': byte, '1.2': byte } } as never);
        assert.ok(at >= low - 1e-4 && at <= high + 1e-4, String(at));
      }
    }
  });

  test('of speed: it follows no faster, from wherever it was, and single moments are not held', () => {
    const document = limited({ fastestDegS: 90 });
    const { at, live } = drawing(document, after(document, [0, hand(0.5)]));
    assert.ok(Math.abs(panOf(at(0)) - 0.5) < 1e-4);
    const far = drawing(document, after(document, [0, hand(1)]));
    assert.equal(panOf(far.at(0)), 1);
    // The same head told to go elsewhere from one frame to the next.
    Object.assign(live, { hand: far.live.hand });
    let was = 0.5;
    for (let ms = 25; ms <= 1000; ms += 25) {
      const now = panOf(at(ms));
      assert.ok(now - was <= (90 * 0.025) / 540 + 1e-4, `${was} to ${now}`);
      was = now;
    }
    assert.ok(Math.abs(was - (0.5 + 90 / 540)) < 1e-3);
  });

  test('of speed hold for raw bytes too', () => {
    const document = limited({ fastestDegS: 90 });
    const { at, live } = drawing(document, after(document, [0, hand(0.5)]));
    at(0);
    const raw = drawing(document, after(document, [0, { do: 'raw', set: { '1.1': 255, '1.2': 255 } } as never]));
    Object.assign(live, { rawAt: raw.live.rawAt, rawValues: raw.live.rawValues });
    let was = 0.5;
    for (let ms = 25; ms <= 500; ms += 25) {
      const now = panOf(at(ms));
      assert.ok(now - was <= (90 * 0.025) / 540 + 2e-4, `${was} to ${now}`);
      was = now;
    }
    assert.ok(was > 0.55, String(was));
  });

  test('swapped axes are sent on one another, each turned round as it is wired', () => {
    const document = limited({ swap: true }, { invertTilt: true });
    const bytes = drawing(document, after(document, [0, hand(0.2, 0.7)])).at(0);
    assert.ok(Math.abs(tiltOf(bytes) - 0.2) < 1e-4);
    assert.ok(Math.abs(panOf(bytes) - 0.3) < 1e-4);
  });
});
