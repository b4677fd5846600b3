import { fromHex, fromHueSaturation } from '../../colour/convert.ts';
import type { Document } from '../../document/change.ts';
import { hexOf } from '../../palette/colour.ts';
import { HUE_STEPS } from './colours.ts';

/** Colours as linear light, three numbers each. */
export const colourTable = (document: Document, colours: readonly string[]): Float32Array =>
  Float32Array.from(
    colours.flatMap((colour) => {
      const { r, g, b } = fromHex(hexOf(document, colour));
      return [r, g, b];
    }),
  );

/** The colour circle at one saturation, `HUE_STEPS` colours of three. */
export function hueTable(saturation: number): Float32Array {
  const table = new Float32Array(HUE_STEPS * 3);
  for (let i = 0; i < HUE_STEPS; i++) {
    const { r, g, b } = fromHueSaturation((i / HUE_STEPS) * 360, saturation);
    table.set([r, g, b], i * 3);
  }
  return table;
}
