import type { Combine } from '../../records/effect.ts';
import { clamp01 } from '../../units.ts';

/** Lays `offset + size x v`, held within 0-1, over what the parts before made, value by value, in `row`. */
type Over = (row: Float32Array, v: Float32Array, offset: number, size: number) => void;

const over: Over = (row, v, offset, size) => {
  for (let i = 0; i < row.length; i++) row[i] = clamp01(offset + size * v[i]!);
};
const add: Over = (row, v, offset, size) => {
  for (let i = 0; i < row.length; i++) {
    const sum = row[i]! + clamp01(offset + size * v[i]!);
    row[i] = sum > 1 ? 1 : sum;
  }
};
const brightest: Over = (row, v, offset, size) => {
  for (let i = 0; i < row.length; i++) {
    const value = clamp01(offset + size * v[i]!);
    if (value > row[i]!) row[i] = value;
  }
};
const through: Over = (row, v, offset, size) => {
  for (let i = 0; i < row.length; i++) row[i] = row[i]! * clamp01(offset + size * v[i]!);
};
const cut: Over = (row, v, offset, size) => {
  for (let i = 0; i < row.length; i++) row[i] = row[i]! * (1 - clamp01(offset + size * v[i]!));
};
const VALUES: Readonly<Record<Combine, Over>> = { over, add, brightest, through, cut };

/** Combines a row of values with that of the parts before it; both have the same length. */
export const combineValues = (combine: Combine, row: Float32Array, v: Float32Array, offset = 0, size = 1): void =>
  VALUES[combine](row, v, offset, size);

/** Light 0-1 and colour (three numbers) of each element. */
export interface Drawing {
  readonly light: Float32Array;
  readonly rgb: Float32Array;
}

type Lay = (into: Drawing, own: Drawing, size: number) => void;

/** Less light than this has no colour of its own: it could not be told from the rounding. */
const DARKEST = 1e-30;

/** Light times colour of both, as `both` has it of one value each; afterwards colour and light are of both. */
const laid =
  (both: (below: number, above: number, v: number) => number): Lay =>
  ({ light, rgb }, own, size) => {
    for (let i = 0, at = 0; i < light.length; i++, at += 3) {
      const v = size * own.light[i]!;
      const before = light[i]!;
      const r = both(rgb[at]! * before, own.rgb[at]! * v, v);
      const g = both(rgb[at + 1]! * before, own.rgb[at + 1]! * v, v);
      const b = both(rgb[at + 2]! * before, own.rgb[at + 2]! * v, v);
      const most = r > g ? (r > b ? r : b) : g > b ? g : b;
      light[i] = most;
      const by = most > DARKEST ? most : 1;
      rgb[at] = Math.fround(r) / by;
      rgb[at + 1] = Math.fround(g) / by;
      rgb[at + 2] = Math.fround(b) / by;
    }
  };

const LAYS: Readonly<Record<'over' | 'add' | 'brightest', Lay>> = {
  over: laid((below, above, v) => below * (1 - v) + above),
  add: laid((below, above) => (below + above > 1 ? 1 : below + above)),
  brightest: laid((below, above) => (above > below ? above : below)),
};

/** Lays a picture at `size` of its light over what is shown, or lets that through it, or cuts it out. */
export function combineDrawings(combine: Combine, into: Drawing, own: Drawing, size: number): void {
  if (combine === 'through' || combine === 'cut') combineValues(combine, into.light, own.light, 0, size);
  else LAYS[combine](into, own, size);
}
