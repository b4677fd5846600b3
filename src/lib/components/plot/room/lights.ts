import {
  AdditiveBlending,
  InstancedBufferGeometry,
  Mesh,
  PlaneGeometry,
  ShaderMaterial,
  Vector3,
  Vector4,
  type BufferGeometry,
  type InstancedBufferAttribute,
  type IUniform,
  type Scene,
} from 'three';
import type { Frames } from '$core/patch/readout.ts';
import { brightness, readBeams, type BeamSet } from '$core/room/beams.ts';
import type { RoomBox } from '$core/room/box.ts';
import { makePools, readPools, type PoolSet } from '$core/room/pools.ts';
import { BEAM_FRAGMENT, BEAM_VERTEX, LIT_BY, POOL_FRAGMENT, POOL_VERTEX } from './shaders.ts';
import { coneGeometry, drop, moving } from './shapes.ts';

const LENS_M = 0.06;
/** A lamp of a 25 degree beam lights a floor five metres away well. */
const POOL_LIGHT = 0.7;
/** A beam that is darker than this lights no body. */
const DARK = 0.01;

/** Many of one form, each with numbers of its own that are sent anew with every frame. */
interface Many {
  readonly mesh: Mesh<InstancedBufferGeometry>;
  readonly parts: Readonly<Record<string, InstancedBufferAttribute>>;
}

function manyOf(form: BufferGeometry, material: ShaderMaterial, order: number, parts: Many['parts']): Many {
  const geometry = new InstancedBufferGeometry();
  geometry.setAttribute('position', form.getAttribute('position'));
  geometry.setIndex(form.getIndex());
  for (const [name, part] of Object.entries(parts)) geometry.setAttribute(name, part);
  const mesh = new Mesh(geometry, material);
  mesh.frustumCulled = false;
  mesh.renderOrder = order;
  return { mesh, parts };
}
const numbers = (count: number, size: number): InstancedBufferAttribute => moving(new Float32Array(count * size), size);
const send = ({ parts }: Many): void => {
  for (const part of Object.values(parts)) part.needsUpdate = true;
};

/** What bodies and things are lit by, for their shader: the brightest beams. */
export const makeLit = () => ({
  litBy: { value: 0 },
  litFrom: { value: Array.from({ length: LIT_BY }, () => new Vector4()) },
  litAlong: { value: Array.from({ length: LIT_BY }, () => new Vector4()) },
  litLight: { value: Array.from({ length: LIT_BY }, () => new Vector3()) },
});
export type LitBy = ReturnType<typeof makeLit>;

/** Beams in the haze, the pools they make and what bodies are lit by, as it is sent. */
export class Lights {
  readonly #lit: LitBy;
  readonly #set: BeamSet;
  readonly #pools: PoolSet;
  readonly #cones: Many;
  readonly #spots: Many;

  constructor(scene: Scene, set: BeamSet, uniforms: Readonly<Record<string, IUniform>>, lit: LitBy) {
    this.#set = set;
    this.#lit = lit;
    const pools = makePools(set);
    this.#pools = pools;
    this.#cones = manyOf(coneGeometry(), lightMaterial(BEAM_VERTEX, BEAM_FRAGMENT, uniforms), 2, {
      beamFrom: moving(set.origin, 3),
      beamAlong: moving(set.direction, 3),
      beamLight: numbers(set.count, 3),
      beamShape: numbers(set.count, 4),
    });
    this.#spots = manyOf(new PlaneGeometry(2, 2), lightMaterial(POOL_VERTEX, POOL_FRAGMENT, uniforms), 1, {
      poolAt: moving(pools.at, 3),
      poolAcross: moving(pools.across, 3),
      poolUp: moving(pools.up, 3),
      beamFrom: numbers(pools.most, 3),
      beamAlong: numbers(pools.most, 3),
      beamLight: numbers(pools.most, 3),
      beamTan: numbers(pools.most, 2),
    });
    scene.add(this.#spots.mesh, this.#cones.mesh);
  }

  /** Light as it is sent now; `passedS` seconds after the last time. */
  read(frames: Frames, room: RoomBox, passedS: number): void {
    readBeams(this.#set, frames, room, passedS);
    readPools(this.#pools, this.#set, room);
    this.#lightHaze();
    this.#lightFaces();
    this.#lightBodies();
  }

  #lightHaze(): void {
    const { count, colour, share, inHaze, tanBeam, tanField, lengthM } = this.#set;
    const { beamLight, beamShape } = this.#cones.parts;
    const [light, shape] = [beamLight!.array, beamShape!.array];
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) light[i * 3 + c] = colour[i * 3 + c]! * share[i]! * inHaze[i]!;
      shape[i * 4] = tanBeam[i]!;
      shape[i * 4 + 1] = tanField[i]!;
      shape[i * 4 + 2] = lengthM[i]!;
      shape[i * 4 + 3] = LENS_M;
    }
    send(this.#cones);
  }

  #lightFaces(): void {
    const { count, beam: beams } = this.#pools;
    const { origin, direction, colour, intensity, tanBeam, tanField } = this.#set;
    const { beamFrom, beamAlong, beamLight, beamTan } = this.#spots.parts;
    for (let i = 0; i < count; i++) {
      const beam = beams[i]!;
      const strength = POOL_LIGHT * intensity[beam]!;
      for (let c = 0; c < 3; c++) {
        beamFrom!.array[i * 3 + c] = origin[beam * 3 + c]!;
        beamAlong!.array[i * 3 + c] = direction[beam * 3 + c]!;
        beamLight!.array[i * 3 + c] = colour[beam * 3 + c]! * strength;
      }
      beamTan!.array[i * 2] = tanBeam[beam]!;
      beamTan!.array[i * 2 + 1] = tanField[beam]!;
    }
    send(this.#spots);
    this.#spots.mesh.geometry.instanceCount = count;
    this.#spots.mesh.visible = count > 0;
  }

  #lightBodies(): void {
    const set = this.#set;
    const { origin, direction, colour, intensity, tanBeam, tanField } = set;
    const found: { beam: number; strength: number }[] = [];
    for (let beam = 0; beam < set.count; beam++) {
      const strength = brightness(set, beam) * intensity[beam]!;
      if (strength > DARK) found.push({ beam, strength });
    }
    const brightest = found.sort((a, b) => b.strength - a.strength).slice(0, LIT_BY);
    const { litBy, litFrom, litAlong, litLight } = this.#lit;
    litBy.value = brightest.length;
    brightest.forEach(({ beam }, i) => {
      const at = beam * 3;
      litFrom.value[i]!.fromArray(origin, at).setW(tanBeam[beam]!);
      litAlong.value[i]!.fromArray(direction, at).setW(tanField[beam]!);
      litLight.value[i]!.fromArray(colour, at).multiplyScalar(POOL_LIGHT * intensity[beam]!);
    });
  }

  dispose(): void {
    drop(this.#cones.mesh);
    drop(this.#spots.mesh);
  }
}

const lightMaterial = (
  vertexShader: string,
  fragmentShader: string,
  uniforms: Readonly<Record<string, IUniform>>,
): ShaderMaterial =>
  new ShaderMaterial({
    vertexShader,
    fragmentShader,
    uniforms,
    transparent: true,
    depthWrite: false,
    blending: AdditiveBlending,
    // A pool lies on its face.
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -4,
  });
