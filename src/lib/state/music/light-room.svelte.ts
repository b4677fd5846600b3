import type { App } from '../app.svelte.ts';
import { LaneHands } from './lane-hands.svelte.ts';
import { LightCurves } from './light-curves.svelte.ts';
import { LightDesk } from './light-desk.svelte.ts';
import { LightStretches } from './light-stretches.svelte.ts';
import type { SongDesk } from './song-desk.svelte.ts';

/** Everything with which the light of a song is made. */
export interface LightRoom {
  readonly light: LightDesk;
  readonly hands: LaneHands;
  readonly curves: LightCurves;
  readonly stretches: LightStretches;
}

export function lightRoom(app: App, desk: () => SongDesk): LightRoom {
  const light = new LightDesk(app, desk);
  return {
    light,
    hands: new LaneHands(light),
    curves: new LightCurves(light),
    stretches: new LightStretches(light),
  };
}
