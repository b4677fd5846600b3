import { CURVED, type Curved } from '../../curved.ts';
import { areaTo, valueAt } from '../../song/curves.ts';
import type { Exact, Play } from '../live/state.ts';

/** What curves make of a block of a song that plays. Moments in ms of the show. */

const secondsIn = ({ pace }: Exact, fromMs: number, ms: number): number => ((ms - fromMs) / 1000) * pace;

/** What its curves say of one thing at a moment: multiplied where that multiplies, else added. Allocates nothing. */
export function steered(exact: Exact, of: Curved, ms: number): number {
  const multiplies = CURVED[of].usual === 1;
  let found: number = CURVED[of].usual;
  for (let i = 0; i < exact.curves.length; i++) {
    const points = exact.curves[i]!.curves[of];
    if (!points) continue;
    const value = valueAt(points, secondsIn(exact, exact.curves[i]!.ms, ms));
    found = multiplies ? found * value : found + value;
  }
  return found;
}

/** How fast it went since a moment, in the mean. */
export function meanSpeed(exact: Exact, sinceMs: number, ms: number): number {
  let found = 1;
  for (let i = 0; i < exact.curves.length; i++) {
    const { ms: fromMs, curves } = exact.curves[i]!;
    if (!curves.speed) continue;
    const [a, b] = [secondsIn(exact, fromMs, sinceMs), secondsIn(exact, fromMs, ms)];
    found *= b - a > 1e-9 ? (areaTo(curves.speed, b) - areaTo(curves.speed, a)) / (b - a) : valueAt(curves.speed, b);
  }
  return found;
}

/**
 * Where a block stands in its own course when it has gone on by so much (seconds or beats times its rate) since its
 * clock was set: faster, slower or farther as its curves say.
 */
export const exactPlace = (
  { exact, clock }: Pick<Play, 'clock'> & { exact: Exact },
  moved: number,
  ms: number,
): number => (clock?.at ?? 0) + moved * meanSpeed(exact, clock?.ms ?? ms, ms) + steered(exact, 'phase', ms);
