import type { Fault } from '../faults.ts';
import { kindOf, type Id, type LitId } from '../ids.ts';
import { hexOf } from '../palette/colour.ts';
import { plainValues } from '../palette/resolve.ts';
import { membersOf } from '../patch/groups.ts';
import { patchOf, placeOf, relatedTo } from '../patch/of-document.ts';
import { findMode, profileFaults } from '../profile/layout.ts';
import { shownBy } from '../records/chase.ts';
import {
  isPaletteId,
  referencesOf,
  type AnyRecord,
  type ChaseRecord,
  type EffectRecord,
  type LineRecord,
  type PaletteRecord,
  type ProfileRecord,
  type SceneRecord,
  type UnitRecord,
} from '../records/index.ts';
import type { UnitValues } from '../records/scene.ts';
import { isPaletteValue } from '../records/value.ts';
import { applyChange, getRecord, recordsOf, type ChangeSet, type Document } from './change.ts';

const FAULT_LIMIT = 50;

/**
 * The rules between records: nothing dangles, exactly one show, every unit in a mode its profile has, every profile
 * sound. Looks only at what the change touches, and at what refers to what it removes.
 * What the patch would call a clash (overlaps, overruns) is not refused here: it is allowed and marked.
 */
export function changeFaults(before: Document, change: ChangeSet): Fault[] {
  const after = applyChange(before, change);
  const faults: Fault[] = [];
  for (const record of change.put) {
    if (faults.length >= FAULT_LIMIT) return faults;
    dangling(after, record, faults);
    if (record.kind === 'unit') {
      unitFaults(after, record.id, record.profileId, record.mode, faults);
      if (record.relation) circles(after, record, faults);
    }
    if (record.kind === 'area') nestedInItself(after, record.id, faults);
    if (record.kind === 'profile') {
      faults.push(...profileFaults(record));
      modesInUse(after, record, faults);
    }
  }
  const lines = change.put.filter((r): r is LineRecord => r.kind === 'line');
  if (lines.length > 0) onTwoLines(after, lines, faults);
  for (const record of change.put) if (record.kind === 'chase') showsItself(after, record, faults);
  const gone = new Set(change.remove.filter((id) => !after.has(id) && before.has(id)));
  if (gone.size > 0) for (const record of after.values()) stillReferring(record, gone, faults);
  const shows = recordsOf(after, 'show').length;
  if (shows !== 1)
    faults.push({
      code: 'ONE_SHOW',
      path: 'show',
      message: `a show has exactly one show record, this has ${shows}`,
      received: shows,
      remedy: 'Put or keep exactly one.',
    });
  return faults.slice(0, FAULT_LIMIT);
}

function dangling(after: Document, record: AnyRecord, faults: Fault[]): void {
  for (const [path, id] of referencesOf(record)) {
    if (after.has(id)) continue;
    const kind = kindOf(id) ?? 'record';
    faults.push({
      code: 'UNKNOWN_ID',
      path: `${record.id}.${path}`,
      message: `there is no ${kind} ${id}`,
      received: id,
      remedy: `Name a ${kind} of this show.`,
    });
    if (faults.length >= FAULT_LIMIT) return;
  }
}

function unitFaults(after: Document, id: Id, profileId: Id<'profile'>, mode: string, faults: Fault[]): void {
  const profile = getRecord(after, 'profile', profileId);
  if (!profile || findMode(profile, mode)) return;
  const modes = profile.modes.map((m) => m.key).join(', ');
  faults.push({
    code: 'UNKNOWN_MODE',
    path: `${id}.mode`,
    message: `${profile.model} has no mode "${mode}"`,
    received: mode,
    remedy: `Choose one of: ${modes}.`,
  });
}

/** A chain of units that follow one another must begin at one that has an address of its own. */
function circles(after: Document, unit: UnitRecord, faults: Fault[]): void {
  const seen = new Set<Id>();
  for (let at: UnitRecord | undefined = unit; at?.relation; at = getRecord(after, 'unit', relatedTo(at.relation))) {
    if (!seen.has(at.id)) {
      seen.add(at.id);
      continue;
    }
    const names = [...seen].map((id) => getRecord(after, 'unit', id)?.name ?? id).slice(0, 5);
    faults.push({
      code: 'RELATION_CIRCLE',
      path: `${unit.id}.relation`,
      message: `${unit.name} would follow itself (${names.join(', ')})`,
      received: relatedTo(unit.relation!),
      remedy: 'Give one of them an address of its own.',
    });
    return;
  }
}

function nestedInItself(after: Document, id: Id<'area'>, faults: Fault[]): void {
  let at = getRecord(after, 'area', id)?.parentId ?? null;
  for (let depth = 0; at !== null; depth++) {
    if (at === id || depth > 100) {
      const name = getRecord(after, 'area', id)?.name ?? id;
      faults.push({
        code: 'AREA_IN_ITSELF',
        path: `${id}.parentId`,
        message: `area “${name}” would lie inside itself`,
        received: getRecord(after, 'area', id)?.parentId,
        remedy: 'Choose an area that does not lie in this one.',
      });
      return;
    }
    at = getRecord(after, 'area', at)?.parentId ?? null;
  }
}

