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
import { readBeams, type BeamSet } from '$core/room/beams.ts';
import type { RoomBox } from '$core/room/box.ts';
import { makePools, readPools, type PoolSet } from '$core/room/pools.ts';
import {
  BEAM_FRAGMENT,
  BEAM_TEXELS,
  BEAM_VERTEX,
  BEAMS_A_ROW,
  POOL_FRAGMENT,
  POOL_VERTEX,
  SHEET_SIDE,
} from './shaders.ts';
import { blankSheet } from './sheet.ts';
import { coneGeometry, drop, moving } from './shapes.ts';

const LENS_M = 0.06;
/** A lamp of a 25 degree beam lights a floor five metres away well. */
const POOL_LIGHT = 0.7;

type Parts = Readonly<Record<string, InstancedBufferAttribute>>;
type Many = Mesh<InstancedBufferGeometry>;

/** Many of one form, each with numbers of its own. */
function manyOf(form: BufferGeometry, material: ShaderMaterial, order: number, parts: Parts): Many {
  const geometry = new InstancedBufferGeometry();
  geometry.setAttribute('position', form.getAttribute('position'));
  geometry.setIndex(form.getIndex());
  for (const [name, part] of Object.entries(parts)) geometry.setAttribute(name, part);
  const mesh = new Mesh(geometry, material);
  mesh.frustumCulled = false;
  mesh.renderOrder = order;
  return mesh;
}

/** What all light is drawn from: the texture of beams and the sheet of pictures. */
export const makeLit = () => ({
  beams: { value: null as DataTexture | null },
  sheet: { value: blankSheet() as Texture },
});
export type LitBy = ReturnType<typeof makeLit>;

/** Beams in the haze, the pools they make and what bodies are lit by, as it is sent. */
export class Lights {
  readonly #set: BeamSet;
  readonly #pools: PoolSet;
  readonly #texture: DataTexture;
  readonly #cones: readonly Many[];
  readonly #spots: readonly Many[];
  /** Sent anew with every frame. */
  readonly #parts: Parts;

  constructor(scene: Scene, set: BeamSet, uniforms: Readonly<Record<string, IUniform>>, lit: LitBy) {
    this.#set = set;
    const rows = Math.max(1, Math.ceil(set.count / BEAMS_A_ROW));
    const width = BEAMS_A_ROW * BEAM_TEXELS;
    this.#texture = new DataTexture(new Float32Array(width * rows * 4), width, rows, RGBAFormat, FloatType);
    lit.beams.value = this.#texture;
    const pools = makePools(set);
    this.#pools = pools;
    const all = { ...uniforms, ...lit };
    this.#cones = [false, true].map((shaped) =>
      manyOf(coneGeometry(), lightMaterial(BEAM_VERTEX, BEAM_FRAGMENT, all, shaped), 2, {}),
    );
    const parts = (this.#parts = {
      poolAt: moving(pools.at, 3),
      poolAcross: moving(pools.across, 3),
      poolUp: moving(pools.up, 3),
      poolBeam: moving(pools.beam, 1),
    });
    this.#spots = [false, true].map((shaped) =>
      manyOf(new PlaneGeometry(2, 2), lightMaterial(POOL_VERTEX, POOL_FRAGMENT, all, shaped), 1, parts),
    );
    for (const cones of this.#cones) cones.geometry.instanceCount = set.count;
    scene.add(...this.#spots, ...this.#cones);
  }

  /** Light as it is sent now; `passedS` seconds after the last time. `calm`: nothing flashes. */
  read(frames: Frames, room: RoomBox, passedS: number, calm: boolean): void {
    readBeams(this.#set, frames, room, passedS, calm);
    readPools(this.#pools, this.#set, room);
    const shaped = this.#write();
    const { count } = this.#set;
    const pools = this.#pools.count;
    const some = [shaped < count, shaped > 0];
    for (const part of Object.values(this.#parts)) part.needsUpdate = true;
    this.#cones.forEach((cones, i) => (cones.visible = some[i]!));
    this.#spots.forEach((spots, i) => {
      spots.geometry.instanceCount = pools;
      spots.visible = pools > 0 && some[i]!;
    });
  }

  /** True where a unit is dark at this moment because it strobes. */
  isShut(place: number): boolean {
    return this.#set.shut[place] === 1;
  }

  /** Writes the beams into their texture; gives how many of them have something in them. */
  #write(): number {
    const set = this.#set;
    let shaped = 0;
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
      into[at + 31] = set.shaped[i]!;
      shaped += set.shaped[i]!;
    }
    this.#texture.needsUpdate = true;
    return shaped;
  }

  /** The beams, for whoever wants to know which of them meet what. */
  get beams(): BeamSet {
    return this.#set;
  }

  dispose(): void {
    this.#texture.dispose();
    for (const mesh of [...this.#cones, ...this.#spots]) drop(mesh);
  }
}

const lightMaterial = (
  vertexShader: string,
  fragmentShader: string,
  uniforms: Readonly<Record<string, IUniform>>,
  shaped: boolean,
): ShaderMaterial =>
  new ShaderMaterial({
    defines: shaped ? { SHAPED: '' } : {},
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
