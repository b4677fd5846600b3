import { parseBuffer } from 'music-metadata';
import { tagsFrom, type SongTags } from '../core/song/names.ts';

/** What a file says of itself: title, artist and album, cleaned; empty where it says nothing or cannot be read. */
export async function tagsOf(bytes: Uint8Array): Promise<SongTags> {
  try {
    const { common } = await parseBuffer(bytes, undefined, { skipCovers: true, duration: false });
    return tagsFrom(common);
  } catch {
    return { title: '', artist: '', album: '' };
  }
}
