import type { Play } from '../live/state.ts';

/** Plays that nobody began by hand are told by how their names begin. */

/** What runs by itself. */
export const AUTO_PLAY = 'auto ';
export const isAuto = ({ id }: Pick<Play, 'id'>): boolean => id.startsWith(AUTO_PLAY);

/** Blocks of a song: `song LANE LAYER KEY`, lane and layer as numbers from 0. */
const SONG_PLAY = /^song (\d+) (\d) /;
/** Layers that a rank has for each lane. */
const LAYERS = 10;
export const songPlayId = (lane: number, layer: number, key: string): string => `song ${lane} ${layer} ${key}`;
/** How high a block of a song lies over the others: by its lane, then its layer. Null for what is none. */
export function songHeight({ id }: Pick<Play, 'id'>): number | null {
  const found = SONG_PLAY.exec(id);
  return found && Number(found[1]) * LAYERS + Number(found[2]);
}
