import { recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import { boxOfUnit, type Box3 } from './free-place.ts';

/** Part of the smaller of two boxes, 0-1, from which one lies on the other. */
const ON_EACH_OTHER = 0.2;
/** Nothing is thinner than this, metres: flat things that lie in one plane still meet. */
const THINNEST_M = 0.05;
const AXES = ['x', 'y', 'z'] as const;

/**
 * Units that lie on each other in the room: whose boxes share a fifth or more of the smaller one, in every direction at
 * once. Swept along x: O(n log n) for what is spread out.
 */
export function overlapsOf(document: Document): ReadonlyMap<UnitId, readonly UnitRecord[]> {
  let found = known.get(document);
  if (!found) known.set(document, (found = find(document)));
  return found;
}
const known = new WeakMap<Document, ReadonlyMap<UnitId, readonly UnitRecord[]>>();

function find(document: Document): ReadonlyMap<UnitId, readonly UnitRecord[]> {
  const all = recordsOf(document, 'unit')
    .map((unit) => ({ unit, box: thick(boxOfUnit(document, unit)) }))
    .sort((a, b) => a.box.min.x - b.box.min.x);
  const found = new Map<UnitId, UnitRecord[]>();
  const note = (one: UnitRecord, other: UnitRecord): void => {
    const list = found.get(one.id);
    if (list) list.push(other);
    else found.set(one.id, [other]);
  };
  let open: typeof all = [];
  for (const here of all) {
    open = open.filter((before) => before.box.max.x > here.box.min.x);
    for (const before of open)
      if (shared(before.box, here.box) >= ON_EACH_OTHER) {
        note(before.unit, here.unit);
        note(here.unit, before.unit);
      }
    open.push(here);
  }
  return found;
}

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
