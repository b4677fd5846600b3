import { fromBase64, toBase64 } from '../base64.ts';

/**
 * Places of cells in a unit's own frame: x, y, z of each cell in wiring order. Kept as base64 of 16-bit whole
 * millimetres, little-endian, six bytes a cell: -32.767 to 32.767 m.
 */
const SCALE = 1000;
const LIMIT = 32_767;
export const BYTES_A_CELL = 6;

/** Packs places in metres; what is farther away than 32.767 m is put there. */
export function packPlaces(places: readonly (readonly [x: number, y: number, z: number])[]): string {
  const bytes = new Uint8Array(places.length * BYTES_A_CELL);
  const view = new DataView(bytes.buffer);
  places.forEach((place, cell) =>
    place.forEach((metres, axis) => {
      const mm = Math.max(-LIMIT, Math.min(LIMIT, Math.round(metres * SCALE)));
      view.setInt16(cell * BYTES_A_CELL + axis * 2, mm, true);
    }),
  );
  return toBase64(bytes);
}

/** Places in metres, three numbers a cell; an incomplete last cell is left out. */
export function unpackPlaces(packed: string): Float32Array {
  const bytes = fromBase64(packed);
  const cells = Math.floor(bytes.length / BYTES_A_CELL);
  const view = new DataView(bytes.buffer);
  return Float32Array.from({ length: cells * 3 }, (_, i) => view.getInt16(i * 2, true) / SCALE);
}
