import type { Fault } from '../faults.ts';
import { kindOf, type Id } from '../ids.ts';
import { findMode, profileFaults } from '../profile/layout.ts';
import { referencesOf, type AnyRecord, type ProfileRecord } from '../records/index.ts';
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
    if (record.kind === 'unit') unitFaults(after, record.id, record.profileId, record.mode, faults);
    if (record.kind === 'profile') {
      faults.push(...profileFaults(record));
      modesInUse(after, record, faults);
    }
  }
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
 * The change set that removes records together with every mention of them: members leave their groups, values leave
 * scenes, steps leave chases, routes go with their output, units with their profile. One undo brings it all back.
 */
export function removalOf(document: Document, ids: Iterable<Id>): ChangeSet {
  const gone = new Set<Id>(ids);
  for (let grew = true; grew;) {
    grew = false;
    for (const record of document.values()) {
      const owner = record.kind === 'unit' ? record.profileId : record.kind === 'route' ? record.outputId : null;
      if (!owner || !gone.has(owner) || gone.has(record.id)) continue;
      gone.add(record.id);
      grew = true;
    }
  }
  const put: AnyRecord[] = [];
  for (const record of document.values()) {
    if (gone.has(record.id)) continue;
    const without = withoutIds(record, gone);
    if (without !== record) put.push(without);
  }
  return { put, remove: [...gone].filter((id) => document.has(id)) };
}

function withoutIds(record: AnyRecord, gone: ReadonlySet<Id>): AnyRecord {
  switch (record.kind) {
    case 'group':
      return record.unitIds.some((id) => gone.has(id))
        ? { ...record, unitIds: record.unitIds.filter((id) => !gone.has(id)) }
        : record;
    case 'scene': {
      const entries = Object.entries(record.values);
      const kept = entries.filter(([id]) => !gone.has(id as Id));
      return kept.length === entries.length ? record : { ...record, values: Object.fromEntries(kept) };
    }
    case 'chase':
      return record.steps.some((s) => gone.has(s.sceneId))
        ? { ...record, steps: record.steps.filter((s) => !gone.has(s.sceneId)) }
        : record;
    default:
      return record;
  }
}
