import { onLine } from '../../aim/steer.ts';
import type { Traveller } from './travel.ts';

const angles = new Float64Array(2);
const [here, there] = [new Float64Array(3), new Float64Array(3)];

/** Moves heads from where they are as they turn (already drawn) to where they are on the straight line. */
export function drawTravel(
  current: Float32Array,
  { slots, table }: { readonly slots: Uint32Array; readonly table: Float32Array },
  travellers: readonly Traveller[],
  from: number,
  to: number,
  mix: number,
  level: number,
): void {
  if (from < 0 || mix <= 0 || mix >= 1) return;
  for (let i = 0; i < travellers.length; i++) {
    const { steering, pan, tilt, places } = travellers[i]!;
    for (let k = 0; k < 3; k++) {
      here[k] = places[from * 3 + k]!;
      there[k] = places[to * 3 + k]!;
    }
    if (here[0] !== here[0] || there[0] !== there[0]) continue;
    const { panRange, panZero, tiltRange, tiltZero } = steering;
    const [a, b] = [from * slots.length, to * slots.length];
    const [p0, p1] = [table[a + pan]! * panRange + panZero, table[b + pan]! * panRange + panZero];
    const [t0, t1] = [table[a + tilt]! * tiltRange + tiltZero, table[b + tilt]! * tiltRange + tiltZero];
    if (!onLine(steering, here, there, mix, p0, t0, p1, t1, angles)) continue;
    current[slots[pan]!] = current[slots[pan]!]! + ((angles[0]! - p0 - (p1 - p0) * mix) / panRange) * level;
    current[slots[tilt]!] = current[slots[tilt]!]! + ((angles[1]! - t0 - (t1 - t0) * mix) / tiltRange) * level;
  }
}
