import type { Fault } from '../faults.ts';
import { applyChange, getRecord, recordsOf, type ChangeSet, type Document } from '../document/change.ts';
import { kindOf, type Id } from '../ids.ts';
import { relatedTo } from '../patch/of-document.ts';
import { findMode, profileFaults } from '../profile/layout.ts';
import {
  describe,
  referencesOf,
  type AnyRecord,
  type ChaseRecord,
  type LineRecord,
  type ProfileRecord,
  type UnitRecord,
} from '../records/index.ts';

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
    const kind = kindOf(id);
    const word = kind ? describe(kind).words[0] : 'record';
    faults.push({
      code: 'UNKNOWN_ID',
      path: `${record.id}.${path}`,
      message: `there is no ${word} ${id}`,
      received: id,
      remedy: `Name a ${word} of this show.`,
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
      message: `${id} is still used by ${describe(record.kind).words[0]} "${name}"`,
      received: id,
      remedy: `Take it out of "${name}" in the same change, or keep it.`,
    });
    return;
  }
}
