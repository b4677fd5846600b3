import { idsOfAction } from '../records/action.ts';
import type { Id, LitId, RecordKind } from '../ids.ts';
import type { ChangeSet, Document } from '../document/change.ts';
import { hexOf } from '../palette/colour.ts';
import { plainValues } from '../palette/resolve.ts';
import { freed } from '../aim/target.ts';
import { membersOf, reached } from '../patch/groups.ts';
import { patchOf, placeOf, relatedTo } from '../patch/of-document.ts';
import { shownBy } from '../records/chase.ts';
import {
  isPaletteId,
  ownerOf,
  type AimRecord,
  type AnyRecord,
  type ChaseRecord,
  type EffectRecord,
  type RecordOf,
  type SceneRecord,
  type UnitRecord,
} from '../records/index.ts';
import type { UnitValues } from '../records/scene.ts';
import { laneWithout } from '../records/lane.ts';
import { passageWithout } from '../records/passage.ts';
import { variantWithout } from '../records/variant.ts';
import { followedBy, type AttributeValue } from '../records/value.ts';

/**
 * The change set that removes records together with every mention of them: members leave their groups and lines,
 * values leave scenes, steps leave chases, routes go with their output, units with their profile. Units that followed
 * one that goes keep the address they have. One undo brings it all back.
 */
export function removalOf(document: Document, ids: Iterable<Id>): ChangeSet {
  const gone = new Set<Id>(ids);
  for (let grew = true; grew;) {
    grew = false;
    for (const record of document.values()) {
      const owner = ownerOf(record);
      if (!owner || !gone.has(owner) || gone.has(record.id)) continue;
      gone.add(record.id);
      grew = true;
    }
  }
  const put: AnyRecord[] = [];
  for (const record of document.values()) {
    if (gone.has(record.id)) continue;
    const without = withoutGone(document, record, gone);
    if (without !== record) put.push(without);
  }
  return { put, remove: [...gone].filter((id) => document.has(id)) };
}

type Playable = SceneRecord | ChaseRecord | EffectRecord;

/** Area and picture of a playable without what is gone; null where nothing is. */
function tiesWithout(record: Playable, gone: ReadonlySet<Id>): Pick<Playable, 'areaId' | 'pictureId'> | null {
  const areaId = record.areaId && gone.has(record.areaId) ? null : record.areaId;
  const pictureId = record.pictureId && gone.has(record.pictureId) ? null : record.pictureId;
  return areaId === record.areaId && pictureId === record.pictureId ? null : { areaId, pictureId };
}

/** Values without units that are gone; those of a palette or aim that goes are written out, so that the look stays. */
function valuesWithout(
  document: Document,
  values: SceneRecord['values'],
  gone: ReadonlySet<Id>,
): SceneRecord['values'] {
  const refers = (own: UnitValues): boolean => Object.values(own).some((value) => refersToGone(value, gone));
  const entries = Object.entries(values) as [LitId, UnitValues][];
  if (!entries.some(([id, own]) => gone.has(id) || refers(own))) return values;
  return Object.fromEntries(
    entries.flatMap(([id, own]) => {
      if (gone.has(id)) return [];
      return [[id, refers(own) ? writtenOut(document, id, own, gone) : own]];
    }),
  );
}

/** Says what something says that goes. */
const refersToGone = (value: AttributeValue, gone: ReadonlySet<Id>): boolean => mentions(followedBy(value), gone);

function writtenOut(document: Document, id: LitId, own: UnitValues, gone: ReadonlySet<Id>): UnitValues {
  const plain = plainValues(document, id, own);
  return Object.fromEntries(
    Object.entries(own).flatMap(([key, value]) => {
      if (!refersToGone(value, gone)) return [[key, value]];
      return plain[key] === undefined ? [] : [[key, plain[key]]];
    }),
  );
}

