import { getRecord, recordsOf, sameJson, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { findMode, layoutMode, type ModeLayout } from '../profile/layout.ts';
import { layoutProp, plainLayout, type UnitLayout } from '../prop/wiring.ts';
import type { AnyRecord, ProfileRecord, UnitRecord } from '../records/index.ts';
import type { Prop } from '../records/prop.ts';
import type { Relation } from '../records/unit.ts';
import { differing } from '../lists.ts';
import { clamp, MAX_UNIVERSE } from '../units.ts';
import { slotAfter, spansOf, type SlotsPerUniverse, type Span } from './address.ts';

/** A unit as the patch sees it, wherever its address comes from. */
export interface PatchedUnit {
  readonly id: UnitId;
  readonly number: number;
  readonly name: string;
  /** The slots it takes, in order; empty where it has no address. */
  readonly spans: readonly Span[];
  readonly slotsPerUniverse: SlotsPerUniverse;
  /** The unit whose slots these are: itself, or the one it is a twin of. Twins are counted once on the wire. */
  readonly wire: UnitId;
}

const layouts = new WeakMap<ProfileRecord, Map<string, ModeLayout>>();
const EMPTY: ModeLayout = {
  footprint: 0,
  channels: [],
  cells: 0,
  cellFootprint: 0,
  programmable: [],
  virtualDimmer: false,
};

/** The layout of a mode, kept for as long as the profile record itself. An unknown mode is empty. */
export function layoutOf(profile: ProfileRecord | undefined, modeKey: string): ModeLayout {
  if (!profile) return EMPTY;
  let byMode = layouts.get(profile);
  if (!byMode) layouts.set(profile, (byMode = new Map()));
  let layout = byMode.get(modeKey);
  if (!layout) {
    const mode = findMode(profile, modeKey);
    byMode.set(modeKey, (layout = mode ? layoutMode(profile, mode) : EMPTY));
  }
  return layout;
}

const plain = new WeakMap<ModeLayout, UnitLayout>();
const shaped = new WeakMap<Prop, { profile: ProfileRecord; mode: string; layout: UnitLayout }>();

/** The layout of a mode as this unit has it: a prop has as many cells as its shape, wired its own way. Kept as long as both. */
export function unitLayout(profile: ProfileRecord | undefined, unit: Pick<UnitRecord, 'mode' | 'prop'>): UnitLayout {
  const mode = profile && unit.prop ? findMode(profile, unit.mode) : undefined;
  if (!profile || !unit.prop || !mode) {
    const layout = layoutOf(profile, unit.mode);
    let found = plain.get(layout);
    if (!found) plain.set(layout, (found = plainLayout(layout)));
    return found;
  }
  const known = shaped.get(unit.prop);
  if (known?.profile === profile && known.mode === unit.mode) return known.layout;
  const layout = layoutProp(profile, mode, unit.prop);
  shaped.set(unit.prop, { profile, mode: unit.mode, layout });
  return layout;
}

/** `unitLayout` of a unit of a show. */
export const layoutOfUnit = (document: Document, unit: UnitRecord): UnitLayout =>
  unitLayout(getRecord(document, 'profile', unit.profileId), unit);

/** Slots of each universe: the smallest of the outputs it is routed through, 512 where it is not routed. */
export function slotsPerUniverseOf(document: Document): (universe: number) => SlotsPerUniverse {
  const limits = new Map<number, SlotsPerUniverse>();
  for (const route of recordsOf(document, 'route')) {
    if (getRecord(document, 'output', route.outputId)?.slotsPerUniverse === 510) limits.set(route.universe, 510);
  }
  return (universe) => limits.get(universe) ?? 512;
}

interface Kept {
  readonly profile: ProfileRecord | undefined;
  readonly slots: SlotsPerUniverse;
  readonly patched: PatchedUnit;
}
/** What the patch last made of a unit record with an address of its own: most of a rig stays as it was at an edit. */
const kept = new WeakMap<UnitRecord, Kept>();
/** The patch that was worked out last, with all that it was made of. */
let last: {
  readonly ground: readonly (readonly AnyRecord[])[];
  readonly records: readonly UnitRecord[];
  readonly units: readonly PatchedUnit[];
  /** Places of units whose address follows from others'. */
  readonly related: readonly number[];
} | null = null;
const relatedOf = (records: readonly UnitRecord[]): number[] =>
  records.flatMap((record, i) => (record.relation === null ? [] : [i]));
/** Where more units changed than this it is as quick to begin anew. */
export const FEW_UNITS = 64;

/** All units of a document as the patch sees them. */
export interface Patch {
  get(id: UnitId): PatchedUnit | undefined;
  /** In the order of the document. */
  readonly units: readonly PatchedUnit[];
}
const patches = new WeakMap<Document, Patch>();

/**
 * The patch of a document, kept for as long as the document. What did not change since the document before is not
 * worked out again, and nothing is copied: a list of 20,000 units takes a few milliseconds.
 */
export function patchOf(document: Document): Patch {
  let found = patches.get(document);
  if (!found) patches.set(document, (found = new Resolver(document).all()));
  return found;
}

export const patchedUnits = (document: Document): readonly PatchedUnit[] => patchOf(document).units;

/** One unit as the patch sees it, also when it is not in the document (yet). */
export const patchedUnit = (document: Document, unit: UnitRecord): PatchedUnit =>
  document.get(unit.id) === unit ? patchOf(document).get(unit.id)! : new Resolver(document).one(unit);

/** The spans of a unit that started at `place`. */
export function spansAt(
  document: Document,
  unit: UnitRecord,
  place: { readonly universe: number; readonly address: number },
  slots: SlotsPerUniverse,
): Span[] {
  return modeSpans(getRecord(document, 'profile', unit.profileId), unit, place, slots);
}

/**
 * The spans of a mode (and the prop made of it) that started at `place`: what flows goes on in the next universe,
 * keeping its cells whole where there are 510 slots or the prop asks for it. Strings with a start of their own begin
 * there.
 */
export function modeSpans(
  profile: ProfileRecord | undefined,
  unit: Pick<UnitRecord, 'mode' | 'prop'>,
  place: { readonly universe: number; readonly address: number },
  slots: SlotsPerUniverse,
): Span[] {
  const { sections, cellFootprint } = unitLayout(profile, unit);
  const split = unit.prop?.split ?? 'auto';
  const options = {
    flow: profile?.flow ?? false,
    slotsPerUniverse: slots,
    cellFootprint: split === 'never' || (split === 'auto' && slots === 510) ? cellFootprint : 0,
  };
  const spans: Span[] = [];
  for (const { slots: count, start } of sections) {
    const last = spans.at(-1);
    const from = start
      ? { universe: clamp(place.universe + start.universe, 1, MAX_UNIVERSE), address: start.address }
      : last
        ? slotAfter(last, 0, () => slots)
        : place;
    spans.push(...spansOf(from, count, options));
  }
  return spans;
}

/** Slots of one pixel of what flows on; 0 for a fixture, which is never parted. */
export const cellOf = (profile: ProfileRecord | undefined, unit: Pick<UnitRecord, 'mode' | 'prop'>): number =>
  profile?.flow ? unitLayout(profile, unit).cellFootprint : 0;

/**
 * Where a unit starts that follows from another one's spans: a twin in the same slot, a chained one in the slot after
 * the last, a fixture that the rest of the universe does not take whole at the start of the next. Null where the other
 * has no address.
 */
export function followingPlace(
  document: Document,
  unit: UnitRecord,
  relation: Relation,
  base: readonly Span[],
  slotsOf: (universe: number) => SlotsPerUniverse,
): { universe: number; address: number } | null {
  const [first, last] = [base[0], base.at(-1)];
  if (!first || !last) return null;
  if ('twinOf' in relation) return { universe: first.universe, address: first.from };
  const place = slotAfter(last, relation.gap, slotsOf);
  const profile = getRecord(document, 'profile', unit.profileId);
  const end = place.address + unitLayout(profile, unit).footprint - 1;
  return !profile?.flow && end > slotsOf(place.universe) ? { universe: place.universe + 1, address: 1 } : place;
}

/** True where two units are the same thing: only then can one stand for the other on the wire. */
export const sameMake = (a: UnitRecord, b: UnitRecord): boolean =>
  a.profileId === b.profileId && a.mode === b.mode && sameJson(a.prop, b.prop);

/** The unit that a relation names. */
export const relatedTo = (relation: Relation): UnitId => ('twinOf' in relation ? relation.twinOf : relation.after);

/** Resolves relations between units; a circle of them (which the rules refuse) leaves its units without address. */
class Resolver {
  readonly #document: Document;
  readonly #slotsOf: (universe: number) => SlotsPerUniverse;
  /** A handful of profiles for thousands of units: found here faster than in the whole show. */
  readonly #profiles = new Map<string, ProfileRecord | null>();
  /** Units that follow others, resolved. */
  readonly #done = new Map<UnitId, PatchedUnit>();

  constructor(document: Document) {
    this.#document = document;
    this.#slotsOf = slotsPerUniverseOf(document);
  }

  all(): Patch {
    const records = recordsOf(this.#document, 'unit');
    const ground = (['profile', 'route', 'output'] as const).map((kind) => recordsOf(this.#document, kind));
    const { units, related } = this.#followed(ground, records) ?? {
      units: records.map((record) => this.one(record)),
      related: relatedOf(records),
    };
    last = { ground, records, units, related };
    return {
      units,
      get: (id) => {
        const unit = getRecord(this.#document, 'unit', id);
        return unit && this.one(unit);
      },
    };
  }

  /** From the document before, mostly: units that stayed the very same on the same ground are where they were. */
  #followed(
    ground: readonly (readonly AnyRecord[])[],
    records: readonly UnitRecord[],
  ): Pick<NonNullable<typeof last>, 'units' | 'related'> | null {
    if (!last?.ground.every((list, i) => differing(list, ground[i]!, 0))) return null;
    const changed = differing(last.records, records, FEW_UNITS);
    if (!changed) return null;
    const before = last.records;
    const same = changed.every((i) => (before[i]!.relation === null) === (records[i]!.relation === null));
    const related = same ? last.related : relatedOf(records);
    const units = [...last.units];
    for (const i of [...changed, ...related]) units[i] = this.one(records[i]!);
    return { units, related };
  }

  /** Follows the relations to where an address is known, then comes back; no recursion, however long the chain. */
  one(unit: UnitRecord): PatchedUnit {
    // Nearly every unit of nearly every rig: known from the unit itself.
    if (unit.relation === null) return this.#own(unit);
    const known = this.#done.get(unit.id);
    if (known) return known;
    const chain: UnitRecord[] = [unit];
    const seen = new Set<UnitId>([unit.id]);
    for (let at = unit; at.relation !== null;) {
      const other = getRecord(this.#document, 'unit', relatedTo(at.relation));
      if (!other || seen.has(other.id) || this.#done.has(other.id) || other.relation === null) break;
      seen.add(other.id);
      chain.push(other);
      at = other;
    }
    for (const member of chain.reverse()) this.#done.set(member.id, this.#related(member, member.relation!));
    return this.#done.get(unit.id)!;
  }

  #profile(id: UnitRecord['profileId']): ProfileRecord | undefined {
    let found = this.#profiles.get(id);
    if (found === undefined) this.#profiles.set(id, (found = getRecord(this.#document, 'profile', id) ?? null));
    return found ?? undefined;
  }

  #own(unit: UnitRecord): PatchedUnit {
    const slots = unit.patch ? this.#slotsOf(unit.patch.universe) : 512;
    const profile = this.#profile(unit.profileId);
    const old = kept.get(unit);
    if (old && old.profile === profile && old.slots === slots) return old.patched;
    const patched = patchedAt(this.#document, unit, unit.patch, slots);
    kept.set(unit, { profile, slots, patched });
    return patched;
  }

  #related(unit: UnitRecord, relation: Relation): PatchedUnit {
    const other = getRecord(this.#document, 'unit', relatedTo(relation));
    const base = other?.relation === null ? this.#own(other) : other && this.#done.get(other.id);
    const place = base ? followingPlace(this.#document, unit, relation, base.spans, this.#slotsOf) : null;
    const patched = patchedAt(this.#document, unit, place, place ? this.#slotsOf(place.universe) : 512);
    return base && place && 'twinOf' in relation ? { ...patched, wire: base.wire } : patched;
  }
}

const patchedAt = (
  document: Document,
  unit: UnitRecord,
  place: { readonly universe: number; readonly address: number } | null,
  slotsPerUniverse: SlotsPerUniverse,
): PatchedUnit => ({
  id: unit.id,
  number: unit.number,
  name: unit.name,
  spans: place ? spansAt(document, unit, place, slotsPerUniverse) : [],
  slotsPerUniverse,
  wire: unit.id,
});

/** Where a unit starts, wherever that comes from; null without an address. */
export function placeOf(patched: PatchedUnit | undefined): { universe: number; address: number } | null {
  const first = patched?.spans[0];
  return first ? { universe: first.universe, address: first.from } : null;
}
