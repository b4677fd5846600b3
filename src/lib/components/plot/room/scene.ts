import {
  AdditiveBlending,
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  Color,
  EdgesGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PerspectiveCamera,
  PlaneGeometry,
  Points,
  Raycaster,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  WebGLRenderer,
  BackSide,
  DynamicDrawUsage,
  type Intersection,
  type IUniform,
  type Ray as ThreeRay,
} from 'three';
import type { ThingId, UnitId } from '$core/ids.ts';
import type { Volume } from '$core/aim/keep-out.ts';
import type { Frames } from '$core/patch/readout.ts';
import { makeBatch, makeLenses, readColours, type DotBatch, type ReadBody } from '$core/plot/cell-colours.ts';
import type { Place3 } from '$core/plot/paper.ts';
import type { Standing } from '$core/plot/rotation.ts';
import type { ThingRecord } from '$core/records/index.ts';
import { readReached } from '$core/room/reach.ts';
import type { Handle, Ray } from '$core/room/moving.ts';
import { USUAL_ROOM } from '$core/records/show.ts';
import type { BeamPicture } from '$core/room/beam-unit.ts';
import { carryOn, type BeamSet } from '$core/room/beams.ts';
import { along, FAR_M, hitOf, type RoomBox } from '$core/room/box.ts';
import { HALF_SIGHT, type Viewpoint } from '$core/room/viewpoints.ts';
import { Film } from './film.ts';
import { Haze } from './haze.ts';
import { Handles } from './handles.ts';
import { Lights, makeLit } from './lights.ts';
import { DOT_FRAGMENT, DOT_VERTEX, LENS_FRAGMENT } from './shaders.ts';
import { keepOutLines } from './keep-outs.ts';
import { drawSheet } from './sheet.ts';
import { drop, empty, matrixOf, metres, shaded } from './shapes.ts';
import { solids, ThingBodies, type Solid } from './bodies.ts';

/** What a person sets for this browser: how bright the room is without light, exposure and haze, 0-1 each. */
export interface Seeing {
  readonly ambient: number;
  readonly exposure: number;
  readonly haze: number;
}

const DOT_M = 0.05;
/** The halo of a lamp, and how far its lens is in front of its middle. */
const HALO_M = 0.8;
const LENS_PULL_M = 0.35;
/** Cases of units are dark grey. */
const CASE = 0x59616f;
const SELECTED = 0xffb347;
/** Marks are this much brighter than white, so that light does not drown them. */
const MARKED = 6;

/** Cells or lenses as they are drawn; `beaming`: of each lens, which of the units with beams it is of (-1 for none). */
interface Drawn {
  readonly batch: DotBatch;
  readonly points: Points;
  readonly light: BufferAttribute;
  readonly beaming: readonly number[];
}
/** A lens without light. */
const DARK = 0xff000000;

