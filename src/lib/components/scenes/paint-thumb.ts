import { toHex } from '$core/colour/convert.ts';
import { DOT_NUMBERS, type Thumbnail } from '$core/show/thumbnail.ts';

const PAD = 4;
type Dot = [x: number, y: number, r: number, g: number, b: number];

/** Draws a small picture of the rig: dots that are lit over those that are not. Width and height in CSS pixels. */
export function paintThumb(
  element: HTMLCanvasElement,
  { dots, shape }: Thumbnail,
  width: number,
  height: number,
): void {
  const scale = window.devicePixelRatio || 1;
  element.width = width * scale;
  element.height = height * scale;
  const context = element.getContext('2d')!;
  context.scale(scale, scale);
  const w = Math.min(width - PAD * 2, (height - PAD * 2) * Math.max(1, shape));
  const h = Math.min(height - PAD * 2, w / Math.max(0.4, shape));
  const [left, top] = [(width - w) / 2, (height - h) / 2];
  const count = dots.length / DOT_NUMBERS;
  const size = (count > 200 ? 1.1 : count > 60 ? 1.7 : 2.4) * Math.max(1, height / 60);
  for (let pass = 0; pass < 2; pass++)
    for (let i = 0; i < dots.length; i += DOT_NUMBERS) {
      const [x, y, r, g, b] = dots.subarray(i, i + DOT_NUMBERS) as unknown as Dot;
      const lit = r + g + b > 0.01;
      if (lit !== (pass === 1)) continue;
      context.fillStyle = lit ? toHex({ r, g, b }) : '#2c3546';
      context.beginPath();
      context.arc(left + x * w, top + (1 - y) * h, lit ? size : size * 0.7, 0, 7);
      context.fill();
    }
}
