import { CURVED, type Curved } from '$core/curved.ts';
import type { CurvePoint, CurveShape, Curves } from '$core/records/curve.ts';
import { point, simplified, valueAt, withPoint } from '$core/song/curves.ts';
import { kept } from '$core/song/grid.ts';
import { clamp } from '$core/units.ts';
import { ONSET_BANDS, type OnsetBand } from '$core/music/onsets.ts';
import type { LightDesk } from './light-desk.svelte.ts';

/** What a curve can be taken from: how loud the sound is, whole or in a band, or where something begins. */
export type CurveFrom = 'loudness' | 'low' | 'middle' | 'high' | `onset ${OnsetBand}`;
const BYTE_OF = { loudness: 0, low: 1, middle: 2, high: 3 } as const;
/** Values of the sound are read so often, and a curve is nowhere farther from them than this. */
const STEP_S = 0.02;
const OFF = 0.06;
const FALL_S = 0.25;

/** Curves of the block or the lane that is worked on: drawn, typed, or taken from the sound. */
export class LightCurves {
  readonly #light: LightDesk;
  /** What is drawn over blocks now; null: no curve. */
  of = $state<Curved | null>(null);
  /** Of the lane as a whole, not of a block. */
  whole = $state(false);
  /** The point that is chosen, by its number. */
  index = $state<number | null>(null);

  constructor(light: LightDesk) {
    this.#light = light;
  }

  /** Where moments of the curve that is shown begin in the song, and how long it is; null where there is nothing to steer. */
  get span(): { readonly from: number; readonly length: number } | null {
    if (this.whole) return this.#light.lane ? { from: 0, length: this.#light.song.end } : null;
    const { first } = this.#light;
    return first ? { from: first.at, length: first.length } : null;
  }
  get curves(): Curves | null {
    return this.whole ? (this.#light.lane?.curves ?? null) : (this.#light.first?.curves ?? null);
  }
  get points(): readonly CurvePoint[] | null {
    return (this.of && this.curves?.[this.of]) || null;
  }
  readonly range = $derived(this.of ? CURVED[this.of] : CURVED.level);

  /** Where a value stands, 0 (below) to 1. What goes to both sides has its middle in the middle; speed its usual one there. */
  static share(of: Curved, value: number): number {
    const { least, most } = CURVED[of];
    return of === 'speed' ? Math.cbrt(value / most) : (value - least) / (most - least);
  }
  static valueOf(of: Curved, share: number): number {
    const { least, most } = CURVED[of];
    const at = clamp(share, 0, 1);
    return of === 'speed' ? at ** 3 * most : least + at * (most - least);
  }

  /** Sets the curve of all blocks that are chosen, or of the lane; null takes it away. */
  set(points: readonly CurvePoint[] | null, label = 'Change a curve'): void {
    const { of } = this;
    if (!of) return;
    const changed = (curves: Curves): Curves => {
      const { [of]: _, ...rest } = curves;
      return points && points.length > 0 ? { ...rest, [of]: [...points] } : rest;
    };
    const { lane } = this.#light;
    if (this.whole) {
      if (lane && !lane.locked) this.#light.changeLane(lane, label, { curves: changed(lane.curves) });
      return;
    }
    this.#light.each(label, (own, keys) =>
      own.blocks.map((block) => (keys.has(block.key) ? { ...block, curves: changed(block.curves) } : block)),
    );
  }
  put(at: number, value: number, shape: CurveShape = 'line', instead: number | null = null): void {
    if (!this.of || !this.span) return;
    const own = (this.points ?? []).filter((_, i) => i !== instead);
    const to = kept(clamp(at, 0, this.span.length));
    const points = withPoint(this.of, own, point(to, Math.round(value * 1000) / 1000, shape));
    this.set(points);
    this.index = points.findIndex((p) => p.at === to);
  }
  shape(index: number, shape: CurveShape): void {
    const { points } = this;
    if (points) this.set(points.map((p, i) => (i === index ? { ...p, shape } : p)));
  }
  remove(index: number): void {
    const { points } = this;
    if (!points) return;
    this.set(
      points.filter((_, i) => i !== index),
      'Remove a point',
    );
    this.index = null;
  }
  /** The value at a moment of the curve, as it plays. */
  valueAt(at: number): number {
    return this.points ? valueAt(this.points, at) : this.range.usual;
  }

  /** The curve follows the sound from here on. Says whether there was anything to follow. */
  take(from: CurveFrom): boolean {
    const { span, of } = this;
    const values = span && this.#heard(from, span.from, span.length);
    if (!values || !of) return false;
    const most = Math.max(1e-6, ...values);
    const scaled = values.map(
      (v) =>
        Math.round(
          LightCurves.valueOf(
            of,
            of === 'level' || of === 'size' || of === 'width' || of === 'base' ? v / most : 0.5 + v / most / 2,
          ) * 1000,
        ) / 1000,
    );
    this.set(
      simplified(scaled, STEP_S, OFF * (CURVED[of].most - CURVED[of].least)).slice(0, 20_000),
      'Take a curve from the sound',
    );
    return true;
  }
  #heard(from: CurveFrom, begin: number, length: number): number[] | null {
    const { picture } = this.#light.song;
    if (!picture) return null;
    const steps = Math.min(180_000, Math.floor(length / STEP_S) + 1);
    const at = (i: number): number => begin + i * STEP_S;
    if (from in BYTE_OF) {
      const byte = BYTE_OF[from as keyof typeof BYTE_OF];
      return Array.from({ length: steps }, (_, i) => {
        const column = clamp(Math.floor(at(i) * picture.rate), 0, picture.count - 1);
        return picture.columns[column * 4 + byte]! / 255;
      });
    }
    const list = picture.onsets[ONSET_BANDS.indexOf(from.slice('onset '.length) as OnsetBand)];
    if (!list) return null;
    // What begins falls off until the next.
    let next = 0;
    let [since, strength] = [-Infinity, 0];
    return Array.from({ length: steps }, (_, i) => {
      for (; next < list.at.length && list.at[next]! <= at(i); next++)
        [since, strength] = [list.at[next]!, list.strength[next]!];
      return strength * Math.exp(-(at(i) - since) / FALL_S);
    });
  }
}
