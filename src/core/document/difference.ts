import type { Id } from '../ids.ts';
import { keysAs, keysOf } from '../keys.ts';
import type { AnyRecord } from '../records/index.ts';
import { isPlain, sameJson, sortedChange, type ChangeSet, type Document } from './change.ts';

/** What an edit changed, field by field, so that it can be followed and taken back without whole records. */
export type Difference = readonly RecordDifference[];

/** A record that was made, that was taken away, or that has other fields. */
export type RecordDifference =
  | { readonly id: Id; readonly made: AnyRecord }
  | { readonly id: Id; readonly gone: AnyRecord }
  | { readonly id: Id; readonly changed: FieldDifference };

/**
 * How one value became another: a value in place of a value (absent where there was or is no such field), fields of an
 * object, one difference of `every` field of an object `of` so many `but` some that have their own (null: none), items of a list that
 * stayed as long as it was, or a stretch of a list (from `at` on) that was exchanged.
 */
export type FieldDifference =
  | { readonly was?: Json; readonly is?: Json }
  | { readonly fields: Readonly<Record<string, FieldDifference>> }
  | {
      readonly every: FieldDifference;
      readonly of: number;
      readonly but: Readonly<Record<string, FieldDifference | null>>;
    }
  | { readonly items: Readonly<Record<string, FieldDifference>> }
  | { readonly at: number; readonly out: readonly Json[]; readonly in: readonly Json[] };

type Json = unknown;
type Plain = Readonly<Record<string, Json>>;

/** A difference that does not fit the value it is laid on: what it belongs to was lost or changed by somebody else. */
export class DifferenceMisfit extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'DifferenceMisfit';
  }
}

/** What a change set changes on a document (as it was before it). */
export function differenceOf(document: Document, change: ChangeSet): Difference {
  const found: RecordDifference[] = [];
  const put = new Set<Id>();
  for (const record of change.put) {
    put.add(record.id);
    const difference = recordDifference(record.id, document.get(record.id), record);
    if (difference) found.push(difference);
  }
  for (const id of change.remove) {
    const gone = document.get(id);
    if (gone && !put.has(id)) found.push({ id, gone });
  }
  return found;
}

/** How one record became another, undefined for none; null where they are alike. */
export function recordDifference(
  id: Id,
  before: AnyRecord | undefined,
  after: AnyRecord | undefined,
): RecordDifference | null {
  if (!before) return after ? { id, made: after } : null;
  if (!after) return { id, gone: before };
  const changed = valueDifference(before, after);
  return changed && { id, changed };
}

/** How a value of plain JSON became another; null where they are alike. */
export function valueDifference(before: Json, after: Json): FieldDifference | null {
  if (before === after) return null;
  if (isPlain(before) && isPlain(after)) {
    const changed = fieldsBetween(before, after);
    if (changed.length === 0) return null;
    return ofEvery(before, after, changed) ?? { fields: Object.fromEntries(changed) };
  }
  if (sameJson(before, after)) return null;
  if (Array.isArray(before) && Array.isArray(after)) return listDifference(before, after);
  return {
    ...(before === undefined ? {} : { was: before }),
    ...(after === undefined ? {} : { is: after }),
  };
}

type Changed = readonly (readonly [key: string, field: FieldDifference])[];

/** Linear, and quick where most fields are the very same, or became the same. */
function fieldsBetween(before: Plain, after: Plain): Changed {
  const [was, is] = [keysOf(before), keysOf(after)];
  const fields: [string, FieldDifference][] = [];
  const between = differences();
  for (const key of is) {
    const [a, b] = [was === is ? before[key] : own(before, key), after[key]];
    if (a === b) continue;
    const field = between(a, b);
    if (field) fields.push([key, field]);
  }
  if (was === is) return fields;
  for (const key of was) {
    const value = before[key];
    if (value !== undefined && !Object.hasOwn(after, key)) fields.push([key, { was: value }]);
  }
  return fields;
}

