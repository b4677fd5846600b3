import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { make } from '../../records/index.ts';
import {
  effectPartSchema,
  effectSpecSchema,
  LEVEL_WAVES,
  PIXEL_PATTERNS,
  type EffectPart,
} from '../../records/effect.ts';
import { showWith, slotsAt, units, type UnitRow } from '../../../../tests/support/rig.ts';
import { compileRig } from '../index.ts';
import { hueTable } from './colour-tables.ts';
import { hueAt, ringAt, ringOf, walkAt } from './colours.ts';
import { elementsOf, type Elements } from './elements.ts';
import { LETTER_COLUMNS, textDots } from './letters.ts';
import { drawWave, sparkleOf } from './levels.ts';
import { orderOf } from './order.ts';
import { pathAt, pathTable } from './paths.ts';
import { drawPixels, pixelField } from './pixels.ts';
import { emptySpan, wholeSpan } from './span.ts';
import { cosine, noise, quickSine, sine, smoothNoise, triangle } from './turns.ts';

const near = (actual: number, expected: number, by = 0.002, what = ''): void =>
  assert.ok(Math.abs(actual - expected) <= by, `${what} ${actual} is not ${expected}`);

describe('functions of turns', () => {
  test('sine and cosine are right to within 0.0002, far out too', () => {
    for (let i = -400; i < 400; i++) {
      near(sine(i / 97), Math.sin((i / 97) * 2 * Math.PI), 0.0002, `sine of ${i / 97}`);
      near(cosine(i / 97), Math.cos((i / 97) * 2 * Math.PI), 0.0002);
    }
    near(sine(1e6 + 0.25), 1, 0.0002);
  });
  test('triangle goes up and down once a turn', () =>
    assert.deepEqual([0, 0.25, 0.5, 0.75, 1].map(triangle), [0, 0.5, 1, 0.5, 0]));
  test('noise depends on seed, element and turn alone, stays in 0-1 and is spread evenly', () => {
    let sum = 0;
    for (let i = 0; i < 4000; i++) {
      const v = noise(7, i, i % 13);
      assert.ok(v >= 0 && v < 1);
      assert.equal(v, noise(7, i, i % 13));
      sum += v;
    }
    near(sum / 4000, 0.5, 0.02);
    assert.notEqual(noise(7, 1, 1), noise(8, 1, 1));
  });
  test('smooth noise meets noise at whole turns', () => near(smoothNoise(3, 5, 4), noise(3, 5, 4), 1e-9));
});

/** A wave of one element, which stands at place `element`. */
function waveAt(
  wave: (typeof LEVEL_WAVES)[number],
  turns: number,
  width: number,
  element: number,
  seed: number,
): number {
  const light = new Float32Array(element + 1);
  const input = { wave, width, seed };
  const span = wholeSpan(emptySpan(), light, new Float32Array(0));
  drawWave(input, new Float32Array(element + 1), turns, span, sparkleOf(input, element + 1));
  return light[element]!;
}

describe('tables', () => {
  test('a ring of colours is the soft walk, nearer than a byte tells apart', () => {
    const table = Float32Array.from([1, 0, 0, 0, 1, 0.2, 0.1, 0, 1]);
    const [ring, quick, slow] = [ringOf(table), new Float32Array(3), new Float32Array(3)];
    for (let i = -500; i < 500; i++) {
      ringAt(ring, i / 137, quick, 0);
      walkAt(table, i / 137, 1, slow, 0);
      quick.forEach((v, c) => near(v, slow[c]!, 1 / 512, `colour ${c} at ${i / 137}`));
    }
  });
  test('the quick sine is the sine, to within 0.0006, on both sides of 0', () => {
    for (let i = -20_000; i < 20_000; i++) near(quickSine(i / 997), sine(i / 997), 0.0006, `at ${i / 997}`);
  });
});

