import type { SoundingSong } from '$core/records/song.ts';
import { blobAddress } from '../pictures/blobs.ts';

/** So many decoded songs are kept: the one that plays and the next. One of five minutes takes about 100 MB. */
const KEPT = 2;
const kept = new Map<string, Promise<AudioBuffer>>();

/** The sound of a song, decoded in this browser. Throws with what is wrong. */
export function soundOf(song: Pick<SoundingSong, 'blob' | 'type'>): Promise<AudioBuffer> {
  const known = kept.get(song.blob);
  kept.delete(song.blob);
  const sound = known ?? fetched(song);
  kept.set(song.blob, sound);
  // What failed is tried anew when it is asked for again.
  void sound.catch(() => kept.get(song.blob) === sound && kept.delete(song.blob));
  for (const [key] of kept) if (kept.size > KEPT) kept.delete(key);
  return sound;
}

async function fetched({ blob, type }: Pick<SoundingSong, 'blob' | 'type'>): Promise<AudioBuffer> {
  const answer = await fetch(blobAddress(blob)).catch(() => null);
  if (!answer) throw new Error('Amber Kite does not answer; the song is fetched again when it does.');
  if (!answer.ok) throw new Error('The file of this song is not here. Add it again: it is known by what is in it.');
  const bytes = await answer.arrayBuffer();
  if (type === 'audio/aiff') return aiff(bytes);
  return decoding()
    .decodeAudioData(bytes)
    .catch(() => {
      throw new Error('This browser cannot decode the song. Try another browser, or bring it in as WAV.');
    });
}

/** Decodes at 48,000 a second whatever the sound card of this machine has. */
const decoding = (): OfflineAudioContext => new OfflineAudioContext(2, 1, 48_000);

/** Browsers do not decode AIFF themselves. */
async function aiff(bytes: ArrayBuffer): Promise<AudioBuffer> {
  const { default: decode } = await import('@audio/decode-aiff');
  const { channelData, sampleRate } = await decode(new Uint8Array(bytes));
  const sound = new AudioBuffer({
    numberOfChannels: Math.min(2, channelData.length),
    length: channelData[0]!.length,
    sampleRate,
  });
  for (let c = 0; c < sound.numberOfChannels; c++) sound.copyToChannel(new Float32Array(channelData[c]!), c);
  return sound;
}
