import { recordsOf, type Document } from '../document/change.ts';
import { layoutOfUnit } from '../patch/of-document.ts';
import { ownDots, roomDots } from '../plot/dots.ts';
import { makeReader, readActivity, readCell, type CellLight, type Frames } from '../profile/readout.ts';
import { getRecord } from '../document/change.ts';

/** Most dots of one look: a thumbnail shows no more. */
const MOST_DOTS = 700;
/** Numbers of a dot: x and y of the plan or front (0-1, y up), red, green, blue (linear, 0-1). */
export const DOT_NUMBERS = 5;

/** A small picture of the rig: how wide it is for its height, and its dots, `DOT_NUMBERS` each. */
export interface Look {
  readonly shape: number;
  readonly dots: Float32Array;
}

/**
 * What a frame looks like on the plot, as few dots: seen from above, or from the front where the rig is higher than it
 * is deep. Of very many cells every Nth is taken.
 */
export function lookOf(document: Document, frames: Frames): Look {
  const places: number[] = [];
  const lights: number[] = [];
  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  for (const unit of recordsOf(document, 'unit')) {
    const reader = makeReader(document, unit);
    const profile = getRecord(document, 'profile', unit.profileId);
    const dots = roomDots(unit, ownDots(unit, profile, Math.max(1, layoutOfUnit(document, unit).cells)));
    const { x, y, z } = unit.position;
    const own = Math.max(1, dots.cells.length);
    for (let i = 0; i < own; i++) {
      const cell = dots.cells.length > 0 ? dots.cells[i]! : 0;
      const at = dots.cells.length > 0 ? dots.xyz.subarray(i * 3, i * 3 + 3) : [x, y, z];
      places.push(at[0]!, at[1]!, at[2]!);
      if (reader.cells[cell]) readCell(reader, cell, frames, light);
      else light.r = light.g = light.b = 0;
      const dark = light.r + light.g + light.b < 0.004;
      const busy = dark && reader.activity.length > 0 ? readActivity(reader, frames) * 0.25 : 0;
      lights.push(light.r + busy * 0.6, light.g + busy * 0.7, light.b + busy);
    }
  }
  return gather(places, lights);
}

function gather(places: readonly number[], lights: readonly number[]): Look {
  const count = places.length / 3;
  const [xs, ys, zs] = [0, 1, 2].map((axis) => span(places, axis)) as [Span, Span, Span];
  const up = zs.size > ys.size ? { axis: 2, span: zs } : { axis: 1, span: ys };
  const step = Math.max(1, Math.ceil(count / MOST_DOTS));
  const dots = new Float32Array(Math.ceil(count / step) * DOT_NUMBERS);
  for (let i = 0, at = 0; i < count; i += step) {
    dots[at++] = xs.size > 0 ? (places[i * 3]! - xs.low) / xs.size : 0.5;
    dots[at++] = up.span.size > 0 ? (places[i * 3 + up.axis]! - up.span.low) / up.span.size : 0.5;
    for (let c = 0; c < 3; c++) dots[at++] = lights[i * 3 + c]!;
  }
  return { shape: up.span.size > 0 && xs.size > 0 ? xs.size / up.span.size : 2, dots };
}

interface Span {
  readonly low: number;
  readonly size: number;
}

function span(places: readonly number[], axis: number): Span {
  let [low, high] = [Infinity, -Infinity];
  for (let i = axis; i < places.length; i += 3) {
    if (places[i]! < low) low = places[i]!;
    if (places[i]! > high) high = places[i]!;
  }
  return { low, size: Math.max(0, high - low) };
}
