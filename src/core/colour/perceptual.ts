import { clampChroma, converter, modeOklch, modeRgb, useMode } from 'culori/fn';
import { decodeSrgb, toHex } from './convert.ts';

useMode(modeRgb);
useMode(modeOklch);
const toRgb = converter('rgb');

/**
 * The colour of a lamp by how it is seen (OKLCH): chroma (0 white, about 0.3 the most there is) and hue, 0-360 degrees, as
 * `#rrggbb`, as bright as a lamp can be. What no lamp can show keeps its hue and loses chroma.
 */
export function lampHex(chroma: number, hueDeg: number): string {
  const { r, g, b } = toRgb(clampChroma({ mode: 'oklch', l: 0.72, c: chroma, h: hueDeg }, 'oklch', 'rgb'));
  const linear = [r, g, b].map(decodeSrgb);
  const most = Math.max(...linear);
  return toHex({ r: linear[0]! / most, g: linear[1]! / most, b: linear[2]! / most });
}
