import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { drawing, PIXELS, showWith } from '../../../../tests/support/rig.ts';
import { documentOf } from '../../document/change.ts';
import { effectSpecSchema } from '../../records/effect.ts';
import { make } from '../../records/index.ts';
import { propSchema } from '../../records/prop.ts';
import { initialLive, newPlay } from '../index.ts';

/**
 * Pictures and colours against slow mathematics that follow what is said of them in the records, cell by cell, from the
 * places of the cells to the bytes on the wire. Nothing of the renderer is used. What is random has no such twin: it is
 * held to be the same for the same seed and moment elsewhere.
 */
const [COLUMNS, ROWS] = [8, 5];
const RIG = showWith(
  PIXELS,
  make('unit', {
    id: 'unit:wall',
    number: 1,
    name: 'Wall',
    profileId: 'profile:px',
    mode: 'px',
    patch: { universe: 1, address: 1 },
    prop: propSchema.parse({
      gamma: 1,
      shape: { shape: 'matrix', columns: COLUMNS, rows: ROWS, widthM: 7, heightM: 4 },
    }),
  }),
);

type Rgb = readonly [number, number, number];
const HEX = ['#ff0000', '#0000ff', '#00ff00', '#ffffff', '#000000'] as const;
const LIGHT: readonly Rgb[] = [
  [1, 0, 0],
  [0, 0, 1],
  [0, 1, 0],
  [1, 1, 1],
  [0, 0, 0],
];
const clamp = (v: number): number => Math.min(1, Math.max(0, v));
const smooth = (x: number): number => x * x * (3 - 2 * x);
const frac = (x: number): number => x - Math.floor(x);
const sin = (turns: number): number => Math.sin(2 * Math.PI * turns);
const mixed = (a: Rgb, b: Rgb, by: number): Rgb => [0, 1, 2].map((c) => a[c]! + (b[c]! - a[c]!) * by) as unknown as Rgb;
/** From colour to colour round a list; `soft` of each share is the crossing to the next. */
const walk = (colours: readonly Rgb[], turns: number, soft: number): Rgb => {
  const place = frac(turns) * colours.length;
  const n = Math.min(colours.length - 1, Math.floor(place));
  const into = place - n - (1 - soft);
  return mixed(colours[n]!, colours[(n + 1) % colours.length]!, soft > 0 && into > 0 ? smooth(into / soft) : 0);
};
const nth = (colours: readonly Rgb[], n: number): Rgb =>
  colours[((n % colours.length) + colours.length) % colours.length]!;

interface Wanted {
  readonly pattern: string;
  readonly width: number;
  readonly repeat: number;
  readonly soft: number;
}
/** Light and colour at a place (0-1 along the way, 0-1 across it) after so many turns. */
function pictureAt(part: Wanted, colours: readonly Rgb[], along: number, across: number, turns: number): [number, Rgb] {
  const { width, repeat, soft } = part;
  switch (part.pattern) {
    case 'bars': {
      // One bar in each repeat, `width` of it wide, in its middle; they move a repeat a turn.
      const place = along * repeat - turns;
      const off = Math.abs(frac(place) - 0.5) - width / 2;
      const edge = soft * 0.5 * (1 - width) + 1e-6;
      return [1 - smooth(clamp(off / edge)), nth(colours, Math.floor(place))];
    }
    case 'comet': {
      const behind = frac(turns - along * repeat);
      const left = 1 - behind / width;
      return [left > 0 ? left * (1 - soft * (1 - left)) : 0, nth(colours, Math.floor(turns - along * repeat))];
    }
    case 'waves': {
      const place = along * repeat - turns;
      const swell = (1 + sin(place)) / 2;
      const lit = width >= 1 ? 1 : swell > 1 - width ? 1 - (1 - swell) / width : (soft * swell) / 2;
      return [lit, walk(colours, place, 1)];
    }
    case 'plasma': {
      const swirl =
        sin((along * repeat) / 2 + turns) +
        sin((across * repeat) / 2 - turns * 0.7) +
        sin((along + across) * repeat * 0.35 + turns * 0.4);
      return [1 - (soft * (1 - sin(swirl / 3))) / 2, walk(colours, swirl / 4 + 0.5, 1)];
    }
    default: {
      // A wipe: a soft front that goes over all of it in a turn.
      const edge = Math.max(0.001, soft);
      const over = smooth(clamp((frac(turns) * (1 + edge) - along) / edge));
      const turn = Math.floor(turns);
      if (colours.length > 1) return [1, mixed(nth(colours, turn - 1), nth(colours, turn), over)];
      return [turn % 2 === 0 ? over : 1 - over, colours[0]!];
    }
  }
}

const picked = fc.subarray([0, 1, 2, 3, 4], { minLength: 1 });
const share = fc.constantFrom(0, 0.2, 0.5, 1);
const pictures = fc.record({
  pattern: fc.constantFrom('bars', 'comet', 'waves', 'plasma', 'wipe'),
  width: fc.constantFrom(0.2, 0.5, 0.9),
  repeat: fc.constantFrom(0.5, 1, 3),
  soft: share,
  size: fc.constantFrom(1, 0.4),
  turned: fc.boolean(),
});
const moments = fc.array(fc.integer({ min: 0, max: 30_000 }), { minLength: 1, maxLength: 3 });

