import { lampHex } from '../colour/perceptual.ts';
import type { Mood } from '../records/profile.ts';
import { modulo } from '../units.ts';
import type { Dice } from './dice.ts';

/**
 * Few colours at a time that go together: neighbours on the circle of hues when little goes on, opposites when much does. Hues
 * are those of how colours are seen (OKLCH), so that steps of hue look alike all round.
 */

/** Degrees from the first hue to the others; one of the rows is taken. */
const HARMONIES: Readonly<Record<Mood, readonly (readonly number[])[]>> = {
  calm: [[0, 30], [0, -30], [0]],
  easy: [
    [0, 45],
    [0, -45],
    [0, 30],
  ],
  lively: [
    [0, 120],
    [0, -120],
    [0, 70],
  ],
  strong: [
    [0, 180],
    [0, 150],
    [0, -150],
  ],
  peak: [
    [0, 180],
    [0, 120, 240],
    [0, 150, 210],
  ],
};
const CHROMA: Readonly<Record<Mood, number>> = { calm: 0.15, easy: 0.19, lively: 0.24, strong: 0.28, peak: 0.3 };

/** Colours of a section, `#rrggbb`, the first the most of it. `hueDeg`: where the show begins on the circle. */
export function coloursOf(dice: Dice, mood: Mood, hueDeg: number): readonly string[] {
  return dice.of(HARMONIES[mood]).map((step) => lampHex(CHROMA[mood], modulo(hueDeg + step, 360)));
}
