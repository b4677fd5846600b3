/** Uploaded pictures are drawn anew into a small PNG: whatever else the file holds (scripts, comments) stays behind. */
const SIDE = 96;
const LARGEST = 4 * 1024 * 1024;

/** A PNG data address of at most 96 x 96, from a PNG or SVG file. Throws with what is wrong. */
export async function safePicture(file: Blob): Promise<string> {
  if (file.size > LARGEST)
    throw new Error(`The picture has ${Math.round(file.size / 1024)} KiB; give one below 4 MiB.`);
  if (file.type !== 'image/png' && file.type !== 'image/svg+xml')
    throw new Error(`“${file.type || 'unknown'}” is not taken; give a PNG or SVG file.`);
  // An SVG in an image element runs no scripts and loads nothing.
  const address = URL.createObjectURL(file);
  try {
    const image = new Image();
    image.src = address;
    await image.decode().catch(() => {
      throw new Error('The picture cannot be read; save it again as PNG.');
    });
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = SIDE;
    const scale = Math.min(SIDE / (image.width || SIDE), SIDE / (image.height || SIDE));
    const [w, h] = [(image.width || SIDE) * scale, (image.height || SIDE) * scale];
    canvas.getContext('2d')!.drawImage(image, (SIDE - w) / 2, (SIDE - h) / 2, w, h);
    return canvas.toDataURL('image/png');
  } finally {
    URL.revokeObjectURL(address);
  }
}
