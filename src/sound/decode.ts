import { FaultError } from '../core/faults.ts';
import { soundKind, type SoundKind } from '../core/format/sound-kind.ts';
import { mono, resampled, type Sound } from '../core/music/sound.ts';
import type { Stereo } from '../core/show/live/card-feed.ts';
import { LONGEST_SONG_S } from '../core/records/song.ts';

/** Files of sound, decoded by what is in them and not by how they are called. */

const SHORTEST_S = 0.5;

interface Channels {
  readonly channelData: readonly Float32Array[];
  readonly sampleRate: number;
}

const DECODERS: { readonly [K in Exclude<SoundKind, 'm4a'>]: (bytes: Uint8Array) => Promise<Channels> } = {
  wav: async (bytes) => (await import('@audio/decode-wav')).default(bytes),
  aiff: async (bytes) => (await import('@audio/decode-aiff')).default(bytes),
  opus: async (bytes) => (await import('@audio/decode-opus')).default(bytes),
  async mp3(bytes) {
    const { MPEGDecoder } = await import('mpg123-decoder');
    return freed(new MPEGDecoder(), (decoder) => decoder.decode(bytes));
  },
  async flac(bytes) {
    const { FLACDecoder } = await import('@wasm-audio-decoders/flac');
    return freed(new FLACDecoder(), (decoder) => decoder.decodeFile(bytes));
  },
  async vorbis(bytes) {
    const { OggVorbisDecoder } = await import('@wasm-audio-decoders/ogg-vorbis');
    return freed(new OggVorbisDecoder(), (decoder) => decoder.decodeFile(bytes));
  },
};

async function freed<D extends { readonly ready: Promise<void>; free(): void | Promise<void> }>(
  decoder: D,
  decode: (decoder: D) => Channels | Promise<Channels>,
): Promise<Channels> {
  await decoder.ready;
  try {
    return await decode(decoder);
  } finally {
    await decoder.free();
  }
}

const fault = (code: string, path: string, message: string, received: unknown, remedy: string): FaultError =>
  new FaultError({ code, path, message, received, remedy });

/**
 * Decodes a file to one channel. Throws FaultError (SOUND_EMPTY, SOUND_UNKNOWN, SOUND_BROWSER, SOUND_BROKEN, SOUND_SHORT,
 * SOUND_LONG, SOUND_SILENT), `name` being what the file is called.
 */
export async function decodeSound(bytes: Uint8Array, name: string): Promise<Sound> {
  const { channelData, sampleRate } = await decoded(bytes, name);
  return checked(mono(channelData, sampleRate), name);
}

/** Decodes a file to two channels at a rate, to be played. Throws FaultError as `decodeSound` does where it is no sound. */
export async function decodeStereo(bytes: Uint8Array, name: string, rate: number): Promise<Stereo> {
  const { channelData, sampleRate } = await decoded(bytes, name);
  // Of more than two all are heard on both sides.
  const sides = channelData.length === 2 ? channelData : [mono(channelData, sampleRate).samples];
  const [left, right] = sides.map((samples) => resampled({ rate: sampleRate, samples }, rate).samples.slice());
  return { left: left!, right: right ?? left!.slice() };
}

async function decoded(bytes: Uint8Array, name: string): Promise<Channels> {
  if (bytes.length === 0) throw fault('SOUND_EMPTY', name, 'the file is empty', 0, 'Choose the file itself once more.');
  const kind = soundKind(bytes);
  if (kind === null)
    throw fault(
      'SOUND_UNKNOWN',
      name,
      'this is no sound that is known here',
      String.fromCharCode(...bytes.subarray(0, 8)).replace(/[^ -~]/g, '.'),
      'WAV, AIFF, FLAC, MP3, Ogg Vorbis and Opus are read.',
    );
  if (kind === 'm4a') throw fault('SOUND_BROWSER', name, 'M4A is not read here', kind, 'Save it as WAV, FLAC or MP3.');
  const channels = await DECODERS[kind](bytes).catch((error: unknown) => {
    throw broken(name, (error as Error).message);
  });
  const { channelData, sampleRate } = channels;
  if (!(sampleRate >= 2000) || !channelData.some((c) => c.length > 0)) throw broken(name, 'no sound in it');
  return channels;
}

const broken = (name: string, why: string): FaultError =>
  fault('SOUND_BROKEN', name, `it cannot be decoded (${why})`, name, 'Open it in a player, and save or fetch it anew.');

function checked(sound: Sound, name: string): Sound {
  const seconds = sound.samples.length / sound.rate;
  const length = `${Math.round(seconds * 10) / 10} s`;
  if (seconds < SHORTEST_S)
    throw fault('SOUND_SHORT', name, `it is ${length} long`, seconds, `Songs of ${SHORTEST_S} s and more are heard.`);
  if (seconds > LONGEST_SONG_S)
    throw fault(
      'SOUND_LONG',
      name,
      `it is ${length} long`,
      seconds,
      `Cut it: songs of up to ${LONGEST_SONG_S / 60} minutes are heard.`,
    );
  let peak = 0;
  for (let i = 0; i < sound.samples.length; i++) {
    const x = sound.samples[i]!;
    // What is no number is silence.
    if (x !== x) sound.samples[i] = 0;
    else if (Math.abs(x) > peak) peak = Math.abs(x);
  }
  if (peak < 1e-5)
    throw fault('SOUND_SILENT', name, 'there is nothing to hear in it', peak, 'Look at its recording level.');
  return sound;
}
