import { clamp01 } from '../units.ts';

/** Linear-light sRGB, each 0-1. */
export interface LinearRgb {
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

/** sRGB transfer function (IEC 61966-2-1): encoded 0-1 to linear 0-1. */
export const decodeSrgb = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

/** The inverse: linear 0-1 to encoded 0-1. */
export const encodeSrgb = (v: number): number => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);

/** `#rrggbb` as linear light. */
export function fromHex(hex: string): LinearRgb {
  const value = Number.parseInt(hex.slice(1), 16);
  return {
    r: decodeSrgb(((value >> 16) & 255) / 255),
    g: decodeSrgb(((value >> 8) & 255) / 255),
    b: decodeSrgb((value & 255) / 255),
  };
}

/** Linear light as `#rrggbb`, out-of-range parts clipped. */
export function toHex({ r, g, b }: LinearRgb): string {
  const part = (v: number): string =>
    Math.round(encodeSrgb(clamp01(v)) * 255)
      .toString(16)
      .padStart(2, '0');
  return `#${part(r)}${part(g)}${part(b)}`;
}

/** Hue 0-360 and saturation 0-1 at full brightness (HSV), as linear light. */
export function fromHueSaturation(hueDeg: number, saturation: number): LinearRgb {
  const h = (((hueDeg % 360) + 360) % 360) / 60;
  const part = (n: number): number => {
    const k = (n + h) % 6;
    return decodeSrgb(1 - saturation * Math.max(0, Math.min(k, 4 - k, 1)));
  };
  return { r: part(5), g: part(3), b: part(1) };
}

/** Hue 0-360 and saturation 0-1 (HSV of the encoded colour, brightness left out). */
export function toHueSaturation({ r, g, b }: LinearRgb): { hueDeg: number; saturation: number } {
  const [red, green, blue] = [encodeSrgb(clamp01(r)), encodeSrgb(clamp01(g)), encodeSrgb(clamp01(b))];
  const high = Math.max(red, green, blue);
  const range = high - Math.min(red, green, blue);
  if (range === 0) return { hueDeg: 0, saturation: 0 };
  const sector =
    high === red
      ? ((green - blue) / range + 6) % 6
      : high === green
        ? (blue - red) / range + 2
        : (red - green) / range + 4;
  return { hueDeg: sector * 60, saturation: range / high };
}

/** CIE L*a*b* (D65) of a linear sRGB colour. */
function toLab({ r, g, b }: LinearRgb): readonly [number, number, number] {
  const x = (0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047;
  const y = 0.2126729 * r + 0.7151522 * g + 0.072175 * b;
  const z = (0.0193339 * r + 0.119192 * g + 0.9503041 * b) / 1.08883;
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);
  return [116 * f(y) - 16, 500 * (f(x) - f(y)), 200 * (f(y) - f(z))];
}

/** Colour difference CIEDE2000 (CIE 142-2001) of two linear sRGB colours; 1 is just noticeable. */
export function deltaE2000(one: LinearRgb, two: LinearRgb): number {
  const [l1, a1, b1] = toLab(one);
  const [l2, a2, b2] = toLab(two);
  const rad = Math.PI / 180;
  const meanC = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const g = 0.5 * (1 - Math.sqrt(meanC ** 7 / (meanC ** 7 + 25 ** 7)));
  const c1 = Math.hypot(a1 * (1 + g), b1);
  const c2 = Math.hypot(a2 * (1 + g), b2);
  const hue = (a: number, b: number): number => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / rad + 360) % 360);
  const h1 = hue(a1 * (1 + g), b1);
  const h2 = hue(a2 * (1 + g), b2);
  const dl = l2 - l1;
  const dc = c2 - c1;
  let dh = c1 * c2 === 0 ? 0 : h2 - h1;
  if (dh > 180) dh -= 360;
  if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * rad);
  const l = (l1 + l2) / 2;
  const c = (c1 + c2) / 2;
  let h = c1 * c2 === 0 ? h1 + h2 : (h1 + h2) / 2;
  if (c1 * c2 !== 0 && Math.abs(h1 - h2) > 180) h += h1 + h2 < 360 ? 180 : -180;
  const t =
    1 -
    0.17 * Math.cos((h - 30) * rad) +
    0.24 * Math.cos(2 * h * rad) +
    0.32 * Math.cos((3 * h + 6) * rad) -
    0.2 * Math.cos((4 * h - 63) * rad);
  const sl = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2);
  const sc = 1 + 0.045 * c;
  const sh = 1 + 0.015 * c * t;
  const rt = -2 * Math.sqrt(c ** 7 / (c ** 7 + 25 ** 7)) * Math.sin(60 * Math.exp(-(((h - 275) / 25) ** 2)) * rad);
  return Math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dH / sh) ** 2 + rt * (dc / sc) * (dH / sh));
}

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
