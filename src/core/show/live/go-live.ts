import { sameJson } from '../../document/change.ts';
import type { UnitValues } from '../../records/scene.ts';
import { mergeHand, type HandSet } from './by-hand.ts';
import type { LiveState, Play } from './state.ts';

/** The part of a live state that can be tried blind. */
export type Tried = Pick<LiveState, 'playing' | 'hand' | 'handEffects'>;

/**
 * What is live once something tried blind goes live. `base` is what was live when the trying began, `tried` what came of
 * it, `real` what is live now. What others did meanwhile stays; where both changed the same play or the same attribute
 * by hand, what was tried counts. What fades out is left out. Linear in all three.
 */
export const mergedTry = (base: Tried, tried: Tried, real: Tried): Tried => ({
  playing: mergedPlays(base.playing, tried.playing, real.playing),
  handEffects: mergedPlays(base.handEffects, tried.handEffects, real.handEffects),
  hand: mergedValues(base.hand, tried.hand, real.hand),
});

const running = (plays: readonly Play[]): Map<string, Play> =>
  new Map(plays.flatMap((p) => (p.releasedAt === null ? [[p.id, p]] : [])));

function mergedPlays(base: readonly Play[], tried: readonly Play[], real: readonly Play[]): Play[] {
  const [before, ours, theirs] = [running(base), running(tried), running(real)];
  const kept = [...ours.values()].flatMap((play) => {
    const was = before.get(play.id);
    // Not touched here: as it is now, or let go by somebody meanwhile.
    return was && sameJson(was, play) ? (theirs.get(play.id) ?? []) : play;
  });
  const begun = [...theirs.values()].filter((p) => !before.has(p.id) && !ours.has(p.id));
  return [...kept, ...begun].sort((a, b) => a.startedAt - b.startedAt);
}

type Values = Readonly<Record<string, UnitValues>>;

/** What was changed from `base` to `tried`, laid over what is by hand now. */
function mergedValues(base: Values, tried: Values, real: LiveState['hand']): LiveState['hand'] {
  const set: HandSet = {};
  for (const unit of new Set([...Object.keys(base), ...Object.keys(tried)])) {
    const [was, is] = [base[unit] ?? {}, tried[unit] ?? {}];
    const keys = [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((key) => !sameJson(was[key], is[key]));
    set[unit] = Object.fromEntries(keys.map((key) => [key, is[key] ?? null]));
  }
  return mergeHand(real, set);
}
