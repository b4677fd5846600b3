import { initialLive, type LiveCommand, type LiveState } from '$core/show/index.ts';

/** What goes to what is tried here while a page is blind. Masters, Dark and the tempo are always those of the show. */
export const BLIND_COMMANDS: ReadonlySet<LiveCommand['do']> = new Set([
  'play',
  'release',
  'releasePlay',
  'releaseAll',
  'flash',
  'soloPlay',
  'speed',
  'pace',
  'step',
  'now',
  'tweak',
  'mood',
  'hand',
  'handOver',
  'handEffect',
  'letGoEffect',
  'letGo',
  'identify',
]);

/** Where trying begins: with what plays now, or with nothing at all; masters at full, in the tempo of the show. */
export function triedFrom(real: LiveState, from: 'playing' | 'nothing', nowMs: number): LiveState {
  const { tempo, playing, hand, handEffects } = real;
  return { ...initialLive(nowMs), tempo, ...(from === 'playing' ? { playing, hand, handEffects } : {}) };
}