/** The room drawn: surfaces and bodies in ambient light, and over them light that is sent. Knows nothing of channels. */
export class RoomScene {
  readonly camera = new PerspectiveCamera((HALF_SIGHT * 2 * 180) / Math.PI, 1.6, 0.1, 2000);
  readonly #renderer: WebGLRenderer;
  readonly #film: Film;
  /** Says when the last picture is there. */
  #fence: WebGLSync | null = null;
  readonly #scene = new Scene();
  readonly #handles = new Handles(this.#scene);
  readonly #surfaces = new Group();
  readonly #uniforms: Record<'haze' | 'exposure' | 'ambient' | 'perMetre' | 'least', IUniform<number>> = {
    haze: { value: 0.5 },
    exposure: { value: 1 },
    ambient: { value: 0.2 },
    perMetre: { value: 1000 },
    least: { value: 2 },
  };
  readonly #ends = { low: { value: new Vector3() }, high: { value: new Vector3() } };
  readonly #lit = makeLit();
  readonly #things: ThingBodies;
  #room: RoomBox = USUAL_ROOM;
  #walls: MeshBasicMaterial | null = null;
  #ids: readonly UnitId[] = [];
  #bodies: Solid | null = null;
  #marks: LineSegments | null = null;
  #keepOuts: LineSegments | null = null;
  #lights: Lights | null = null;
  #haze: Haze | null = null;
  #pictures: readonly BeamPicture[] = [];
  readonly #dots: Drawn[] = [];

  readonly #changed: () => void;

  /** `changed`: a picture has come that was not there before. Throws where the browser has no WebGL. */
  constructor(canvas: HTMLCanvasElement, changed: () => void) {
    this.#changed = changed;
    this.#things = new ThingBodies(this.#scene, { ...this.#uniforms, ...this.#lit }, changed);
    if (!document.createElement('canvas').getContext('webgl2')) throw new Error('no WebGL');
    this.#renderer = new WebGLRenderer({ canvas, antialias: false, powerPreference: 'high-performance' });
    this.#film = new Film(this.#renderer, this.#uniforms.exposure);
    this.#renderer.setClearColor(0x020304);
    this.camera.up.set(0, 0, 1);
    this.#scene.add(this.#surfaces);
  }

  /** `share`: how many points are drawn for those of the screen, across. */
  resize(width: number, height: number, screenRatio: number, share: number): void {
    const ratio = screenRatio * share;
    this.#renderer.setPixelRatio(ratio);
    this.#renderer.setSize(width, height, false);
    this.#film.resize(width * ratio, height * ratio);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    this.#uniforms.perMetre.value = (height * ratio) / 2 / Math.tan(HALF_SIGHT);
    this.#uniforms.least.value = Math.max(1.5, 2 * ratio);
  }

  see({ ambient, exposure, haze }: Seeing): void {
    this.#uniforms.ambient.value = ambient;
    this.#uniforms.exposure.value = 2 ** ((exposure - 0.5) * 6);
    this.#uniforms.haze.value = haze * 1.8;
    this.#shade();
  }

  lookFrom({ eye, target }: Viewpoint): void {
    this.camera.position.set(eye.x, eye.y, eye.z);
    this.camera.lookAt(target.x, target.y, target.z);
  }

  /** Floor, and walls and ceiling seen from inside where it is `closed`. */
  setRoom(room: RoomBox, closed: boolean): void {
    this.#room = room;
    empty(this.#surfaces);
    const { widthM, depthM, heightM } = room;
    const far = closed ? 0 : FAR_M;
    this.#ends.low.value.set(-widthM / 2 - far, -depthM / 2 - far, -0.01);
    this.#ends.high.value.set(widthM / 2 + far, depthM / 2 + far, heightM + far);
    if (closed) {
      this.#walls = new MeshBasicMaterial({ vertexColors: true, side: BackSide });
      const walls = new Mesh(
        shaded(new BoxGeometry(widthM, depthM, heightM), [0.8, 0.8, 0.9, 0.7, 0.5, 1]),
        this.#walls,
      );
      walls.position.z = heightM / 2;
      this.#surfaces.add(walls);
    } else {
      this.#walls = new MeshBasicMaterial();
      this.#surfaces.add(new Mesh(new PlaneGeometry(widthM, depthM), this.#walls));
    }
    this.#surfaces.add(metres(room));
    this.#shade();
  }

  #shade(): void {
    const ambient = this.#uniforms.ambient.value;
    this.#walls?.color.copy(new Color(0x3a4150).multiplyScalar(0.04 + ambient * 1.1));
  }

  /** Bodies, beams and dots of all units that are shown. */
  setUnits(read: readonly ReadBody[], beams: BeamSet): void {
    this.#setBodies(read);
    if (this.#lights) carryOn(this.#lights.beams, beams);
    this.#lights?.dispose();
    this.#lights = new Lights(this.#scene, beams, { ...this.#uniforms, ...this.#ends }, this.#lit);
    this.#setSheet(beams);
    this.#haze?.dispose();
    this.#haze = new Haze(this.#scene, read, this.#uniforms);
    this.#setDots(read, beams);
  }

  /** The pictures in the beams are drawn anew only where they are others. */
  #setSheet({ pictures }: BeamSet): void {
    const same = ({ profile, picture }: BeamPicture, i: number): boolean =>
      this.#pictures[i]!.profile === profile && this.#pictures[i]!.picture === picture;
    if (pictures.length === this.#pictures.length && pictures.every(same)) return;
    this.#pictures = pictures;
    this.#lit.sheet.value.dispose();
    this.#lit.sheet.value = drawSheet(pictures, this.#changed);
  }

  #setBodies(read: readonly ReadBody[]): void {
    drop(this.#bodies?.mesh);
    this.#ids = read.map(({ body }) => body.unit.id);
    this.#bodies = solids(
      new BoxGeometry(1, 1, 1),
      read.map(({ body }) => ({ matrix: matrixOf(body), colour: new Color(CASE) })),
      { ...this.#uniforms, ...this.#lit },
    );
    this.#scene.add(this.#bodies.mesh);
  }

  /** What stands in the room. */
  setThings(things: readonly ThingRecord[]): void {
    this.#things.set(things);
    this.#lightBodies();
  }

  /** What no beam is to meet, as outlines; `strong` while somebody works on them. */
  setKeepOuts(volumes: readonly Volume[], strong: boolean): void {
    drop(this.#keepOuts);
    this.#keepOuts = volumes.length > 0 ? keepOutLines(volumes, strong) : null;
    if (this.#keepOuts) this.#scene.add(this.#keepOuts);
  }

  /** Marks what is chosen. */
  select(read: readonly ReadBody[]): void {
    drop(this.#marks);
    this.#marks = null;
    if (read.length === 0) return;
    const edges = new EdgesGeometry(new BoxGeometry(1, 1, 1)).getAttribute('position');
    const places = new Float32Array(read.length * edges.count * 3);
    const at = new Vector3();
    read.forEach(({ body }, n) => {
      const matrix = matrixOf(body, 0.06);
      for (let i = 0; i < edges.count; i++)
        at.fromBufferAttribute(edges, i)
          .applyMatrix4(matrix)
          .toArray(places, (n * edges.count + i) * 3);
    });
    const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(places, 3));
    this.#marks = new LineSegments(
      geometry,
      new LineBasicMaterial({ color: new Color(SELECTED).multiplyScalar(MARKED), depthTest: false, transparent: true }),
    );
    // Over all light.
    this.#marks.renderOrder = 10;
    this.#scene.add(this.#marks);
  }

  #setDots(read: readonly ReadBody[], { units }: BeamSet): void {
    for (const { points } of this.#dots.splice(0)) drop(points);
    const dotted = read.filter(({ body }) => body.dots.cells.length > 0);
    const lamps = read.filter(({ body, reader }) => body.dots.cells.length === 0 && (reader?.cells.length ?? 0) > 0);
    this.#addDots(
      makeBatch('plan', dotted),
      dotted.flatMap(({ body }) => [body.dots.xyz]),
      { dotM: DOT_M, pull: 0, fragment: DOT_FRAGMENT },
    );
    this.#addDots(
      makeLenses('plan', lamps),
      lamps.map(({ body }) => [body.unit.position.x, body.unit.position.y, body.unit.position.z]),
      { dotM: HALO_M, pull: LENS_PULL_M, fragment: LENS_FRAGMENT },
      lamps.map(({ body }) => units.findIndex(({ unit }) => unit.id === body.unit.id)),
    );
  }

  #addDots(
    batch: DotBatch,
    lists: readonly ArrayLike<number>[],
    { dotM, pull, fragment }: { readonly dotM: number; readonly pull: number; readonly fragment: string },
    beaming: readonly number[] = [],
  ): void {
    const places = new Float32Array(batch.count * 3);
    let at = 0;
    for (const list of lists) {
      places.set(list, at);
      at += list.length;
    }
    const light = new BufferAttribute(new Uint8Array(batch.colours.buffer), 4, true);
    light.usage = DynamicDrawUsage;
    const geometry = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(places, 3))
      .setAttribute('dotLight', light);
    const lens = pull > 0;
    const material = new ShaderMaterial({
      vertexShader: DOT_VERTEX,
      fragmentShader: fragment,
      uniforms: { ...this.#uniforms, dotM: { value: dotM }, pull: { value: pull } },
      transparent: lens,
      depthWrite: !lens,
      ...(lens ? { blending: AdditiveBlending } : {}),
    });
    const points = new Points(geometry, material);
    points.frustumCulled = false;
    points.renderOrder = lens ? 3 : 0;
    this.#dots.push({ batch, points, light, beaming });
    this.#scene.add(points);
  }

  /** Light as it is sent now; `passedS` seconds after the last time. `calm`: nothing flashes. */
  light(frames: Frames, passedS: number, calm: boolean): void {
    const lights = this.#lights;
    lights?.read(frames, this.#room, passedS, calm);
    this.#lightBodies();
    for (const { batch, light, beaming } of this.#dots) {
      const colours = readColours(batch, frames);
      if (lights) beaming.forEach((place, dot) => place >= 0 && lights.isShut(place) && (colours[dot] = DARK));
      light.needsUpdate = true;
    }
    this.#haze?.read(frames, passedS);
  }

  /** Which beams meet which bodies now. */
  #lightBodies(): void {
    if (!this.#lights) return;
    for (const { reached, send } of [...(this.#bodies ? [this.#bodies] : []), ...this.#things.solids]) {
      readReached(reached, this.#lights.beams);
      send();
    }
  }

  /** True while something moves that no frame tells of. */
  get moves(): boolean {
    return this.#haze?.rises ?? false;
  }

  /** What is seen now, as a PNG picture; null where the browser gives none. */
  picture(): Promise<Blob | null> {
    // The picture is only there until the browser has shown it.
    this.draw();
    return new Promise((resolve) => this.#renderer.domElement.toBlob(resolve, 'image/png'));
  }

  /** Draws what is seen now; says whether the handles are elsewhere than they were. */
  draw(): boolean {
    const moved = this.#handles.place(this.camera);
    this.#film.take(this.#renderer, this.#scene, this.camera);
    const gl = this.#renderer.getContext() as WebGL2RenderingContext;
    if (this.#fence) gl.deleteSync(this.#fence);
    this.#fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    return moved;
  }

  /** Aims at a point of the picture (-1 to 1 across and up). */
  #aim(across: number, up: number): Raycaster {
    const caster = new Raycaster();
    caster.setFromCamera(new Vector2(across, up), this.camera);
    return caster;
  }

  /** True while the last picture is still being drawn. */
  get draws(): boolean {
    const gl = this.#renderer.getContext() as WebGL2RenderingContext;
    if (!this.#fence || gl.isContextLost()) return false;
    if (gl.getSyncParameter(this.#fence, gl.SYNC_STATUS) !== gl.SIGNALED) return true;
    gl.deleteSync(this.#fence);
    this.#fence = null;
    return false;
  }

  /** A ray from the eye through a point of the picture, and the body or thing it meets first. */
  #look(across: number, up: number): { readonly ray: ThreeRay; readonly hit: Intersection | undefined } {
    const caster = this.#aim(across, up);
    const [hit] = caster.intersectObjects([...(this.#bodies ? [this.#bodies.mesh] : []), ...this.#things.meshes]);
    return { ray: caster.ray, hit };
  }

  /** Rings and mast round what is chosen; away for null. */
  setHandles(standing: Standing | null): void {
    this.#handles.set(standing);
  }

  /** Where each handle can be taken in the picture, 0-1 from the top left; those behind the eye are left out. */
  get handles(): readonly (readonly [Handle, readonly { readonly x: number; readonly y: number }[]])[] {
    return this.#handles.places.map(([handle, places]) => [handle, places.flatMap((at) => this.onPicture(at) ?? [])]);
  }

  /** The handle within reach of a point of the picture (pixels from the top left); null for none. */
  handleAt(
    at: { readonly x: number; readonly y: number },
    size: { readonly width: number; readonly height: number },
    reachPx: number,
  ): Handle | null {
    let best: { handle: Handle; px: number } | null = null;
    for (const [handle, places] of this.handles)
      for (const seen of places) {
        // The knob of the mast is taken before a ring that goes by.
        const px = Math.hypot(seen.x * size.width - at.x, seen.y * size.height - at.y) - (handle === 'height' ? 4 : 0);
        if (px < reachPx && (!best || px < best.px)) best = { handle, px };
      }
    return best?.handle ?? null;
  }

  /** A ray from the eye through a point of the picture (-1 to 1 across and up). */
  rayAt(across: number, up: number): Ray {
    const { origin, direction } = this.#aim(across, up).ray;
    return { from: { x: origin.x, y: origin.y, z: origin.z }, way: { x: direction.x, y: direction.y, z: direction.z } };
  }

  /** What is at a point of the picture: a unit or a thing, the nearer one; null for nothing. */
  at(across: number, up: number): UnitId | ThingId | null {
    const { hit } = this.#look(across, up);
    if (!hit) return null;
    return hit.object === this.#bodies?.mesh ? (this.#ids[hit.instanceId!] ?? null) : this.#things.idOf(hit);
  }

  /** The place at a point of the picture: on a body, a thing, or a face of the room; null for nowhere near. */
  spotAt(across: number, up: number): Place3 | null {
    const { ray, hit } = this.#look(across, up);
    const { distanceM, face } = hitOf(this.#room, ray.origin, ray.direction);
    if (hit && hit.distance < distanceM) return { x: hit.point.x, y: hit.point.y, z: hit.point.z };
    return face === null ? null : along(ray.origin, ray.direction, distanceM);
  }

  /** Where a place of the room is in the picture, 0-1 from the top left; null behind the eye. */
  onPicture(place: Place3): { x: number; y: number } | null {
    const at = new Vector3(place.x, place.y, place.z).project(this.camera);
    return at.z > 1 ? null : { x: (at.x + 1) / 2, y: (1 - at.y) / 2 };
  }

  dispose(): void {
    const dots = this.#dots.map(({ points }) => points);
    for (const part of [this.#bodies?.mesh, this.#marks, this.#keepOuts, ...dots]) drop(part);
    this.#things.dispose();
    this.#lights?.dispose();
    this.#haze?.dispose();
    this.#lit.sheet.value.dispose();
    this.#handles.dispose();
    this.#film.dispose();
    empty(this.#surfaces);
    this.#renderer.dispose();
  }
}
