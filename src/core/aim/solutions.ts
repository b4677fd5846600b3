import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { AimId, UnitId } from '../ids.ts';
import { applied, rotationOf, transposed } from '../plot/rotation.ts';
import type { AimRecord, AnyRecord, ProfileRecord, UnitRecord } from '../records/index.ts';
import { clamp } from '../units.ts';
import { aimValues, axesOf, type Axes } from './axes.ts';
import { nearestTo, wayTo, waysWithin, type Found, type Solved } from './solve.ts';
import { rankIn, targetOf, type Target } from './target.ts';

/**
 * Pan and tilt of every head for every aim. What is possible for one head and one aim is kept as long as both and what they
 * stand on stay the same; which of the possible ways is taken is decided for all aims of a head together, so that it stays
 * in one half of its travel where it can.
 */

export interface Solution extends Solved {
  readonly target: Target;
  /** What is programmed: Pan and Tilt 0-1 of their ranges. */
  readonly values: Readonly<Record<string, number>>;
  /** Pan and tilt as they were corrected by hand, degrees; zeros mostly. */
  readonly corrected: { readonly pan: number; readonly tilt: number };
  /** The aim is at the head itself: it stays in the middle. */
  readonly atHead: boolean;
}

/** What a head could do for an aim. */
interface Possible {
  readonly unit: UnitRecord;
  readonly profile: ProfileRecord | undefined;
  readonly anchor: AnyRecord | undefined;
  readonly index: number;
  readonly count: number;
  readonly target: Target;
  readonly ways: readonly Found[];
  readonly missDeg: number;
  readonly atHead: boolean;
  /** It lies on the head's own axis: any pan will do. */
  readonly anyPan: boolean;
}

/** Nearer than this to its own axis the pan of a head makes no difference. */
const ON_AXIS = 1e-6;
const MIDDLE: Found = { pan: 0, tilt: 0, flipped: false };
const possible = new WeakMap<AimRecord, Map<UnitId, Possible>>();

function possibleFor(document: Document, aim: AimRecord, unit: UnitRecord, axes: Axes): Possible {
  let ofAim = possible.get(aim);
  if (!ofAim) possible.set(aim, (ofAim = new Map()));
  const profile = getRecord(document, 'profile', unit.profileId);
  const anchor = aim.anchor ? document.get(aim.anchor) : undefined;
  const [index, count] = rankIn(document, aim, unit.id);
  const known = ofAim.get(unit.id);
  if (
    known &&
    known.unit === unit &&
    known.profile === profile &&
    known.anchor === anchor &&
    known.index === index &&
    known.count === count
  )
    return known;
  const target = targetOf(document, aim, unit.id, axes.standing.position);
  const found = { unit, profile, anchor, index, count, target, ...waysFor(axes, target) };
  ofAim.set(unit.id, found);
  return found;
}

function waysFor(axes: Axes, target: Target): Pick<Possible, 'ways' | 'missDeg' | 'atHead' | 'anyPan'> {
  if (target.is === 'home') return { ways: [homeOf(axes)], missDeg: 0, atHead: false, anyPan: false };
  const way =
    target.is === 'way'
      ? applied(transposed(rotationOf(axes.standing.rotation)), target.way)
      : wayTo(axes.standing, target.place);
  if (!way) return { ways: [MIDDLE], missDeg: 0, atHead: true, anyPan: false };
  const anyPan = Math.hypot(way.x, axes.joint === 'head' ? way.y : way.z) < ON_AXIS;
  const ways = waysWithin(axes, way);
  if (ways.length > 0) return { ways, missDeg: 0, atHead: false, anyPan };
  const { missDeg, ...nearest } = nearestTo(axes, way);
  return { ways: [nearest], missDeg, atHead: false, anyPan };
}

/** The middle of both ranges as they are programmed. */
const homeOf = ({ pan, tilt, panRange, tiltRange }: Axes): Found => ({
  pan: clamp(-(panRange?.offsetDeg ?? 0), pan[0], pan[1]),
  tilt: clamp(-(tiltRange?.offsetDeg ?? 0), tilt[0], tilt[1]),
  flipped: false,
});

