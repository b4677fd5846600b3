import type { ColourPart, ColourWay } from '../../records/effect.ts';
import { ringAt, hueAt, walkAt } from './colours.ts';
import type { Span } from './span.ts';

/** A colour part made ready, as `compileEffect` makes it: where each element stands, and colours. */
export interface ColourInput {
  readonly behind: Float32Array;
  readonly index: Int32Array;
  readonly table: Float32Array;
}

type Way = (part: ColourPart, input: ColourInput, turns: number, span: Span) => void;

const hue: Way = ({ offset }, { behind, table }, turns, { from, to, rgb, rgbAt }) => {
  for (let i = from, c = rgbAt; i < to; i++, c += 3) hueAt(table, turns - behind[i]! + offset, rgb, c);
};

const gradient: Way = ({ offset }, { behind, table }, turns, { from, to, rgb, rgbAt }) => {
  for (let i = from, c = rgbAt; i < to; i++, c += 3) ringAt(table, turns - behind[i]! + offset, rgb, c);
};

const walk: Way = ({ offset, size }, { behind, table }, turns, { from, to, rgb, rgbAt }) => {
  for (let i = from, c = rgbAt; i < to; i++, c += 3) walkAt(table, turns - behind[i]! + offset, size, rgb, c);
};

const swap: Way = ({ offset, size }, { behind, index, table }, turns, { from, to, rgb, rgbAt }) => {
  for (let i = from, c = rgbAt; i < to; i++, c += 3)
    walkAt(table, turns - behind[i]! + offset + (index[i]! % 2) / 2, size * 0.5, rgb, c);
};

const WAYS: Readonly<Record<ColourWay, Way>> = { hue, gradient, walk, swap };

/** Colours of a span of elements at so many turns; the light is left alone. One loop over the elements. */
export function drawColours(part: ColourPart, input: ColourInput, turns: number, span: Span): void {
  WAYS[part.way](part, input, turns, span);
}
