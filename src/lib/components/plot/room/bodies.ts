import {
  BoxGeometry,
  Color,
  DynamicDrawUsage,
  InstancedInterleavedBuffer,
  InstancedMesh,
  InterleavedBufferAttribute,
  Matrix4,
  Mesh,
  Quaternion,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  type BufferGeometry,
  type Intersection,
  type IUniform,
  type Scene,
} from 'three';
import type { ThingId } from '$core/ids.ts';
import type { ThingRecord } from '$core/records/index.ts';
import { BEAMS_A_BODY, makeReached, type Reached } from '$core/room/reach.ts';
import { partsOfThing } from '$core/room/thing-parts.ts';
import { Models } from './models.ts';
import { MODEL_VERTEX, SOLID_FRAGMENT, SOLID_VERTEX } from './shaders.ts';
import { drop, moving, placed, toVector, upright } from './shapes.ts';

type Uniforms = Readonly<Record<string, IUniform>>;

/** A drawn body, or many of one form, with the beams that meet them. */
export interface Solid {
  readonly mesh: Mesh;
  readonly reached: Reached;
  /** Tells the graphics memory which beams those are now. */
  send(): void;
}

/** The ball around a box (or any form that fits it) of side 1 whose middle a matrix places. */
function ballOf(matrix: Matrix4, middle: Vector3, into: Float32Array, at: number): void {
  middle.clone().applyMatrix4(matrix).toArray(into, at);
  const [x, y, z] = [0, 4, 8].map((i) => Math.hypot(...matrix.elements.slice(i, i + 3))) as [number, number, number];
  into[at + 3] = Math.hypot(x, y, z) / 2;
}

/** Many bodies of one form, lit by ambient light and the beams that meet them. */
export function solids(
  geometry: BufferGeometry,
  bodies: readonly { readonly matrix: Matrix4; readonly colour: Color }[],
  uniforms: Uniforms,
): Solid {
  const material = new ShaderMaterial({ vertexShader: SOLID_VERTEX, fragmentShader: SOLID_FRAGMENT, uniforms });
  const mesh = new InstancedMesh(geometry, material, bodies.length);
  const balls = new Float32Array(bodies.length * 4);
  bodies.forEach(({ matrix, colour }, i) => {
    mesh.setMatrixAt(i, matrix);
    mesh.setColorAt(i, colour);
    ballOf(matrix, new Vector3(), balls, i * 4);
  });
  mesh.computeBoundingSphere();
  const reached = makeReached(balls);
  const beams = new InstancedInterleavedBuffer(reached.beams, BEAMS_A_BODY);
  const count = moving(new Float32Array(bodies.length * 2), 2);
  geometry
    .setAttribute('bodyBeamsA', new InterleavedBufferAttribute(beams, 4, 0))
    .setAttribute('bodyBeamsB', new InterleavedBufferAttribute(beams, 4, 4))
    .setAttribute('bodyCount', count);
  beams.setUsage(DynamicDrawUsage);
  const send = (): void => {
    beams.needsUpdate = true;
    for (let i = 0; i < bodies.length; i++) count.setXY(i, reached.shaped[i]!, reached.count[i]!);
    count.needsUpdate = true;
  };
  return { mesh, reached, send };
}

/** What stands in the room: plain bodies put together, and models that were brought in. */
export class ThingBodies {
  readonly #scene: Scene;
  readonly #uniforms: Uniforms;
  readonly #models: Models;
  readonly #solids: Solid[] = [];
  /** Which thing each body is of, by mesh. */
  readonly #ids = new Map<object, readonly ThingId[]>();
  #things: readonly ThingRecord[] = [];

  /** `changed`: it has to be drawn again, because a model has come. */
  constructor(scene: Scene, uniforms: Uniforms, changed: () => void) {
    this.#scene = scene;
    this.#uniforms = uniforms;
    this.#models = new Models(() => {
      this.set(this.#things);
      changed();
    });
  }

  get meshes(): readonly Mesh[] {
    return this.#solids.map(({ mesh }) => mesh);
  }
  get solids(): readonly Solid[] {
    return this.#solids;
  }

  /** The thing that a ray met. */
  idOf({ object, instanceId }: Intersection): ThingId | null {
    return this.#ids.get(object)?.[instanceId ?? 0] ?? null;
  }

  set(things: readonly ThingRecord[]): void {
    this.#clear();
    this.#things = things;
    const plain: ThingRecord[] = [];
    for (const thing of things) {
      const geometry = thing.model && this.#models.of(thing.model.blob);
      if (geometry) this.#addModel(thing, geometry);
      else plain.push(thing);
    }
    const bodies = plain.flatMap((thing) =>
      partsOfThing(thing).map((part) => ({
        id: thing.id,
        form: part.form,
        matrix: placed(thing.position, thing.rotation).multiply(
          new Matrix4().compose(toVector(part.at), new Quaternion(), toVector(part.size)),
        ),
        colour: new Color(thing.colour).multiplyScalar(part.shade),
      })),
    );
    for (const form of ['box', 'cylinder'] as const) {
      const own = bodies.filter((body) => body.form === form);
      if (own.length === 0) continue;
      const solid = solids(form === 'box' ? new BoxGeometry(1, 1, 1) : upright(), own, this.#uniforms);
      this.#add(
        solid,
        own.map(({ id }) => id),
      );
    }
  }

  #addModel(thing: ThingRecord, geometry: BufferGeometry): void {
    const own = {
      tint: { value: new Color(thing.colour) },
      bodyBeamsA: { value: new Vector4() },
      bodyBeamsB: { value: new Vector4() },
      bodyCount: { value: new Vector2() },
    };
    const material = new ShaderMaterial({
      vertexShader: MODEL_VERTEX,
      fragmentShader: SOLID_FRAGMENT,
      uniforms: { ...this.#uniforms, ...own },
    });
    const mesh = new Mesh(geometry, material);
    const { widthM, depthM, heightM } = thing.size;
    const matrix = placed(thing.position, thing.rotation).scale(new Vector3(widthM, depthM, heightM));
    mesh.applyMatrix4(matrix);
    const ball = new Float32Array(4);
    // Its middle is half its height above its foot.
    ballOf(matrix, new Vector3(0, 0, 0.5), ball, 0);
    const reached = makeReached(ball);
    const send = (): void => {
      own.bodyBeamsA.value.fromArray(reached.beams, 0);
      own.bodyBeamsB.value.fromArray(reached.beams, 4);
      own.bodyCount.value.set(reached.shaped[0]!, reached.count[0]!);
    };
    this.#add({ mesh, reached, send }, [thing.id]);
  }

  #add(solid: Solid, ids: readonly ThingId[]): void {
    this.#solids.push(solid);
    this.#ids.set(solid.mesh, ids);
    this.#scene.add(solid.mesh);
  }

  #clear(): void {
    for (const { mesh } of this.#solids.splice(0)) drop(mesh, !this.#models.has(mesh.geometry));
    this.#ids.clear();
  }

  dispose(): void {
    this.#clear();
    this.#models.dispose();
  }
}
