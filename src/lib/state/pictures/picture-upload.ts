import { make } from '$core/records/index.ts';
import { PICTURE_SIDE, type PictureRecord } from '$core/records/picture.ts';
import { sendBlob } from './blobs.ts';
import { imageSize } from '$core/format/image-size.ts';

/**
 * Uploaded pictures are drawn anew: whatever else the file holds (scripts, comments, further images of an animation)
 * stays behind. Their size is read from their first bytes before anything is decoded.
 */
const ICON_SIDE = 96;
const ICON_BYTES = 4 * 1024 * 1024;
const BACKDROP_BYTES = 40 * 1024 * 1024;
/** Pixels a picture may have before it is made smaller: more would not fit a small laptop's memory. */
const MOST_PIXELS = 80_000_000;
/** Longest side that is kept. */
const KEPT_SIDE = 2400;
/** Longest side of a picture on a pad. */
export const PAD_SIDE = 480;
const KEPT_BYTES = 2_000_000;

const TYPES: Readonly<Record<string, string>> = {
  'image/png': 'PNG',
  'image/jpeg': 'JPEG',
  'image/webp': 'WebP',
  'image/svg+xml': 'SVG',
};

/** Decodes a file in an image element: an SVG there runs no scripts and loads nothing. */
async function decoded<T>(file: Blob, use: (image: HTMLImageElement) => T | Promise<T>): Promise<T> {
  const address = URL.createObjectURL(file);
  try {
    const image = new Image();
    image.src = address;
    await image.decode().catch(() => {
      throw new Error('The picture cannot be read; it may be broken. Save it again as PNG.');
    });
    return await use(image);
  } finally {
    URL.revokeObjectURL(address);
  }
}

function canvasOf(width: number, height: number): [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  return [canvas, canvas.getContext('2d')!];
}

/** A PNG data address of at most 96 x 96, from a PNG or SVG file. Throws with what is wrong. */
export async function safePicture(file: Blob): Promise<string> {
  if (file.size > ICON_BYTES)
    throw new Error(`The picture has ${Math.round(file.size / 1024)} KiB; give one below 4 MiB.`);
  if (file.type !== 'image/png' && file.type !== 'image/svg+xml')
    throw new Error(`“${file.type || 'unknown'}” is not taken; give a PNG or SVG file.`);
  return decoded(file, (image) => {
    const [canvas, g] = canvasOf(ICON_SIDE, ICON_SIDE);
    const scale = Math.min(ICON_SIDE / (image.width || ICON_SIDE), ICON_SIDE / (image.height || ICON_SIDE));
    const [w, h] = [(image.width || ICON_SIDE) * scale, (image.height || ICON_SIDE) * scale];
    g.drawImage(image, (ICON_SIDE - w) / 2, (ICON_SIDE - h) / 2, w, h);
    return canvas.toDataURL('image/png');
  });
}

/**
 * A picture from a file, named after it, at most `keptSide` pixels on its longer side. Its own file is brought into the
 * data folder before the record is made. Throws with what is wrong.
 */
export async function takePicture(file: File, id: PictureRecord['id'], keptSide = KEPT_SIDE): Promise<PictureRecord> {
  if (!(file.type in TYPES))
    throw new Error(`“${file.type || 'unknown'}” is not taken; give a PNG, JPEG, WebP or SVG file.`);
  if (file.size > BACKDROP_BYTES)
    throw new Error(`The picture has ${Math.round(file.size / 1024 / 1024)} MiB; give one below 40 MiB.`);
  if (file.type !== 'image/svg+xml') {
    const size = imageSize(new Uint8Array(await file.slice(0, 256 * 1024).arrayBuffer()));
    if (!size) throw new Error(`The file is no ${TYPES[file.type]!} picture, or it is broken. Save it again as PNG.`);
    if (size.width * size.height > MOST_PIXELS)
      throw new Error(
        `The picture has ${size.width} x ${size.height} pixels (${Math.round((size.width * size.height) / 1e6)} megapixels); give one below 80.`,
      );
  }
  return decoded(file, async (image) => {
    // An SVG without a size of its own is drawn large.
    const [w, h] = [image.naturalWidth || KEPT_SIDE, image.naturalHeight || KEPT_SIDE];
    const vector = file.type === 'image/svg+xml';
    for (let side = Math.min(keptSide, PICTURE_SIDE); side >= 100; side = Math.floor(side * 0.75)) {
      const scale = vector ? side / Math.max(w, h) : Math.min(1, side / Math.max(w, h));
      const [canvas, g] = canvasOf(Math.max(1, Math.round(w * scale)), Math.max(1, Math.round(h * scale)));
      g.drawImage(image, 0, 0, canvas.width, canvas.height);
      const drawn = await encoded(canvas);
      if (drawn.size <= KEPT_BYTES) return kept(id, nameOf(file), canvas, drawn);
    }
    throw new Error('The picture stays too large however small it is drawn. Save it again as JPEG.');
  });
}

/** As WebP; a browser that cannot write that writes PNG. */
const encoded = (canvas: HTMLCanvasElement): Promise<Blob> =>
  new Promise((resolve, reject) =>
    canvas.toBlob(
      (drawn) => (drawn ? resolve(drawn) : reject(new Error('The browser could not draw the picture.'))),
      'image/webp',
      0.85,
    ),
  );

async function kept(
  id: PictureRecord['id'],
  name: string,
  { width, height }: HTMLCanvasElement,
  drawn: Blob,
): Promise<PictureRecord> {
  const bytes = new Uint8Array(await drawn.arrayBuffer());
  const type = drawn.type as PictureRecord['type'];
  const blob = await sendBlob(bytes);
  return make('picture', { id, name, widthPx: width, heightPx: height, type, bytes: bytes.length, blob });
}

const nameOf = (file: File): string =>
  file.name
    .replace(/\.[^.]*$/, '')
    .slice(0, 100)
    .trim() || 'Picture';
