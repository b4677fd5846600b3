import type { Play } from '../live/state.ts';

/** Plays that nobody began by hand are told by how their names begin. */

/** What runs by itself. */
export const AUTO_PLAY = 'auto ';
export const isAuto = ({ id }: Pick<Play, 'id'>): boolean => id.startsWith(AUTO_PLAY);

/** Blocks of a song: `song LANE LAYER KEY`, lane and layer as numbers from 0; `exact` where they lie over what people play. */
const SONG_PLAY = /^(song|exact) (\d+) (\d) /;
/** Layers that a rank has for each lane. */
const LAYERS = 10;
export const songPlayId = (lane: number, layer: number, key: string, live = true): string =>
  `${live ? 'song' : 'exact'} ${lane} ${layer} ${key}`;
/** How high a block of a song lies over the others: by its lane, then its layer; and whether over what people play. Null for what is none. */
export function songHeight({ id }: Pick<Play, 'id'>): { readonly height: number; readonly over: boolean } | null {
  const found = SONG_PLAY.exec(id);
  return found && { height: Number(found[2]) * LAYERS + Number(found[3]), over: found[1] === 'exact' };
}
