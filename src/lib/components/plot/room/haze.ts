import {
  BufferAttribute,
  BufferGeometry,
  DynamicDrawUsage,
  NormalBlending,
  Points,
  ShaderMaterial,
  type IUniform,
  type Scene,
} from 'three';
import { readActivity, type Frames } from '$core/patch/readout.ts';
import type { ReadBody } from '$core/plot/cell-colours.ts';
import { frontDirection } from '$core/plot/beam.ts';
import { HAZE_FRAGMENT, HAZE_VERTEX } from './shaders.ts';
import { drop } from './shapes.ts';

/** Puffs that are on their way up from one machine. */
const PUFFS = 36;
/** A machine that stops goes on thinning out for so long, seconds. */
const FADES_S = 4;

/** Haze and fog that rise from the machines that make them, by how much is asked of them. */
export class Haze {
  readonly #makers: readonly ReadBody[];
  readonly #puffs: BufferAttribute;
  readonly #points: Points;
  readonly #time = { value: 0 };
  readonly #thick: Float32Array;

  constructor(scene: Scene, read: readonly ReadBody[], uniforms: Readonly<Record<string, IUniform>>) {
    this.#makers = read.filter(({ body, reader }) => body.profile?.fixtureKind === 'hazer' && reader);
    this.#thick = new Float32Array(this.#makers.length);
    const count = this.#makers.length * PUFFS;
    const places = new Float32Array(count * 3);
    const puffs = new Float32Array(count * 4);
    this.#makers.forEach(({ body: { unit } }, maker) => {
      const front = frontDirection(unit);
      for (let i = 0; i < PUFFS; i++) {
        const at = maker * PUFFS + i;
        // Spread by the golden angle, so that no two go the same way.
        const angle = i * 2.39996;
        places.set([unit.position.x, unit.position.y, unit.position.z], at * 3);
        puffs.set([front.x + 0.5 * Math.cos(angle), front.y + 0.5 * Math.sin(angle), i / PUFFS, 0], at * 4);
      }
    });
    this.#puffs = new BufferAttribute(puffs, 4);
    this.#puffs.usage = DynamicDrawUsage;
    const geometry = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(places, 3))
      .setAttribute('puff', this.#puffs);
    this.#points = new Points(
      geometry,
      new ShaderMaterial({
        vertexShader: HAZE_VERTEX,
        fragmentShader: HAZE_FRAGMENT,
        uniforms: { ...uniforms, time: this.#time },
        transparent: true,
        depthWrite: false,
        blending: NormalBlending,
        premultipliedAlpha: true,
      }),
    );
    this.#points.frustumCulled = false;
    this.#points.renderOrder = 4;
    this.#points.visible = false;
    scene.add(this.#points);
  }

  /** True while it moves: it has to be drawn again though nothing else changes. */
  get rises(): boolean {
    return this.#points.visible;
  }

  read(frames: Frames, passedS: number): void {
    if (this.#makers.length === 0) return;
    this.#time.value += passedS;
    let most = 0;
    this.#makers.forEach(({ reader }, maker) => {
      const made = readActivity(reader!, frames);
      const thick = made + (Math.max(this.#thick[maker]!, made) - made) * Math.exp(-passedS / FADES_S);
      this.#thick[maker] = thick < 0.01 ? 0 : thick;
      most = Math.max(most, this.#thick[maker]!);
      for (let i = 0; i < PUFFS; i++) this.#puffs.setW(maker * PUFFS + i, this.#thick[maker]!);
    });
    this.#puffs.needsUpdate = true;
    this.#points.visible = most > 0;
  }

  dispose(): void {
    drop(this.#points);
  }
}
