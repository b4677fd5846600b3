import { getRecord, recordsOf, type Document } from '../document/change.ts';
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

/** What lies on one unit, a few of it where it is much. Linear in the units of the show. */
export function lyingOn(document: Document, id: UnitId): readonly UnitRecord[] {
  const unit = getRecord(document, 'unit', id);
  if (!unit) return [];
  const here = standingOf(document, unit);
  const found: UnitRecord[] = [];
  for (const other of document.values()) {
    if (other.kind !== 'unit' || other.id === id) continue;
    if (meet(standingOf(document, other), here)) found.push(other);
    if (found.length >= MOST_NAMED) break;
  }
  return found;
}

/** Where a unit stands in the room. */
interface Standing {
  readonly unit: UnitRecord;
  readonly box: Box3;
  readonly cells: Float32Array;
}
/** Kept as long as the unit and its profile are the same. */
const standings = new WeakMap<UnitRecord, { readonly profile: unknown; readonly standing: Standing }>();

function standingOf(document: Document, unit: UnitRecord): Standing {
  const profile = document.get(unit.profileId);
  const kept = standings.get(unit);
  if (kept && kept.profile === profile) return kept.standing;
  const standing = { unit, box: thick(boxOfUnit(document, unit)), cells: cellsOfUnit(document, unit) };
  standings.set(unit, { profile, standing });
  return standing;
}

const meet = (a: Standing, b: Standing): boolean =>
  shared(a.box, b.box) >= ON_EACH_OTHER && cellsMeet(a.cells, b.cells);

function find(document: Document): ReadonlyMap<UnitId, readonly UnitRecord[]> {
  const all = recordsOf(document, 'unit')
    .map((unit) => standingOf(document, unit))
    .sort((a, b) => a.box.min.x - b.box.min.x);
  const found = new Map<UnitId, UnitRecord[]>();
  const note = (one: UnitRecord, other: UnitRecord): void => {
    const list = found.get(one.id);
    if (list) {
      if (list.length < MOST_NAMED) list.push(other);
    } else found.set(one.id, [other]);
  };
  let open: Standing[] = [];
  for (const here of all) {
    open = open.filter((before) => before.box.max.x > here.box.min.x);
    for (const before of open) {
      // Where very many lie in one place each names a few: not all pairs.
      if ((found.get(here.unit.id)?.length ?? 0) >= MOST_NAMED) break;
      if (!meet(before, here)) continue;
      note(before.unit, here.unit);
      note(here.unit, before.unit);
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
  const taken = placesOf(b);
  const looked = placesOf(a);
  let near = 0;
  for (const place of looked) {
    for (let i = 0; i < AROUND.length; i++) {
      if (!taken.has(place + AROUND[i]!)) continue;
      near++;
      break;
    }
    if (near >= looked.size * ON_EACH_OTHER) return true;
  }
  return false;
}

/** Cubes of `NEAR_M` in one number: 65,536 along each axis, far more than a room has. */
const SIDE = 65_536;
const cube = (x: number, y: number, z: number): number => (x * SIDE + y) * SIDE + z;
const AROUND = [-1, 0, 1].flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z) => cube(x, y, z))));
const keptPlaces = new WeakMap<Float32Array, ReadonlySet<number>>();

/** The cubes that cells lie in, a sample of them where they are many; kept as long as the cells are. */
function placesOf(cells: Float32Array): ReadonlySet<number> {
  let found = keptPlaces.get(cells);
  if (found) return found;
  const at = (i: number): number => Math.floor(cells[i]! / NEAR_M) + SIDE / 2;
  found = new Set(sampled(cells).map((i) => cube(at(i * 3), at(i * 3 + 1), at(i * 3 + 2))));
  keptPlaces.set(cells, found);
  return found;
}
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
