import { fromBase64 } from '$core/base64.ts';
import { ONSET_BANDS } from '$core/music/onsets.ts';
import type { SongPicture } from '$core/music/song.ts';
import type { BlobHash } from '$core/records/blob.ts';

/** The picture of a song, unpacked: four bytes a column (swing, low, middle, high). */
export interface Picture {
  readonly rate: number;
  readonly columns: Uint8Array;
  readonly count: number;
  /** Moments (s) and strengths (0-1) at which something begins, by band. */
  readonly onsets: readonly { readonly at: Float32Array; readonly strength: Float32Array }[];
}

const kept = new Map<BlobHash, Promise<Picture | null>>();
const MOST = 8;

/** The picture of a song; null while it is not heard. */
export function pictureOf(hash: BlobHash): Promise<Picture | null> {
  const known = kept.get(hash);
  if (known) return known;
  const picture = fetched(hash);
  kept.set(hash, picture);
  for (const key of kept.keys()) if (kept.size > MOST) kept.delete(key);
  void picture.then(
    (found) => found ?? kept.delete(hash),
    () => kept.delete(hash),
  );
  return picture;
}

async function fetched(hash: BlobHash): Promise<Picture | null> {
  const answer = await fetch(`/api/songs/${hash}/picture`).catch(() => null);
  if (!answer?.ok) return null;
  const { rate, columns, onsets } = (await answer.json()) as SongPicture;
  const bytes = fromBase64(columns);
  return { rate, columns: bytes, count: bytes.length >> 2, onsets: unpacked(fromBase64(onsets)) };
}

function unpacked(bytes: Uint8Array): Picture['onsets'] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const lists = ONSET_BANDS.map(() => ({ at: [] as number[], strength: [] as number[] }));
  for (let i = 0; i + 6 <= bytes.length; i += 6) {
    const list = lists[bytes[i + 4]!];
    list?.at.push(view.getUint32(i, true) / 1000);
    list?.strength.push(bytes[i + 5]! / 255);
  }
  return lists.map(({ at, strength }) => ({ at: Float32Array.from(at), strength: Float32Array.from(strength) }));
}
