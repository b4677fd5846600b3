import { z } from 'zod';
import { FaultError, faultsFromZod } from '../faults.ts';
import { imageSize } from './image-size.ts';
import { isGlb, parseJson, readGlb, type Glb } from './glb.ts';

/**
 * Models of things as people have them: glTF 2.0 (as one binary file, or as JSON with everything in it) and OBJ. They are
 * looked over before anything reads them: how large, how many triangles, which textures; what lies outside of the file
 * is never fetched.
 */
export const MODEL_FILE_BYTES = 48 * 1024 * 1024;
export const FILE_TRIANGLES = 2_000_000;
/** Most entries of one list of numbers. */
const MOST_NUMBERS = 3 * FILE_TRIANGLES;
const [MOST_NODES, DEEPEST] = [20_000, 64];
const [TEXTURE_SIDE, MOST_TEXTURES] = [4096, 64];
/** Packings that need programs of their own to be read. */
const PACKED = /draco|meshopt|basisu|webp_astc/i;

/** A glTF model with all its bytes in one buffer, its images taken out: their bytes stand by their number. */
export interface GltfModel {
  readonly kind: 'gltf';
  readonly glb: Glb;
  readonly images: readonly Uint8Array[];
  /** Of each material, which image colours it; -1 for none. */
  readonly imageOf: readonly number[];
  readonly triangles: number;
}
export interface ObjModel {
  readonly kind: 'obj';
  readonly text: string;
  readonly triangles: number;
}

const index = z.int().min(0);
const fileSchema = z.looseObject({
  asset: z.looseObject({ version: z.string() }),
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: index })).default([]),
  bufferViews: z.array(z.looseObject({ buffer: index, byteOffset: index.default(0), byteLength: index })).default([]),
  images: z.array(z.looseObject({ uri: z.string().optional(), bufferView: index.optional() })).default([]),
  textures: z.array(z.looseObject({ source: index.optional() })).default([]),
  materials: z
    .array(
      z.looseObject({
        pbrMetallicRoughness: z.looseObject({ baseColorTexture: z.looseObject({ index }).optional() }).optional(),
      }),
    )
    .default([]),
  accessors: z.array(z.looseObject({ count: index.max(MOST_NUMBERS, `at most ${MOST_NUMBERS}`) })).default([]),
  meshes: z
    .array(
      z.looseObject({
        primitives: z.array(
          z.looseObject({ attributes: z.record(z.string(), index), indices: index.optional(), mode: index.default(4) }),
        ),
      }),
    )
    .default([]),
  nodes: z.array(z.looseObject({ mesh: index.optional(), children: z.array(index).default([]) })).default([]),
  scenes: z.array(z.looseObject({ nodes: z.array(index).default([]) })).default([]),
  scene: index.optional(),
  extensionsRequired: z.array(z.string()).default([]),
});
type File = z.infer<typeof fileSchema>;

function refuse(code: string, path: string, message: string, received: unknown, remedy: string): never {
  throw new FaultError({ code, path, message, received, remedy });
}

/**
 * Looks a file over. Throws FaultError: MODEL_TOO_LARGE, MODEL_BROKEN, MODEL_EXTERNAL, MODEL_TRIANGLES, MODEL_TEXTURE,
 * MODEL_PACKED, MODEL_EMPTY, MODEL_KIND.
 */
export function openModel(bytes: Uint8Array, name: string): GltfModel | ObjModel {
  if (bytes.length > MODEL_FILE_BYTES)
    refuse(
      'MODEL_TOO_LARGE',
      name,
      `has ${mega(bytes.length)}`,
      bytes.length,
      `Give one below ${mega(MODEL_FILE_BYTES)}.`,
    );
  if (isGlb(bytes)) return openGltf(readGlb(bytes, name), name);
  const kind = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase();
  if (kind === 'gltf') return openGltf({ json: parseJson(decoded(bytes), name), bin: new Uint8Array(0) }, name);
  if (kind === 'obj') return openObj(decoded(bytes), name);
  return refuse('MODEL_KIND', name, `“.${kind ?? ''}” is not taken`, kind ?? null, 'Give a .glb, .gltf or .obj file.');
}

