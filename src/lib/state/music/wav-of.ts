/** Sound that the browser decodes, as a WAV file of 16 bits. Throws with what is wrong. */
export async function wavOf(file: ArrayBuffer): Promise<Uint8Array<ArrayBuffer>> {
  const context = new OfflineAudioContext(2, 1, 44_100);
  const sound = await context.decodeAudioData(file).catch(() => {
    throw new Error('This browser cannot decode M4A. Save the song as WAV, FLAC or MP3.');
  });
  const channels = Math.min(2, sound.numberOfChannels);
  const bytes = new Uint8Array(44 + sound.length * channels * 2);
  const view = new DataView(bytes.buffer);
  const text = (at: number, what: string): void => {
    for (let i = 0; i < what.length; i++) bytes[at + i] = what.charCodeAt(i);
  };
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, sound.sampleRate, true);
  view.setUint32(28, sound.sampleRate * channels * 2, true);
  view.setUint16(32, channels * 2, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, bytes.length - 44, true);
  for (let c = 0; c < channels; c++) {
    const data = sound.getChannelData(c);
    for (let i = 0; i < data.length; i++)
      view.setInt16(44 + (i * channels + c) * 2, Math.round(Math.min(1, Math.max(-1, data[i]!)) * 32_767), true);
  }
  return bytes;
}
