/**
 * A small seeded generator (mulberry32): the same seed gives the same row of numbers in [0, 1) on every machine.
 * Used for shuffled orders and for anything random in a show, so that a moment can be seeked and repeated.
 */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A shuffled row of 0..count-1 (Fisher-Yates) that depends only on `count` and `seed`. */
export function shuffledOrder(count: number, seed: number): number[] {
  const random = seeded(seed);
  const order = Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  return order;
}
