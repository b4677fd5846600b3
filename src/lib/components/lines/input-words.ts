import type { InputRecord } from '$core/records/index.ts';
import type { SlotControl } from '$core/records/input.ts';

/** What becomes of what comes in. */
export const USE_WORDS: Readonly<Record<InputRecord['use'], string>> = {
  show: 'only shown',
  htp: 'merged: the higher level wins',
  takeover: 'takes over by priority',
  control: 'only its mapped slots',
};

/** What a slot of another desk can work. */
export const CONTROL_WORDS: Readonly<Record<SlotControl['does']['do'], string>> = {
  grand: 'grand master',
  tempo: 'tempo (20-275)',
  dark: 'Dark, over half',
  play: 'play a scene or chase',
  releaseAll: 'let everything go',
  unit: 'level of a unit',
};
