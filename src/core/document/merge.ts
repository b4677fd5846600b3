import type { AnyRecord } from '../records/index.ts';
import { sameJson } from './change.ts';

/** Result of merging an edit made on an older state of a record. */
export interface Merged {
  readonly record: AnyRecord;
  /** Key paths where both sides changed the same field differently: the edit won there. */
  readonly overwrote: readonly string[];
}

type Json = unknown;
const isPlain = (value: Json): value is Record<string, Json> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Three-way merge of one record: what the edit changed since `base` is laid over `current`. Objects merge key by key,
 * lists and plain values as a whole. Two people who edit different fields never clash; on the same field the edit
 * (the later one) wins, and its path is reported so that the earlier person can be told.
 */
export function mergeRecord(base: AnyRecord, current: AnyRecord, edited: AnyRecord): Merged {
  const overwrote: string[] = [];
  const record = mergeValue(base, current, edited, '', overwrote) as AnyRecord;
  return { record, overwrote };
}

function mergeValue(base: Json, current: Json, edited: Json, path: string, overwrote: string[]): Json {
  if (sameJson(base, edited)) return current;
  if (sameJson(base, current) || sameJson(current, edited)) return edited;
  if (isPlain(base) && isPlain(current) && isPlain(edited)) {
    const merged: Record<string, Json> = {};
    for (const key of new Set([...Object.keys(current), ...Object.keys(edited)])) {
      const value = mergeValue(base[key], current[key], edited[key], path ? `${path}.${key}` : key, overwrote);
      if (value !== undefined) merged[key] = value;
    }
    return merged;
  }
  overwrote.push(path);
  return edited;
}
