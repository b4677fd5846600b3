import { cosine, fraction, noise, sine } from '../src/core/show/effect/turns.ts';
import { ease } from '../src/core/units.ts';

/**
 * Four effects over so many RGB cells as one plain loop, without rig, layers, fades, masters or guard: a colour circle, a
 * twinkle, a plasma of three colours, a comet, laid over one another, written to bytes. What a frame is compared with.
 */
export function bareFrame(cells: number): (round: number) => void {
  const bytes = new Uint8Array(cells * 3);
  const xs = Float32Array.from({ length: cells }, (_, i) => (i % 500) / 500);
  const ys = Float32Array.from({ length: cells }, (_, i) => Math.floor(i / 500) / Math.ceil(cells / 500));
  const circle = Float32Array.from({ length: 720 * 3 }, (_, i) => 0.5 + 0.5 * cosine(i / 3 / 720 + (i % 3) / 3));
  const palette = Float32Array.from([1, 0.02, 0.01, 1, 0.45, 0.06, 0.01, 0.07, 1]);
  return (round) => {
    const turns = round * 0.01;
    for (let i = 0; i < cells; i++) {
      const [x, y] = [xs[i]!, ys[i]!];
      const hue = ((fraction(turns - x * 2) * 720) | 0) * 3;
      const own = turns + noise(1, i, -1);
      const turn = Math.floor(own);
      const left = 1 - (own - turn);
      const twinkle = noise(1, i, turn | 0) < 0.4 ? left * left : 0;
      const swirl = sine(x * 2 + turns) + sine(y * 2 - turns * 0.7) + sine((x + y) * 1.4 + turns * 0.4);
      const place = fraction(swirl / 4 + 0.5) * 3;
      const from = place | 0;
      const mix = ease(place - from);
      const a = from * 3;
      const b = from === 2 ? 0 : a + 3;
      const glow = 1 - 0.2 * (0.5 - 0.5 * sine(swirl / 3));
      const at = turns - x;
      const tail = at - Math.floor(at);
      const comet = tail >= 0.5 ? 0 : 1 - tail * 2;
      for (let c = 0; c < 3; c++) {
        const plasma = (palette[a + c]! + (palette[b + c]! - palette[a + c]!) * mix) * glow;
        const lit = circle[hue + c]! * twinkle;
        const both = lit > plasma ? lit : plasma;
        bytes[i * 3 + c] = ((both + (1 - both) * comet * 0.5) * 255 + 0.5) | 0;
      }
    }
  };
}