describe('waves of levels', () => {
  const cases: [wave: (typeof LEVEL_WAVES)[number], width: number, at: number, expected: number][] = [
    ['wave', 0.5, 0, 0],
    ['wave', 0.5, 0.25, 0.5],
    ['wave', 0.5, 0.5, 1],
    ['triangle', 0.5, 0.25, 0.5],
    ['rise', 0.5, 0.3, 0.3],
    ['fall', 0.5, 0.3, 0.7],
    ['square', 0.3, 0.29, 1],
    ['square', 0.3, 0.31, 0],
    ['pulse', 0.5, 0, 1],
    ['pulse', 0.5, 0.25, 0.5],
    ['pulse', 0.5, 0.6, 0],
    ['breath', 0.5, 0.4, 1],
    ['breath', 0.5, 0.95, 0],
    ['strobe', 0.5, 0.1, 1],
    ['strobe', 0.5, 0.3, 0],
  ];
  for (const [wave, width, at, expected] of cases)
    test(`${wave} at ${at} of a turn`, () => near(waveAt(wave, at, width, 0, 1), expected));
  test('every wave stays within 0-1 and is the same each time it is asked', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...LEVEL_WAVES),
        fc.double({ min: -1e7, max: 1e7, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        fc.nat(300),
        (wave, at, width, element) => {
          const v = waveAt(wave, at, width, element, 9);
          assert.ok(v >= 0 && v <= 1, `${wave} at ${at}: ${v}`);
          assert.equal(v, waveAt(wave, at, width, element, 9));
        },
      ),
    );
  });
  test('sparkle lights about as many as its width says', () => {
    let lit = 0;
    for (let i = 0; i < 2000; i++) if (waveAt('sparkle', 3.2, 0.3, i, 1) > 0) lit++;
    near(lit / 2000, 0.3, 0.05);
  });
});

describe('colours', () => {
  const into = new Float32Array(3);
  const table = Float32Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  const walk = (at: number, soft: number): number[] => {
    walkAt(table, at, soft, into, 0);
    return [...into].map((v) => Math.round(v * 100) / 100);
  };
  test('the circle begins at red and passes green and blue', () => {
    const hues = hueTable(1);
    for (const [at, main] of [
      [0, 0],
      [1 / 3, 1],
      [2 / 3, 2],
    ] as const) {
      hueAt(hues, at + 0.0005, into, 0);
      assert.equal([...into].indexOf(Math.max(...into)), main);
    }
  });
  test('a walk without softness jumps, with softness it crosses at the end of each share', () => {
    assert.deepEqual(
      [walk(0.3, 0), walk(0.34, 0), walk(0.99, 0)],
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
    );
    assert.deepEqual(walk(0.25, 0.5), [0.5, 0.5, 0]);
  });
  test('a gradient is closed: the last colour runs into the first', () => {
    ringAt(ringOf(table), 5 / 6, into, 0);
    near(into[2]!, 0.5, 0.01);
    near(into[0]!, 0.5, 0.01);
  });
});

const row = (count: number, step = 1): Elements => {
  const rows = Array.from({ length: count }, (_, i): UnitRow => ({
    slug: `u${i}`,
    profile: 'generic-dimmer',
    mode: '1ch',
    address: i + 1,
    fields: { position: { x: i * step, y: 0, z: 0 } },
  }));
  const show = showWith(...units(...rows));
  return elementsOf(
    compileRig(show),
    show,
    rows.map((r) => `unit:${r.slug}` as const),
  );
};
const placing = (fields: object = {}): EffectPart => effectPartSchema.parse({ does: 'level', ...fields });
const places = (elements: Elements, fields: object): number[] =>
  [...orderOf(elements, placing(fields)).at].map((v) => Math.round(v * 1000) / 1000);

describe('the order of a part', () => {
  test('as chosen: evenly, so that a turn closes', () => assert.deepEqual(places(row(4), {}), [0, 0.25, 0.5, 0.75]));
  test('groups of two do the same', () => assert.deepEqual(places(row(4), { groupsOf: 2 }), [0, 0, 0.5, 0.5]));
  test('mirrored: from the middle out', () =>
    assert.deepEqual(places(row(4), { mirror: true }), [0.75, 0.25, 0.25, 0.75]));
  test('by the plot: where they stand', () => assert.deepEqual(places(row(3, 2), { order: 'x' }), [0, 0.5, 1]));
  test('from the middle out', () => assert.deepEqual(places(row(3), { order: 'radius' }), [1, 0, 1]));
  test('by chance: everybody once, the same for the same seed', () => {
    const one = places(row(8), { order: 'random', seed: 4 });
    assert.deepEqual(one, places(row(8), { order: 'random', seed: 4 }));
    assert.deepEqual([...one].sort(), [0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875]);
    assert.notDeepEqual(one, places(row(8), { order: 'random', seed: 5 }));
  });
  test('nobody at all is no fault', () => assert.deepEqual(places(row(0), { order: 'radius', mirror: true }), []));
});

