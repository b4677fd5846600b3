import type { EffectPart } from '../../records/effect.ts';
import type { EffectPartProgram } from './compile.ts';

/** How curves shape what an effect draws at a moment: multiplied by `size` and `width`, lifted by `base`, colours turned by `hue`. */
export interface Shape {
  size: number;
  /** Turns of the colour circle. */
  hue: number;
  width: number;
  base: number;
}
/** As the effect says. */
export const PLAIN: Readonly<Shape> = { size: 1, hue: 0, width: 1, base: 0 };
export const isPlain = ({ size, hue, width, base }: Readonly<Shape>): boolean =>
  size === 1 && hue === 0 && width === 1 && base === 0;

/** Numbers of a part that are read while it is drawn. */
interface Numbers {
  size?: number;
  width?: number;
  offset?: number;
}
const LEAST_WIDTH = 0.01;
const copies = new WeakMap<EffectPartProgram, EffectPartProgram>();

/** A part with other numbers; the same object is used again and again, so that nothing stays from a frame. */
export function shaped(own: EffectPartProgram, shape: Readonly<Shape>): EffectPartProgram {
  if (shape.size === 1 && shape.width === 1 && shape.base === 0) return own;
  let copy = copies.get(own);
  if (!copy) copies.set(own, (copy = { ...own, part: { ...own.part } }));
  const [from, to]: [EffectPart & Numbers, Numbers] = [own.part, copy.part as Numbers];
  if (own.part.does === 'level' || own.part.does === 'pixels') {
    to.size = from.size! * shape.size;
    to.width = Math.max(LEAST_WIDTH, from.width! * shape.width);
  }
  if (own.part.does === 'level') to.offset = Math.min(1, from.offset! + shape.base);
  return copy;
}
