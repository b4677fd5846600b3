import type { SlotList } from '../rig/values.ts';

/**
 * Attribute values while layers are laid over one another. `rank[slot]` is the rank of the layer that reached a level
 * last and `base[slot]` what was there before that rank began.
 */
export interface Merging {
  readonly current: Float32Array;
  readonly base: Float32Array;
  readonly rank: Int32Array;
}

/**
 * One row of values that touches every slot of the list, at a level above 0. `at` is where the row begins. With
 * `levelsOnly` what is no level stays as it is.
 */
export function applyRow(
  into: Merging,
  list: SlotList,
  values: Float32Array,
  at: number,
  rank: number,
  level: number,
  levelsOnly = false,
): void {
  const { current } = into;
  const { slots, htpEnd, snapEnd, runs } = list;
  for (let i = 0; i < htpEnd; i++) applyLevel(into, slots[i]!, values[at + i]!, rank, level);
  if (levelsOnly) return;
  for (let i = htpEnd; i < snapEnd; i++) current[slots[i]!] = values[at + i]!;
  for (let r = 0; r < runs.length; r += 2) {
    const from = at + runs[r]!;
    const count = runs[r + 1]!;
    const slot = slots[runs[r]!]!;
    if (level >= 1) for (let i = 0; i < count; i++) current[slot + i] = values[from + i]!;
    else
      for (let i = 0; i < count; i++) {
        const below = current[slot + i]!;
        current[slot + i] = below + (values[from + i]! - below) * level;
      }
  }
}

/** Highest takes precedence inside a rank; the first of a higher rank fades over what is below. */
export function applyLevel(into: Merging, slot: number, value: number, rank: number, level: number): void {
  const { current, base } = into;
  if (into.rank[slot] !== rank) {
    into.rank[slot] = rank;
    base[slot] = current[slot]!;
    current[slot] = base[slot]! + (value - base[slot]!) * level;
    return;
  }
  const candidate = base[slot]! + (value - base[slot]!) * level;
  if (candidate > current[slot]!) current[slot] = candidate;
}

/** Takes the place of the level below, at `weight`; what comes later in the same rank is compared with the result. */
export function setLevel(into: Merging, slot: number, value: number, rank: number, weight: number): void {
  const { current } = into;
  const below = current[slot]!;
  if (into.rank[slot] !== rank) {
    into.rank[slot] = rank;
    into.base[slot] = below;
  }
  current[slot] = below + (value - below) * weight;
}

/** Notes for levels side by side what was below a rank that begins. */
export function keepBelow({ current, base, rank: ranks }: Merging, slot: number, count: number, rank: number): void {
  for (let at = slot; at < slot + count; at++) {
    if (ranks[at] === rank) continue;
    ranks[at] = rank;
    base[at] = current[at]!;
  }
}
