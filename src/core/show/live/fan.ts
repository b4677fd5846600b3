import { seeded } from '../../random.ts';

export const FAN_SHAPES = ['line', 'centre', 'mirror', 'random'] as const;
export type FanShape = (typeof FAN_SHAPES)[number];

/**
 * How far each of `count` goes from the first value to the second, 0-1: `line` from first to last; `centre` from the
 * middle out to both ends; `mirror` from both ends to the middle; `random` by chance, the same for the same seed.
 */
export function fanPlaces(count: number, shape: FanShape, seed = 1): number[] {
  const random = seeded(seed);
  return Array.from({ length: count }, (_, i) => {
    const along = count > 1 ? i / (count - 1) : 0;
    if (shape === 'random') return random();
    if (shape === 'line') return along;
    const out = Math.abs(2 * along - 1);
    return shape === 'centre' ? out : 1 - out;
  });
}
