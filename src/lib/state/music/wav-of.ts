import { writeWav } from '$core/format/wav.ts';

/** Sound that the browser decodes, as a WAV file of 16 bits. Throws with what is wrong. */
export async function wavOf(file: ArrayBuffer): Promise<Uint8Array<ArrayBuffer>> {
  const context = new OfflineAudioContext(2, 1, 44_100);
  const sound = await context.decodeAudioData(file).catch(() => {
    throw new Error('This browser cannot decode M4A. Save the song as WAV, FLAC or MP3.');
  });
  const channels = Array.from({ length: Math.min(2, sound.numberOfChannels) }, (_, c) => sound.getChannelData(c));
  return writeWav(channels, sound.sampleRate, 16);
}
