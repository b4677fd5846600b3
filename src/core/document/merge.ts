import { describe, type AnyRecord } from '../records/index.ts';
import type { ItemKey } from '../records/kinds.ts';
import { isPlain, sameJson } from './change.ts';

/** Result of merging an edit made on an older state of a record. */
export interface Merged {
  readonly record: AnyRecord;
  /** Key paths where both sides changed the same field differently: the edit won there. */
  readonly overwrote: readonly string[];
}

type Json = unknown;

type Lists = Readonly<Record<string, ItemKey>>;

/**
 * Three-way merge of one record: what the edit changed since `base` is laid over `current`. Objects merge key by key,
 * lists that its kind names (`KINDS`) item by item, other lists and plain values as a whole. Two people who edit
 * different fields never clash; on the same field the edit (the later one) wins, and its path is reported so that the
 * earlier person can be told.
 */
export function mergeRecord(base: AnyRecord, current: AnyRecord, edited: AnyRecord): Merged {
  const { lists, schema } = describe(edited.kind);
  const { joinedLists, ...merged } = merge(base, current, edited, lists);
  // Two lists that fit may be too long together: then the edit's stands as a whole.
  if (schema.safeParse(merged.record).success) return merged;
  if (joinedLists.length > 0) {
    const { record, overwrote } = merge(base, current, edited, {});
    if (schema.safeParse(record).success) return { record, overwrote };
  }
  // Two parts that are sound make none together (a point and a ring): the whole fields that both changed are the edit's.
  return wholeFields(base, current, edited);
}

function wholeFields(base: AnyRecord, current: AnyRecord, edited: AnyRecord): Merged {
  const [was, now, next] = [base, current, edited] as unknown as readonly Record<string, Json>[];
  const record: Record<string, Json> = { ...now };
  const overwrote: string[] = [];
  for (const key of new Set([...Object.keys(now!), ...Object.keys(next!)])) {
    if (sameJson(was![key], next![key])) continue;
    if (!sameJson(was![key], now![key])) overwrote.push(key);
    record[key] = next![key];
  }
  return { record: record as unknown as AnyRecord, overwrote };
}

function merge(
  base: AnyRecord,
  current: AnyRecord,
  edited: AnyRecord,
  lists: Lists,
): Merged & { readonly joinedLists: readonly string[] } {
  const [overwrote, joinedLists]: [string[], string[]] = [[], []];
  const record = mergeValue(base, current, edited, { path: '', lists, overwrote, joinedLists }) as AnyRecord;
  return { record, overwrote, joinedLists };
}

/** Where in the record a value stands. */
interface At {
  readonly path: string;
  readonly lists: Lists;
  readonly overwrote: string[];
  /** Lists that were put together of both. */
  readonly joinedLists: string[];
}

function mergeValue(base: Json, current: Json, edited: Json, at: At): Json {
  if (sameJson(base, edited)) return current;
  if (sameJson(base, current) || sameJson(current, edited)) return edited;
  if (isPlain(base) && isPlain(current) && isPlain(edited)) {
    const merged: Record<string, Json> = {};
    for (const key of new Set([...Object.keys(current), ...Object.keys(edited)])) {
      const value = mergeValue(base[key], current[key], edited[key], { ...at, path: joined(at.path, key) });
      if (value !== undefined) merged[key] = value;
    }
    return merged;
  }
  const itemKey = at.lists[at.path];
  if (itemKey !== undefined && Array.isArray(base) && Array.isArray(current) && Array.isArray(edited)) {
    const merged = mergeList(itemKey, base, current, edited, at);
    if (merged) {
      at.joinedLists.push(at.path);
      return merged;
    }
  }
  at.overwrote.push(at.path);
  return edited;
}

const joined = (path: string, key: string): string => (path ? `${path}.${key}` : key);

/**
 * Items that both have are merged; what one added or took away is added or taken away, but an item that one took away
 * and the other changed stays. The order is that of whoever changed it, of the edit where both did. Null where items
 * cannot be told apart.
 */
function mergeList(itemKey: ItemKey, base: Json[], current: Json[], edited: Json[], at: At): Json[] | null {
  const [before, theirs, ours] = [base, current, edited].map((list) => byKey(list, itemKey));
  if (!before || !theirs || !ours) return null;
  const kept = (key: string): boolean => {
    if (ours.has(key) && theirs.has(key)) return true;
    if (!before.has(key)) return true;
    // One of the two took it away: it goes, unless the other changed it meanwhile.
    const left = ours.has(key) ? ours.get(key) : theirs.get(key);
    return left !== undefined && !sameJson(left, before.get(key));
  };
  const both = (keys: Iterable<string>): string[] =>
    [...keys].filter((key) => before.has(key) && ours.has(key) && theirs.has(key));
  const oursMoved = both(ours.keys()).join('\n') !== both(before.keys()).join('\n');
  const [first, second] = oursMoved ? [ours, theirs] : [theirs, ours];
  const order = [...first.keys()].filter(kept);
  let after = -1;
  for (const key of second.keys()) {
    const place = order.indexOf(key);
    if (place >= 0) after = place;
    else if (kept(key)) {
      // Behind what the other one added in the same place.
      while (after + 1 < order.length && !before.has(order[after + 1]!) && !second.has(order[after + 1]!)) after++;
      order.splice(++after, 0, key);
    }
  }
  return order.map((key) => {
    const [was, there, own] = [before.get(key), theirs.get(key), ours.get(key)];
    if (own === undefined) return there;
    if (there === undefined) return own;
    return mergeValue(was, there, own, { ...at, path: joined(at.path, key) });
  });
}

/** Items by what tells them apart; null where two have the same. */
function byKey(list: readonly Json[], itemKey: ItemKey): Map<string, Json> | null {
  const found = new Map<string, Json>();
  for (const item of list) {
    const key = itemKey === null ? item : isPlain(item) ? item[itemKey] : undefined;
    if (typeof key !== 'string' || found.has(key)) return null;
    found.set(key, item);
  }
  return found;
}
