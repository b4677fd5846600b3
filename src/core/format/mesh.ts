import { z } from 'zod';
import { FaultError, faultsFromZod } from '../faults.ts';
import { MODEL_TRIANGLES } from '../records/thing.ts';
import { readGlb, writeGlb } from './glb.ts';

/**
 * A model as it is kept: triangles with a colour at each corner, in a box of its own - across and deep -0.5 to 0.5, 0 to 1
 * high, z up - so that the size of its thing says how large it is. It is written as the plainest glTF 2.0 there is, and
 * nothing else is read: no references, textures, programs or extensions.
 */
export interface Mesh {
  /** Three numbers a corner. */
  readonly places: Float32Array;
  /** Red, green, blue and 255 a corner, sRGB. */
  readonly colours: Uint8Array;
  /** Three corners a triangle. */
  readonly index: Uint32Array;
}

const accessor = <T extends number, Y extends string>(componentType: T, type: Y) =>
  z.object({
    bufferView: z.int().min(0).max(2),
    componentType: z.literal(componentType),
    count: z.int().min(1),
    type: z.literal(type),
  });
/** FLOAT, UNSIGNED_BYTE and UNSIGNED_INT of glTF. */
const [FLOAT, BYTE, INT] = [5126, 5121, 5125] as const;
const plainSchema = z.object({
  asset: z.object({ version: z.literal('2.0') }),
  extensionsRequired: z.undefined().optional(),
  images: z.undefined().optional(),
  buffers: z.tuple([z.strictObject({ byteLength: z.int().min(1) })]),
  bufferViews: z
    .array(z.object({ buffer: z.literal(0), byteOffset: z.int().min(0).default(0), byteLength: z.int().min(1) }))
    .length(3),
  accessors: z.tuple([accessor(FLOAT, 'VEC3'), accessor(BYTE, 'VEC4'), accessor(INT, 'SCALAR')]),
});

/** As bytes of a file. */
export function writeMesh({ places, colours, index }: Mesh): Uint8Array<ArrayBuffer> {
  const corners = places.length / 3;
  const bin = new Uint8Array(places.byteLength + colours.byteLength + index.byteLength);
  const views = [places, colours, index].map((array, i, all) => {
    const byteOffset = all.slice(0, i).reduce((sum, a) => sum + a.byteLength, 0);
    bin.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), byteOffset);
    return { buffer: 0, byteOffset, byteLength: array.byteLength };
  });
  const json = {
    asset: { version: '2.0', generator: 'Amber Kite' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0 }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0, COLOR_0: 1 }, indices: 2 }] }],
    buffers: [{ byteLength: bin.length }],
    bufferViews: views,
    accessors: [
      { bufferView: 0, componentType: FLOAT, count: corners, type: 'VEC3', min: [-0.5, -0.5, 0], max: [0.5, 0.5, 1] },
      { bufferView: 1, componentType: BYTE, normalized: true, count: corners, type: 'VEC4' },
      { bufferView: 2, componentType: INT, count: index.length, type: 'SCALAR' },
    ],
  };
  return writeGlb({ json, bin });
}

/** Reads what `writeMesh` wrote. Throws FaultError (MODEL_BROKEN, MODEL_TRIANGLES, or what the JSON does not hold). */
export function readMesh(bytes: Uint8Array): Mesh {
  const { json, bin } = readGlb(bytes);
  const parsed = plainSchema.safeParse(json);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, json, 'model'));
  const { accessors, bufferViews } = parsed.data;
  const [corners, triangles] = [accessors[0].count, accessors[2].count / 3];
  const say = (code: string, message: string, received: unknown): never => {
    throw new FaultError({
      code,
      path: 'model',
      message,
      received,
      remedy: 'Bring the model in again from its own file.',
    });
  };
  if (!Number.isInteger(triangles) || triangles > MODEL_TRIANGLES)
    say('MODEL_TRIANGLES', `has ${triangles} triangles; at most ${MODEL_TRIANGLES} are kept`, triangles);
  const part = (at: number, size: number): ArrayBuffer => {
    const { byteOffset, byteLength } = bufferViews[accessors[at]!.bufferView]!;
    if (byteLength < size || byteOffset + size > bin.length) say('MODEL_BROKEN', 'bytes of it are missing', byteLength);
    return bin.slice(byteOffset, byteOffset + size).buffer as ArrayBuffer;
  };
  const mesh = {
    places: new Float32Array(part(0, corners * 12)),
    colours: new Uint8Array(part(1, corners * 4)),
    index: new Uint32Array(part(2, triangles * 12)),
  };
  // Written by hand, a place or a corner may be anywhere.
  if (accessors[1].count !== corners) say('MODEL_BROKEN', 'not every corner has a colour', accessors[1].count);
  const far = mesh.places.find((at) => !(Math.abs(at) <= 1.001));
  if (far !== undefined) say('MODEL_BROKEN', 'a corner is outside of its box', far);
  const stray = mesh.index.find((corner) => corner >= corners);
  if (stray !== undefined) say('MODEL_BROKEN', `a triangle has a corner ${stray} of ${corners}`, stray);
  return mesh;
}

