/** Rows that go in one statement: a statement takes at most 65,535 values. */
const CHUNK = 500;

/** A list in pieces that fit into one statement each. */
export function chunks<T>(list: readonly T[]): T[][] {
  const parts: T[][] = [];
  for (let i = 0; i < list.length; i += CHUNK) parts.push(list.slice(i, i + CHUNK));
  return parts;
}
