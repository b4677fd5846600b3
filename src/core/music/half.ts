import { fromBase64 } from '../base64.ts';

/** Numbers out of 16-bit floats (IEEE 754, little-endian) in base64. */
export function floatsOf(base64: string): Float32Array {
  const bytes = fromBase64(base64);
  return Float32Array.from({ length: bytes.length >> 1 }, (_, i) => half(bytes[2 * i]! | (bytes[2 * i + 1]! << 8)));
}

function half(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 31;
  const fraction = bits & 1023;
  if (exponent === 0) return sign * 2 ** -24 * fraction;
  if (exponent === 31) return fraction === 0 ? sign * Infinity : NaN;
  return sign * 2 ** (exponent - 15) * (1 + fraction / 1024);
}
