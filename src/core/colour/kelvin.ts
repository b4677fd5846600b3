import { clamp, clamp01 } from '../units.ts';
import type { LinearRgb } from './convert.ts';

export const COLDEST_K = 1700;
export const HOTTEST_K = 20_000;

/**
 * CIE 1931 xy of a black body at so many kelvin, by a cubic approximation that is good to 0.001 from 1667 to
 * 25000 K.
 */
export function kelvinToXy(kelvin: number): { x: number; y: number } {
  const t = clamp(kelvin, 1667, 25_000);
  const x =
    t <= 4000
      ? -0.2661239e9 / t ** 3 - 0.2343589e6 / t ** 2 + 0.8776956e3 / t + 0.17991
      : -3.0258469e9 / t ** 3 + 2.1070379e6 / t ** 2 + 0.2226347e3 / t + 0.24039;
  const y =
    t <= 2222
      ? -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683
      : t <= 4000
        ? -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867
        : 3.081758 * x ** 3 - 5.8733867 * x ** 2 + 3.75112997 * x - 0.37001483;
  return { x, y };
}

/** White of so many kelvin as linear sRGB, its strongest part at 1. */
export function fromKelvin(kelvin: number): LinearRgb {
  const { x, y } = kelvinToXy(kelvin);
  const [X, Z] = [x / y, (1 - x - y) / y];
  const r = 3.2404542 * X - 1.5371385 - 0.4985314 * Z;
  const g = -0.969266 * X + 1.8760108 + 0.041556 * Z;
  const b = 0.0556434 * X - 0.2040259 + 1.0572252 * Z;
  const most = Math.max(r, g, b);
  return { r: clamp01(r / most), g: clamp01(g / most), b: clamp01(b / most) };
}