/** `valueDifference`; where the same object became the same object, the difference is the same one. */
function differences(): typeof valueDifference {
  const known = new Map<Json, Map<Json, FieldDifference | null>>();
  let last: { a: Json; b: Json; field: FieldDifference | null } | null = null;
  return (a, b) => {
    if (typeof a !== 'object' || typeof b !== 'object') return valueDifference(a, b);
    if (last && last.a === a && last.b === b) return last.field;
    let field = known.get(a)?.get(b);
    if (field === undefined) {
      field = valueDifference(a, b);
      known.set(a, (known.get(a) ?? new Map<Json, FieldDifference | null>()).set(b, field));
    }
    last = { a, b, field };
    return field;
  };
}

/** Of so many fields and more it is worth while to say one difference for all of them. */
const MANY_FIELDS = 64;

/** Fields of which most have one and the same difference, said once; null where that is not shorter. */
function ofEvery(before: Plain, after: Plain, changed: Changed): FieldDifference | null {
  if (changed.length < MANY_FIELDS) return null;
  const counts = new Map<FieldDifference, number>();
  for (const [, field] of changed) counts.set(field, (counts.get(field) ?? 0) + 1);
  const [every, count] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a));
  const [keys, was] = [keysOf(after), keysOf(before)];
  // A field that came or went has no difference in common with the others.
  if (count * 2 < keys.length || keys.length !== was.length) return null;
  if (keys !== was && !keys.every((key) => Object.hasOwn(before, key))) return null;
  const but: Record<string, FieldDifference | null> = {};
  // What changed stands in the order of the keys.
  let at = 0;
  for (const key of keys) {
    const field = changed[at]?.[0] === key ? changed[at++]![1] : null;
    if (field !== every) Object.defineProperty(but, key, { value: field, enumerable: true });
  }
  return { every, of: keys.length, but };
}

/** Items that are alike at both ends stay out of it; what is left is compared item by item where it is as long as it was. */
function listDifference(before: readonly Json[], after: readonly Json[]): FieldDifference {
  let start = 0;
  while (start < before.length && start < after.length && sameJson(before[start], after[start])) start++;
  let end = 0;
  const most = Math.min(before.length, after.length) - start;
  while (end < most && sameJson(before[before.length - 1 - end], after[after.length - 1 - end])) end++;
  if (before.length === after.length) {
    const items: [string, FieldDifference][] = [];
    for (let i = start; i < before.length - end; i++) {
      const item = valueDifference(before[i], after[i]);
      if (item) items.push([String(i), item]);
    }
    return { items: Object.fromEntries(items) };
  }
  return { at: start, out: before.slice(start, before.length - end), in: after.slice(start, after.length - end) };
}

const own = (object: Plain, key: string): Json => (Object.hasOwn(object, key) ? object[key] : undefined);

/** The edit again, as whole records, on a document as it was before it. Throws DifferenceMisfit. */
export const followed = (document: Document, difference: Difference): ChangeSet => change(document, difference, 'is');

/** What takes the edit back, as whole records, on a document as it was after it. Throws DifferenceMisfit. */
export const takenBack = (document: Document, difference: Difference): ChangeSet => change(document, difference, 'was');

/** A difference that is only ever followed: what was there before is left out where it is not needed for that. */
export function onlyForward(difference: FieldDifference): FieldDifference {
  if ('fields' in difference) return { fields: mapped(difference.fields) };
  if ('every' in difference) {
    const but = Object.entries(difference.but).map(([key, field]) => [key, field && onlyForward(field)] as const);
    return { every: onlyForward(difference.every), of: difference.of, but: Object.fromEntries(but) };
  }
  if ('items' in difference) return { items: mapped(difference.items) };
  if ('at' in difference) return { ...difference, out: difference.out.map(() => 0) };
  return 'is' in difference ? { is: difference.is } : {};
}
const mapped = (of: Readonly<Record<string, FieldDifference>>): Record<string, FieldDifference> =>
  Object.fromEntries(Object.entries(of).map(([key, field]) => [key, onlyForward(field)]));

type Side = 'was' | 'is';

