import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import { gridOf, metreOf } from '../../song/grid.ts';
import type { EarOn } from './ear.ts';
import type { SongOn } from './songs.ts';

const USUAL = 4;

/** Beats of a bar of a show, where nothing that is heard has its own. */
export const beatsPerBar = (document: Document): number => recordsOf(document, 'show')[0]?.beatsPerBar ?? USUAL;

/** Beats of a bar now: of the song that plays, as an ear hears them, or as the show has them. */
export function barBeats(
  { song, ear }: { readonly song: SongOn | null; readonly ear: EarOn | null },
  document: Document,
): number {
  const record = song?.playing ? getRecord(document, 'song', song.songId) : undefined;
  const own = record ? metreOf(gridOf(record)) : (ear?.says?.metre ?? null);
  return own ?? beatsPerBar(document);
}