function stepsWithout(document: Document, steps: ChaseRecord['steps'], gone: ReadonlySet<Id>): ChaseRecord['steps'] {
  const left = steps.flatMap((step) => {
    const shown = shownBy(step);
    if (shown && gone.has(shown)) return [];
    const values = step.values && valuesWithout(document, step.values, gone);
    return values === step.values ? [step] : [{ ...step, values }];
  });
  return left.length === steps.length && left.every((step, i) => step === steps[i]) ? steps : left;
}

/** Colours of a palette that goes are written out too; what moved round an aim that goes moves where the heads are. */
function partsWithout(document: Document, parts: EffectRecord['parts'], gone: ReadonlySet<Id>): EffectRecord['parts'] {
  const left = parts.map((part) => {
    if (part.does === 'aim') return part.round && gone.has(part.round) ? { ...part, round: null } : part;
    if (!('colours' in part) || !part.colours.some((c) => isPaletteId(c) && gone.has(c))) return part;
    return { ...part, colours: part.colours.map((c) => (isPaletteId(c) && gone.has(c) ? hexOf(document, c) : c)) };
  });
  return left.every((part, i) => part === parts[i]) ? parts : left;
}

/** What something is called that goes. */
function nameIn(document: Document, id: Id): string {
  const record = document.get(id);
  return record && 'name' in record ? record.name.slice(0, 100) || id : id;
}

type Without<R> = (record: R, gone: ReadonlySet<Id>, document: Document) => R;
const asItIs = <R>(record: R): R => record;
/** A list without what is gone; the same list where nothing of it is. */
const listWithout = <T extends Id>(ids: readonly T[], gone: ReadonlySet<Id>): T[] =>
  ids.some((id) => gone.has(id)) ? ids.filter((id) => !gone.has(id)) : (ids as T[]);
const orNull = <T extends Id>(id: T | null, gone: ReadonlySet<Id>): T | null => (id && gone.has(id) ? null : id);
const keysWithout = <T>(list: Readonly<Record<string, T>>, gone: ReadonlySet<Id>): Record<string, T> =>
  Object.keys(list).some((id) => gone.has(id as Id))
    ? Object.fromEntries(Object.entries(list).filter(([id]) => !gone.has(id as Id)))
    : list;

