import {
  BoxGeometry,
  Color,
  InstancedMesh,
  Matrix4,
  Mesh,
  Quaternion,
  ShaderMaterial,
  Vector3,
  type BufferGeometry,
  type Intersection,
  type IUniform,
  type Scene,
} from 'three';
import type { ThingId } from '$core/ids.ts';
import type { ThingRecord } from '$core/records/index.ts';
import { partsOfThing } from '$core/room/thing-parts.ts';
import { Models } from './models.ts';
import { MODEL_VERTEX, SOLID_FRAGMENT, SOLID_VERTEX } from './shaders.ts';
import { drop, placed, toVector, upright } from './shapes.ts';

type Uniforms = Readonly<Record<string, IUniform>>;

/** Many bodies of one form, lit by ambient light and the brightest beams. */
export function solids(
  geometry: BufferGeometry,
  bodies: readonly { readonly matrix: Matrix4; readonly colour: Color }[],
  uniforms: Uniforms,
): InstancedMesh {
  const material = new ShaderMaterial({ vertexShader: SOLID_VERTEX, fragmentShader: SOLID_FRAGMENT, uniforms });
  const mesh = new InstancedMesh(geometry, material, bodies.length);
  bodies.forEach(({ matrix, colour }, i) => {
    mesh.setMatrixAt(i, matrix);
    mesh.setColorAt(i, colour);
  });
  mesh.computeBoundingSphere();
  return mesh;
}

/** What stands in the room: plain bodies put together, and models that were brought in. */
export class ThingBodies {
  readonly #scene: Scene;
  readonly #uniforms: Uniforms;
  readonly #models: Models;
  readonly #meshes: Mesh[] = [];
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
    return this.#meshes;
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
      const mesh = solids(form === 'box' ? new BoxGeometry(1, 1, 1) : upright(), own, this.#uniforms);
      this.#add(
        mesh,
        own.map(({ id }) => id),
      );
    }
  }

  #addModel(thing: ThingRecord, geometry: BufferGeometry): void {
    const material = new ShaderMaterial({
      vertexShader: MODEL_VERTEX,
      fragmentShader: SOLID_FRAGMENT,
      uniforms: { ...this.#uniforms, tint: { value: new Color(thing.colour) } },
    });
    const mesh = new Mesh(geometry, material);
    const { widthM, depthM, heightM } = thing.size;
    mesh.applyMatrix4(placed(thing.position, thing.rotation).scale(new Vector3(widthM, depthM, heightM)));
    this.#add(mesh, [thing.id]);
  }

  #add(mesh: Mesh, ids: readonly ThingId[]): void {
    this.#meshes.push(mesh);
    this.#ids.set(mesh, ids);
    this.#scene.add(mesh);
  }

  #clear(): void {
    for (const mesh of this.#meshes.splice(0)) drop(mesh, !this.#models.has(mesh.geometry));
    this.#ids.clear();
  }

  dispose(): void {
    this.#clear();
    this.#models.dispose();
  }
}