/** Places scaled into the box, and how large it was: across, deep and high. The foot's middle becomes its origin. */
export function boxed(places: Float32Array): { places: Float32Array; size: readonly [number, number, number] } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < places.length; i++) {
    const axis = i % 3;
    if (places[i]! < low[axis]!) low[axis] = places[i]!;
    if (places[i]! > high[axis]!) high[axis] = places[i]!;
  }
  const size = low.map((at, axis) => high[axis]! - at) as [number, number, number];
  const out = new Float32Array(places.length);
  for (let i = 0; i < places.length; i++) {
    const axis = i % 3;
    const at = size[axis]! > 0 ? (places[i]! - low[axis]!) / size[axis]! : 0.5;
    out[i] = axis === 2 ? (size[axis]! > 0 ? at : 0) : at - 0.5;
  }
  return { places: out, size };
}

/**
 * The same model with fewer triangles: corners that lie in one cell of a grid become one, at their middle, as coarse as it
 * takes to come to at most so many. What was thinner than a cell is gone.
 */
export function simplified(mesh: Mesh, most: number): Mesh {
  let [found, cells] = [mesh, FINEST_CELLS];
  while (found.index.length / 3 > most && cells >= 2) {
    found = clustered(mesh, cells);
    // A surface has as many cells as the square of how fine they are.
    const by = Math.sqrt((most * 3) / Math.max(1, found.index.length));
    cells = Math.floor(cells * Math.min(0.9, by * 0.97));
  }
  return found;
}
const FINEST_CELLS = 200;
/** Of so many corners, any three make a number of their own. */
const NUMBERED = 200_000;

function clustered({ places, colours, index }: Mesh, cells: number): Mesh {
  const corners = places.length / 3;
  const byCell = new Map<number, number>();
  const of = new Uint32Array(corners);
  const sums: number[][] = [];
  for (let i = 0; i < corners; i++) {
    const [x, y, z] = [0, 1, 2].map((axis) =>
      Math.min(cells - 1, Math.floor((places[i * 3 + axis]! + (axis === 2 ? 0 : 0.5)) * cells)),
    ) as [number, number, number];
    const key = (z * cells + y) * cells + x;
    let at = byCell.get(key);
    if (at === undefined) byCell.set(key, (at = sums.push([0, 0, 0, 0, 0, 0, 0]) - 1));
    of[i] = at;
    const sum = sums[at]!;
    for (let axis = 0; axis < 3; axis++) {
      sum[axis]! += places[i * 3 + axis]!;
      sum[axis + 3]! += colours[i * 4 + axis]!;
    }
    sum[6]!++;
  }
  const kept: number[] = [];
  const known = new Set<number>();
  for (let i = 0; i < index.length; i += 3) {
    const [a, b, c] = [of[index[i]!]!, of[index[i + 1]!]!, of[index[i + 2]!]!];
    if (a === b || b === c || a === c) continue;
    const low = Math.min(a, b, c);
    const high = Math.max(a, b, c);
    const key = (low * sums.length + (a + b + c - low - high)) * sums.length + high;
    if (sums.length <= NUMBERED && known.has(key)) continue;
    known.add(key);
    kept.push(a, b, c);
  }
  return {
    places: Float32Array.from(sums.flatMap((sum) => [0, 1, 2].map((axis) => sum[axis]! / sum[6]!))),
    colours: Uint8Array.from(sums.flatMap((sum) => [...[3, 4, 5].map((c) => Math.round(sum[c]! / sum[6]!)), 255])),
    index: Uint32Array.from(kept),
  };
}