function change(document: Document, difference: Difference, side: Side): ChangeSet {
  const put: AnyRecord[] = [];
  const remove: Id[] = [];
  for (const record of difference) {
    if ('changed' in record) put.push(turned(document.get(record.id), record.changed, side, record.id) as AnyRecord);
    else if ('made' in record === (side === 'is')) put.push('made' in record ? record.made : record.gone);
    else remove.push(record.id);
  }
  return sortedChange({ put, remove });
}

/** The record as it is on one side of a difference, from what it is on the other. Throws DifferenceMisfit. */
export function turned(value: Json, difference: FieldDifference, side: Side, path: string): Json {
  if ('fields' in difference) {
    if (!isPlain(value)) throw new DifferenceMisfit(`${path} is no object`);
    const next: Record<string, Json> = { ...value };
    for (const [key, field] of Object.entries(difference.fields)) {
      const to = turned(own(value, key), field, side, `${path}.${key}`);
      if (to === undefined) delete next[key];
      else Object.defineProperty(next, key, { value: to, enumerable: true, configurable: true, writable: true });
    }
    return next;
  }
  if ('every' in difference) return turnedEvery(value, difference, side, path);
  if ('items' in difference) {
    if (!Array.isArray(value)) throw new DifferenceMisfit(`${path} is no list`);
    const next = [...(value as readonly Json[])];
    for (const [at, item] of Object.entries(difference.items)) {
      if (!(Number(at) < next.length)) throw new DifferenceMisfit(`${path} has no item ${at}`);
      next[Number(at)] = turned(next[Number(at)], item, side, `${path}.${at}`);
    }
    return next;
  }
  if ('at' in difference) {
    const [from, to] = side === 'is' ? [difference.out, difference.in] : [difference.in, difference.out];
    if (!Array.isArray(value) || value.length < difference.at + from.length)
      throw new DifferenceMisfit(`${path} is no list of ${difference.at + from.length} items`);
    return [
      ...(value as readonly Json[]).slice(0, difference.at),
      ...to,
      ...(value as readonly Json[]).slice(difference.at + from.length),
    ];
  }
  return difference[side];
}

function turnedEvery(
  value: Json,
  { every, of, but }: Extract<FieldDifference, { every: FieldDifference }>,
  side: Side,
  path: string,
): Json {
  if (!isPlain(value)) throw new DifferenceMisfit(`${path} is no object`);
  if (keysOf(value).length !== of) throw new DifferenceMisfit(`${path} has not ${of} fields`);
  for (const key of Object.keys(but))
    if (!Object.hasOwn(value, key)) throw new DifferenceMisfit(`${path} has no ${key}`);
  // What was one and the same stays one and the same.
  const known = new Map<Json, Json>();
  const next: Record<string, Json> = {};
  const others = Object.keys(but).length > 0;
  for (const key of keysOf(value)) {
    const was = value[key];
    const own = others && Object.hasOwn(but, key);
    let to: Json;
    if (own) to = but[key] ? turned(was, but[key], side, `${path}.${key}`) : was;
    else {
      to = known.get(was);
      if (to === undefined) known.set(was, (to = turned(was, every, side, `${path}.${key}`)));
    }
    if (key === '__proto__')
      Object.defineProperty(next, key, { value: to, enumerable: true, configurable: true, writable: true });
    else next[key] = to;
  }
  keysAs(next, value);
  return next;
}

/**
 * Some records as they were before a row of edits, newest first, from what they are after them. Throws DifferenceMisfit.
 */
export function rewound(document: Document, ids: Iterable<Id>, newestFirst: Iterable<Difference>): Map<Id, AnyRecord> {
  const wanted = new Set(ids);
  const records = new Map<Id, AnyRecord>();
  for (const id of wanted) {
    const record = document.get(id);
    if (record) records.set(id, record);
  }
  for (const difference of newestFirst) {
    const { put, remove } = takenBack(
      records,
      difference.filter(({ id }) => wanted.has(id)),
    );
    for (const id of remove) records.delete(id);
    for (const record of put) records.set(record.id, record);
  }
  return records;
}
