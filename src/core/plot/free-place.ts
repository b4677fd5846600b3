import { roomOf } from './room-of.ts';
import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { layoutOfUnit } from '../patch/of-document.ts';
import type { UnitRecord } from '../records/index.ts';
import { bodyOf } from './body.ts';
import type { Place3 } from './paper.ts';

/** What something covers in the room, metres. */
export interface Box3 {
  readonly min: Place3;
  readonly max: Place3;
}

/** Metres left between what is there and what is put beside it. */
const APART_M = 0.2;
const LIMIT_M = 1000;

/** What a unit covers, seen from above and from the front. */
export function boxOfUnit(document: Document, unit: UnitRecord): Box3 {
  const profile = getRecord(document, 'profile', unit.profileId);
  const cells = layoutOfUnit(document, unit).cells;
  const plan = bodyOf('plan', unit, profile, cells).box;
  const front = bodyOf('front', unit, profile, cells).box;
  return {
    min: { x: Math.min(plan.min.x, front.min.x), y: plan.min.y, z: front.min.y },
    max: { x: Math.max(plan.max.x, front.max.x), y: plan.max.y, z: front.max.y },
  };
}

/** Places of the cells of a unit in the room, three numbers each; none where it is drawn as its symbol. */
export function cellsOfUnit(document: Document, unit: UnitRecord): Float32Array {
  const profile = getRecord(document, 'profile', unit.profileId);
  return bodyOf('plan', unit, profile, layoutOfUnit(document, unit).cells).dots.xyz;
}

export function boxAround(boxes: readonly Box3[]): Box3 | null {
  const [first] = boxes;
  if (!first) return null;
  const min = { ...first.min };
  const max = { ...first.max };
  for (const box of boxes)
    for (const axis of ['x', 'y', 'z'] as const) {
      min[axis] = Math.min(min[axis], box.min[axis]);
      max[axis] = Math.max(max[axis], box.max[axis]);
    }
  return { min, max };
}

const meets = (a: Box3, b: Box3, axis: 'x' | 'y' | 'z'): boolean =>
  a.min[axis] < b.max[axis] + APART_M && b.min[axis] < a.max[axis] + APART_M;

/**
 * How far something that covers `block` must be moved so that it lies on nothing, neither seen from above nor from the
 * front: beside what is there while it stays in the room (`aside`, for copies), else up-stage of it and below or above.
 */
export function freeOffset(document: Document, block: Box3, aside = false): Place3 {
  const boxes = recordsOf(document, 'unit').map((unit) => boxOfUnit(document, unit));
  const half = roomOf(document).widthM / 2;
  if (aside) {
    const step = block.max.x - block.min.x + APART_M;
    for (let k = 1; k * step <= 4 * half; k++)
      for (const x of [k * step, -k * step]) {
        const moved = shifted(block, { x, y: 0, z: 0 });
        if (moved.min.x < -half || moved.max.x > half) continue;
        if (!boxes.some((b) => meets(b, moved, 'x') && (meets(b, moved, 'y') || meets(b, moved, 'z'))))
          return { x: moved.min.x - block.min.x, y: 0, z: 0 };
      }
  }
  const across = boxes.filter((b) => meets(b, block, 'x'));
  const spans = (axis: 'y' | 'z'): (readonly [number, number])[] => across.map((b) => [b.min[axis], b.max[axis]]);
  return {
    x: 0,
    y: freeShift(spans('y'), block.min.y, block.max.y, (from) => from >= block.min.y),
    // Above the floor, nearest to where it would hang.
    z: freeShift(spans('z'), block.min.z, block.max.z, (from) => from >= Math.min(0, block.min.z)),
  };
}

/** The smallest shift of from-to that is `allowed` and keeps clear of all spans. */
function freeShift(
  spans: readonly (readonly [number, number])[],
  from: number,
  to: number,
  allowed: (from: number) => boolean,
): number {
  const clear = (shift: number): boolean =>
    !spans.some(([low, high]) => from + shift < high + APART_M - 1e-9 && low < to + shift + APART_M - 1e-9);
  const edges = spans.flatMap(([low, high]) => [low - APART_M - to, high + APART_M - from]);
  return (
    [0, ...edges]
      .filter((shift) => allowed(from + shift + 1e-9) && Math.abs(to + shift) <= LIMIT_M)
      .sort((a, b) => Math.abs(a) - Math.abs(b))
      .find(clear) ?? 0
  );
}

const shifted = (box: Box3, by: Place3): Box3 => ({
  min: { x: box.min.x + by.x, y: box.min.y + by.y, z: box.min.z + by.z },
  max: { x: box.max.x + by.x, y: box.max.y + by.y, z: box.max.z + by.z },
});
