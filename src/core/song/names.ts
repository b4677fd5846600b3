/** What a song is called by its file: without folders, ending and underscores; 1-100 characters. */
export function nameOfFile(file: string): string {
  const base = file
    .split(/[\\/]/)
    .at(-1)!
    .replace(/\.[A-Za-z0-9]{1,5}$/, '');
  return clean(base.replace(/_/g, ' '), 100) || 'Song';
}

/** What a file says of itself; empty where it says nothing. */
export interface SongTags {
  readonly title: string;
  readonly artist: string;
  readonly album: string;
}

/** Tags as they may stand in records: rubbish in them breaks sheets, packets and pages. */
export const tagsFrom = (tags: {
  readonly title?: unknown;
  readonly artist?: unknown;
  readonly album?: unknown;
}): SongTags => ({
  title: clean(tags.title, 100),
  artist: clean(tags.artist, 200),
  album: clean(tags.album, 200),
});

const clean = (text: unknown, most: number): string =>
  typeof text === 'string'
    ? text
        .normalize('NFC')
        .replace(/[\p{Cc}\p{Cs}\p{Co}\p{Cn}\ufffd]/gu, '')
        .replace(/\s+/g, ' ')
        .trim()
        .slice(0, most)
        .toWellFormed()
    : '';
