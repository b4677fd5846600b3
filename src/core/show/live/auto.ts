import { z } from 'zod';
import { MOODS } from '../../records/profile.ts';
import type { LiveState } from './state.ts';

/** Light that runs by itself goes out in so long, ms. */
export const AUTO_OUT_MS = 1500;

/** What people do to light that runs by itself. */
export const AUTO_COMMANDS = [
  z.strictObject({ do: z.literal('auto'), on: z.boolean() }),
  /** The mood that is held; null: as the music has it. */
  z.strictObject({ do: z.literal('autoMood'), mood: z.enum(MOODS).nullable() }),
  /** Another take of the same music. */
  z.strictObject({ do: z.literal('autoTake') }),
] as const;
type AutoCommand = z.infer<(typeof AUTO_COMMANDS)[number]>;
type Apply<D extends AutoCommand['do']> = (
  state: LiveState,
  command: Extract<AutoCommand, { do: D }>,
  at: { readonly now: { readonly ms: number } },
) => LiveState;

/** What each of them makes of the live state; what plays follows from it in `core/auto`. */
export const AUTO_APPLIED: { readonly [D in AutoCommand['do']]: Apply<D> } = {
  auto(state, { on }, { now }) {
    const { auto } = state;
    if (on)
      return { ...state, auto: { ...(auto ?? { seed: 1, mood: null }), on, plays: auto?.plays ?? [], now: null } };
    if (!auto) return state;
    const plays = auto.plays.map((play) =>
      play.releasedAt === null ? { ...play, releasedAt: now.ms, fadeOutMs: AUTO_OUT_MS } : play,
    );
    return { ...state, auto: { ...auto, on, plays, now: null } };
  },
  autoMood: (state, { mood }) => (state.auto ? { ...state, auto: { ...state.auto, mood } } : state),
  autoTake: (state) =>
    state.auto ? { ...state, auto: { ...state.auto, seed: (state.auto.seed + 1) % 0xffffffff } } : state,
};