/** The bytes of each cell: column and row from the left and the bottom of the wall, as its shape has them. */
function bytesOf(part: object, ms: number, fields: object = {}): { column: number; row: number; rgb: number[] }[] {
  const effect = make('effect', {
    ...effectSpecSchema.parse({ rate: 0.5, ...fields, parts: [part] }),
    id: 'effect:e',
    number: 1,
    name: 'E',
    fadeInMs: 0,
    on: ['unit:wall'],
  });
  const document = documentOf([...RIG.values(), effect]);
  const state = { ...initialLive(0), playing: [newPlay({ id: 'p', target: 'effect:e', startedAt: 0 })] };
  const bytes = drawing(document, state).at(ms);
  return Array.from({ length: COLUMNS * ROWS }, (_, cell) => ({
    column: cell % COLUMNS,
    row: Math.floor(cell / COLUMNS),
    rgb: [...bytes.subarray(cell * 3, cell * 3 + 3)],
  }));
}

/** True where the sent bytes are those of some moment around: what jumps may fall on either side of a bit. */
function same(sent: readonly number[], at: (early: number) => readonly number[]): boolean {
  const around = [-1e-5, -1e-9, 0, 1e-9, 1e-5].map(at);
  return sent.every((byte, c) => {
    const [low, high] = [Math.min(...around.map((v) => v[c]!)), Math.max(...around.map((v) => v[c]!))];
    return byte >= low * 255 - 1.1 && byte <= high * 255 + 1.1;
  });
}

describe('what is sent is what the records say', () => {
  /** Whether the first cell of the wall is at the bottom or the top, and left or right, is said by a wipe of one colour. */
  const fronts = {
    right: bytesOf({ does: 'pixels', pattern: 'wipe', colours: ['#ffffff'], soft: 0, plane: 'front' }, 400),
  };
  const leftFirst = fronts.right[0]!.rgb[0]! > fronts.right[COLUMNS - 1]!.rgb[0]!;
  const up = bytesOf(
    { does: 'pixels', pattern: 'wipe', colours: ['#ffffff'], soft: 0, plane: 'front', angleDeg: 90 },
    400,
  );
  const bottomFirst = up[0]!.rgb[0]! > up[COLUMNS * (ROWS - 1)]!.rgb[0]!;

  test('pictures that move over pixels', () => {
    fc.assert(
      fc.property(pictures, picked, moments, ({ turned, size, ...part }, colours, times) => {
        for (const ms of times) {
          const given = {
            does: 'pixels',
            ...part,
            size,
            plane: 'front',
            angleDeg: turned ? 90 : 0,
            colours: colours.map((c) => HEX[c]!),
          };
          for (const { column, row, rgb } of bytesOf(given, ms)) {
            const x = (leftFirst ? column : COLUMNS - 1 - column) / (COLUMNS - 1);
            const y = (bottomFirst ? row : ROWS - 1 - row) / (ROWS - 1);
            // Turned a quarter it goes up, and across it is from right to left.
            const [along, across] = turned ? [y, 1 - x] : [x, y];
            const at = (early: number): number[] => {
              const [light, colour] = pictureAt(
                part,
                colours.map((c) => LIGHT[c]!),
                along,
                across,
                ms / 2000 + early,
              );
              return colour.map((v) => v * light * size);
            };
            assert.ok(
              same(rgb, at),
              `${JSON.stringify(given)} at ${ms} ms, ${column}/${row}: ${rgb.join()} is not ${at(0)
                .map((v) => v * 255)
                .join()}`,
            );
          }
        }
      }),
      { numRuns: 250 },
    );
  });

  test('colours that walk, lie along the order and change places', () => {
    const part = fc.record({
      way: fc.constantFrom('walk', 'gradient', 'swap'),
      size: share,
      offset: fc.constantFrom(0, 0.3),
      spread: fc.constantFrom(0, 1, -2),
    });
    fc.assert(
      fc.property(part, picked, moments, (given, colours, times) => {
        for (const ms of times)
          bytesOf({ does: 'colour', ...given, colours: colours.map((c) => HEX[c]!) }, ms, { light: 1 }).forEach(
            ({ rgb }, cell) => {
              const at = (early: number): readonly number[] => {
                const turns = ms / 2000 + early + given.offset - (given.spread * cell) / (COLUMNS * ROWS);
                const list = colours.map((c) => LIGHT[c]!);
                if (given.way === 'gradient') return walk(list, turns, 1);
                return given.way === 'walk'
                  ? walk(list, turns, given.size)
                  : walk(list, turns + (cell % 2) / 2, given.size / 2);
              };
              assert.ok(
                same(rgb, at),
                `${JSON.stringify(given)} at ${ms} ms, cell ${cell}: ${rgb.join()} is not ${at(0)
                  .map((v) => v * 255)
                  .join()}`,
              );
            },
          );
      }),
      { numRuns: 150 },
    );
  });
});
