import { parseBuffer } from 'music-metadata';
import type { SongTags } from './messages.ts';

/** What may stand in names: rubbish in tags breaks sheets, packets and pages. */
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

/** What a file says of itself: title, artist and album, cleaned; empty where it says nothing or cannot be read. */
export async function tagsOf(bytes: Uint8Array): Promise<SongTags> {
  try {
    const { common } = await parseBuffer(bytes, undefined, { skipCovers: true, duration: false });
    return { title: clean(common.title, 100), artist: clean(common.artist, 200), album: clean(common.album, 200) };
  } catch {
    return { title: '', artist: '', album: '' };
  }
}
