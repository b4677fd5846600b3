import { describe, type AnyRecord } from '../records/index.ts';
import { recordsOf, sameJson, type ChangeSet, type Document } from './change.ts';

/** What an edit means for what is sent. */
export interface Touch {
  /** The compiled rig is another. */
  readonly rig: boolean;
  /** Something that can play is another. */
  readonly programs: boolean;
  /** Ways out or in, or how fast and how safely frames go, are others. */
  readonly ways: boolean;
}

/** What a change set that was made on `before` touches. Fields that nothing is made of touch nothing (`KINDS`). */
export function touchOf(before: Document, change: ChangeSet): Touch {
  const touch = { rig: false, programs: false, ways: false };
  const note = (record: AnyRecord): void => {
    const { madeOf } = describe(record.kind);
    if (madeOf === 'rig' || madeOf === 'both') touch.rig = true;
    if (madeOf === 'program' || madeOf === 'both') touch.programs = true;
    if (madeOf === 'ways') touch.ways = true;
  };
  for (const id of change.remove) {
    const was = before.get(id);
    if (was) note(was);
  }
  for (const record of change.put) {
    const was = before.get(record.id);
    if (!was || !isAlike(was, record) || regroups(before, was, record)) note(record);
  }
  return touch;
}

/** True where two states of a record differ in nothing that anything is made of. */
export function isAlike(one: AnyRecord, other: AnyRecord): boolean {
  if (one === other) return true;
  if (one.kind !== other.kind) return false;
  const silent: readonly string[] = describe(one.kind).silent;
  const [a, b] = [one, other] as unknown as readonly Record<string, unknown>[];
  for (const key of new Set([...Object.keys(a!), ...Object.keys(b!)]))
    if (!silent.includes(key) && !sameJson(a![key], b![key])) return false;
  return true;
}

/** Groups may take their units by tag, and in the order of their names. */
function regroups(document: Document, was: AnyRecord, record: AnyRecord): boolean {
  if (was.kind !== 'unit' || record.kind !== 'unit') return false;
  const [named, tagged] = [was.name !== record.name, was.tag !== record.tag];
  if (!named && !tagged) return false;
  return recordsOf(document, 'group').some(
    ({ rule }) => rule !== null && ((named && rule.order === 'name') || (tagged && rule.tag !== null)),
  );
}
