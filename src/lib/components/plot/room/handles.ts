import {
  BufferAttribute,
  BufferGeometry,
  Color,
  LineBasicMaterial,
  LineSegments,
  Points,
  PointsMaterial,
  type PerspectiveCamera,
  type Scene,
} from 'three';
import type { Place3 } from '$core/plot/paper.ts';
import type { Standing } from '$core/plot/rotation.ts';
import { plus, times } from '$core/plot/vector.ts';
import { around, axisOf, type Handle, type TurnHandle } from '$core/room/moving.ts';
import { drop } from './shapes.ts';

/** Rings to turn with and a mast to lift with, round what was chosen; as large on the screen however far it is. */

const RING_STEPS = 48;
/** A ring's radius by how far it is from the eye, and the mast above it. */
const [RING, MAST] = [0.075, 0.13];
/** So near, in pixels, a pointer takes a handle. */
export const REACH_PX = 14;
/** Each has a dash of its own besides its colour: whole, every second, every third step. */
const RINGS: readonly (readonly [TurnHandle, colour: number, every: number])[] = [
  ['turn', 0xffb347, 1],
  ['lean', 0x6fd3ff, 2],
  ['roll', 0xc9a2ff, 3],
];
/** Brighter than white, so that light does not drown them. */
const BRIGHT = 5;

export class Handles {
  readonly #scene: Scene;
  #lines: LineSegments | null = null;
  #knob: Points | null = null;
  #of: Standing | null = null;
  #size = 0;
  /** Places that a pointer can take, by handle. */
  #places: readonly (readonly [Handle, readonly Place3[]])[] = [];

  constructor(scene: Scene) {
    this.#scene = scene;
  }

  /** Puts them round what stands there; away for null. */
  set(standing: Standing | null): void {
    if (standing === this.#of) return;
    this.#of = standing;
    this.#size = 0;
    if (!standing) this.#clear();
  }

  get places(): readonly (readonly [Handle, readonly Place3[]])[] {
    return this.#of ? this.#places : [];
  }

  /** Draws them anew where they have another size or place, before each picture; says whether it did. */
  place(camera: PerspectiveCamera): boolean {
    if (!this.#of) return false;
    const { position } = this.#of;
    const far = Math.hypot(
      camera.position.x - position.x,
      camera.position.y - position.y,
      camera.position.z - position.z,
    );
    if (Math.abs(far - this.#size) < far * 0.01) return false;
    this.#size = far;
    this.#draw(this.#of, far);
    return true;
  }

  #draw(of: Standing, far: number): void {
    this.#clear();
    const lines: number[] = [];
    const colours: number[] = [];
    const segment = (a: Place3, b: Place3, colour: Color): void => {
      lines.push(a.x, a.y, a.z, b.x, b.y, b.z);
      for (let i = 0; i < 2; i++) colours.push(colour.r, colour.g, colour.b);
    };
    const places: (readonly [Handle, readonly Place3[]])[] = [];
    for (const [handle, hex, every] of RINGS) {
      const ring = ringOf(of, handle, RING * far);
      const colour = new Color(hex).multiplyScalar(BRIGHT);
      ring.forEach((at, i) => {
        if (i % every === 0) segment(at, ring[(i + 1) % RING_STEPS]!, colour);
      });
      places.push([handle, ring]);
    }
    const top = plus(of.position, { x: 0, y: 0, z: MAST * far });
    segment(of.position, top, new Color(0xffffff).multiplyScalar(BRIGHT));
    places.push(['height', [top]]);
    this.#places = places;
    const geometry = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(new Float32Array(lines), 3))
      .setAttribute('color', new BufferAttribute(new Float32Array(colours), 3));
    this.#lines = new LineSegments(
      geometry,
      new LineBasicMaterial({ vertexColors: true, depthTest: false, transparent: true }),
    );
    const knob = new BufferGeometry().setAttribute(
      'position',
      new BufferAttribute(Float32Array.of(top.x, top.y, top.z), 3),
    );
    this.#knob = new Points(
      knob,
      new PointsMaterial({
        color: new Color(0xffffff).multiplyScalar(BRIGHT),
        size: 11,
        sizeAttenuation: false,
        depthTest: false,
        transparent: true,
      }),
    );
    this.#lines.renderOrder = this.#knob.renderOrder = 11;
    this.#lines.frustumCulled = this.#knob.frustumCulled = false;
    this.#scene.add(this.#lines, this.#knob);
  }

  #clear(): void {
    drop(this.#lines);
    drop(this.#knob);
    this.#lines = this.#knob = null;
  }

  dispose(): void {
    this.#clear();
  }
}

function ringOf(of: Standing, handle: TurnHandle, radius: number): Place3[] {
  const [one, other] = around(axisOf(of, handle));
  return Array.from({ length: RING_STEPS }, (_, i) => {
    const a = (i / RING_STEPS) * 2 * Math.PI;
    return plus(of.position, plus(times(one, Math.cos(a) * radius), times(other, Math.sin(a) * radius)));
  });
}
