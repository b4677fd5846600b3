import type { EffectPart, PixelsPart } from '../../records/effect.ts';
import { coloursIn, mixAt, pickAt, ringAt } from './colours.ts';
import type { Elements } from './elements.ts';
import { LETTER_COLUMNS, LETTER_ROWS, textDots } from './letters.ts';
import type { Span } from './span.ts';
import { ease } from '../../units.ts';
import { cosine, fraction, noise, quickSine, sine, smoothNoise } from './turns.ts';

/** A pattern made ready: where each element stands on it, `along` the way it goes and `across`, 0-1 each. */
export interface PixelField {
  readonly along: Float32Array;
  readonly across: Float32Array;
  /** How wide the field is for one of its height. */
  readonly shape: number;
  readonly dots: Uint8Array;
}

/** Projects elements on the side of the plot a part lies on. Linear in the elements. */
export function pixelField(
  elements: Elements,
  part: Pick<PixelsPart, 'plane' | 'angleDeg' | 'text' | 'pattern'>,
): PixelField {
  const along = new Float32Array(elements.count);
  const across = new Float32Array(elements.count);
  const dots = part.pattern === 'text' ? textDots(part.text) : new Uint8Array(0);
  const { xyz, unit } = elements;
  const [u, v] = axesOf(xyz, part.plane);
  const [c, s] = [cosine(part.angleDeg / 360), sine(part.angleDeg / 360)];
  for (let i = 0; i < elements.count; i++) {
    const [x, y] = [xyz[i * 3 + u]!, xyz[i * 3 + v]!];
    along[i] = Math.fround(x * c + y * s);
    across[i] = Math.fround(y * c - x * s);
  }
  const whole: readonly [number, number] = [0, elements.count];
  const spans = part.plane === 'unit' ? runsOf(unit) : [whole];
  let shape = 1;
  for (const [from, to] of spans) {
    const width = unitise(along, from, to);
    const height = unitise(across, from, to);
    shape = width / (height || width || 1);
  }
  return { along, across, shape: shape || 1, dots };
}

/** The two axes of the room a part lies on; `auto` takes the side on which most is to be seen. */
function axesOf(xyz: Float32Array, plane: PixelsPart['plane']): readonly [number, number] {
  if (plane === 'plan') return [0, 1];
  if (plane === 'front') return [0, 2];
  if (plane === 'side') return [1, 2];
  const size = [0, 1, 2].map((axis) => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = axis; i < xyz.length; i += 3) {
      low = Math.min(low, xyz[i]!);
      high = Math.max(high, xyz[i]!);
    }
    return high - low;
  });
  const least = size.indexOf(Math.min(...size));
  return least === 2 ? [0, 1] : least === 1 ? [0, 2] : [1, 2];
}

function runsOf(unit: Int32Array): [from: number, to: number][] {
  const runs: [number, number][] = [];
  for (let i = 0; i < unit.length; i++) {
    if (i === 0 || unit[i] !== unit[i - 1]) runs.push([i, i + 1]);
    else runs.at(-1)![1] = i + 1;
  }
  return runs;
}

/** Scales a run to 0-1 and returns how long it was. What has no length stands in the middle. */
function unitise(list: Float32Array, from: number, to: number): number {
  let [low, high] = [Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    if (list[i]! < low) low = list[i]!;
    if (list[i]! > high) high = list[i]!;
  }
  const range = high - low;
  for (let i = from; i < to; i++) list[i] = range > 0 ? (list[i]! - low) / range : 0.5;
  return Math.max(0, range);
}

/** 1 inside, 0 outside an edge at 0 that is `soft` wide. */
const edge = (distance: number, soft: number): number =>
  distance <= 0 ? 1 : distance >= soft ? 0 : 1 - ease(distance / soft);

/** A part made ready, as `compileEffect` makes it. */
export interface PixelInput {
  readonly part: EffectPart;
  readonly field: PixelField | null;
  readonly table: Float32Array;
}

type Pattern = (
  part: PixelsPart,
  field: PixelField,
  table: Float32Array,
  behind: Float32Array,
  turns: number,
  span: Span,
) => void;

