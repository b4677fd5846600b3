import {
  BufferAttribute,
  BufferGeometry,
  CylinderGeometry,
  DynamicDrawUsage,
  InstancedBufferAttribute,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Vector3,
  type BoxGeometry,
  type Group,
  type Mesh,
  type Points,
} from 'three';
import type { ReadBody } from '$core/plot/cell-colours.ts';
import { unitSize } from '$core/plot/dots.ts';
import type { Place3 } from '$core/plot/paper.ts';
import { rotationOf } from '$core/plot/rotation.ts';
import type { RoomBox } from '$core/room/box.ts';

/** Forms, frames and buffers of what is drawn in the room. */

const SIDES_OF_A_BEAM = 28;

/** A box of the unit's size, at its place and turned as it is. */
export function matrixOf({ unit, profile }: ReadBody['body'], moreM = 0): Matrix4 {
  const { widthM, depthM, heightM } = unitSize(profile);
  return placed(unit.position, unit.rotation).scale(new Vector3(widthM + moreM, depthM + moreM, heightM + moreM));
}

export const toVector = ({ x, y, z }: Place3): Vector3 => new Vector3(x, y, z);

/** From a frame of its own into the room. */
export function placed({ x, y, z }: Place3, rotation: Place3): Matrix4 {
  const r = rotationOf(rotation);
  return new Matrix4().set(r[0]!, r[1]!, r[2]!, x, r[3]!, r[4]!, r[5]!, y, r[6]!, r[7]!, r[8]!, z, 0, 0, 0, 1);
}

/** A cylinder of diameter and height 1 that stands. */
export const upright = (): BufferGeometry => new CylinderGeometry(0.5, 0.5, 1, 24).rotateX(Math.PI / 2);

export const moving = (array: Float32Array, size: number): InstancedBufferAttribute => {
  const attribute = new InstancedBufferAttribute(array, size);
  attribute.usage = DynamicDrawUsage;
  return attribute;
};

/** A box whose faces have their share of the ambient light. */
export function shaded(box: BoxGeometry, shares: readonly number[]): BoxGeometry {
  const colours = new Float32Array(24 * 3);
  for (let face = 0; face < 6; face++) colours.fill(shares[face]!, face * 12, face * 12 + 12);
  box.setAttribute('color', new BufferAttribute(colours, 3));
  return box;
}

/** A tube of radius 1 from z 0 to z 1, without ends; its outside is its front. */
export function coneGeometry(): BufferGeometry {
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
export function metres({ widthM, depthM }: RoomBox): LineSegments {
  const step = Math.max(widthM, depthM) > 60 ? 10 : 1;
  const places: number[] = [];
  const [w, d] = [widthM / 2, depthM / 2];
  for (let x = Math.ceil(-w / step) * step; x <= w; x += step) places.push(x, -d, 0.004, x, d, 0.004);
  for (let y = Math.ceil(-d / step) * step; y <= d; y += step) places.push(-w, y, 0.004, w, y, 0.004);
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(new Float32Array(places), 3));
  return new LineSegments(geometry, new LineBasicMaterial({ color: 0x2a3242, transparent: true, opacity: 0.5 }));
}

/** Takes a part away for good. `whole`: with its form, which is nobody else's. */
export function drop(part: Mesh | Points | LineSegments | null | undefined, whole = true): void {
  if (!part) return;
  part.removeFromParent();
  if (whole) part.geometry.dispose();
  for (const material of [part.material].flat()) material.dispose();
}

export function empty(group: Group): void {
  for (const part of [...group.children]) drop(part as Mesh);
}
