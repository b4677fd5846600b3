import { recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import { boxOfUnit, cellsOfUnit, type Box3 } from './free-place.ts';

/** Part of the smaller of two boxes, 0-1, from which one lies on the other. */
const ON_EACH_OTHER = 0.2;
/** Nothing is thinner than this, metres: flat things that lie in one plane still meet. */
const THINNEST_M = 0.05;
/** Most that are named of what lies on one unit. */
const MOST_NAMED = 8;
const AXES = ['x', 'y', 'z'] as const;

/**
 * Units that lie on each other in the room: whose boxes share a fifth or more of the smaller one, in every direction at
 * once, and of which, where both are made of cells, a fifth of those of one are next to cells of the other. Swept along
 * x: O(n log n) for what is spread out.
 */
export function overlapsOf(document: Document): ReadonlyMap<UnitId, readonly UnitRecord[]> {
  let found = known.get(document);
  if (!found) known.set(document, (found = find(document)));
  return found;
}
const known = new WeakMap<Document, ReadonlyMap<UnitId, readonly UnitRecord[]>>();

function find(document: Document): ReadonlyMap<UnitId, readonly UnitRecord[]> {
  const all = recordsOf(document, 'unit')
    .map((unit) => ({ unit, box: thick(boxOfUnit(document, unit)), cells: cellsOfUnit(document, unit) }))
    .sort((a, b) => a.box.min.x - b.box.min.x);
  const found = new Map<UnitId, UnitRecord[]>();
  const note = (one: UnitRecord, other: UnitRecord): void => {
    const list = found.get(one.id);
    if (list) {
      if (list.length < MOST_NAMED) list.push(other);
    } else found.set(one.id, [other]);
  };
  let open: typeof all = [];
  for (const here of all) {
    open = open.filter((before) => before.box.max.x > here.box.min.x);
    for (const before of open) {
      // Where very many lie in one place each names a few: not all pairs.
      if ((found.get(here.unit.id)?.length ?? 0) >= MOST_NAMED) break;
      if (shared(before.box, here.box) >= ON_EACH_OTHER && cellsMeet(before.cells, here.cells)) {
        note(before.unit, here.unit);
        note(here.unit, before.unit);
      }
    }
    open.push(here);
  }
  return found;
}

/** Cells that are looked at of one unit, and how near they must be, metres. */
const MOST_CELLS = 400;
const NEAR_M = 0.1;

/** Whether a fifth of the cells of one are near to cells of the other; true where one is not made of cells. */
function cellsMeet(a: Float32Array, b: Float32Array): boolean {
  if (a.length === 0 || b.length === 0) return true;
  const key = (x: number, y: number, z: number): string => `${x} ${y} ${z}`;
  const at = (list: Float32Array, i: number): [number, number, number] =>
    [0, 1, 2].map((axis) => Math.floor(list[i * 3 + axis]! / NEAR_M)) as [number, number, number];
  const taken = new Set<string>();
  for (const i of sampled(b)) taken.add(key(...at(b, i)));
  const looked = sampled(a);
  let near = 0;
  for (const i of looked) {
    const [x, y, z] = at(a, i);
    if (AROUND.some(([u, v, w]) => taken.has(key(x + u, y + v, z + w)))) near++;
  }
  return near >= looked.length * ON_EACH_OTHER;
}
const STEPS = [-1, 0, 1];
const AROUND = STEPS.flatMap((x) => STEPS.flatMap((y) => STEPS.map((z) => [x, y, z] as const)));
const sampled = (cells: Float32Array): number[] => {
  const count = cells.length / 3;
  const step = Math.max(1, Math.floor(count / MOST_CELLS));
  return Array.from({ length: Math.ceil(count / step) }, (_, i) => i * step);
};

function thick({ min, max }: Box3): Box3 {
  const next = { min: { ...min }, max: { ...max } };
  for (const axis of AXES) {
    const lacks = THINNEST_M - (max[axis] - min[axis]);
    if (lacks <= 0) continue;
    next.min[axis] -= lacks / 2;
    next.max[axis] += lacks / 2;
  }
  return next;
}

/** The part of the smaller box that both cover, 0-1. */
function shared(a: Box3, b: Box3): number {
  let [both, ofA, ofB] = [1, 1, 1];
  for (const axis of AXES) {
    both *= Math.max(0, Math.min(a.max[axis], b.max[axis]) - Math.max(a.min[axis], b.min[axis]));
    ofA *= a.max[axis] - a.min[axis];
    ofB *= b.max[axis] - b.min[axis];
  }
  return both / Math.min(ofA, ofB);
}
