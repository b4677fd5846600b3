/**
 * Width and height of a PNG (ISO/IEC 15948), JPEG (ITU-T T.81) or WebP picture from its first bytes, without decoding
 * it; null where they are none of these, or broken.
 */
export function imageSize(bytes: Uint8Array): { readonly width: number; readonly height: number } | null {
  const found = png(bytes) ?? webp(bytes) ?? jpeg(bytes);
  return found && found.width > 0 && found.height > 0 ? found : null;
}

type Found = { width: number; height: number } | null;
const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const text = (bytes: Uint8Array, at: number, length: number): string =>
  String.fromCharCode(...bytes.subarray(at, at + length));

function png(bytes: Uint8Array): Found {
  if (bytes.length < 24 || text(bytes, 1, 3) !== 'PNG' || text(bytes, 12, 4) !== 'IHDR') return null;
  return { width: view(bytes).getUint32(16), height: view(bytes).getUint32(20) };
}

function webp(bytes: Uint8Array): Found {
  if (bytes.length < 30 || text(bytes, 0, 4) !== 'RIFF' || text(bytes, 8, 4) !== 'WEBP') return null;
  const v = view(bytes);
  switch (text(bytes, 12, 4)) {
    case 'VP8 ':
      return { width: v.getUint16(26, true) & 0x3fff, height: v.getUint16(28, true) & 0x3fff };
    case 'VP8L': {
      const packed = v.getUint32(21, true);
      return { width: (packed & 0x3fff) + 1, height: ((packed >>> 14) & 0x3fff) + 1 };
    }
    case 'VP8X':
      return {
        width: 1 + (v.getUint16(24, true) | (bytes[26]! << 16)),
        height: 1 + (v.getUint16(27, true) | (bytes[29]! << 16)),
      };
    default:
      return null;
  }
}

/** Walks the markers to the first frame header. */
function jpeg(bytes: Uint8Array): Found {
  if (bytes.length < 4 || bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  const v = view(bytes);
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1]!;
    if (marker === 0xff) at++;
    else if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { width: v.getUint16(at + 7), height: v.getUint16(at + 5) };
    else if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8)) at += 2;
    else {
      const length = v.getUint16(at + 2);
      if (length < 2) return null;
      at += 2 + length;
    }
  }
  return null;
}
