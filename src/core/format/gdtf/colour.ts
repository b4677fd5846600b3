import { fromHex, toHex } from '../../colour/convert.ts';

/** Colours as GDTF writes them: CIE xyY with Y from 0 to 100, separated by commas. */

export function toCie(hex: string): string {
  const { r, g, b } = fromHex(hex);
  const x = 0.4124564 * r + 0.3575761 * g + 0.1804375 * b;
  const y = 0.2126729 * r + 0.7151522 * g + 0.072175 * b;
  const z = 0.0193339 * r + 0.119192 * g + 0.9503041 * b;
  const sum = x + y + z;
  const [cx, cy] = sum > 0 ? [x / sum, y / sum] : [0.3127, 0.329];
  return `${cx.toFixed(6)},${cy.toFixed(6)},${(y * 100).toFixed(6)}`;
}

/** `#rrggbb`, or null for what is no colour. Brighter than sRGB can show is scaled down to fit. */
export function fromCie(text: string): string | null {
  const [cx, cy, big] = text.split(',').map(Number);
  if (![cx, cy, big].every((v) => typeof v === 'number' && Number.isFinite(v))) return null;
  if (cy! <= 0) return '#000000';
  const y = big! / 100;
  const x = (cx! * y) / cy!;
  const z = ((1 - cx! - cy!) * y) / cy!;
  const r = 3.2404542 * x - 1.5371385 * y - 0.4985314 * z;
  const g = -0.969266 * x + 1.8760108 * y + 0.041556 * z;
  const b = 0.0556434 * x - 0.2040259 * y + 1.0572252 * z;
  const most = Math.max(1, r, g, b);
  return toHex({ r: r / most, g: g / most, b: b / most });
}
