import { BLOB_LIMITS, type BlobType } from '../records/blob.ts';
import { isGlb } from './glb.ts';
import { imageSize } from './image-size.ts';
import { soundKind, SOUND_KINDS } from './sound-kind.ts';

/** Bytes from the front of a file that are enough to tell what it is. */
export const HEAD_BYTES = 256 * 1024;

/** What a file is by its first bytes, whatever its name says; null where it is nothing that is kept. */
export function blobTypeOf(head: Uint8Array): BlobType | null {
  if (isGlb(head)) return 'model/gltf-binary';
  const sound = soundKind(head);
  if (imageSize(head) === null) return sound && SOUND_KINDS[sound];
  return head[0] === 0x89 ? 'image/png' : head[0] === 0xff ? 'image/jpeg' : 'image/webp';
}

/** Most bytes of any blob. */
export const MOST_BLOB_BYTES: number = Math.max(...Object.values(BLOB_LIMITS));
