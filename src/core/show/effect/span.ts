/**
 * A stretch of the elements of an effect (from `from`, before `to`) and where they are drawn to: the light of the first
 * goes to `light[lightAt]`, its colour to `rgb[rgbAt]` and the two after it, and so on, neighbour after neighbour. Light
 * and colours may be rows of the effect itself or the attribute values of the frame.
 */
export interface Span {
  from: number;
  to: number;
  light: Float32Array;
  lightAt: number;
  rgb: Float32Array;
  rgbAt: number;
}

const NOWHERE = new Float32Array(0);
export const emptySpan = (): Span => ({ from: 0, to: 0, light: NOWHERE, lightAt: 0, rgb: NOWHERE, rgbAt: 0 });

/** All elements of an effect, drawn to rows of its own. */
export function wholeSpan(span: Span, light: Float32Array, rgb: Float32Array): Span {
  span.from = 0;
  span.to = light.length;
  span.light = light;
  span.lightAt = 0;
  span.rgb = rgb;
  span.rgbAt = 0;
  return span;
}
