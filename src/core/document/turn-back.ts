import type { Id } from '../ids.ts';
import { describe, type AnyRecord } from '../records/index.ts';
import { sameJson, sortedChange, type ChangeSet, type Document } from './change.ts';
import { mergeRecord } from './merge.ts';

/** Something of an edit that somebody has changed since; `field` is a key path, null for the whole record. */
export interface Later {
  readonly id: Id;
  readonly field: string | null;
}

/**
 * What takes a show from after an edit back to before it (or forth again, with the two exchanged), on a show that went
 * on meanwhile: fields that the edit did not touch stay as others left them. `later` names what would take back
 * somebody's later edit; where it is not empty the change must not be made. `after` and `before` are the edit's two
 * sides: records put, and ids that are not there.
 */
export function turnedBack(
  document: Document,
  after: ChangeSet,
  before: ChangeSet,
): { change: ChangeSet; later: readonly Later[] } {
  const put: AnyRecord[] = [];
  const remove: Id[] = [];
  const later: Later[] = [];
  const [was, is] = [byId(before), byId(after)];
  for (const id of new Set<Id>([...is.keys(), ...was.keys(), ...after.remove, ...before.remove])) {
    const [from, to, current] = [is.get(id), was.get(id), document.get(id)];
    if (!to) {
      if (!current) continue;
      if (!from || sameJson(bare(current), bare(from))) remove.push(id);
      else later.push({ id, field: null });
    } else if (!from) {
      if (!current) put.push(to);
      else if (!sameJson(current, to)) later.push({ id, field: null });
    } else if (!current) later.push({ id, field: null });
    else {
      const { record, overwrote } = mergeRecord(from, current, to);
      for (const field of overwrote) later.push({ id, field });
      put.push(record);
    }
  }
  return { change: sortedChange({ put, remove }), later };
}

/** A record without what the program fills in by itself. */
function bare(record: AnyRecord): object {
  const { filledIn } = describe(record.kind);
  return filledIn ? { ...record, ...Object.fromEntries(filledIn.map((field) => [field, null])) } : record;
}

const byId = (change: ChangeSet): Map<Id, AnyRecord> => new Map(change.put.map((r) => [r.id, r]));
