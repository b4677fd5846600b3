import type { SongRecord } from '$core/records/song.ts';
import type { LiveState } from '$core/show/index.ts';

/** Where the music comes from that Auto goes by, in words. */
export function sourceWords(live: LiveState | null, songs: readonly SongRecord[]): string {
  const song = live?.song && songs.find(({ id }) => id === live.song!.songId);
  if (song && live.song!.playing) return `It goes by ${song.name}, which it knows from beginning to end.`;
  if (live?.ear) {
    const { says } = live.ear;
    if (says?.silent) return 'The ear hears silence.';
    return says?.mood ? `It goes by what the ear hears: it sounds ${says.mood}.` : 'It goes by what the ear hears.';
  }
  if (song) return `${song.name} stands.`;
  return 'It knows of no music: it goes by the tempo of the show alone.';
}