describe('movements', () => {
  const path = (fields: object) =>
    pathTable({
      path: 'circle',
      panDeg: 10,
      tiltDeg: 4,
      turnDeg: 0,
      points: [],
      in: 'degrees',
      acrossM: 0,
      deepM: 0,
      ...fields,
    });
  test('a circle has its half-widths', () => {
    const table = path({});
    near(pathAt(table, 0, 0), 10, 0.01);
    near(pathAt(table, 0.25, 1), 4, 0.01);
    near(pathAt(table, 0.5, 0), -10, 0.01);
  });
  test('an eight passes its middle twice', () => {
    const table = path({ path: 'eight' });
    for (const at of [0, 0.5]) near(Math.hypot(pathAt(table, at, 0), pathAt(table, at, 1)), 0, 0.05);
  });
  test('a line turned by a quarter moves tilt alone', () => {
    const table = path({ path: 'line', turnDeg: 90 });
    near(pathAt(table, 0.25, 0), 0, 0.01);
    near(pathAt(table, 0.25, 1), 4, 0.01);
  });
  test('a drawn path is run at an even pace and closed', () => {
    const table = path({
      path: 'drawn',
      points: [
        [-1, 0],
        [1, 0],
      ],
    });
    near(pathAt(table, 0, 0), -10, 0.2);
    near(pathAt(table, 0.25, 0), 0, 0.2);
    near(pathAt(table, 0.5, 0), 10, 0.2);
    assert.equal(pathAt(path({ path: 'drawn', points: [] }), 0.3, 0), 0);
  });
});

