import { symbolPath } from '$core/plot/symbols.ts';
import type { FixtureKind } from '$core/records/profile.ts';

const known = new Map<string, Path2D>();
/** Paths of symbols that are kept: a zoom needs a handful, all zooms of an evening not many more. */
const MOST = 2000;

/** Fills and strokes the symbol of a kind about the origin, in the styles that are set. Sizes in whole half pixels. */
export function symbol(g: CanvasRenderingContext2D, kind: FixtureKind, w: number, h: number): void {
  const key = `${kind} ${Math.round(w * 2)} ${Math.round(h * 2)}`;
  let path = known.get(key);
  if (!path) {
    if (known.size >= MOST) known.clear();
    known.set(key, (path = new Path2D(symbolPath(kind, Math.round(w * 2) / 2, Math.round(h * 2) / 2))));
  }
  g.fill(path);
  g.stroke(path);
}
