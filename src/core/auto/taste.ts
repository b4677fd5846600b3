import type { Mood } from '../records/profile.ts';
import type { PlayedRole, VariantRecord, VariantSlot } from '../records/variant.ts';
import type { Idea } from './ideas.ts';

/** What Auto does where nobody taught it otherwise, and what a variant makes of it. */

/** Bars after which something changes within a section. */
export const PHRASE_BARS: Readonly<Record<Mood, number>> = { calm: 16, easy: 8, lively: 8, strong: 8, peak: 4 };
/** Roles that take part in each mood; others rest. */
const PLAYING: Readonly<Record<Mood, readonly PlayedRole[]>> = {
  calm: ['wash', 'wash2', 'pixels'],
  easy: ['wash', 'wash2', 'pixels', 'beams', 'effects'],
  lively: ['wash', 'wash2', 'pixels', 'beams', 'effects'],
  strong: ['wash', 'wash2', 'pixels', 'beams', 'effects', 'whites'],
  peak: ['wash', 'wash2', 'pixels', 'beams', 'effects', 'whites'],
};
/** A phrase of its own accord is not shorter nor longer than this, seconds. */
const [SHORTEST_S, LONGEST_S] = [6, 40];
const SILENCE = { afterS: 20, sceneId: null } as const;
const SLOT: VariantSlot = { plays: null, also: [], never: [], every: 1 };

type Taught = Pick<VariantRecord, 'moods' | 'colours' | 'silence'>;

/** What may play, and how often it changes. */
export class Taste {
  readonly #taught: Taught | null;

  constructor(variant: Taught | null) {
    this.#taught = variant;
  }

  slot(mood: Mood, role: PlayedRole): VariantSlot {
    return this.#taught?.moods[mood]?.roles[role] ?? SLOT;
  }

  plays(mood: Mood, role: PlayedRole): boolean {
    return this.slot(mood, role).plays ?? PLAYING[mood].includes(role);
  }

  /** Whether an idea may play: it is meant for the mood or let in, and not forbidden. */
  lets(mood: Mood, role: PlayedRole, { key, moods }: Idea): boolean {
    const { also, never } = this.slot(mood, role);
    return !never.includes(key) && (moods.includes(mood) || also.includes(key));
  }

  /** Of ideas for a role those that may play in a mood; where none is meant for it, ours that are not forbidden. */
  may(ideas: readonly Idea[], mood: Mood, role: PlayedRole): readonly Idea[] {
    const meant = ideas.filter((idea) => this.lets(mood, role, idea));
    if (meant.length > 0) return meant;
    const { also, never } = this.slot(mood, role);
    // Where all that is meant for the mood is forbidden, nothing else comes in its place.
    return ideas.some(({ key, moods }) => moods.includes(mood) || also.includes(key))
      ? []
      : ideas.filter(({ key, moods }) => moods.length > 0 && !never.includes(key));
  }

  /** Bars of a phrase, where one of them takes so long (seconds). What somebody set is taken as it is. */
  bars(mood: Mood, barS: number): number {
    const set = this.#taught?.moods[mood]?.bars;
    if (set) return set;
    let bars = PHRASE_BARS[mood];
    while (bars > 1 && bars * barS > LONGEST_S) bars /= 2;
    while (bars * barS < SHORTEST_S && bars < 64) bars *= 2;
    return bars;
  }

  get colours(): readonly string[] {
    return this.#taught?.colours ?? [];
  }
  get silence(): Taught['silence'] {
    return this.#taught?.silence ?? SILENCE;
  }
}
