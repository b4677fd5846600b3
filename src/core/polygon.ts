/** Closed outlines on the plan: corners in order, the last joined to the first. Metres. */
export interface Corner {
  readonly x: number;
  readonly y: number;
}

const cross = (o: Corner, a: Corner, b: Corner): number => (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);

/** True where a point lies inside (even-odd); on the edge it counts as inside to the left and below. */
export function contains(outline: readonly Corner[], { x, y }: Corner): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const a = outline[i]!;
    const b = outline[j]!;
    if (a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

/** Area enclosed, square metres, never negative. */
export function surfaceOf(outline: readonly Corner[]): number {
  let twice = 0;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++)
    twice += outline[j]!.x * outline[i]!.y - outline[i]!.x * outline[j]!.y;
  return Math.abs(twice) / 2;
}

/** True where two edges that are not neighbours meet, or a corner stands twice. O(n^2) of at most 200 corners. */
export function crossesItself(outline: readonly Corner[]): boolean {
  const n = outline.length;
  const at = (i: number): Corner => outline[i % n]!;
  for (let i = 0; i < n; i++) {
    if (at(i).x === at(i + 1).x && at(i).y === at(i + 1).y) return true;
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      if (edgesMeet(at(i), at(i + 1), at(j), at(j + 1))) return true;
    }
  }
  return false;
}

function edgesMeet(a: Corner, b: Corner, c: Corner, d: Corner): boolean {
  const [d1, d2, d3, d4] = [cross(c, d, a), cross(c, d, b), cross(a, b, c), cross(a, b, d)];
  if (d1 * d2 < 0 && d3 * d4 < 0) return true;
  return (
    (d1 === 0 && between(c, d, a)) ||
    (d2 === 0 && between(c, d, b)) ||
    (d3 === 0 && between(a, b, c)) ||
    (d4 === 0 && between(a, b, d))
  );
}

/** For a point on the line through a and b: true between them. */
const between = (a: Corner, b: Corner, p: Corner): boolean =>
  Math.min(a.x, b.x) <= p.x && p.x <= Math.max(a.x, b.x) && Math.min(a.y, b.y) <= p.y && p.y <= Math.max(a.y, b.y);

/** The middle of the corners. */
export const middleOf = (outline: readonly Corner[]): Corner => ({
  x: outline.reduce((sum, c) => sum + c.x, 0) / outline.length,
  y: outline.reduce((sum, c) => sum + c.y, 0) / outline.length,
});