describe('pictures on pixels', () => {
  const strip = (): Elements => row(11);
  const light = (fields: object, turns: number, elements = strip()): number[] => {
    const part = effectPartSchema.parse({ does: 'pixels', soft: 0, plane: 'plan', ...fields });
    assert.ok(part.does === 'pixels');
    const input = { part, field: pixelField(elements, part), table: Float32Array.from([1, 0, 0]) };
    const [drawn, rgb] = [new Float32Array(elements.count), new Float32Array(elements.count * 3)];
    drawPixels(input, new Float32Array(elements.count), turns, wholeSpan(emptySpan(), drawn, rgb));
    return [...drawn].map((v) => Math.round(v * 100) / 100);
  };
  test('a wipe fills half in half a turn and clears in the next', () => {
    assert.deepEqual(light({ pattern: 'wipe' }, 0.45), [1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0]);
    assert.deepEqual(light({ pattern: 'wipe' }, 1.45), [0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1]);
    assert.deepEqual(light({ pattern: 'wipe', angleDeg: 180 }, 0.45), [0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1]);
  });
  test('bars: a share of each repeat is alight', () => {
    const lit = light({ pattern: 'bars', width: 0.5, repeat: 1 }, 0);
    assert.deepEqual(
      lit.map((v) => (v > 0.5 ? 1 : 0)),
      [0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0],
    );
  });
  test('a comet has its head where the time is and nothing before it', () => {
    const lit = light({ pattern: 'comet', width: 0.3, repeat: 1 }, 0.55);
    assert.equal(lit.indexOf(Math.max(...lit)), 5);
    assert.deepEqual(lit.slice(6, 10), [0, 0, 0, 0]);
  });
  test('text: its dots, seven rows high', () => {
    const dots = textDots('I');
    assert.equal(dots.length, LETTER_COLUMNS * 7);
    assert.deepEqual([...dots.subarray(2 * 7, 3 * 7)], [1, 1, 1, 1, 1, 1, 1]);
    assert.equal(
      textDots('\u2603').reduce((a, b) => a + b, 0),
      0,
    );
  });
  test('every picture is a number from 0 to 1 at any moment, for any shape', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PIXEL_PATTERNS),
        fc.double({ min: 0, max: 1e6, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.constantFrom('auto', 'plan', 'front', 'side', 'unit'),
        (pattern, turns, width, soft, plane) => {
          for (const v of light({ pattern, width, soft, plane, text: 'AB' }, turns))
            assert.ok(v >= 0 && v <= 1, `${pattern}: ${v}`);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('an effect in the frame', () => {
  const four = units(
    ...[1, 2, 3, 4].map((n): UnitRow => ({ slug: `d${n}`, profile: 'generic-dimmer', mode: '1ch', address: n })),
  );
  const effect = (fields: object) =>
    make('effect', {
      id: 'effect:e',
      number: 1,
      name: 'E',
      on: ['unit:d1', 'unit:d2', 'unit:d3', 'unit:d4'],
      fadeInMs: 0,
      ...(effectSpecSchema.parse({ rate: 1, ...fields }) as object),
    } as never);
  const at = (fields: object, ms: number, live = {}): number[] => [
    ...slotsAt(showWith(...four, effect(fields)), { play: ['effect:e'], at: ms, live }).subarray(0, 4),
  ];
  test('a wave spread over four, at computed moments', () => {
    const parts = [{ does: 'level', wave: 'wave', spread: 1 }];
    assert.deepEqual(at({ parts }, 0), [0, 128, 255, 128]);
    assert.deepEqual(at({ parts }, 250), [128, 0, 128, 255]);
  });
  test('backward runs the other way, bounce there and back', () => {
    const part = { does: 'level', wave: 'rise' };
    assert.deepEqual(at({ parts: [{ ...part, direction: 'backward' }] }, 250)[0], 191);
    assert.deepEqual(at({ parts: [{ ...part, direction: 'bounce' }] }, 500)[0], 128);
    assert.deepEqual(at({ parts: [{ ...part, direction: 'bounce' }] }, 1500)[0], 128);
  });
  test('size, offset and times', () => {
    const part = { does: 'level', wave: 'rise', size: 0.5, offset: 0.25, times: 2 };
    assert.deepEqual(at({ parts: [part] }, 250)[0], 128);
  });
  test('a second part lets light through, or cuts it out', () => {
    const first = { does: 'level', wave: 'square', width: 1 };
    const second = { does: 'level', wave: 'square', width: 0.5, spread: 1 };
    const alone = at({ parts: [second] }, 0);
    assert.deepEqual(at({ parts: [first, { ...second, combine: 'through' }] }, 0), alone);
    const cut = at({ parts: [first, { ...second, combine: 'cut' }] }, 0);
    assert.deepEqual(
      cut,
      at({ parts: [second] }, 0).map((v) => 255 - v),
    );
  });
  test('light scales it, a group in its list stands for its members', () => {
    const group = make('group', { id: 'group:g', number: 1, name: 'G', unitIds: ['unit:d2', 'unit:d1'] });
    const show = showWith(
      ...four,
      group,
      make('effect', {
        id: 'effect:e',
        number: 1,
        name: 'E',
        on: ['group:g'],
        fadeInMs: 0,
        light: 0.5,
        rate: 0,
        parts: [{ does: 'level', wave: 'square', width: 1 }],
      }),
    );
    assert.deepEqual([...slotsAt(show, { play: ['effect:e'], at: 10 }).subarray(0, 3)], [128, 128, 0]);
  });
  test('on nobody it does nothing', () => {
    const show = showWith(
      ...four,
      make('effect', { id: 'effect:e', number: 1, name: 'E', parts: [{ does: 'level' }] }),
    );
    assert.deepEqual([...slotsAt(show, { play: ['effect:e'], at: 900 }).subarray(0, 4)], [0, 0, 0, 0]);
  });
  test('colour of cells without a level of their own is dimmed by it, and the unit is lit', () => {
    const bar = units({ slug: 'bar', profile: 'fernlight-plumlet', mode: '3ch', address: 1 });
    const show = showWith(
      ...bar,
      make('effect', {
        id: 'effect:e',
        number: 1,
        name: 'E',
        on: ['unit:bar'],
        fadeInMs: 0,
        rate: 0,
        light: 1,
        parts: [{ does: 'colour', way: 'walk', colours: ['#ff0000'] }],
      }),
    );
    assert.deepEqual([...slotsAt(show, { play: ['effect:e'], at: 5 }).subarray(0, 3)], [255, 0, 0]);
  });
  test('a circle moves heads round their aim, opposite halves mirrored', () => {
    const heads = units(
      { slug: 'h1', profile: 'tansy-flitter', mode: '5ch', address: 1 },
      { slug: 'h2', profile: 'tansy-flitter', mode: '5ch', address: 20 },
    );
    const show = showWith(
      ...heads,
      make('effect', {
        id: 'effect:e',
        number: 1,
        name: 'E',
        on: ['unit:h1', 'unit:h2'],
        fadeInMs: 0,
        rate: 0,
        parts: [{ does: 'aim', path: 'circle', panDeg: 20, tiltDeg: 0, mirror: true }],
      }),
    );
    const rest = slotsAt(show, {});
    const moved = slotsAt(show, { play: ['effect:e'], at: 1 });
    assert.ok(moved[0]! > rest[0]!, 'the first goes one way');
    assert.ok(moved[19]! < rest[19]!, 'the second the other');
    assert.equal(moved[0]! - rest[0]!, rest[19]! - moved[19]!);
  });
  test('rates, sizes and lists beyond their limits are refused with the limit', () => {
    for (const [given, words] of [
      [{ rate: 1e6, parts: [{ does: 'level' }] }, /0-50/],
      [{ rate: NaN, parts: [{ does: 'level' }] }, /number/i],
      [{ rate: -1, parts: [{ does: 'level' }] }, /0-50/],
      [{ parts: [] }, /at least one part/],
      [{ parts: [{ does: 'level', width: 0 }] }, /0\.01-1/],
      [{ parts: [{ does: 'colour', colours: ['red'] }] }, /colour|palette/i],
      [{ parts: [{ does: 'dance' }] }, /./],
    ] as const) {
      const parsed = effectSpecSchema.safeParse(given);
      assert.ok(!parsed.success);
      assert.match(JSON.stringify(parsed.error.issues), words);
    }
  });
});