const decoded = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const mega = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MiB`;

function openGltf({ json, bin }: Glb, name: string): GltfModel {
  const parsed = fileSchema.safeParse(json);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, json, name).slice(0, 5));
  const file = parsed.data;
  const packed = file.extensionsRequired.find((extension) => PACKED.test(extension));
  if (packed) refuse('MODEL_PACKED', name, `is packed with ${packed}`, packed, 'Export it without compression.');
  const triangles = trianglesOf(file, name);
  const joined = joinBuffers(file, bin, name);
  const images = file.images.map((image, i) => imageOf(joined, image, `${name} images[${i}]`));
  return {
    kind: 'gltf',
    glb: { json: withoutImages(json as object, joined.file), bin: joined.bin },
    images,
    imageOf: file.materials.map(({ pbrMetallicRoughness: pbr }) => {
      const texture = pbr?.baseColorTexture ? file.textures[pbr.baseColorTexture.index] : undefined;
      return texture?.source !== undefined && texture.source < images.length ? texture.source : -1;
    }),
    triangles,
  };
}

/** Triangles of all that is in the scene: a mesh that stands in it twice counts twice. */
function trianglesOf(file: File, name: string): number {
  const own = file.meshes.map(({ primitives }) =>
    primitives.reduce((sum, { attributes, indices, mode }) => {
      const at = indices ?? attributes['POSITION'];
      const count = at === undefined ? 0 : (file.accessors[at]?.count ?? 0);
      return sum + (mode === 4 ? Math.floor(count / 3) : mode > 4 ? Math.max(0, count - 2) : 0);
    }, 0),
  );
  const scene = file.scenes[file.scene ?? 0];
  let [nodes, triangles] = [0, 0];
  const visit = (at: number, depth: number): void => {
    const node = file.nodes[at];
    if (!node) return;
    if (++nodes > MOST_NODES || depth > DEEPEST)
      refuse(
        'MODEL_BROKEN',
        name,
        'its parts hold one another, or are far too many',
        nodes,
        'Export it again, flattened.',
      );
    triangles += node.mesh === undefined ? 0 : (own[node.mesh] ?? 0);
    if (triangles > FILE_TRIANGLES) tooMany(name, triangles);
    for (const child of node.children) visit(child, depth + 1);
  };
  for (const root of scene?.nodes ?? file.nodes.map((_, i) => i)) visit(root, 0);
  if (triangles === 0)
    refuse('MODEL_EMPTY', name, 'holds no triangles', 0, 'Export the object itself, not only its lights.');
  return triangles;
}

const tooMany = (name: string, triangles: number): never =>
  refuse(
    'MODEL_TRIANGLES',
    name,
    `has more than ${FILE_TRIANGLES} triangles`,
    triangles,
    'Make it simpler in the program it comes from.',
  );

interface Joined {
  readonly file: File;
  readonly bin: Uint8Array;
}

/** All buffers in one. What lies outside of the file is refused by its name. */
function joinBuffers(file: File, bin: Uint8Array, name: string): Joined {
  const parts = file.buffers.map(({ uri, byteLength }, i) => {
    const part = uri === undefined ? (i === 0 ? bin : new Uint8Array(0)) : embedded(uri, `${name} buffers[${i}]`);
    if (part.length < byteLength)
      refuse(
        'MODEL_BROKEN',
        `${name} buffers[${i}]`,
        `${byteLength - part.length} bytes are missing`,
        part.length,
        'Export it again.',
      );
    return part;
  });
  // Each begins at a place that any number can stand at.
  const starts: number[] = [];
  let total = 0;
  for (const part of parts) {
    starts.push(total);
    total += Math.ceil(part.length / 8) * 8;
  }
  if (total > 2 * MODEL_FILE_BYTES)
    refuse('MODEL_TOO_LARGE', name, `unpacks to ${mega(total)}`, total, 'Make it simpler.');
  const all = new Uint8Array(total);
  parts.forEach((part, i) => all.set(part, starts[i]));
  const bufferViews = file.bufferViews.map((view, i) => {
    const part = parts[view.buffer];
    if (!part || view.byteOffset + view.byteLength > part.length)
      refuse(
        'MODEL_BROKEN',
        `${name} bufferViews[${i}]`,
        'reaches past its buffer',
        view.byteLength,
        'Export it again.',
      );
    return { ...view, buffer: 0, byteOffset: view.byteOffset + starts[view.buffer]! };
  });
  return { file: { ...file, bufferViews, buffers: [{ byteLength: total }] }, bin: all };
}

/** Bytes of an address that holds them itself (RFC 2397). */
function embedded(uri: string, path: string): Uint8Array {
  const data = /^data:[^,]*;base64,/.exec(uri.slice(0, 200));
  if (!data)
    return refuse(
      'MODEL_EXTERNAL',
      path,
      'lies in another file, and nothing outside of the file is loaded',
      uri.slice(0, 80),
      'Export it with everything embedded, as .glb.',
    );
  try {
    return Uint8Array.from(atob(uri.slice(data[0].length)), (c) => c.charCodeAt(0));
  } catch {
    return refuse('MODEL_BROKEN', path, 'is no base64', uri.slice(0, 80), 'Export it again.');
  }
}

function imageOf({ file, bin }: Joined, { uri, bufferView }: File['images'][number], path: string): Uint8Array {
  const view = bufferView === undefined ? undefined : file.bufferViews[bufferView];
  const bytes =
    uri !== undefined
      ? embedded(uri, path)
      : view
        ? bin.subarray(view.byteOffset, view.byteOffset + view.byteLength)
        : null;
  const number = Number(/\[(\d+)\]$/.exec(path)?.[1]);
  if (number >= MOST_TEXTURES)
    refuse(
      'MODEL_TEXTURE',
      path,
      `is more than the ${MOST_TEXTURES} textures that are read`,
      number + 1,
      'Export it with fewer.',
    );
  const size = bytes && imageSize(bytes.subarray(0, 256 * 1024));
  if (!bytes || !size)
    return refuse(
      'MODEL_TEXTURE',
      path,
      'is no PNG, JPEG or WebP picture',
      bytes?.length ?? null,
      'Export it with PNG textures.',
    );
  if (size.width > TEXTURE_SIDE || size.height > TEXTURE_SIDE)
    refuse(
      'MODEL_TEXTURE',
      path,
      `has ${size.width} x ${size.height} pixels`,
      `${size.width} x ${size.height}`,
      `Make its textures at most ${TEXTURE_SIDE} pixels wide and high.`,
    );
  return bytes;
}

/** The file without its pictures: whoever builds triangles of it has nothing to fetch. */
function withoutImages(json: object, { bufferViews, buffers }: File): unknown {
  const { images: _, textures: __, samplers: ___, materials, ...rest } = json as Record<string, unknown>;
  const plain = (materials as Record<string, unknown>[] | undefined)?.map((material) => {
    const pbr = material['pbrMetallicRoughness'] as Record<string, unknown> | undefined;
    return {
      name: material['name'],
      pbrMetallicRoughness: { baseColorFactor: pbr?.['baseColorFactor'] ?? [1, 1, 1, 1] },
    };
  });
  return {
    ...rest,
    bufferViews,
    buffers,
    ...(plain ? { materials: plain } : {}),
    extensionsUsed: [],
    extensionsRequired: [],
    animations: [],
  };
}

function openObj(text: string, name: string): ObjModel {
  let triangles = 0;
  let corners = 0;
  for (let at = 0, line = 1; at < text.length; line++) {
    const end = text.indexOf('\n', at);
    const row = text.slice(at, end < 0 ? text.length : end).trim();
    at = end < 0 ? text.length : end + 1;
    if (row.startsWith('v ')) {
      corners++;
      if (
        !row
          .split(/\s+/)
          .slice(1, 4)
          .every((n) => n !== '' && Number.isFinite(Number(n))) ||
        row.split(/\s+/).length < 4
      )
        refuse(
          'MODEL_BROKEN',
          `${name} line ${line}`,
          'is no corner of three numbers',
          row.slice(0, 60),
          'Export it again.',
        );
    } else if (row.startsWith('f ')) {
      const ends = row.split(/\s+/).slice(1);
      triangles += Math.max(0, ends.length - 2);
      if (triangles > FILE_TRIANGLES) tooMany(name, triangles);
      for (const end of ends) {
        const corner = Number(end.split('/')[0]);
        if (!Number.isInteger(corner) || corner === 0 || corner > corners || corner < -corners)
          refuse(
            'MODEL_BROKEN',
            `${name} line ${line}`,
            `has a corner that is not there: ${end.slice(0, 20)}`,
            end.slice(0, 40),
            'Export it again.',
          );
      }
    }
  }
  if (triangles === 0) refuse('MODEL_EMPTY', name, 'holds no triangles', 0, 'Export the object as a mesh.');
  return { kind: 'obj', text, triangles };
}
