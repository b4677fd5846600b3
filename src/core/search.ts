/**
 * The index of the last item of a rising list that does not come after a moment; -1 before the first. `of` says where
 * an item is. O(log n), allocates nothing.
 */
export function lastBy<T>(list: ArrayLike<T>, at: number, of: (item: T) => number): number {
  let [low, high] = [-1, list.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (of(list[middle]!) <= at) low = middle;
    else high = middle - 1;
  }
  return low;
}
