/** A WAV file: 8, 16, 24 or 32 bit of whole numbers, or 32 bit with a point (`float`). */
export function writeWav(
  channels: readonly Float32Array[],
  rate: number,
  bits: 8 | 16 | 24 | 32 | 'float' = 16,
): Uint8Array<ArrayBuffer> {
  const size = bits === 'float' ? 4 : bits / 8;
  const frames = channels[0]?.length ?? 0;
  const data = frames * channels.length * size;
  const bytes = new Uint8Array(44 + data);
  const view = new DataView(bytes.buffer);
  const text = (at: number, words: string): void =>
    void [...words].forEach((c, i) => (bytes[at + i] = c.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, 36 + data, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, bits === 'float' ? 3 : 1, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * channels.length * size, true);
  view.setUint16(32, channels.length * size, true);
  view.setUint16(34, size * 8, true);
  text(36, 'data');
  view.setUint32(40, data, true);
  let at = 44;
  for (let i = 0; i < frames; i++)
    for (const channel of channels) {
      const x = Math.max(-1, Math.min(1, channel[i]!));
      if (bits === 'float') view.setFloat32(at, x, true);
      else if (bits === 8) bytes[at] = Math.round(x * 127) + 128;
      else if (bits === 16) view.setInt16(at, Math.round(x * 32_767), true);
      else if (bits === 32) view.setInt32(at, Math.round(x * 2_147_483_647), true);
      else {
        const value = Math.round(x * 8_388_607);
        bytes[at] = value & 255;
        bytes[at + 1] = (value >> 8) & 255;
        bytes[at + 2] = (value >> 16) & 255;
      }
      at += size;
    }
  return bytes;
}
