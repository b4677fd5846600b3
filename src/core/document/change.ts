import { kindOf, type Id, type RecordKind } from '../ids.ts';
import { kindRank, type AnyRecord, type RecordOf } from '../records/index.ts';

/** An edit: records put (new or changed, whole) and ids removed. */
export interface ChangeSet {
  readonly put: readonly AnyRecord[];
  readonly remove: readonly Id[];
}

/** A show in memory: its records by id. Treated as immutable: every edit gives a new one. */
export type Document = ReadonlyMap<Id, AnyRecord>;

export const EMPTY_CHANGE: ChangeSet = { put: [], remove: [] };

export const documentOf = (records: Iterable<AnyRecord>): Document => {
  const document = new Map<Id, AnyRecord>();
  for (const record of records) document.set(record.id, record);
  return document;
};

/** Records of each kind, found once for a document and carried on by the edits that follow it. */
const lists = new WeakMap<Document, ReadonlyMap<RecordKind, readonly AnyRecord[]>>();
/** Where more records of a kind are touched, its list is made anew. */
const FEW = 64;

/** All records of one kind, in the order they came. */
export function recordsOf<K extends RecordKind>(document: Document, kind: K): readonly RecordOf[K][] {
  let byKind = lists.get(document);
  if (!byKind) lists.set(document, (byKind = sorted(document)));
  return (byKind.get(kind) ?? NONE) as readonly RecordOf[K][];
}
const NONE: readonly AnyRecord[] = [];

function sorted(document: Document): ReadonlyMap<RecordKind, readonly AnyRecord[]> {
  const found = new Map<RecordKind, AnyRecord[]>();
  for (const record of document.values()) {
    const list = found.get(record.kind);
    if (list) list.push(record);
    else found.set(record.kind, [record]);
  }
  return found;
}

/** The lists after an edit: those of kinds that it does not touch are the same. Null where it is as quick to begin anew. */
function carried(document: Document, change: ChangeSet): ReadonlyMap<RecordKind, readonly AnyRecord[]> | null {
  const before = lists.get(document);
  if (!before || change.put.length + change.remove.length > FEW) return null;
  const next = new Map(before);
  const own = new Set<RecordKind>();
  const listOf = (kind: RecordKind): AnyRecord[] => {
    if (own.has(kind)) return next.get(kind) as AnyRecord[];
    own.add(kind);
    const list = [...(before.get(kind) ?? NONE)];
    next.set(kind, list);
    return list;
  };
  const gone = new Set(change.remove);
  for (const id of gone) {
    const record = document.get(id);
    if (!record) continue;
    const list = listOf(record.kind);
    list.splice(list.indexOf(record), 1);
  }
  const put = new Map(change.put.map((record) => [record.id, record]));
  for (const [id, record] of put) {
    const was = gone.has(id) ? undefined : document.get(id);
    // An id names its kind: what is there under it is of the same.
    if (was && was.kind !== record.kind) return null;
    const list = listOf(record.kind);
    if (was) list[list.indexOf(was)] = record;
    else list.push(record);
  }
  return next;
}

export function getRecord<K extends RecordKind>(
  document: Document,
  kind: K,
  id: Id<K> | string,
): RecordOf[K] | undefined {
  const record = document.get(id as Id);
  return record?.kind === kind ? (record as RecordOf[K]) : undefined;
}

/** Applies a change set. Removing an id that is not there does nothing; a put after a remove of the same id wins. */
export function applyChange(document: Document, change: ChangeSet): Document {
  const next = new Map(document);
  for (const id of change.remove) next.delete(id);
  for (const record of change.put) next.set(record.id, record);
  const byKind = carried(document, change);
  if (byKind) lists.set(next, byKind);
  return next;
}

/** The change set that undoes `change` on `document` (the show before it). */
export function reverseOf(document: Document, change: ChangeSet): ChangeSet {
  const put: AnyRecord[] = [];
  const remove: Id[] = [];
  const seen = new Set<Id>();
  for (const id of [...change.put.map((r) => r.id), ...change.remove]) {
    if (seen.has(id)) continue;
    seen.add(id);
    const before = document.get(id);
    if (before) put.push(before);
    else if (change.put.some((r) => r.id === id)) remove.push(id);
  }
  return sortedChange({ put, remove });
}

/** One change set with the effect of `first` then `second`. */
export function squash(first: ChangeSet, second: ChangeSet): ChangeSet {
  const put = new Map<Id, AnyRecord>(first.put.map((r) => [r.id, r]));
  const remove = new Set<Id>(first.remove);
  for (const id of second.remove) {
    put.delete(id);
    remove.add(id);
  }
  for (const record of second.put) {
    put.set(record.id, record);
    remove.delete(record.id);
  }
  return sortedChange({ put: [...put.values()], remove: [...remove] });
}

/** Puts in the order records may refer to one another, removes the other way round: safe with foreign keys. */
export function sortedChange(change: ChangeSet): ChangeSet {
  return {
    put: [...change.put].sort((a, b) => kindRank(a.kind) - kindRank(b.kind)),
    remove: [...change.remove].sort((a, b) => kindRank(kindOf(b) ?? 'show') - kindRank(kindOf(a) ?? 'show')),
  };
}

export const isEmptyChange = (change: ChangeSet): boolean => change.put.length === 0 && change.remove.length === 0;

/** Leaves out puts that change nothing and removes of what is not there. */
export function effective(document: Document, change: ChangeSet): ChangeSet {
  return {
    put: change.put.filter((r) => !sameJson(document.get(r.id), r)),
    remove: change.remove.filter((id) => document.has(id) && !change.put.some((r) => r.id === id)),
  };
}

/** True for an object of plain JSON. */
export const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Deep equality of plain JSON values. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const keysA = definedKeys(a);
  const keysB = definedKeys(b);
  if (keysA.length !== keysB.length) return false;
  return keysA.every(
    (key) =>
      Object.hasOwn(b, key) && sameJson((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
  );
}

const definedKeys = (value: object): string[] =>
  Object.keys(value).filter((key) => (value as Record<string, unknown>)[key] !== undefined);
