import {
  AdditiveBlending,
  DataTexture,
  FloatType,
  InstancedBufferGeometry,
  Mesh,
  PlaneGeometry,
  RGBAFormat,
  ShaderMaterial,
  type BufferGeometry,
  type InstancedBufferAttribute,
  type IUniform,
  type Scene,
  type Texture,
} from 'three';
import type { Frames } from '$core/patch/readout.ts';
import { brightness, readBeams, type BeamSet } from '$core/room/beams.ts';
import type { RoomBox } from '$core/room/box.ts';
import { makePools, readPools, type PoolSet } from '$core/room/pools.ts';
import {
  BEAM_FRAGMENT,
  BEAM_TEXELS,
  BEAM_VERTEX,
  BEAMS_A_ROW,
  LIT_BY,
  POOL_FRAGMENT,
  POOL_VERTEX,
  SHEET_SIDE,
} from './shaders.ts';
import { blankSheet } from './sheet.ts';
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
const send = ({ parts }: Many): void => {
  for (const part of Object.values(parts)) part.needsUpdate = true;
};

/** What all light is drawn from: the texture of beams, the sheet of pictures, and which beams light bodies and things. */
export const makeLit = () => ({
  beams: { value: null as DataTexture | null },
  sheet: { value: blankSheet() as Texture },
  litBy: { value: 0 },
  litBeams: { value: new Int32Array(LIT_BY) },
});
export type LitBy = ReturnType<typeof makeLit>;

/** Beams in the haze, the pools they make and what bodies are lit by, as it is sent. */
export class Lights {
  readonly #lit: LitBy;
  readonly #set: BeamSet;
  readonly #pools: PoolSet;
  readonly #texture: DataTexture;
  readonly #cones: Many;
  readonly #spots: Many;

  constructor(scene: Scene, set: BeamSet, uniforms: Readonly<Record<string, IUniform>>, lit: LitBy) {
    this.#set = set;
    this.#lit = lit;
    const rows = Math.max(1, Math.ceil(set.count / BEAMS_A_ROW));
    const width = BEAMS_A_ROW * BEAM_TEXELS;
    this.#texture = new DataTexture(new Float32Array(width * rows * 4), width, rows, RGBAFormat, FloatType);
    lit.beams.value = this.#texture;
    const pools = makePools(set);
    this.#pools = pools;
    const all = { ...uniforms, ...lit };
    this.#cones = manyOf(coneGeometry(), lightMaterial(BEAM_VERTEX, BEAM_FRAGMENT, all), 2, {});
    this.#cones.mesh.geometry.instanceCount = set.count;
    this.#cones.mesh.visible = set.count > 0;
    this.#spots = manyOf(new PlaneGeometry(2, 2), lightMaterial(POOL_VERTEX, POOL_FRAGMENT, all), 1, {
      poolAt: moving(pools.at, 3),
      poolAcross: moving(pools.across, 3),
      poolUp: moving(pools.up, 3),
      poolBeam: moving(pools.beam, 1),
    });
    scene.add(this.#spots.mesh, this.#cones.mesh);
  }

  /** Light as it is sent now; `passedS` seconds after the last time. `calm`: nothing flashes. */
  read(frames: Frames, room: RoomBox, passedS: number, calm: boolean): void {
    readBeams(this.#set, frames, room, passedS, calm);
    readPools(this.#pools, this.#set, room);
    this.#write();
    send(this.#spots);
    const { count } = this.#pools;
    this.#spots.mesh.geometry.instanceCount = count;
    this.#spots.mesh.visible = count > 0;
    this.#lightBodies();
  }

  /** True where a unit is dark at this moment because it strobes. */
  isShut(place: number): boolean {
    return this.#set.shut[place] === 1;
  }

  #write(): void {
    const set = this.#set;
    const into = this.#texture.image.data as Float32Array;
    for (let i = 0, at = 0; i < set.count; i++, at += BEAM_TEXELS * 4) {
      const strength = POOL_LIGHT * set.intensity[i]!;
      for (let c = 0; c < 3; c++) {
        const three = i * 3 + c;
        into[at + c] = set.origin[three]!;
        into[at + 4 + c] = set.direction[three]!;
        into[at + 8 + c] = set.colour[three]! * strength;
        into[at + 12 + c] = set.colour2[three]! * strength;
        into[at + 16 + c] = set.across[three]!;
      }
      into[at + 3] = set.inner[i]!;
      into[at + 7] = set.outer[i]!;
      into[at + 11] = set.split[i]!;
      into[at + 15] = (set.picture[i]! < SHEET_SIDE ** 2 ? set.picture[i]! + 1 : 0) + set.blur[i]! * 0.99;
      into[at + 19] = set.turn[i]!;
      for (let b = 0; b < 8; b++) into[at + 20 + b] = set.blades[i * 8 + b]!;
      into[at + 28] = (set.share[i]! * set.inHaze[i]!) / strength;
      into[at + 29] = set.lengthM[i]!;
      into[at + 30] = LENS_M;
    }
    this.#texture.needsUpdate = true;
  }

  #lightBodies(): void {
    const set = this.#set;
    const found: { beam: number; strength: number }[] = [];
    for (let beam = 0; beam < set.count; beam++) {
      const strength = brightness(set, beam) * set.intensity[beam]!;
      if (strength > DARK) found.push({ beam, strength });
    }
    const brightest = found.sort((a, b) => b.strength - a.strength).slice(0, LIT_BY);
    this.#lit.litBy.value = brightest.length;
    brightest.forEach(({ beam }, i) => (this.#lit.litBeams.value[i] = beam));
  }

  dispose(): void {
    this.#texture.dispose();
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