/** The path by which a chase would come to show itself; null where it does not. */
function pathToItself(document: Document, chase: ChaseRecord): ChaseRecord[] | null {
  const seen = new Set<Id>();
  const search = (at: ChaseRecord, path: readonly ChaseRecord[]): ChaseRecord[] | null => {
    for (const { chaseId } of at.steps) {
      if (chaseId === undefined) continue;
      if (chaseId === chase.id) return [...path, at];
      const next = getRecord(document, 'chase', chaseId);
      if (!next || seen.has(chaseId)) continue;
      seen.add(chaseId);
      const found = search(next, [...path, at]);
      if (found) return found;
    }
    return null;
  };
  return search(chase, []);
}

function showsItself(after: Document, chase: ChaseRecord, faults: Fault[]): void {
  const path = pathToItself(after, chase);
  if (!path || faults.length >= FAULT_LIMIT) return;
  const step = chase.steps.findIndex(({ chaseId }) => chaseId === (path[1] ?? chase).id);
  faults.push({
    code: 'CHASE_IN_ITSELF',
    path: `${chase.id}.steps.${step}.chaseId`,
    message: `chase “${chase.name}” would show itself (${path.map((c) => c.name).join(', ')})`,
    received: (path[1] ?? chase).id,
    remedy: 'Take that step out, or show another chase.',
  });
}

function onTwoLines(after: Document, put: readonly LineRecord[], faults: Fault[]): void {
  const touched = new Set(put.flatMap((line) => line.unitIds));
  const first = new Map<Id, LineRecord>();
  for (const line of recordsOf(after, 'line')) {
    for (const id of line.unitIds) {
      const other = first.get(id);
      if (!other) first.set(id, line);
      else if (touched.has(id) && faults.length < FAULT_LIMIT)
        faults.push({
          code: 'ON_TWO_LINES',
          path: `${line.id}.unitIds`,
          message: `${getRecord(after, 'unit', id)?.name ?? id} hangs on “${other.name}” already`,
          received: id,
          remedy: `Take it off “${other.name}” in the same change.`,
        });
    }
  }
}

function modesInUse(after: Document, profile: ProfileRecord, faults: Fault[]): void {
  for (const unit of recordsOf(after, 'unit')) {
    if (unit.profileId !== profile.id || findMode(profile, unit.mode)) continue;
    faults.push({
      code: 'MODE_IN_USE',
      path: `${profile.id}.modes`,
      message: `mode "${unit.mode}" is used by unit ${unit.number} ${unit.name}`,
      received: unit.mode,
      remedy: 'Move that unit to another mode first.',
    });
    if (faults.length >= FAULT_LIMIT) return;
  }
}

function stillReferring(record: AnyRecord, gone: ReadonlySet<Id>, faults: Fault[]): void {
  if (faults.length >= FAULT_LIMIT) return;
  for (const [path, id] of referencesOf(record)) {
    if (!gone.has(id)) continue;
    const name = 'name' in record ? record.name : record.id;
    faults.push({
      code: 'STILL_USED',
      path: `${record.id}.${path}`,
      message: `${id} is still used by ${record.kind} "${name}"`,
      received: id,
      remedy: `Take it out of "${name}" in the same change, or keep it.`,
    });
    return;
  }
}

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
    const without = withoutIds(document, record, gone);
    if (without !== record) put.push(without);
  }
  return { put, remove: [...gone].filter((id) => document.has(id)) };
}

/** What a record cannot be without: it goes where that goes. */
function ownerOf(record: AnyRecord): Id | null {
  switch (record.kind) {
    case 'unit':
      return record.profileId;
    case 'part':
      return record.unitId;
    case 'route':
      return record.outputId;
    case 'backdrop':
      return record.pictureId;
    default:
      return null;
  }
}

type Playable = SceneRecord | ChaseRecord | EffectRecord;

/** Area and picture of a playable without what is gone; null where nothing is. */
function tiesWithout(record: Playable, gone: ReadonlySet<Id>): Pick<Playable, 'areaId' | 'pictureId'> | null {
  const areaId = record.areaId && gone.has(record.areaId) ? null : record.areaId;
  const pictureId = record.pictureId && gone.has(record.pictureId) ? null : record.pictureId;
  return areaId === record.areaId && pictureId === record.pictureId ? null : { areaId, pictureId };
}