/** For each kind the record without every mention of what is gone; the same record where it mentions none of it. */
const WITHOUT: { readonly [K in RecordKind]: Without<RecordOf[K]> } = {
  show: (record, gone) => (orNull(record.roomId, gone) === record.roomId ? record : { ...record, roomId: null }),
  profile: asItIs,
  // What they are of goes together with them.
  part: asItIs,
  route: asItIs,
  picture: asItIs,
  backdrop: asItIs,
  thing: asItIs,
  song: asItIs,
  setlist(record, gone) {
    const songs = listWithout(record.songs, gone);
    return songs === record.songs ? record : { ...record, songs };
  },
  lane: (record, gone, document) =>
    laneWithout(
      record,
      (id) => gone.has(id),
      (id) => nameIn(document, id),
    ),
  passage: (record, gone, document) =>
    passageWithout(
      record,
      (id) => gone.has(id),
      (id) => nameIn(document, id),
    ),
  variant: (record, gone) => variantWithout(record, (id) => gone.has(id as Id)),
  area: (record, gone) => (orNull(record.parentId, gone) === record.parentId ? record : { ...record, parentId: null }),
  unit(record, gone, document) {
    const [areaId, hungOn] = [orNull(record.areaId, gone), orNull(record.hungOn, gone)];
    if (!record.relation || !gone.has(relatedTo(record.relation)))
      return areaId === record.areaId && hungOn === record.hungOn ? record : { ...record, areaId, hungOn };
    const patch = placeOf(patchOf(document).get(record.id)) as UnitRecord['patch'];
    return { ...record, areaId, hungOn, relation: null, patch };
  },
  group(record, gone, document) {
    const unitIds = listWithout(record.unitIds, gone);
    // A rule about something that is gone would let everybody in: what it held last stays as a plain list.
    const holds = !record.rule || !(mentions(record.rule.profileId, gone) || mentions(record.rule.areaId, gone));
    if (holds) return unitIds === record.unitIds ? record : { ...record, unitIds };
    return { ...record, unitIds: listWithout(membersOf(document, record), gone), rule: null };
  },
  line(record, gone) {
    const outputId = orNull(record.outputId, gone);
    const unitIds = listWithout(record.unitIds, gone);
    if (unitIds === record.unitIds && outputId === record.outputId) return record;
    const cables = Object.fromEntries(
      Object.entries(keysWithout(record.cables, gone)).map(([id, cable]) => [
        id,
        mentions(cable.from, gone) ? { ...cable, from: null } : cable,
      ]),
    );
    return { ...record, unitIds, outputId, cables };
  },
  output: (record, gone) =>
    record.lamps.some((lamp) => mentions(lamp.unitId, gone))
      ? { ...record, lamps: record.lamps.map((lamp) => ({ ...lamp, unitId: orNull(lamp.unitId, gone) })) }
      : record,
  input(record, gone) {
    const controls = record.controls.filter(({ does }) => ![...idsOfAction(does)].some(([, id]) => gone.has(id)));
    return controls.length === record.controls.length ? record : { ...record, controls };
  },
  scene(record, gone, document) {
    const values = valuesWithout(document, record.values, gone);
    const ties = tiesWithout(record, gone);
    return values === record.values && ties === null ? record : { ...record, ...ties, values };
  },
  chase(record, gone, document) {
    const steps = stepsWithout(document, record.steps, gone);
    const ties = tiesWithout(record, gone);
    return steps === record.steps && ties === null ? record : { ...record, ...ties, steps };
  },
  effect(record, gone, document) {
    const on = listWithout(record.on, gone);
    const parts = partsWithout(document, record.parts, gone);
    const ties = tiesWithout(record, gone);
    return on === record.on && parts === record.parts && ties === null ? record : { ...record, ...ties, on, parts };
  },
  aim(record, gone, document) {
    const heads = headsWithout(document, record.heads, gone);
    const corrections = keysWithout(record.corrections, gone);
    const stands = record.anchor === null || !gone.has(record.anchor);
    if (stands && heads === record.heads && corrections === record.corrections) return record;
    return { ...(stands ? record : freed(document, record)), heads, corrections };
  },
  room(record, gone) {
    const { kept } = record;
    if (!kept) return record;
    const [units, areas, aims] = [
      keysWithout(kept.units, gone),
      keysWithout(kept.areas, gone),
      keysWithout(kept.aims, gone),
    ];
    if (units === kept.units && areas === kept.areas && aims === kept.aims) return record;
    return { ...record, kept: { ...kept, units, areas, aims } };
  },
  palette(record, gone) {
    const [profiles, units] = [keysWithout(record.profiles, gone), keysWithout(record.units, gone)];
    return profiles === record.profiles && units === record.units ? record : { ...record, profiles, units };
  },
};

/** Heads of a group or area that goes stay as they are named; where nobody is left nobody takes part. */
function headsWithout(document: Document, heads: AimRecord['heads'], gone: ReadonlySet<Id>): AimRecord['heads'] {
  if (!heads?.some((id) => gone.has(id))) return heads;
  const left = heads.flatMap((id) => {
    if (!gone.has(id)) return [id];
    return id.startsWith('unit:') ? [] : reached(document, [id]).filter((unit) => !gone.has(unit));
  });
  return [...new Set(left)] as NonNullable<AimRecord['heads']>;
}

const mentions = (id: Id | null, gone: ReadonlySet<Id>): boolean => id !== null && gone.has(id);

const withoutGone = (document: Document, record: AnyRecord, gone: ReadonlySet<Id>): AnyRecord =>
  (WITHOUT[record.kind] as Without<AnyRecord>)(record, gone, document);
