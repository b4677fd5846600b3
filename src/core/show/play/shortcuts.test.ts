import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, drawing, PIXELS, scene, showWith, units } from '../../../../tests/support/rig.ts';
import { documentOf, type Document } from '../../document/change.ts';
import {
  COLOUR_WAYS,
  COMBINES,
  effectSpecSchema,
  LEVEL_MERGES,
  LEVEL_WAVES,
  PIXEL_PATTERNS,
} from '../../records/effect.ts';
import { make } from '../../records/index.ts';
import { propSchema } from '../../records/prop.ts';
import { encodeCells, encodeRest } from '../rig/encode.ts';
import { FlashGuard, initialLive, makeFrame, newPlay, render, type LiveState } from '../index.ts';
import type { Layer } from './layers.ts';

/**
 * A frame takes shortcuts: effects straight into it, layers left out that another hides, layers kept that stand still,
 * levels below a rank not noted where nobody compares them, pixels written while the guard looks. None may be seen.
 */
const wall = (n: number, fields: object = {}) =>
  make('unit', {
    id: `unit:w${n}`,
    number: 20 + n,
    name: `Wall ${n}`,
    profileId: 'profile:px',
    mode: 'px',
    patch: { universe: 2 + n, address: 1 },
    position: { x: n * 2, y: 3, z: 1 },
    prop: propSchema.parse({ shape: { shape: 'matrix', columns: 5, rows: 3, widthM: 1, heightM: 1 }, ...fields }),
  });
