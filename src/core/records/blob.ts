import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { z } from 'zod';

/**
 * Files that records name: pictures, models of what stands in a room, songs. They are kept once, by what is in them: a
 * record names its blob by the SHA-256 (FIPS 180-4) of its bytes, in lower-case hexadecimal. So a blob never changes, and equal files are one.
 */
export const blobHashSchema = z
  .string()
  .regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in lower-case hexadecimal (64 digits)');
export type BlobHash = string;

/** Most bytes of a song. */
export const LARGEST_SOUND = 700 * 1024 * 1024;

/** What a blob may be (media types, RFC 6838), and the most bytes of it. */
export const BLOB_LIMITS = {
  'image/png': 8 * 1024 * 1024,
  'image/jpeg': 8 * 1024 * 1024,
  'image/webp': 8 * 1024 * 1024,
  /** Binary glTF 2.0 of the plain kind that `format/mesh.ts` writes. */
  'model/gltf-binary': 8 * 1024 * 1024,
  'audio/wav': LARGEST_SOUND,
  'audio/aiff': LARGEST_SOUND,
  'audio/flac': LARGEST_SOUND,
  'audio/mpeg': LARGEST_SOUND,
  /** Vorbis and Opus (RFC 7845). */
  'audio/ogg': LARGEST_SOUND,
} as const;
export type BlobType = keyof typeof BLOB_LIMITS;
export const BLOB_TYPES = Object.keys(BLOB_LIMITS) as [BlobType, ...BlobType[]];
export const IMAGE_TYPES = ['image/png', 'image/jpeg', 'image/webp'] as const satisfies readonly BlobType[];

export const SOUND_TYPES = [
  'audio/wav',
  'audio/aiff',
  'audio/flac',
  'audio/mpeg',
  'audio/ogg',
] as const satisfies readonly BlobType[];
export type SoundType = (typeof SOUND_TYPES)[number];

export interface BlobFile {
  readonly hash: BlobHash;
  readonly bytes: Uint8Array;
}
/** Blobs by their hash. */
export type Blobs = ReadonlyMap<BlobHash, Uint8Array>;

export const hashOf = (bytes: Uint8Array): BlobHash => bytesToHex(sha256(bytes));

/** The bytes of a data address in base64 (RFC 2397), with their type; null where it is none of a type that is kept. */
export function fromDataAddress(
  address: string,
): { readonly type: (typeof IMAGE_TYPES)[number]; readonly bytes: Uint8Array } | null {
  const found = /^data:([a-z]+\/[a-z]+);base64,([A-Za-z0-9+/]+={0,2})$/.exec(address);
  const type = IMAGE_TYPES.find((one) => one === found?.[1]);
  if (!type) return null;
  try {
    return { type, bytes: Uint8Array.from(atob(found![2]!), (c) => c.charCodeAt(0)) };
  } catch {
    return null;
  }
}
