import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { drawing, PIXELS, showWith, units } from '../../../../tests/support/rig.ts';
import { applyChange, type Document } from '../../document/change.ts';
import {
  AIM_PATHS,
  COLOUR_WAYS,
  COMBINES,
  EFFECT_ORDERS,
  effectSpecSchema,
  FASTEST_RATE,
  LEVEL_MERGES,
  LEVEL_WAVES,
  PIXEL_PATTERNS,
  PIXEL_PLANES,
  type EffectSpec,
} from '../../records/effect.ts';
import { make } from '../../records/index.ts';
import { propSchema } from '../../records/prop.ts';
import { initialLive, newPlay } from '../index.ts';

/** Anything the record allows: it is drawn at any moment without a value that cannot be sent. */
const share = fc.double({ min: 0, max: 1, noNaN: true });
const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const colours = fc.array(fc.constantFrom('#000000', '#ffffff', '#ff8000', '#0000ff'), { minLength: 1, maxLength: 16 });
const every = {
  combine: fc.constantFrom(...COMBINES),
  times: between(0, 64),
  order: fc.constantFrom(...EFFECT_ORDERS),
  direction: fc.constantFrom('forward' as const, 'backward' as const, 'bounce' as const),
  spread: between(-64, 64),
  mirror: fc.boolean(),
  groupsOf: fc.integer({ min: 1, max: 10_000 }),
  phase: between(-64, 64),
  each: fc.constantFrom('cell' as const, 'unit' as const),
  seed: fc.integer({ min: 0, max: 0xffffffff }),
};
const part = fc.oneof(
  fc.record({
    does: fc.constant('level' as const),
    wave: fc.constantFrom(...LEVEL_WAVES),
    size: share,
    offset: share,
    width: between(0.01, 1),
    ...every,
  }),
  fc.record({
    does: fc.constant('colour' as const),
    way: fc.constantFrom(...COLOUR_WAYS),
    colours,
    size: share,
    offset: share,
    ...every,
  }),
  fc.record({
    does: fc.constant('aim' as const),
    path: fc.constantFrom(...AIM_PATHS),
    round: fc.constant(null),
    in: fc.constantFrom('degrees' as const, 'metres' as const),
    acrossM: between(0, 100),
    deepM: between(0, 100),
    panDeg: between(0, 360),
    tiltDeg: between(0, 360),
    turnDeg: between(-360, 360),
    points: fc.array(fc.tuple(between(-1, 1), between(-1, 1)), { maxLength: 20 }),
    ...every,
  }),
  fc.record({
    does: fc.constant('pixels' as const),
    pattern: fc.constantFrom(...PIXEL_PATTERNS),
    colours,
    angleDeg: between(-360, 360),
    width: share,
    repeat: between(0.1, 64),
    soft: share,
    text: fc.string({ maxLength: 12, unit: 'grapheme' }),
    plane: fc.constantFrom(...PIXEL_PLANES),
    size: share,
    ...every,
  }),
);
const spec: fc.Arbitrary<EffectSpec> = fc.record({
  rate: between(0, FASTEST_RATE),
  beats: fc.boolean(),
  light: fc.option(share),
  levels: fc.constantFrom(...LEVEL_MERGES),
  parts: fc.array(part, { minLength: 1, maxLength: 4 }),
});

const RIG: Document = showWith(
  PIXELS,
  make('unit', {
    id: 'unit:wall',
    number: 9,
    name: 'Wall',
    profileId: 'profile:px',
    mode: 'px',
    patch: { universe: 2, address: 1 },
    prop: propSchema.parse({ shape: { shape: 'matrix', columns: 6, rows: 5, widthM: 2, heightM: 1 } }),
    position: { x: 0, y: 3, z: 1 },
  }),
  ...units(
    { slug: 'spot', profile: 'quillon-heron', mode: '16ch', address: 1 },
    { slug: 'scan', profile: 'tansy-flitter', mode: '6ch', address: 21 },
    { slug: 'derby', profile: 'marrow-whirligig', mode: '6ch', address: 31 },
    { slug: 'bar', profile: 'quillon-stave16', mode: '48ch', address: 41 },
    { slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', address: 101 },
    { slug: 'strobe', profile: 'marrow-crackle', mode: '3ch', address: 110 },
    { slug: 'haze', profile: 'marrow-millmist', mode: '2ch', address: 120 },
  ),
);
const ON = [...RIG.values()].flatMap((r) => (r.kind === 'unit' ? [r.id] : []));
const drawn = (given: EffectSpec, startedAt = 0) => {
  const effect = make('effect', { id: 'effect:x', number: 1, name: 'X', fadeInMs: 0, on: ON, ...given });
  const document = applyChange(RIG, { put: [effect], remove: [] });
  const live = { ...initialLive(0), playing: [newPlay({ id: 'p', target: 'effect:x', startedAt })] };
  return drawing(document, live);
};

describe('whatever an effect is set to', () => {
  test('it may be kept, and every value of every frame can be sent', () => {
    const moments = fc.array(fc.oneof(fc.integer({ min: 0, max: 60_000 }), fc.constantFrom(0, 1e9, 4e12)), {
      minLength: 1,
      maxLength: 4,
    });
    fc.assert(
      fc.property(spec, moments, (given, times) => {
        const { frame, at, live } = drawn(effectSpecSchema.parse(given));
        for (const ms of times) {
          at(ms);
          assert.equal(live.layers[0]!.failed, null);
          const wrong = frame.current.findIndex((v) => !(v >= 0 && v <= 1));
          assert.equal(wrong, -1, `slot ${wrong} at ${ms} ms is ${frame.current[wrong]}`);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('the same moment is the same frame, whatever was drawn in between', () => {
    fc.assert(
      fc.property(
        spec,
        fc.integer({ min: 0, max: 60_000 }),
        fc.integer({ min: 0, max: 60_000 }),
        (given, one, other) => {
          const { at } = drawn(given);
          const first = at(one).slice();
          at(other);
          assert.deepEqual(at(one), first);
        },
      ),
      { numRuns: 100 },
    );
  });

  test('the end of a year is drawn as well as its first minute', () => {
    const { at } = drawn(effectSpecSchema.parse({ rate: 1, light: 1, parts: [{ does: 'colour', way: 'hue' }] }));
    const year = 365 * 86_400_000;
    // A whole number of turns later it is where it was.
    assert.deepEqual(at(250).slice(), at(year + 250));
    assert.notDeepEqual(at(250).slice(), at(year + 700));
  });
});

describe('what no effect can be set to', () => {
  const refused: readonly (readonly [name: string, fields: object])[] = [
    ['a million turns a second', { rate: 1e6 }],
    ['a rate below nothing', { rate: -1 }],
    ['a rate that is no number', { rate: NaN }],
    ['no parts', { parts: [] }],
    ['too many parts', { parts: Array.from({ length: 7 }, () => ({ does: 'level' })) }],
    ['no colours', { parts: [{ does: 'colour', colours: [] }] }],
    ['a colour that is none', { parts: [{ does: 'colour', colours: ['red'] }] }],
    ['groups of none', { parts: [{ does: 'level', groupsOf: 0 }] }],
    ['a path off its paper', { parts: [{ does: 'aim', points: [[2, 0]] }] }],
    ['something it cannot do', { parts: [{ does: 'smoke' }] }],
    ['a field too many', { parts: [{ does: 'level', colours: ['#ffffff'] }] }],
  ];
  for (const [name, fields] of refused)
    test(name, () =>
      assert.equal(effectSpecSchema.safeParse({ parts: [{ does: 'level' }], ...fields }).success, false),
    );
});
