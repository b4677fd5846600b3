import type { EffectPartProgram, EffectProgram } from './compile.ts';
import { pathAt } from './paths.ts';
import { sine } from './turns.ts';

/** Moves heads round wherever they aim, as a part does that has made `moved` turns. */
export function drawAim(
  current: Float32Array,
  program: EffectProgram,
  { part, behind, at: side, table }: EffectPartProgram,
  moved: number,
  weight: number,
): void {
  if (part.does !== 'aim') return;
  for (let h = 0; h < program.heads.length; h++) {
    const { element, pan, tilt, panPerDeg, tiltPerDeg } = program.heads[h]!;
    const fan = part.path === 'fan';
    const place = moved - behind[element]!;
    // A fan that moves breathes; one that does not stands open.
    const still = fan && (program.rate === 0 || part.times === 0);
    const x = still ? part.panDeg : fan ? part.panDeg * (0.5 + 0.5 * sine(place - 0.25)) : pathAt(table, place, 0);
    const y = fan ? 0 : pathAt(table, place, 1);
    if (pan >= 0) current[pan] = held(current[pan]! + x * side[element]! * panPerDeg * weight, current[pan]!);
    if (tilt >= 0) current[tilt] = held(current[tilt]! + y * tiltPerDeg * weight, current[tilt]!);
  }
}

const held = (value: number, before: number): number => (value >= 1 ? 1 : value >= 0 ? value : value < 0 ? 0 : before);
