import type { Point } from '$core/plot/paper.ts';
import type { Drag, Ground } from './drag.ts';
import { zoomed } from './view.ts';

/** Gestures that move the paper itself. */

export const panning = ({ view, look }: Ground, from: Point): Drag => ({
  move: (p) => look({ ...view, x: view.x - (p.x - from.x) / view.scale, y: view.y + (p.y - from.y) / view.scale }),
  end: () => undefined,
  cancel: () => undefined,
});

/** Two fingers: the paper keeps the places under both. `fingers` gives where they are now. */
export function pinching({ view, size, look }: Ground, fingers: () => readonly Point[]): Drag {
  const between = (a: Point, b: Point): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
  const [a, b] = fingers() as [Point, Point];
  const from = between(a, b);
  const apart = Math.max(1, Math.hypot(a.x - b.x, a.y - b.y));
  return {
    move() {
      const [c, d] = fingers();
      if (!c || !d) return;
      const middle = between(c, d);
      const next = zoomed(view, size, from, Math.hypot(c.x - d.x, c.y - d.y) / apart);
      look({
        ...next,
        x: next.x - (middle.x - from.x) / next.scale,
        y: next.y + (middle.y - from.y) / next.scale,
      });
    },
    end: () => undefined,
    cancel: () => undefined,
  };
}
