/** Below this sum of squares a list of numbers has no direction. */
const NOTHING = 1e-9;

/** How alike two lists of numbers are, by the angle between them, -1 to 1; null where one of them is nothing. */
export function cosine(a: ArrayLike<number>, b: ArrayLike<number>): number | null {
  let [dot, aa, bb] = [0, 0, 0];
  for (let k = 0; k < a.length; k++) {
    dot += a[k]! * b[k]!;
    aa += a[k]! * a[k]!;
    bb += b[k]! * b[k]!;
  }
  return aa > NOTHING && bb > NOTHING ? dot / Math.sqrt(aa * bb) : null;
}

/** How much rises from one frame to the next in some bands; what only glides to a neighbour is no rise. */
export function risen(before: ArrayLike<number>, now: ArrayLike<number>, from: number, to: number): number {
  let sum = 0;
  for (let b = from; b < to; b++) {
    const was = Math.max(before[b]!, b > from ? before[b - 1]! : 0, b + 1 < to ? before[b + 1]! : 0);
    sum += Math.max(0, now[b]! - was);
  }
  return sum;
}
