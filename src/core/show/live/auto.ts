import { z } from 'zod';
import type { Document } from '../../document/change.ts';
import { idSchema } from '../../ids.ts';
import { LEAN_LIMIT } from '../../records/action.ts';
import { durationMsSchema } from '../../records/common.ts';
import { MOODS } from '../../records/profile.ts';
import { PLAYED_ROLES } from '../../records/variant.ts';
import { beatAt, msAt } from '../play/beat-map.ts';
import { barBeats } from './bar.ts';
import { autoColoursSchema, autoPlaceSchema, autoSchema, MOST_OTHERS, ownMoodSchema, type Auto } from './state.ts';
import type { LiveState } from './state.ts';

/** Light that runs by itself goes out in so long, ms. */
export const AUTO_OUT_MS = 1500;

/** What people do to light that runs by itself. */
export const AUTO_COMMANDS = [
  /** On, or off in so long. */
  z.strictObject({ do: z.literal('auto'), on: z.boolean(), fadeMs: durationMsSchema.optional() }),
  /** The mood that is held; null: as the music has it. */
  z.strictObject({ do: z.literal('autoMood'), mood: z.enum(MOODS).nullable() }),
  /** So many steps more or less than the music has. */
  z.strictObject({ do: z.literal('autoLean'), lean: z.int().min(-LEAN_LIMIT).max(LEAN_LIMIT) }),
  /** Colours it keeps to; null: its own again. */
  z.strictObject({ do: z.literal('autoColours'), colours: autoColoursSchema.nullable() }),
  /** What goes on stays, until it is let go. */
  z.strictObject({ do: z.literal('autoHold'), on: z.boolean() }),
  /** Other ideas and colours for this section, from the next bar on. */
  z.strictObject({ do: z.literal('autoNext') }),
  /** Another take of the same music, from the next bar on. */
  z.strictObject({ do: z.literal('autoTake') }),
  /** Only these roles play; null for all. */
  z.strictObject({
    do: z.literal('autoRoles'),
    roles: z.array(z.enum(PLAYED_ROLES)).max(PLAYED_ROLES.length).nullable(),
  }),
  /** An area or group has a mood of its own, no part in it (`none`), or what the rest has (null). */
  z.strictObject({ do: z.literal('autoPlace'), place: autoPlaceSchema, mood: ownMoodSchema.nullable() }),
  z.strictObject({ do: z.literal('autoVariant'), variantId: idSchema('variant').nullable() }),
] as const;
type AutoCommand = z.infer<(typeof AUTO_COMMANDS)[number]>;
interface At {
  readonly now: { readonly ms: number };
  readonly document: Document;
}
type Apply<D extends AutoCommand['do']> = (
  state: LiveState,
  command: Extract<AutoCommand, { do: D }>,
  at: At,
) => LiveState;

/** Another of what it is asked for; kept for the next time where it does not run. */
const asked = ({ auto, ...state }: LiveState, fields: Partial<Auto>): LiveState => ({
  ...state,
  auto: { ...(auto ?? autoSchema.parse({ on: false, seed: 1 })), ...fields },
});

/** When the next bar of the show begins, ms; at once where one just began. */
function nextBarMs(state: LiveState, { now, document }: At): number {
  const { tempo } = state;
  const bar = barBeats(state, document);
  const beat = beatAt(tempo, now.ms);
  return msAt(tempo, Math.ceil(beat / bar - 0.05) * bar);
}

/** What each of them makes of the live state; what plays follows from it in `core/auto`. */
export const AUTO_APPLIED: { readonly [D in AutoCommand['do']]: Apply<D> } = {
  auto(state, { on, fadeMs = AUTO_OUT_MS }, { now }) {
    const { auto } = state;
    if (on) return { ...state, auto: { ...(auto ?? autoSchema.parse({ on, seed: 1 })), on, now: null, fromMs: null } };
    if (!auto) return state;
    const plays = auto.plays.map((play) =>
      play.releasedAt === null ? { ...play, releasedAt: now.ms, fadeOutMs: fadeMs } : play,
    );
    return { ...state, auto: { ...auto, on, plays, now: null, hold: false, fromMs: null } };
  },
  autoMood: (state, { mood }) => asked(state, { mood }),
  autoLean: (state, { lean }) => asked(state, { lean }),
  autoColours: (state, { colours }) => asked(state, { colours }),
  autoHold: (state, { on }) => asked(state, { hold: on && !!state.auto?.now }),
  autoNext(state, _, at) {
    const section = state.auto?.now?.section;
    if (section === undefined) return state;
    const { [section]: before = 0, ...others } = state.auto!.others;
    const kept = Object.entries(others).slice(1 - MOST_OTHERS);
    return asked(state, {
      others: Object.fromEntries([...kept, [section, before + 1]]),
      fromMs: nextBarMs(state, at),
      hold: false,
    });
  },
  autoTake: (state, _, at) =>
    asked(state, {
      seed: ((state.auto?.seed ?? 0) + 1) % 0xffffffff,
      others: {},
      fromMs: nextBarMs(state, at),
      hold: false,
    }),
  autoRoles: (state, { roles }) => asked(state, { roles }),
  autoPlace(state, { place, mood }) {
    const { [place]: _, ...others } = state.auto?.places ?? {};
    return asked(state, { places: mood === null ? others : { ...others, [place]: mood } });
  },
  autoVariant: (state, { variantId }) => asked(state, { variantId }),
};