/** Whether the colours of a pattern are a closed band: its table is a ring (`ringOf`). */
export const isRinged = ({ pattern }: PixelsPart): boolean => pattern === 'waves' || pattern === 'plasma';

/**
 * Draws a picture over a span of elements at so many turns; element `i` is `behind[i]` turns behind. Pure: what is random
 * depends on seed, place and turn. Each pattern is one loop, so that nothing is made on the way.
 */
export function drawPixels(input: PixelInput, behind: Float32Array, turns: number, span: Span): void {
  const { part, field, table } = input;
  if (part.does === 'pixels' && field) PATTERNS[part.pattern](part, field, table, behind, turns, span);
}

/** Place of a colour in a table of `count`, for whole numbers below 0 too. */
const colourOf = (n: number, count: number): number => {
  if (count === 1) return 0;
  const left = (n | 0) % count;
  return left < 0 ? left + count : left;
};

const bars: Pattern = (
  { repeat, width, soft },
  { along },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const count = coloursIn(table);
  const softness = soft * 0.5 * (1 - width) + 1e-6;
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const place = along[i]! * repeat - (turns - behind[i]!);
    const bar = Math.floor(place);
    const colour = colourOf(bar, count);
    pickAt(table, colour, rgb, c);
    light[l] = edge(Math.abs(place - bar - 0.5) - width / 2, softness);
  }
};

const waves: Pattern = (
  { repeat, width, soft },
  { along },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const place = along[i]! * repeat - (turns - behind[i]!);
    ringAt(table, place, rgb, c);
    const swell = 0.5 + 0.5 * sine(place);
    // A narrow width makes crests, a wide one a swell.
    light[l] = width >= 1 ? 1 : swell > 1 - width ? (swell - 1 + width) / width : soft * swell * 0.5;
  }
};

const comet: Pattern = (
  { repeat, width, soft },
  { along },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const count = coloursIn(table);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const place = turns - behind[i]! - along[i]! * repeat;
    const round = Math.floor(place);
    const colour = colourOf(round, count);
    pickAt(table, colour, rgb, c);
    const tail = place - round;
    const left = 1 - tail / width;
    light[l] = tail >= width || width === 0 ? 0 : left * (1 - soft + soft * left);
  }
};

const wipe: Pattern = (part, { along }, table, behind, turns, { from, to, light, lightAt, rgb, rgbAt }) => {
  const count = coloursIn(table);
  const soft = Math.max(0.001, part.soft);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const own = turns - behind[i]!;
    const turn = Math.floor(own);
    const front = (own - turn) * (1 + soft);
    const over = along[i]! <= front - soft ? 1 : along[i]! >= front ? 0 : ease((front - along[i]!) / soft);
    if (count > 1) {
      const next = colourOf(turn, count);
      mixAt(table, (next + count - 1) % count, next, over, rgb, c);
      light[l] = 1;
    } else {
      pickAt(table, 0, rgb, c);
      light[l] = turn % 2 === 0 ? over : 1 - over;
    }
  }
};

/** Drops in lanes that go along the way of the part, each at its own pace; not every lane drops every time. */
const rain: Pattern = (
  { repeat, width, soft, seed },
  { along, across },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const lanes = Math.max(1, Math.round(repeat * 8));
  const long = Math.max(0.02, width);
  const count = coloursIn(table);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const lane = Math.floor(across[i]! * (lanes - 0.001));
    const own = (turns - behind[i]!) * (0.6 + 0.8 * noise(seed, lane, 1)) + noise(seed, lane, 2) * 7;
    const drop = Math.floor(own - along[i]!);
    const tail = own - along[i]! - drop;
    const colour = Math.floor(noise(seed, lane, drop | 0) * count);
    pickAt(table, colour, rgb, c);
    const left = 1 - tail / long;
    light[l] = tail >= long || noise(seed + 1, lane, drop | 0) > DROPPING ? 0 : left * (1 - soft + soft * left);
  }
};
const DROPPING = 0.75;