/** Values without units that are gone; those of a palette that goes are written out, so that the look stays. */
function valuesWithout(
  document: Document,
  values: SceneRecord['values'],
  gone: ReadonlySet<Id>,
): SceneRecord['values'] {
  const refers = (own: UnitValues): boolean =>
    Object.values(own).some((value) => isPaletteValue(value) && gone.has(value.palette));
  const entries = Object.entries(values) as [LitId, UnitValues][];
  if (!entries.some(([id, own]) => gone.has(id) || refers(own))) return values;
  return Object.fromEntries(
    entries.flatMap(([id, own]) => {
      if (gone.has(id)) return [];
      return [[id, refers(own) ? writtenOut(document, id, own, gone) : own]];
    }),
  );
}

function writtenOut(document: Document, id: LitId, own: UnitValues, gone: ReadonlySet<Id>): UnitValues {
  const plain = plainValues(document, id, own);
  return Object.fromEntries(
    Object.entries(own).flatMap(([key, value]) => {
      if (!isPaletteValue(value) || !gone.has(value.palette)) return [[key, value]];
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

/** Colours of a palette that goes are written out too. */
function partsWithout(document: Document, parts: EffectRecord['parts'], gone: ReadonlySet<Id>): EffectRecord['parts'] {
  const left = parts.map((part) => {
    if (!('colours' in part) || !part.colours.some((c) => isPaletteId(c) && gone.has(c))) return part;
    return { ...part, colours: part.colours.map((c) => (isPaletteId(c) && gone.has(c) ? hexOf(document, c) : c)) };
  });
  return left.every((part, i) => part === parts[i]) ? parts : left;
}

function withoutIds(document: Document, record: AnyRecord, gone: ReadonlySet<Id>): AnyRecord {
  const isGone = (id: Id | null): boolean => id !== null && gone.has(id);
  switch (record.kind) {
    case 'area':
      return isGone(record.parentId) ? { ...record, parentId: null } : record;
    case 'unit': {
      const areaId = isGone(record.areaId) ? null : record.areaId;
      if (!record.relation || !gone.has(relatedTo(record.relation)))
        return areaId === record.areaId ? record : { ...record, areaId };
      const patch = placeOf(patchOf(document).get(record.id)) as UnitRecord['patch'];
      return { ...record, areaId, relation: null, patch };
    }
    case 'group': {
      const unitIds = record.unitIds.some(isGone) ? record.unitIds.filter((id) => !gone.has(id)) : record.unitIds;
      // A rule about something that is gone would let everybody in: what it held last stays as a plain list.
      const rule = record.rule && (isGone(record.rule.profileId) || isGone(record.rule.areaId)) ? null : record.rule;
      if (unitIds === record.unitIds && rule === record.rule) return record;
      return {
        ...record,
        unitIds: rule === record.rule ? unitIds : membersOf(document, record).filter((id) => !gone.has(id)),
        rule,
      };
    }
    case 'line': {
      const outputId = isGone(record.outputId) ? null : record.outputId;
      const unitIds = record.unitIds.some(isGone) ? record.unitIds.filter((id) => !gone.has(id)) : record.unitIds;
      if (unitIds === record.unitIds && outputId === record.outputId) return record;
      const cables = Object.fromEntries(
        Object.entries(record.cables)
          .filter(([id]) => !gone.has(id as Id))
          .map(([id, cable]) => [id, isGone(cable.from) ? { ...cable, from: null } : cable]),
      );
      return { ...record, unitIds, outputId, cables };
    }
    case 'output':
      return record.lamps.some((lamp) => isGone(lamp.unitId))
        ? { ...record, lamps: record.lamps.map((lamp) => (isGone(lamp.unitId) ? { ...lamp, unitId: null } : lamp)) }
        : record;
    case 'input': {
      const controls = record.controls.filter(
        ({ does }) => !(does.do === 'play' && gone.has(does.target)) && !(does.do === 'unit' && gone.has(does.unitId)),
      );
      return controls.length === record.controls.length ? record : { ...record, controls };
    }
    case 'scene': {
      const values = valuesWithout(document, record.values, gone);
      const ties = tiesWithout(record, gone);
      return values === record.values && ties === null ? record : { ...record, ...ties, values };
    }
    case 'chase': {
      const steps = stepsWithout(document, record.steps, gone);
      const ties = tiesWithout(record, gone);
      return steps === record.steps && ties === null ? record : { ...record, ...ties, steps };
    }
    case 'effect': {
      const on = record.on.some(isGone) ? record.on.filter((id) => !gone.has(id)) : record.on;
      const parts = partsWithout(document, record.parts, gone);
      const ties = tiesWithout(record, gone);
      return on === record.on && parts === record.parts && ties === null ? record : { ...record, ...ties, on, parts };
    }
    case 'palette': {
      const [profiles, units] = [record.profiles, record.units].map((list) =>
        Object.keys(list).some((id) => gone.has(id as Id))
          ? Object.fromEntries(Object.entries(list).filter(([id]) => !gone.has(id as Id)))
          : list,
      );
      return profiles === record.profiles && units === record.units
        ? record
        : ({ ...record, profiles, units } as PaletteRecord);
    }
    default:
      return record;
  }
}
