import type { RecordKind } from '../ids.ts';
import type { Document } from './change.ts';

/**
 * Something that is made of the records of some kinds alone: made once for a document, and not again for the next one where
 * an edit touched none of those. `make` is asked with the document.
 */
export function remembered<T>(
  kinds: readonly RecordKind[],
  make: (document: Document) => T,
): (document: Document) => T {
  const wanted = new Set<string>(kinds);
  const known = new WeakMap<Document, { readonly value: T }>();
  let last: { readonly of: readonly object[]; readonly value: T } | null = null;
  return (document) => {
    const kept = known.get(document);
    if (kept) return kept.value;
    const of = [...document.values()].filter(({ kind }) => wanted.has(kind));
    const before = last;
    const same = before !== null && before.of.length === of.length && before.of.every((record, i) => record === of[i]);
    const value = same ? before.value : make(document);
    last = { of, value };
    known.set(document, last);
    return value;
  };
}
