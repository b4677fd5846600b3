import type { Play } from '../live/state.ts';

/** How the names of plays begin that run by themselves. */
export const AUTO_PLAY = 'auto ';
export const isAuto = ({ id }: Pick<Play, 'id'>): boolean => id.startsWith(AUTO_PLAY);
