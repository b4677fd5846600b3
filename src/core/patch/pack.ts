import { applyChange, getRecord, recordsOf, type ChangeSet, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import type { UnitOrder } from '../records/group.ts';
import type { SlotsPerUniverse, Span } from './address.ts';
import { takenSpans } from './clash.ts';
import { cellOf, followingPlace, patchOf, placeOf, relatedTo, slotsPerUniverseOf, spansAt } from './of-document.ts';
import { orderUnits } from './order.ts';
import { placeRun, type Footprint, type SlotPlace } from './place.ts';

export interface PackOptions {
  readonly order: UnitOrder;
  readonly start: SlotPlace;
  readonly gap?: number;
  readonly block?: number;
}

export interface Move {
  readonly unit: UnitRecord;
  readonly before: SlotPlace | null;
  readonly after: SlotPlace | null;
}

export interface Packing {
  readonly change: ChangeSet;
  /** Every unit whose address changes, those that follow included, in the order of the packing. */
  readonly moves: readonly Move[];
  /** Units for which no address was left. They keep the one they have. */
  readonly unplaced: readonly UnitRecord[];
  /** Units that followed one outside the selection and now have an address of their own. */
  readonly letGo: readonly UnitRecord[];
}

/**
 * Packs units from an address on, one after the other, around what is not selected. Twins move with the unit they are
 * twins of, chained units with the one they follow: such a cluster is laid down as one. Programming is untouched: it
 * knows units and attributes, never addresses.
 */
export function packUnits(document: Document, ids: Iterable<UnitId>, options: PackOptions): Packing {
  const chosen = [...new Set(ids)].flatMap((id) => getRecord(document, 'unit', id) ?? []);
  const { anchors, letGo } = anchorsOf(document, chosen);
  const ordered = orderUnits(document, anchors, options.order);
  const clusters = new Clusters(document, new Set(anchors.map((u) => u.id)));
  const slotsOf = slotsPerUniverseOf(document);
  const resting = patchOf(document).units.filter((p) => !clusters.moving.has(p.id));
  const places = placeRun(
    ordered.map((unit) => clusters.footprint(unit, slotsOf)),
    { start: options.start, gap: options.gap, block: options.block, slotsOf, taken: takenSpans(resting) },
  );
  const put = ordered.flatMap((unit, i) => (places[i] ? [readdressed(unit, places[i])] : []));
  const change: ChangeSet = { put: put.filter((u) => changed(getRecord(document, 'unit', u.id), u)), remove: [] };
  return {
    change,
    moves: movesOf(document, change, ordered),
    unplaced: ordered.filter((_, i) => !places[i]),
    letGo: letGo.filter((u) => put.some((p) => p.id === u.id)),
  };
}

/** A unit with an address of its own. */
export const readdressed = (unit: UnitRecord, place: SlotPlace | null): UnitRecord => ({
  ...unit,
  patch: place as UnitRecord['patch'],
  relation: null,
});

const changed = (before: UnitRecord | undefined, after: UnitRecord): boolean =>
  before?.relation !== null ||
  before.patch?.universe !== after.patch?.universe ||
  before.patch?.address !== after.patch?.address;

/** The units that must be laid down: a twin stands for its original, a chained one follows when its leader is there. */
function anchorsOf(document: Document, chosen: readonly UnitRecord[]): { anchors: UnitRecord[]; letGo: UnitRecord[] } {
  const originals = new Map<UnitId, UnitRecord>();
  for (const unit of chosen) {
    const original = originalOf(document, unit);
    originals.set(original.id, original);
  }
  const anchors: UnitRecord[] = [];
  const letGo: UnitRecord[] = [];
  for (const unit of originals.values()) {
    if (leads(document, unit, originals)) continue;
    anchors.push(unit);
    if (unit.relation) letGo.push(unit);
  }
  return { anchors, letGo };
}

/** The unit whose address a twin has; the unit itself where it is no twin. */
export function originalOf(document: Document, unit: UnitRecord): UnitRecord {
  let at = unit;
  for (let steps = 0; at.relation && 'twinOf' in at.relation && steps < 1000; steps++) {
    const other = getRecord(document, 'unit', at.relation.twinOf);
    if (!other) return at;
    at = other;
  }
  return at;
}

/** True when the unit follows, near or far, one that is laid down itself. */
function leads(document: Document, unit: UnitRecord, laid: ReadonlyMap<UnitId, UnitRecord>): boolean {
  const seen = new Set<UnitId>([unit.id]);
  for (let at = unit; at.relation;) {
    const id = relatedTo(at.relation);
    if (seen.has(id)) return false;
    if (laid.has(id)) return true;
    const other = getRecord(document, 'unit', id);
    if (!other) return false;
    seen.add(id);
    at = other;
  }
  return false;
}

/** What follows what: each anchor with all that moves along. */
class Clusters {
  readonly #document: Document;
  readonly #followers = new Map<UnitId, UnitRecord[]>();
  readonly moving = new Set<UnitId>();

  constructor(document: Document, anchors: ReadonlySet<UnitId>) {
    this.#document = document;
    for (const unit of recordsOf(document, 'unit')) {
      // An anchor is laid down on its own, whatever it followed before.
      if (!unit.relation || anchors.has(unit.id)) continue;
      const leader = relatedTo(unit.relation);
      const list = this.#followers.get(leader);
      if (list) list.push(unit);
      else this.#followers.set(leader, [unit]);
    }
    const stack = [...anchors];
    for (let id = stack.pop(); id !== undefined; id = stack.pop()) {
      if (this.moving.has(id)) continue;
      this.moving.add(id);
      for (const follower of this.#followers.get(id) ?? []) stack.push(follower.id);
    }
  }

  footprint(unit: UnitRecord, slotsOf: (universe: number) => SlotsPerUniverse): Footprint {
    const cell = cellOf(getRecord(this.#document, 'profile', unit.profileId), unit);
    const spans = (place: SlotPlace): Span[] => {
      const all: Span[] = [];
      const stack: [UnitRecord, SlotPlace][] = [[unit, place]];
      const seen = new Set<UnitId>();
      for (let next = stack.pop(); next; next = stack.pop()) {
        const [member, at] = next;
        if (seen.has(member.id)) continue;
        seen.add(member.id);
        const spans = spansAt(this.#document, member, at, slotsOf(at.universe));
        all.push(...spans);
        for (const follower of this.#followers.get(member.id) ?? []) {
          const where = followingPlace(this.#document, follower, follower.relation!, spans, slotsOf);
          if (where) stack.push([follower, where]);
        }
      }
      return all;
    };
    return { spans, cell };
  }
}

/** What a change of addresses does to every unit, those that follow included; `first` names the order to list them in. */
export function movesOf(document: Document, change: ChangeSet, first: readonly UnitRecord[] = []): Move[] {
  const [before, after] = [patchOf(document), patchOf(applyChange(document, change))];
  const rank = new Map(first.map((u, i) => [u.id, i]));
  const moves: Move[] = [];
  for (const patched of after.units) {
    const { id } = patched;
    const old = before.get(id);
    const [from, to] = [placeOf(old), placeOf(patched)];
    if (old === patched || (from?.universe === to?.universe && from?.address === to?.address)) continue;
    const unit = getRecord(document, 'unit', id);
    if (unit) moves.push({ unit, before: from, after: to });
  }
  const key = ({ unit }: Move): number => rank.get(unit.id) ?? Number.MAX_SAFE_INTEGER;
  return moves.sort((a, b) => key(a) - key(b) || a.unit.number - b.unit.number);
}

/**
 * Moves units by so many slots, counted through the universes, keeping their distances: what dragging and nudging do.
 * Units that follow another move by themselves. Null when one would leave the universes 1-63999 or start past the end
 * of its universe.
 */
export function shiftUnits(document: Document, ids: Iterable<UnitId>, bySlots: number): ChangeSet | null {
  const chosen = [...new Set(ids)].flatMap((id) => getRecord(document, 'unit', id) ?? []);
  const { anchors } = anchorsOf(document, chosen);
  const patch = patchOf(document);
  const slotsOf = slotsPerUniverseOf(document);
  const put: UnitRecord[] = [];
  for (const unit of anchors) {
    const place = placeOf(patch.get(unit.id));
    if (!place) continue;
    const moved = shiftPlace(place, bySlots, slotsOf);
    if (!moved) return null;
    put.push(readdressed(unit, moved));
  }
  return { put, remove: [] };
}

/** A place so many slots on (or back), counted through the universes; null before 1.1 and past universe 63999. */
export function shiftPlace(
  place: SlotPlace,
  bySlots: number,
  slotsOf: (universe: number) => SlotsPerUniverse,
): SlotPlace | null {
  let { universe } = place;
  let address = place.address + bySlots;
  while (address < 1) {
    universe--;
    if (universe < 1) return null;
    address += slotsOf(universe);
  }
  while (address > slotsOf(universe)) {
    address -= slotsOf(universe);
    universe++;
    if (universe > 63_999) return null;
  }
  return { universe, address };
}
