import { PNG } from 'pngjs';

/** A picture of the demonstration as PNG (8 bit RGB): `colour` gives 0-255 each for a pixel. */
export function drawPng(
  width: number,
  height: number,
  colour: (x: number, y: number) => readonly [number, number, number],
): Uint8Array {
  const png = new PNG({ width, height });
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) png.data.set([...colour(x, y), 255], (y * width + x) * 4);
  return PNG.sync.write(png, { colorType: 2, deflateLevel: 9 });
}
