import { toHex } from '../colour/convert.ts';
import { mixtureOf } from '../colour/mixture.ts';
import { getRecord, type Document } from '../document/change.ts';
import { isPaletteId } from '../records/index.ts';

/** A colour as `#rrggbb`: as it stands, or that of a palette (its mixture, else the colour it is shown with). */
export function hexOf(document: Document, colour: string): string {
  if (!isPaletteId(colour)) return colour;
  const palette = getRecord(document, 'palette', colour);
  const mixture = mixtureOf(palette?.all);
  if (mixture) return toHex(mixture);
  return palette?.colour ?? '#ffffff';
}
