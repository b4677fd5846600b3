import type { InputRecord } from '$core/records/index.ts';

/** What becomes of what comes in. */
export const USE_WORDS: Readonly<Record<InputRecord['use'], string>> = {
  show: 'only shown',
  htp: 'merged: the higher level wins',
  takeover: 'takes over by priority',
  control: 'only its mapped slots',
};
