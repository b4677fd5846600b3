import {
  AdditiveBlending,
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  Color,
  CylinderGeometry,
  EdgesGeometry,
  Group,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  PerspectiveCamera,
  PlaneGeometry,
  Points,
  Quaternion,
  Raycaster,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
  BackSide,
  DynamicDrawUsage,
  type IUniform,
} from 'three';
import type { ThingId, UnitId } from '$core/ids.ts';
import type { Frames } from '$core/patch/readout.ts';
import { makeBatch, makeLenses, readColours, type DotBatch, type ReadBody } from '$core/plot/cell-colours.ts';
import { unitSize } from '$core/plot/dots.ts';
import type { Place3 } from '$core/plot/paper.ts';
import { rotationOf } from '$core/plot/rotation.ts';
import { readBeams, type BeamSet } from '$core/room/beams.ts';
import { along, FAR_M, hitOf, type RoomBox } from '$core/room/box.ts';
import { makePools, readPools, type PoolSet } from '$core/room/pools.ts';
import { HALF_SIGHT, type Viewpoint } from '$core/room/viewpoints.ts';
import { partsOfThing } from '$core/room/thing-parts.ts';
import type { ThingRecord } from '$core/records/index.ts';
import {
  BEAM_FRAGMENT,
  BEAM_VERTEX,
  DOT_FRAGMENT,
  DOT_VERTEX,
  LENS_FRAGMENT,
  LIT_BY,
  POOL_FRAGMENT,
  POOL_VERTEX,
  SOLID_FRAGMENT,
  SOLID_VERTEX,
} from './shaders.ts';

/** What a person sets for this browser: how bright the room is without light, exposure and haze, 0-1 each. */
export interface Seeing {
  readonly ambient: number;
  readonly exposure: number;
  readonly haze: number;
}

const SIDES_OF_A_BEAM = 20;
const LENS_M = 0.06;
const DOT_M = 0.05;
/** The halo of a lamp, and how far its lens is in front of its middle. */
const HALO_M = 0.8;
const LENS_PULL_M = 0.35;
/** A lamp of a 25 degree beam lights a floor five metres away well. */
const POOL_LIGHT = 0.7;
/** Cases of units are dark grey. */
const CASE = 0x59616f;
const SELECTED = 0xffb347;

