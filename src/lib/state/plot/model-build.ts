import {
  Color,
  Matrix4,
  Vector3,
  type BufferAttribute,
  type BufferGeometry,
  type Material,
  type Mesh as Body,
  type Object3D,
} from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { FaultError } from '$core/faults.ts';
import { boxed, simplified, writeMesh, type Mesh } from '$core/format/mesh.ts';
import { writeGlb } from '$core/format/glb.ts';
import { openModel, type GltfModel } from '$core/format/model-file.ts';
import { MODEL_TRIANGLES } from '$core/records/thing.ts';

/** A model made plain, in a worker: its triangles in one list with a colour at each corner, as it is kept. */
export interface BuiltModel {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** Across, deep and high, metres. */
  readonly size: readonly [number, number, number];
  readonly triangles: number;
  readonly of: number;
  /** It was so large in metres that its numbers were taken for millimetres. */
  readonly millimetres: boolean;
}

/** A texture is looked at this small: a corner takes the colour of what is around it. */
const TEXEL_SIDE = 128;
/** Nothing that is brought in without a unit is larger than this, metres. */
const LARGEST_M = 100;

type Texels = ImageData | null;
type Colouring = (material: Material | undefined) => { readonly plain: Color; readonly texels: Texels };

/** Throws FaultError as `openModel` does, and MODEL_BROKEN where it cannot be read. */
export async function buildModel(file: Uint8Array, name: string): Promise<BuiltModel> {
  const opened = openModel(file, name);
  const raw = opened.kind === 'gltf' ? await fromGltf(opened, name) : fromObj(opened.text, name);
  const whole = boxed(raw.places);
  const mesh = simplified({ ...raw, places: whole.places }, MODEL_TRIANGLES);
  const millimetres = opened.kind === 'obj' && Math.max(...whole.size) > LARGEST_M;
  const size = whole.size.map((side) => side * (millimetres ? 0.001 : 1)) as [number, number, number];
  return { bytes: writeMesh(mesh), size, triangles: mesh.index.length / 3, of: opened.triangles, millimetres };
}

const broken = (name: string, error: unknown): FaultError =>
  new FaultError({
    code: 'MODEL_BROKEN',
    path: name,
    message: `cannot be read: ${String((error as Error)?.message ?? error).slice(0, 160)}`,
    remedy: 'Export it again as glTF binary (.glb).',
  });

async function fromGltf({ glb, images, imageOf }: GltfModel, name: string): Promise<Mesh> {
  const texels = await Promise.all(images.map(readTexels));
  const loader = new GLTFLoader();
  const parsed = await loader.parseAsync(writeGlb(glb).buffer, '').catch((error: unknown) => {
    throw broken(name, error);
  });
  const colouring: Colouring = (material) => {
    const at = material ? parsed.parser.associations.get(material)?.materials : undefined;
    const plain = (material as { color?: Color } | undefined)?.color ?? new Color(1, 1, 1);
    return { plain, texels: (at === undefined ? null : texels[imageOf[at] ?? -1]) ?? null };
  };
  return gathered(parsed.scene, colouring, name);
}

function fromObj(text: string, name: string): Mesh {
  const bare = text.replace(/^(mtllib|usemtl).*$/gm, '');
  let scene: Object3D;
  try {
    scene = new OBJLoader().parse(bare);
  } catch (error) {
    throw broken(name, error);
  }
  return gathered(scene, () => ({ plain: new Color(1, 1, 1), texels: null }), name);
}

async function readTexels(bytes: Uint8Array): Promise<Texels> {
  const image = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>])).catch(() => null);
  if (!image) return null;
  const canvas = new OffscreenCanvas(TEXEL_SIDE, TEXEL_SIDE);
  const g = canvas.getContext('2d', { willReadFrequently: true })!;
  g.drawImage(image, 0, 0, TEXEL_SIDE, TEXEL_SIDE);
  image.close();
  return g.getImageData(0, 0, TEXEL_SIDE, TEXEL_SIDE);
}

/** Both kinds of file have y up and z to the viewer; ours has z up and y away. */
const UPRIGHT = new Matrix4().set(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1);

function gathered(scene: Object3D, colouring: Colouring, name: string): Mesh {
  scene.updateMatrixWorld(true);
  const bodies: Body[] = [];
  scene.traverse((part) => {
    if ((part as Body).isMesh && (part as Body).geometry.getAttribute('position')) bodies.push(part as Body);
  });
  const corners = bodies.reduce((sum, { geometry }) => sum + geometry.getAttribute('position').count, 0);
  const places = new Float32Array(corners * 3);
  const colours = new Uint8Array(corners * 4);
  const index: number[] = [];
  let first = 0;
  for (const body of bodies) {
    const { geometry } = body;
    const matrix = new Matrix4().multiplyMatrices(UPRIGHT, body.matrixWorld);
    const position = geometry.getAttribute('position');
    const at = new Vector3();
    for (let i = 0; i < position.count; i++) {
      at.fromBufferAttribute(position, i)
        .applyMatrix4(matrix)
        .toArray(places, (first + i) * 3);
    }
    paint(geometry, colouring([body.material].flat()[0]), colours, first);
    const own = geometry.getIndex();
    const count = own?.count ?? position.count;
    for (let i = 0; i + 2 < count; i += 3)
      for (let k = 0; k < 3; k++) index.push(first + (own ? own.getX(i + k) : i + k));
    first += position.count;
  }
  if (index.length === 0 || !places.every(Number.isFinite))
    throw broken(name, 'it has no triangles with sound corners');
  return { places, colours, index: Uint32Array.from(index) };
}

/** The colour of each corner, sRGB: that of its material, times its own, times what its texture has there. */
function paint(
  geometry: BufferGeometry,
  { plain, texels }: ReturnType<Colouring>,
  into: Uint8Array,
  first: number,
): void {
  const own = geometry.getAttribute('color') as BufferAttribute | undefined;
  const uv = geometry.getAttribute('uv') as BufferAttribute | undefined;
  const colour = new Color();
  const texel = new Color();
  const wrap = (at: number): number => Math.min(TEXEL_SIDE - 1, Math.floor((at - Math.floor(at)) * TEXEL_SIDE));
  for (let i = 0; i < geometry.getAttribute('position').count; i++) {
    colour.copy(plain);
    if (own) colour.multiply(texel.setRGB(own.getX(i), own.getY(i), own.getZ(i)));
    if (texels && uv) {
      const at = (wrap(uv.getY(i)) * TEXEL_SIDE + wrap(uv.getX(i))) * 4;
      const [r, g, b] = [texels.data[at]!, texels.data[at + 1]!, texels.data[at + 2]!];
      colour.multiply(texel.setRGB(r / 255, g / 255, b / 255, 'srgb'));
    }
    const shown = colour.clone().convertLinearToSRGB();
    into.set(
      [shown.r, shown.g, shown.b].map((v) => Math.max(0, Math.min(255, Math.round(v * 255)))),
      (first + i) * 4,
    );
    into[(first + i) * 4 + 3] = 255;
  }
}
