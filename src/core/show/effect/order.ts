import { shuffledOrder } from '../../random.ts';
import type { EffectPart } from '../../records/effect.ts';
import type { Elements } from './elements.ts';

/** Where elements stand in the order of a part: `at` 0 up to 1 from first to last, `index` counted from 0. */
export interface Ordered {
  readonly at: Float32Array;
  readonly index: Int32Array;
  /** How many different indices there are. */
  readonly count: number;
}

type Placing = Pick<EffectPart, 'order' | 'each' | 'groupsOf' | 'seed' | 'mirror'>;

/**
 * Places elements in the order of a part. By number, wire, chance or as they were chosen they stand evenly, so that a
 * spread of one turn closes without a seam; by the plot they stand where they are. `groupsOf` takes neighbours
 * together; `mirror` counts from the middle out. O(n log n).
 */
export function orderOf(elements: Elements, part: Placing): Ordered {
  const single = part.each === 'unit';
  const count = single ? elements.units : elements.count;
  const first = single ? firstOfUnits(elements) : null;
  const keyOf = keysOf(elements, part, first);
  const order = Array.from({ length: count }, (_, i) => i);
  if (part.order === 'random') {
    const shuffled = shuffledOrder(count, part.seed);
    order.sort((a, b) => shuffled[a]! - shuffled[b]!);
  } else if (keyOf) order.sort((a, b) => keyOf[a]! - keyOf[b]! || a - b);
  const groups = Math.max(1, Math.ceil(count / part.groupsOf));
  const metric = part.groupsOf === 1 && keyOf && part.order !== 'number' && part.order !== 'wire' ? keyOf : null;
  const at = new Float32Array(count);
  const index = new Int32Array(count);
  const [low, range] = metric ? spanOf(metric) : [0, 1];
  order.forEach((one, place) => {
    const group = Math.floor(place / part.groupsOf);
    index[one] = group;
    at[one] = metric ? (metric[one]! - low) / range : group / groups;
    if (part.mirror) at[one] = Math.abs(2 * (metric ? at[one]! : (group + 0.5) / groups) - 1);
  });
  if (!single) return { at, index, count: groups };
  const spread = <T extends Float32Array | Int32Array>(into: T, from: T): T => {
    for (let i = 0; i < elements.count; i++) into[i] = from[elements.unit[i]!]!;
    return into;
  };
  return {
    at: spread(new Float32Array(elements.count), at),
    index: spread(new Int32Array(elements.count), index),
    count: groups,
  };
}

function spanOf(keys: Float32Array): [low: number, range: number] {
  let [low, high] = [Infinity, -Infinity];
  for (const key of keys) {
    if (key < low) low = key;
    if (key > high) high = key;
  }
  return [low, high > low ? high - low : 1];
}

function firstOfUnits(elements: Elements): Int32Array {
  const first = new Int32Array(elements.units).fill(-1);
  for (let i = 0; i < elements.count; i++) if (first[elements.unit[i]!]! < 0) first[elements.unit[i]!] = i;
  return first;
}

/** What is sorted by, for each element or for the first of each unit; null where they stay as they are. */
function keysOf(elements: Elements, { order }: Placing, first: Int32Array | null): Float32Array | null {
  const read = plotKey(elements, order);
  if (!read) return null;
  return Float32Array.from({ length: first?.length ?? elements.count }, (_, i) => read(first ? first[i]! : i));
}

function plotKey(elements: Elements, order: Placing['order']): ((i: number) => number) | null {
  const { xyz } = elements;
  switch (order) {
    case 'selection':
    case 'random':
      return null;
    case 'number':
      return (i) => elements.number[i]!;
    case 'wire':
      return (i) => elements.wire[i]!;
    case 'x':
    case 'y':
    case 'z': {
      const axis = 'xyz'.indexOf(order);
      return (i) => xyz[i * 3 + axis]!;
    }
    case 'radius': {
      const middle = [0, 1, 2].map((axis) => {
        let sum = 0;
        for (let i = axis; i < xyz.length; i += 3) sum += xyz[i]!;
        return sum / Math.max(1, elements.count);
      });
      return (i) => Math.hypot(xyz[i * 3]! - middle[0]!, xyz[i * 3 + 1]! - middle[1]!, xyz[i * 3 + 2]! - middle[2]!);
    }
  }
}
