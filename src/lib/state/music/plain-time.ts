import { nextNumber } from '$core/naming.ts';
import { make, type SongRecord } from '$core/records/index.ts';
import { kept } from '$core/song/grid.ts';
import type { App } from '../app.svelte.ts';

/** Plain time: so long, with even beats, and no sound. For light that goes without music, or with a code from outside. */
export function plainTime(app: App, lengthS = 180, bpm = 120): SongRecord {
  const number = nextNumber(app.rig.songs);
  return make('song', {
    id: app.newId('song'),
    number,
    name: `Plain time ${number}`,
    blob: null,
    type: null,
    bytes: 0,
    listen: false,
    ...evenTime(lengthS, bpm),
  });
}

/** Its length and beats. */
export function evenTime(lengthS: number, bpm: number): Pick<SongRecord, 'lengthS' | 'mended'> {
  const count = Math.floor((lengthS * bpm) / 60);
  const beats = Array.from({ length: count }, (_, i) => kept((i * 60) / bpm)).filter((at) => at < lengthS);
  return {
    lengthS,
    mended: { stretches: [{ from: 0, to: lengthS, beats }], bars: [{ at: 0, beats: 4 }], sections: null },
  };
}
