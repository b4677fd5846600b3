import { readColours, type DotBatch } from '$core/plot/cell-colours.ts';
import type { Frames } from '$core/patch/readout.ts';
import type { Canvas, View } from './view.ts';

/** Draws the dots of batches, thousands a frame, in the colours that are sent. */
export interface CellPainter {
  /** `size` in CSS pixels, `ratio` device pixels for each. */
  paint(batches: readonly DotBatch[], frames: Frames, view: View, size: Canvas, ratio: number): void;
  dispose(): void;
}

/** A dot that is dark, 0xAABBGGRR: still to be seen on the paper. */
export const DARK_DOT = 0xff4a3a30;

/** Across a dot in CSS pixels at a zoom: as large as it is, but never too small to see nor larger than a button. */
export const dotSize = (scale: number, dotM: number): number => {
  const [least, most] = dotM > 0.1 ? [4, 16] : [2, 9];
  return Math.max(least, Math.min(most, scale * dotM));
};

const discs = new Map<number, Int8Array>();
/** For each row of a disc so many pixels across: how many pixels are left free on either side. */
function discOf(side: number): Int8Array {
  let rows = discs.get(side);
  if (!rows) {
    const r = side / 2;
    rows = Int8Array.from({ length: side }, (_, i) =>
      side < 4 ? 0 : Math.max(0, Math.round(r - Math.sqrt(Math.max(0, r * r - (i + 0.5 - r) ** 2)))),
    );
    discs.set(side, rows);
  }
  return rows;
}

/** Where one buffer of pixels is written and put on a canvas 2D: no GPU needed. */
export class PlainPainter implements CellPainter {
  readonly #g: CanvasRenderingContext2D;
  #image: ImageData | null = null;
  #pixels = new Uint32Array(0);

  constructor(canvas: HTMLCanvasElement) {
    this.#g = canvas.getContext('2d', { willReadFrequently: true })!;
  }

  paint(batches: readonly DotBatch[], frames: Frames, view: View, size: Canvas, ratio: number): void {
    const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (width === 0 || height === 0) return;
    if (this.#image?.width !== width || this.#image.height !== height) {
      this.#image = new ImageData(width, height);
      this.#pixels = new Uint32Array(this.#image.data.buffer);
    }
    const pixels = this.#pixels;
    pixels.fill(0);
    const scale = view.scale * ratio;
    for (const batch of batches) {
      const side = Math.max(1, Math.round(dotSize(view.scale, batch.dotM) * ratio));
      const disc = discOf(side);
      const [left, top] = [width / 2 - view.x * scale - side / 2, height / 2 + view.y * scale - side / 2];
      const colours = readColours(batch, frames);
      const { u, v, count } = batch;
      for (let i = 0; i < count; i++) {
        const x = (left + u[i]! * scale) | 0;
        const y = (top - v[i]! * scale) | 0;
        if (x < 0 || y < 0 || x + side > width || y + side > height) continue;
        const colour = colours[i] === 0xff000000 ? DARK_DOT : colours[i]!;
        for (let row = 0, from = y * width + x; row < side; row++, from += width)
          for (let at = from + disc[row]!, end = from + side - disc[row]!; at < end; at++) pixels[at] = colour;
      }
    }
    this.#g.putImageData(this.#image!, 0, 0);
  }

  dispose(): void {
    this.#image = null;
  }
}