/** Like rain, but slow, soft and swaying. */
const snow: Pattern = (
  { repeat, width, seed },
  { along, across },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const lanes = Math.max(1, Math.round(repeat * 8));
  const long = Math.max(0.02, width * 0.35);
  const count = coloursIn(table);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const at = turns - behind[i]!;
    const lane = Math.floor(across[i]! * (lanes - 0.001) + 0.4 * sine(at * 0.31 + along[i]! * 0.7));
    const own = at * (0.5 + 0.5 * noise(seed, lane, 1)) + noise(seed, lane, 2) * 7;
    const flake = Math.floor(own - along[i]!);
    const tail = own - along[i]! - flake;
    const colour = Math.floor(noise(seed, lane, flake | 0) * count);
    pickAt(table, colour, rgb, c);
    const off = Math.min(tail, 1 - tail);
    light[l] = off >= long || noise(seed + 1, lane, flake | 0) > DROPPING ? 0 : 1 - ease(off / long);
  }
};

/** Flames that rise along the way of the part, hottest where they begin: the first colour is the heart. */
const fire: Pattern = (
  { repeat, width, seed },
  { along, across },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const lanes = Math.max(1, repeat * 6);
  const reach = 0.25 + width * 1.5;
  const colours = coloursIn(table);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const at = turns - behind[i]!;
    const height = along[i]!;
    const lane = across[i]! * lanes;
    const left = Math.floor(lane);
    const one = flameAt(seed, left, at, height);
    const rise = one + (flameAt(seed, left + 1, at, height) - one) * (lane - left);
    const heat = Math.max(0, Math.min(1, (rise * 1.5 + 0.35) * (1 - height / reach)));
    const place = (1 - heat) * (colours - 1);
    const hot = Math.min(colours - 1, Math.floor(place));
    mixAt(table, hot, Math.min(colours - 1, hot + 1), place - hot, rgb, c);
    light[l] = heat > 0.08 ? Math.min(1, heat * 1.4) : 0;
  }
};

const flameAt = (seed: number, lane: number, turns: number, height: number): number =>
  0.6 * smoothNoise(seed, lane, turns * 6 - height * 4) + 0.4 * smoothNoise(seed + 7, lane, turns * 13 - height * 9);

/** Three swells that run through one another. Of long times only what is past whole turns counts. */
const plasma: Pattern = (
  { repeat, soft },
  { along, across },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const [first, second, third] = [fraction(turns), fraction(turns * -0.7), fraction(turns * 0.4)];
  const [half, slant, dip] = [repeat * 0.5, repeat * 0.35, soft * 0.5];
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const x = along[i]!;
    const y = across[i]!;
    const late = behind[i]!;
    const swirl =
      quickSine(x * half + first - late) +
      quickSine(y * half + second + late * 0.7) +
      quickSine((x + y) * slant + third - late * 0.4);
    ringAt(table, swirl * 0.25 + 0.5, rgb, c);
    light[l] = 1 - dip + dip * quickSine(swirl / 3);
  }
};

/** The height holds seven rows; the text comes in at the far end and goes out at the near one in one turn. */
const text: Pattern = (
  _,
  { along, across, dots, shape },
  table,
  behind,
  turns,
  { from, to, light, lightAt, rgb, rgbAt },
) => {
  const columns = dots.length / LETTER_ROWS;
  const width = shape * LETTER_ROWS;
  const count = coloursIn(table);
  for (let i = from, l = lightAt, c = rgbAt; i < to; i++, l++, c += 3) {
    const column = Math.floor(along[i]! * width + fraction(turns - behind[i]!) * (columns + width) - width);
    const row = Math.min(LETTER_ROWS - 1, Math.floor((1 - across[i]!) * LETTER_ROWS));
    const colour = colourOf(Math.floor(column / LETTER_COLUMNS), count);
    pickAt(table, colour, rgb, c);
    light[l] = column >= 0 && column < columns && dots[column * LETTER_ROWS + row] === 1 ? 1 : 0;
  }
};

const PATTERNS: Readonly<Record<PixelsPart['pattern'], Pattern>> = {
  bars,
  waves,
  comet,
  wipe,
  rain,
  snow,
  fire,
  plasma,
  text,
};
