import {
  convertHsvToRgb,
  convertLrgbToRgb,
  convertRgbToHsv,
  convertRgbToLrgb,
  differenceCiede2000,
  formatHex,
  modeLab65,
  modeLrgb,
  modeRgb,
  parseHex,
  useMode,
} from 'culori/fn';
import { clamp01 } from '../units.ts';

/** Linear-light sRGB, each 0-1. */
export interface LinearRgb {
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

// What a difference of colours is worked out in.
for (const mode of [modeRgb, modeLrgb, modeLab65]) useMode(mode as typeof modeRgb);
const difference = differenceCiede2000();

/** sRGB transfer function (IEC 61966-2-1): encoded 0-1 to linear 0-1. */
export const decodeSrgb = (v: number): number => convertRgbToLrgb({ r: v, g: 0, b: 0 }).r;

/** The inverse: linear 0-1 to encoded 0-1. */
export const encodeSrgb = (v: number): number => convertLrgbToRgb({ r: v, g: 0, b: 0 }).r;

/** `#rrggbb` as linear light. */
export function fromHex(hex: string): LinearRgb {
  const { r, g, b } = convertRgbToLrgb(parseHex(hex)!);
  return { r, g, b };
}

/** Linear light as encoded sRGB, out-of-range parts clipped. */
const encoded = ({ r, g, b }: LinearRgb) => convertLrgbToRgb({ r: clamp01(r), g: clamp01(g), b: clamp01(b) });

/** Linear light as `#rrggbb`, out-of-range parts clipped. */
export const toHex = (colour: LinearRgb): string => formatHex(encoded(colour));

/** Hue 0-360 and saturation 0-1 at full brightness (HSV), as linear light. */
export function fromHueSaturation(hueDeg: number, saturation: number): LinearRgb {
  const { r, g, b } = convertRgbToLrgb(convertHsvToRgb({ h: hueDeg, s: saturation, v: 1 }));
  return { r, g, b };
}

/** Hue 0-360 and saturation 0-1 (HSV of the encoded colour, brightness left out). */
export function toHueSaturation(colour: LinearRgb): { hueDeg: number; saturation: number } {
  const { h, s } = convertRgbToHsv(encoded(colour));
  return { hueDeg: h ?? 0, saturation: s };
}

/** Colour difference CIEDE2000 (CIE 142-2001) of two linear sRGB colours; 1 is just noticeable. */
export const deltaE2000 = (one: LinearRgb, two: LinearRgb): number =>
  difference({ mode: 'lrgb', ...one }, { mode: 'lrgb', ...two });

/** Index of the colour nearest to `wanted` (CIEDE2000); -1 for an empty list. */
export function nearestColour(wanted: LinearRgb, colours: readonly LinearRgb[]): number {
  let best = -1;
  let least = Infinity;
  colours.forEach((colour, i) => {
    const difference = deltaE2000(wanted, colour);
    if (difference < least) {
      least = difference;
      best = i;
    }
  });
  return best;
}
