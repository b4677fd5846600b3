import { recordsOf, type Document } from '../../document/change.ts';
import { layoutOfUnit } from '../../patch/of-document.ts';
import { resolveLine } from './run.ts';
import type { LineRecord } from '../../records/index.ts';

/** One-wire 800 kHz pixels: time on the wire for a pixel of three and of four colours, and the pause that ends a frame. */
export const RGB_US = 30;
export const RGBW_US = 40;
export const RESET_US = 300;

/** Frames a second a port of so many pixels can reach; slots of a pixel 3 (RGB) or 4 (RGBW). */
export const pixelFrameRate = (pixels: number, slotsPerPixel: number): number =>
  1e6 / (pixels * (slotsPerPixel >= 4 ? RGBW_US : RGB_US) + RESET_US);

export interface Injection {
  readonly unitNumber: number;
  readonly unitName: string;
  /** Pixel of the unit, counted from 1, before which power is fed in. */
  readonly pixel: number;
  /** Pixel of the whole line, counted from 1. */
  readonly ofLine: number;
}

export interface PixelPort {
  readonly pixels: number;
  readonly slotsPerPixel: number;
  /** The most frames a second the wire can carry; Infinity without pixels. */
  readonly frameRate: number;
  readonly watts: number;
  readonly amps: number;
  readonly injections: readonly Injection[];
}

/** What a pixel port carries: time, power at its level limit, and where power is fed in anew. */
export function pixelPort(document: Document, line: LineRecord): PixelPort {
  const { drops, pixels } = resolveLine(document, line);
  const slotsPerPixel = drops.reduce((most, { unit }) => {
    const layout = layoutOfUnit(document, unit);
    return Math.max(most, layout.cellFootprint > 0 ? layout.cellFootprint : Math.min(4, layout.footprint));
  }, 3);
  const watts = pixels * line.pixelWatts * line.levelLimit;
  const injections: Injection[] = [];
  for (let at = line.injectEvery; at < pixels; at += line.injectEvery) {
    const drop = drops.find((d) => at >= d.pixelsBefore && at < d.pixelsBefore + d.pixels);
    if (!drop) break;
    const { number, name } = drop.unit;
    injections.push({ unitNumber: number, unitName: name, pixel: at - drop.pixelsBefore + 1, ofLine: at + 1 });
  }
  return {
    pixels,
    slotsPerPixel,
    frameRate: pixels === 0 ? Infinity : pixelFrameRate(pixels, slotsPerPixel),
    watts,
    amps: watts / line.volts,
    injections,
  };
}

/** The frame rate of the show where that is more than a port can carry; null where it keeps up. */
export function tooFastFor(document: Document, { frameRate }: Pick<PixelPort, 'frameRate'>): number | null {
  const wanted = recordsOf(document, 'show')[0]?.frameRate ?? 40;
  return frameRate < wanted ? wanted : null;
}
