import { turned, type FieldDifference } from '../document/difference.ts';
import type { LiveState } from '../show/index.ts';

/** A live state as it was told, with its number. */
export interface ToldLive {
  readonly live: LiveState;
  readonly seq: number;
}

/**
 * The live state after a step that was told: the very same where the step is known already, null where one before it was
 * missed, and whoever follows has to begin anew.
 */
export function stepped(told: ToldLive | null, step: { difference: FieldDifference; seq: number }): ToldLive | null {
  if (told && step.seq <= told.seq) return told;
  if (!told || step.seq !== told.seq + 1) return null;
  return { live: turned(told.live, step.difference, 'is', 'live') as LiveState, seq: step.seq };
}
