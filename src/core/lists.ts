/** Where two lists of the same length hold something else; null where they have other lengths, or differ in more places than `most`. */
export function differing(before: readonly unknown[], after: readonly unknown[], most: number): number[] | null {
  if (before === after) return [];
  if (before.length !== after.length) return null;
  const found: number[] = [];
  for (let i = 0; i < after.length; i++)
    if (before[i] !== after[i]) {
      if (found.length === most) return null;
      found.push(i);
    }
  return found;
}