/** How far a head turns from one to the other: its axes turn at the same time. */
const between = (a: Found, b: Found): number => Math.max(Math.abs(a.pan - b.pan), Math.abs(a.tilt - b.tilt));
/** A way that is as good as another but turned round is not taken, and one that is farther from the front a little less so. */
const strangeness = ({ pan, flipped }: Found): number => Math.abs(pan) * 1e-3 + (flipped ? 0.01 : 0);

/**
 * The forward posture of a head: that of all the ways it could stand from which all its aims are nearest together. Of several
 * alike the one in front.
 */
function postureOf(sets: readonly (readonly Found[])[]): Found {
  let best: Found = MIDDLE;
  let least = Infinity;
  for (const set of sets)
    for (const candidate of set) {
      let sum = strangeness(candidate) * sets.length;
      for (const other of sets) {
        let nearest = Infinity;
        for (const way of other) nearest = Math.min(nearest, between(candidate, way) + strangeness(way));
        sum += nearest;
        if (sum >= least) break;
      }
      if (sum < least - 1e-9) [best, least] = [candidate, sum];
    }
  return best;
}

const solved = new WeakMap<Document, Map<UnitId, ReadonlyMap<AimId, Solution>>>();
const aims = new WeakMap<Document, readonly AimRecord[]>();
/** The aims of a show; looked for once for a document. */
export function aimsOf(document: Document): readonly AimRecord[] {
  let found = aims.get(document);
  if (!found) aims.set(document, (found = recordsOf(document, 'aim')));
  return found;
}

const NONE: ReadonlyMap<AimId, Solution> = new Map();

/** What a head does for each aim of the show; nothing for what cannot move. Worked out once for a document. */
export function solutionsOf(document: Document, unitId: UnitId): ReadonlyMap<AimId, Solution> {
  let ofUnits = solved.get(document);
  if (!ofUnits) solved.set(document, (ofUnits = new Map()));
  let found = ofUnits.get(unitId);
  if (!found) ofUnits.set(unitId, (found = solveAll(document, unitId)));
  return found;
}

function solveAll(document: Document, unitId: UnitId): ReadonlyMap<AimId, Solution> {
  const unit = getRecord(document, 'unit', unitId);
  const axes = unit && axesOf(document, unit);
  const all = aimsOf(document);
  if (!axes || all.length === 0) return NONE;
  const each = all.map((aim) => possibleFor(document, aim, unit, axes));
  // Home is where it is, and what can be had with any pan: they draw the others nowhere.
  const drawing = each.filter(({ target, anyPan }) => target.is !== 'home' && !anyPan);
  const posture = postureOf(drawing.map(({ ways }) => ways));
  return new Map(
    all.map((aim, i) => {
      const { ways, ...rest } = each[i]!;
      const chosen = ways.reduce((a, b) => {
        const [toA, toB] = [between(a, posture) + strangeness(a), between(b, posture) + strangeness(b)];
        return toB < toA - 1e-9 ? b : a;
      });
      const panned = rest.anyPan ? { ...chosen, pan: posture.pan } : chosen;
      return [aim.id, solutionOf(axes, aim, unitId, panned, rest)];
    }),
  );
}

function solutionOf(
  axes: Axes,
  aim: AimRecord,
  unitId: UnitId,
  chosen: Found,
  { target, missDeg, atHead }: Pick<Possible, 'target' | 'missDeg' | 'atHead'>,
): Solution {
  const corrected = aim.corrections[unitId] ?? { pan: 0, tilt: 0 };
  const pan = clamp(chosen.pan + corrected.pan, axes.pan[0], axes.pan[1]);
  const tilt = clamp(chosen.tilt + corrected.tilt, axes.tilt[0], axes.tilt[1]);
  return { ...chosen, pan, tilt, missDeg, target, atHead, corrected, values: aimValues(axes, { pan, tilt }) };
}

/** What a head does for one aim; null where it cannot move or the aim is gone. */
export const solutionFor = (document: Document, unitId: UnitId, aimId: AimId): Solution | null =>
  solutionsOf(document, unitId).get(aimId) ?? null;

/** Everything that an aim's solutions are made of besides units and profiles: all aims, and what they stand on. */
export function madeOfAims(document: Document): readonly AnyRecord[] {
  const found = new Set<AnyRecord>();
  for (const aim of aimsOf(document)) {
    found.add(aim);
    const anchor = aim.anchor && document.get(aim.anchor);
    if (anchor) found.add(anchor);
  }
  return [...found];
}