/** The room drawn: surfaces and bodies in ambient light, and over them light that is sent. Knows nothing of channels. */
export class RoomScene {
  readonly camera = new PerspectiveCamera((HALF_SIGHT * 2 * 180) / Math.PI, 1.6, 0.1, 2000);
  readonly #renderer: WebGLRenderer;
  readonly #scene = new Scene();
  readonly #surfaces = new Group();
  readonly #uniforms: Record<'haze' | 'exposure' | 'ambient' | 'perMetre' | 'least', IUniform<number>> = {
    haze: { value: 0.5 },
    exposure: { value: 1 },
    ambient: { value: 0.2 },
    perMetre: { value: 1000 },
    least: { value: 2 },
  };
  readonly #ends = { low: { value: new Vector3() }, high: { value: new Vector3() } };
  /** The brightest beams, which light bodies and things. */
  readonly #lit = {
    litBy: { value: 0 },
    litFrom: { value: Array.from({ length: LIT_BY }, () => new Vector4()) },
    litAlong: { value: Array.from({ length: LIT_BY }, () => new Vector4()) },
    litLight: { value: Array.from({ length: LIT_BY }, () => new Vector3()) },
  };
  readonly #things: InstancedMesh[] = [];
  /** Of each body of a thing, by mesh, which thing it is of. */
  #thingIds = new Map<InstancedMesh, readonly ThingId[]>();
  #room: RoomBox = { widthM: 12, depthM: 8, heightM: 4 };
  #walls: MeshBasicMaterial | null = null;
  #ids: readonly UnitId[] = [];
  #bodies: InstancedMesh | null = null;
  #marks: LineSegments | null = null;
  #beams: { set: BeamSet; mesh: Mesh; light: InstancedBufferAttribute; parts: InstancedBufferAttribute[] } | null =
    null;
  #pools: { set: PoolSet; mesh: Mesh; parts: InstancedBufferAttribute[] } | null = null;
  readonly #dots: { batch: DotBatch; points: Points; light: BufferAttribute }[] = [];

  /** Throws where the browser has no WebGL. */
  constructor(canvas: HTMLCanvasElement) {
    if (!document.createElement('canvas').getContext('webgl2')) throw new Error('no WebGL');
    this.#renderer = new WebGLRenderer({ canvas, antialias: false, powerPreference: 'high-performance' });
    this.#renderer.setClearColor(0x05070b);
    this.camera.up.set(0, 0, 1);
    this.#scene.add(this.#surfaces);
  }

  resize(width: number, height: number, ratio: number): void {
    this.#renderer.setPixelRatio(ratio);
    this.#renderer.setSize(width, height, false);
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
    this.#setBeams(beams);
    this.#setDots(read);
  }

  #setBodies(read: readonly ReadBody[]): void {
    drop(this.#bodies);
    this.#ids = read.map(({ body }) => body.unit.id);
    this.#bodies = this.#solids(
      new BoxGeometry(1, 1, 1),
      read.map(({ body }) => ({ matrix: matrixOf(body), colour: new Color(CASE) })),
    );
  }

  /** What stands in the room. */
  setThings(things: readonly ThingRecord[]): void {
    for (const mesh of this.#things.splice(0)) drop(mesh);
    this.#thingIds.clear();
    const bodies = things.flatMap((thing) =>
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
      const mesh = this.#solids(form === 'box' ? new BoxGeometry(1, 1, 1) : upright(), own);
      this.#things.push(mesh);
      this.#thingIds.set(
        mesh,
        own.map(({ id }) => id),
      );
    }
  }

  #solids(geometry: BufferGeometry, bodies: readonly { matrix: Matrix4; colour: Color }[]): InstancedMesh {
    const material = new ShaderMaterial({
      vertexShader: SOLID_VERTEX,
      fragmentShader: SOLID_FRAGMENT,
      uniforms: { ...this.#uniforms, ...this.#lit },
    });
    const mesh = new InstancedMesh(geometry, material, bodies.length);
    bodies.forEach(({ matrix, colour }, i) => {
      mesh.setMatrixAt(i, matrix);
      mesh.setColorAt(i, colour);
    });
    mesh.computeBoundingSphere();
    this.#scene.add(mesh);
    return mesh;
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
      new LineBasicMaterial({ color: SELECTED, depthTest: false, transparent: true }),
    );
    // Over all light.
    this.#marks.renderOrder = 10;
    this.#scene.add(this.#marks);
  }

  #setBeams(set: BeamSet): void {
    drop(this.#beams?.mesh);
    drop(this.#pools?.mesh);
    const light = moving(new Float32Array(set.count * 3), 3);
    const [from, way] = [moving(set.origin, 3), moving(set.direction, 3)];
    const shape = moving(new Float32Array(set.count * 4), 4);
    const cone = coneGeometry();
    const geometry = new InstancedBufferGeometry();
    geometry.setAttribute('position', cone.getAttribute('position'));
    geometry.setIndex(cone.getIndex());
    geometry.setAttribute('beamFrom', from);
    geometry.setAttribute('beamAlong', way);
    geometry.setAttribute('beamLight', light);
    geometry.setAttribute('beamShape', shape);
    const mesh = new Mesh(geometry, this.#light(BEAM_VERTEX, BEAM_FRAGMENT));
    mesh.frustumCulled = false;
    mesh.renderOrder = 2;
    this.#beams = { set, mesh, light, parts: [from, way, light, shape] };

    const pools = makePools(set);
    const quad = new InstancedBufferGeometry();
    const plane = new PlaneGeometry(2, 2);
    quad.setAttribute('position', plane.getAttribute('position'));
    quad.setIndex(plane.getIndex());
    const parts = [
      moving(pools.at, 3),
      moving(pools.across, 3),
      moving(pools.up, 3),
      ...[3, 3, 3, 2].map((size) => moving(new Float32Array(pools.most * size), size)),
    ];
    ['poolAt', 'poolAcross', 'poolUp', 'beamFrom', 'beamAlong', 'beamLight', 'beamTan'].forEach((name, i) =>
      quad.setAttribute(name, parts[i]!),
    );
    const lit = new Mesh(quad, this.#light(POOL_VERTEX, POOL_FRAGMENT));
    lit.frustumCulled = false;
    lit.renderOrder = 1;
    this.#pools = { set: pools, mesh: lit, parts };
    this.#scene.add(lit, mesh);
  }

  #light(vertexShader: string, fragmentShader: string): ShaderMaterial {
    return new ShaderMaterial({
      vertexShader,
      fragmentShader,
      uniforms: { ...this.#uniforms, ...this.#ends },
      transparent: true,
      depthWrite: false,
      blending: AdditiveBlending,
      // A pool lies on its face.
      polygonOffset: true,
      polygonOffsetFactor: -1,
      polygonOffsetUnits: -4,
    });
  }

  #setDots(read: readonly ReadBody[]): void {
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
    );
  }

  #addDots(
    batch: DotBatch,
    lists: readonly ArrayLike<number>[],
    { dotM, pull, fragment }: { readonly dotM: number; readonly pull: number; readonly fragment: string },
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
    this.#dots.push({ batch, points, light });
    this.#scene.add(points);
  }

  /** Light as it is sent now; `passedS` seconds after the last time. */
  light(frames: Frames, passedS: number): void {
    for (const { batch, light } of this.#dots) {
      readColours(batch, frames);
      light.needsUpdate = true;
    }
    const beams = this.#beams;
    if (!beams) return;
    readBeams(beams.set, frames, this.#room, passedS);
    const { set, light, parts } = beams;
    const shape = parts[3]!.array as Float32Array;
    for (let i = 0; i < set.count; i++) {
      for (let c = 0; c < 3; c++) light.array[i * 3 + c] = set.colour[i * 3 + c]! * set.share[i]! * set.inHaze[i]!;
      shape[i * 4] = Math.tan(set.halfBeam[i]!);
      shape[i * 4 + 1] = Math.tan(set.halfField[i]!);
      shape[i * 4 + 2] = set.lengthM[i]!;
      shape[i * 4 + 3] = LENS_M;
    }
    for (const part of parts) part.needsUpdate = true;
    this.#lightPools(set);
    this.#lightSolids(set);
  }

  #lightPools(beams: BeamSet): void {
    const { set, mesh, parts } = this.#pools!;
    readPools(set, beams, this.#room);
    const [, , , from, way, light, tan] = parts.map((part) => part.array as Float32Array);
    for (let i = 0; i < set.count; i++) {
      const beam = set.beam[i]!;
      const strength = (POOL_LIGHT * beams.share[beam]!) / (1 - Math.cos(beams.halfBeam[beam]!));
      for (let c = 0; c < 3; c++) {
        from![i * 3 + c] = beams.origin[beam * 3 + c]!;
        way![i * 3 + c] = beams.direction[beam * 3 + c]!;
        light![i * 3 + c] = beams.colour[beam * 3 + c]! * strength;
      }
      tan![i * 2] = Math.tan(beams.halfBeam[beam]!);
      tan![i * 2 + 1] = Math.tan(beams.halfField[beam]!);
    }
    for (const part of parts) part.needsUpdate = true;
    (mesh.geometry as InstancedBufferGeometry).instanceCount = set.count;
    mesh.visible = set.count > 0;
  }

  #lightSolids(set: BeamSet): void {
    const strengths = Array.from({ length: set.count }, (_, i) => {
      const [r, g, b] = [0, 1, 2].map((c) => set.colour[i * 3 + c]!);
      return [i, (Math.max(r!, g!, b!) * set.share[i]!) / (1 - Math.cos(set.halfBeam[i]!))] as const;
    }).filter(([, strength]) => strength > 0.01);
    const brightest = strengths.sort((a, b) => b[1] - a[1]).slice(0, LIT_BY);
    const { litBy, litFrom, litAlong, litLight } = this.#lit;
    litBy.value = brightest.length;
    brightest.forEach(([beam], i) => {
      const at = beam * 3;
      const strength = (POOL_LIGHT * set.share[beam]!) / (1 - Math.cos(set.halfBeam[beam]!));
      litFrom.value[i]!.set(set.origin[at]!, set.origin[at + 1]!, set.origin[at + 2]!, Math.tan(set.halfBeam[beam]!));
      litAlong.value[i]!.set(
        set.direction[at]!,
        set.direction[at + 1]!,
        set.direction[at + 2]!,
        Math.tan(set.halfField[beam]!),
      );
      litLight.value[i]!.set(
        set.colour[at]! * strength,
        set.colour[at + 1]! * strength,
        set.colour[at + 2]! * strength,
      );
    });
  }

  /** What is seen now, as a PNG picture; null where the browser gives none. */
  picture(): Promise<Blob | null> {
    // The picture is only there until the browser has shown it.
    this.draw();
    return new Promise((resolve) => this.#renderer.domElement.toBlob(resolve, 'image/png'));
  }

  draw(): void {
    this.#renderer.render(this.#scene, this.camera);
  }

  /** What is at a point of the picture (-1 to 1 across and up): a unit or a thing, the nearer one; null for nothing. */
  at(across: number, up: number): UnitId | ThingId | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(across, up), this.camera);
    const [hit] = ray.intersectObjects([...(this.#bodies ? [this.#bodies] : []), ...this.#things]);
    if (hit?.instanceId === undefined) return null;
    const ids = hit.object === this.#bodies ? this.#ids : this.#thingIds.get(hit.object as InstancedMesh);
    return ids?.[hit.instanceId] ?? null;
  }

  /** The place at a point of the picture: on a body, a thing, or a face of the room; null for nowhere near. */
  spotAt(across: number, up: number): Place3 | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(across, up), this.camera);
    const { origin, direction } = ray.ray;
    const [hit] = ray.intersectObjects([...(this.#bodies ? [this.#bodies] : []), ...this.#things]);
    const face = hitOf(this.#room, origin, direction);
    if (hit && hit.distance < face.distanceM) return { x: hit.point.x, y: hit.point.y, z: hit.point.z };
    return face.face === null ? null : along(origin, direction, face.distanceM);
  }

  /** Where a place of the room is in the picture, 0-1 from the top left; null behind the eye. */
  onPicture(place: Place3): { x: number; y: number } | null {
    const at = new Vector3(place.x, place.y, place.z).project(this.camera);
    return at.z > 1 ? null : { x: (at.x + 1) / 2, y: (1 - at.y) / 2 };
  }

  dispose(): void {
    const dots = this.#dots.map(({ points }) => points);
    for (const part of [this.#bodies, ...this.#things, this.#marks, this.#beams?.mesh, this.#pools?.mesh, ...dots])
      drop(part);
    empty(this.#surfaces);
    this.#renderer.dispose();
  }
}

/** A box of the unit's size, at its place and turned as it is. */
function matrixOf({ unit, profile }: ReadBody['body'], moreM = 0): Matrix4 {
  const { widthM, depthM, heightM } = unitSize(profile);
  return placed(unit.position, unit.rotation).scale(new Vector3(widthM + moreM, depthM + moreM, heightM + moreM));
}

const toVector = ({ x, y, z }: Place3): Vector3 => new Vector3(x, y, z);

/** From a frame of its own into the room. */
function placed({ x, y, z }: Place3, rotation: Place3): Matrix4 {
  const r = rotationOf(rotation);
  return new Matrix4().set(r[0]!, r[1]!, r[2]!, x, r[3]!, r[4]!, r[5]!, y, r[6]!, r[7]!, r[8]!, z, 0, 0, 0, 1);
}

/** A cylinder of diameter and height 1 that stands. */
const upright = (): BufferGeometry => new CylinderGeometry(0.5, 0.5, 1, 24).rotateX(Math.PI / 2);

const moving = (array: Float32Array, size: number): InstancedBufferAttribute => {
  const attribute = new InstancedBufferAttribute(array, size);
  attribute.usage = DynamicDrawUsage;
  return attribute;
};

/** A box whose faces have their share of the ambient light. */
function shaded(box: BoxGeometry, shares: readonly number[]): BoxGeometry {
  const colours = new Float32Array(24 * 3);
  for (let face = 0; face < 6; face++) colours.fill(shares[face]!, face * 12, face * 12 + 12);
  box.setAttribute('color', new BufferAttribute(colours, 3));
  return box;
}

/** A tube of radius 1 from z 0 to z 1, without ends; its outside is its front. */
function coneGeometry(): BufferGeometry {
  const places: number[] = [];
  const index: number[] = [];
  for (let i = 0; i <= SIDES_OF_A_BEAM; i++) {
    const angle = (i / SIDES_OF_A_BEAM) * 2 * Math.PI;
    places.push(Math.cos(angle), Math.sin(angle), 0, Math.cos(angle), Math.sin(angle), 1);
    if (i < SIDES_OF_A_BEAM) index.push(i * 2, i * 2 + 1, i * 2 + 2, i * 2 + 1, i * 2 + 3, i * 2 + 2);
  }
  return new BufferGeometry()
    .setAttribute('position', new BufferAttribute(new Float32Array(places), 3))
    .setIndex(index);
}

/** A line for every metre of the floor, or every ten where it is large. */
function metres({ widthM, depthM }: RoomBox): LineSegments {
  const step = Math.max(widthM, depthM) > 60 ? 10 : 1;
  const places: number[] = [];
  const [w, d] = [widthM / 2, depthM / 2];
  for (let x = Math.ceil(-w / step) * step; x <= w; x += step) places.push(x, -d, 0.004, x, d, 0.004);
  for (let y = Math.ceil(-d / step) * step; y <= d; y += step) places.push(-w, y, 0.004, w, y, 0.004);
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(new Float32Array(places), 3));
  return new LineSegments(geometry, new LineBasicMaterial({ color: 0x2a3242, transparent: true, opacity: 0.5 }));
}

function drop(part: Mesh | Points | LineSegments | null | undefined): void {
  if (!part) return;
  part.removeFromParent();
  part.geometry.dispose();
  for (const material of [part.material].flat()) material.dispose();
}

function empty(group: Group): void {
  for (const part of [...group.children]) drop(part as Mesh);
}