const RIG = showWith(
  PIXELS,
  wall(1, { gamma: 2.2 }),
  wall(2),
  ...units(
    { slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', address: 1 },
    { slug: 'spot', profile: 'quillon-heron', mode: '16ch', address: 21 },
    { slug: 'bar', profile: 'quillon-stave16', mode: '48ch', address: 41 },
    { slug: 'par', profile: 'fernlight-brambleq', mode: '8ch', address: 101 },
    // Two that share bytes: the later one writes them.
    { slug: 'over', profile: 'quillon-stave16', mode: '48ch', address: 60 },
  ),
  scene('low', { lamp: { Dimmer: 0.3 }, w1: { Dimmer: 0.5 }, bar: { Dimmer: 0.4 }, spot: { Dimmer: 0.2, Pan: 0.7 } }),
  scene('red', { w1: { ColorRGB_Red: 1, Dimmer: 0.8 }, w2: { ColorRGB_Red: 0.6, Dimmer: 0.2 } }),
  scene('sea', { w1: { ColorRGB_Red: 0.1, 'ColorRGB_Red#3': 0.9 }, w2: { ColorRGB_Red: 0.3 } }, { fadeInMs: 500 }),
  // Steps that touch the same, one that does not, and steps by themselves.
  chase('whole', ['red', 'sunk'], { fade: 0.4, hold: 0.3 }),
  scene('sunk', { w1: { ColorRGB_Red: 0.2, Dimmer: 0.4 }, w2: { ColorRGB_Red: 0.9, Dimmer: 0.7 } }),
  chase('partly', ['red', 'low', 'sea'], { fade: 0.3, hold: 0.2 }),
  scene('less', { w1: { ColorRGB_Red: 0.4 } }),
  chase('half', ['red', 'less'], { fade: 0.3, hold: 0.2 }),
);
const STILL = ['scene:low', 'scene:red', 'scene:sea', 'chase:whole', 'chase:partly', 'chase:half'] as const;
const PIXELLED = ['unit:w1', 'unit:w2'] as const;
const ALL = ['unit:w1', 'unit:w2', 'unit:lamp', 'unit:spot', 'unit:bar', 'unit:par', 'unit:over'] as const;

const share = fc.constantFrom(0, 0.3, 0.7, 1);
const every = {
  combine: fc.constantFrom(...COMBINES),
  times: fc.constantFrom(0.5, 1),
  spread: fc.constantFrom(0, 1, -2),
};
const part = fc.oneof(
  fc.record({
    does: fc.constant('level'),
    wave: fc.constantFrom(...LEVEL_WAVES),
    size: share,
    offset: share,
    ...every,
  }),
  fc.record({ does: fc.constant('colour'), way: fc.constantFrom(...COLOUR_WAYS), size: share, ...every }),
  fc.record({
    does: fc.constant('pixels'),
    pattern: fc.constantFrom(...PIXEL_PATTERNS),
    size: share,
    soft: share,
    ...every,
  }),
);
const effect = fc.record({
  on: fc.constantFrom<readonly string[]>(PIXELLED, ALL, ['unit:w1'], ['unit:lamp', 'unit:w2']),
  priority: fc.constantFrom(50, 100, 100, 150),
  fadeInMs: fc.constantFrom(0, 0, 900),
  fadeOutMs: fc.constantFrom(0, 700),
  rate: fc.constantFrom(0, 0.5, 2),
  light: fc.constantFrom(null, 1, 0.6),
  levels: fc.constantFrom(...LEVEL_MERGES),
  parts: fc.array(part, { minLength: 1, maxLength: 2 }),
});
const played = fc.record({
  effects: fc.array(effect, { minLength: 1, maxLength: 5 }),
  released: fc.array(fc.constantFrom(null, null, 1200), { minLength: 5, maxLength: 5 }),
  scenes: fc.shuffledSubarray([...STILL]),
  between: fc.boolean(),
});

function begun({ effects, released, scenes, between }: typeof played extends fc.Arbitrary<infer T> ? T : never) {
  const records = effects.map((given, i) => {
    const { on, priority, fadeInMs, fadeOutMs, ...spec } = given;
    return make('effect', {
      ...effectSpecSchema.parse(spec),
      id: `effect:e${i}`,
      number: i + 1,
      name: `E${i}`,
      on: on as never,
      priority,
      fadeInMs,
      fadeOutMs,
    });
  });
  const document: Document = documentOf([...RIG.values(), ...records]);
  const state: LiveState = {
    ...initialLive(0),
    playing: [
      // Under the effects, or between and over them.
      ...scenes.map((target, i) => newPlay({ id: `s${i}`, target, startedAt: i * (between ? 190 : 1) })),
      ...records.map(({ id }, i) =>
        newPlay({ id: `p${i}`, target: id, startedAt: i * 150, releasedAt: released[i] ?? null }),
      ),
    ],
  };
  return drawing(document, state);
}

/** The same layers without any shortcut. */
const plain = (layers: readonly Layer[]): Layer[] =>
  layers.map((layer) => ({
    ...layer,
    compared: true,
    coveredBy: [],
    restCoveredBy: [],
    program: layer.program.type === 'effect' ? { ...layer.program, straight: false } : layer.program,
  }));
const MOMENTS = [0, 160, 640, 1000, 1250, 1900, 4000];

describe('shortcuts are not seen', () => {
  test('whatever plays, byte for byte', () => {
    fc.assert(
      fc.property(played, (given) => {
        const { rig, live, at } = begun(given);
        const slow = { ...live, layers: plain(live.layers) };
        for (const ms of MOMENTS)
          assert.deepEqual([...at(ms)], [...render(rig.arrays, slow, ms, makeFrame(rig.arrays))], `at ${ms} ms`);
        assert.ok(live.layers.every((layer) => layer.failed === null));
      }),
      { numRuns: 300 },
    );
  });
  test('with the guard, which writes pixels on its way, and while it holds', () => {
    const safety = { limitFlashes: true, flashesPerSecond: 1, share: 0.1, strobeHz: 5 };
    let held = 0;
    fc.assert(
      fc.property(played, (given) => {
        const { rig, frame, at } = begun(given);
        const guard = new FlashGuard(rig.arrays, safety);
        for (let ms = 0; ms < 2000; ms += 50) {
          const bytes = Uint8Array.from(at(ms, guard));
          if (guard.holding) held++;
          // The same attribute values once more, without anybody who looks.
          const again = new Uint8Array(bytes.length);
          encodeCells(rig.arrays, frame.current, again);
          encodeRest(rig.arrays, frame.current, again);
          assert.deepEqual([...bytes], [...again], `at ${ms} ms`);
        }
      }),
      { numRuns: 40 },
    );
    assert.ok(held > 0, 'somewhere it held');
  });
});

describe('a layer is left out', () => {
  const layersOf = (...given: readonly object[]): readonly Layer[] =>
    begun({
      effects: given.map((fields) => ({
        on: PIXELLED,
        priority: 100 as const,
        fadeInMs: 0 as const,
        fadeOutMs: 0 as const,
        rate: 2 as const,
        light: 1 as const,
        levels: 'over' as const,
        parts: [{ does: 'pixels', pattern: 'plasma', combine: 'over', times: 1, spread: 0, size: 1, soft: 0 } as never],
        ...fields,
      })),
      released: [],
      scenes: [],
      between: false,
    }).live.layers;
  const hidden = (...given: readonly object[]): number[][] => layersOf(...given).map((layer) => [...layer.coveredBy]);
  test('where a later one takes the place of all it does', () => {
    assert.deepEqual(hidden({}, {}), [[1], []]);
    // A colour wheel may stay as it was.
    assert.deepEqual(hidden({ on: ALL }, { on: ALL }), [[], []]);
    assert.deepEqual(hidden({ on: PIXELLED }, { on: PIXELLED }, { on: PIXELLED }), [[1, 2], [2], []]);
    assert.deepEqual(hidden({ on: ['unit:w1'] }, { on: PIXELLED }), [[1], []]);
  });
  test('not where the later one reaches less, scales, compares, or does less', () => {
    assert.deepEqual(hidden({ on: PIXELLED }, { on: ['unit:w1'] }), [[], []]);
    assert.deepEqual(hidden({ on: PIXELLED }, { on: PIXELLED, levels: 'scale' }), [[], []]);
    assert.deepEqual(hidden({ on: PIXELLED }, { on: PIXELLED, levels: 'highest' }), [[], []]);
    const colour = { does: 'colour', way: 'hue', combine: 'over', times: 1, spread: 0, size: 1 };
    assert.deepEqual(hidden({ on: PIXELLED }, { on: PIXELLED, light: null, parts: [colour] }), [[], []]);
  });
  test('not where levels above it are compared with what was below', () => {
    const over = { on: PIXELLED, priority: 150 };
    assert.deepEqual(hidden({ on: PIXELLED }, over), [[1], []]);
    assert.deepEqual(hidden({ on: PIXELLED }, over, { ...over, levels: 'highest' }), [[], [], []]);
    // Of the same rank too: what scales changes what is below without taking part in the comparison.
    assert.deepEqual(hidden({ levels: 'scale' }, {}, { levels: 'highest' }), [[], [], []]);
  });
  test('but for its levels where a still later one takes the place of the rest', () => {
    const rest = (...scenes: readonly string[]): string[] =>
      begun({ effects: [], released: [], scenes: scenes as never, between: false }).live.layers.map(
        ({ coveredBy, restCoveredBy }) => `whole ${coveredBy}, rest ${restCoveredBy}`,
      );
    const nothing = 'whole , rest ';
    assert.deepEqual(rest('scene:red', 'scene:sea'), ['whole , rest 1', nothing]);
    // One without levels is hidden whole.
    assert.deepEqual(rest('scene:sea', 'scene:red'), ['whole 1, rest ', nothing]);
    assert.deepEqual(rest('scene:red', 'chase:whole', 'scene:sea'), ['whole , rest 1,2', 'whole , rest 2', nothing]);
    // A chase whose steps touch different slots takes no place for sure; a head that is turned is not covered by colour.
    assert.deepEqual(rest('scene:red', 'chase:partly'), [nothing, nothing]);
    assert.deepEqual(rest('scene:red', 'chase:half'), [nothing, nothing]);
    assert.deepEqual(rest('scene:low', 'scene:red'), [nothing, nothing]);
  });
  test('not while a chase still fades to its first step', () => {
    const { live, at } = begun({
      effects: [],
      released: [],
      scenes: ['chase:whole', 'chase:whole'] as never,
      between: false,
    });
    const hidden = [1, 200, 400, 402, 600, 4000].map((ms) => {
      at(ms);
      return live.layers[0]!.levelsOnly;
    });
    assert.deepEqual(hidden, [false, false, false, true, true, true]);
  });
});
