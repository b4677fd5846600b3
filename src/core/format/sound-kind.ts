import type { SoundType } from '../records/blob.ts';

/** Kinds of sound that are known, each with its media type; M4A is known but not kept: whoever can decode it brings WAV. */
export const SOUND_KINDS = {
  wav: 'audio/wav',
  aiff: 'audio/aiff',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  vorbis: 'audio/ogg',
  opus: 'audio/ogg',
  m4a: null,
} as const satisfies Record<string, SoundType | null>;
export type SoundKind = keyof typeof SOUND_KINDS;

const text = (bytes: Uint8Array, at: number, length: number): string =>
  String.fromCharCode(...bytes.subarray(at, at + length));

/** What a file of sound is, by its first bytes and not by how it is called; null for none that is known. */
export function soundKind(bytes: Uint8Array): SoundKind | null {
  const head = text(bytes, 0, 4);
  if ((head === 'RIFF' || head === 'RF64') && text(bytes, 8, 4) === 'WAVE') return 'wav';
  if (head === 'FORM' && /^AIF[FC]$/.test(text(bytes, 8, 4))) return 'aiff';
  if (head === 'fLaC') return 'flac';
  if (head === 'OggS') return text(bytes, 28, 8) === 'OpusHead' ? 'opus' : 'vorbis';
  if (text(bytes, 4, 4) === 'ftyp') return 'm4a';
  if (head.startsWith('ID3')) return 'mp3';
  return bytes[0] === 0xff && (bytes[1]! & 0xe0) === 0xe0 && (bytes[1]! & 0x06) !== 0 ? 'mp3' : null;
}
