const KEY = 'amber-browser';

/** The name this browser made up and keeps, so that undo finds its edits again. */
export function browserName(): string {
  const kept = globalThis.localStorage?.getItem(KEY);
  if (kept && /^[a-z0-9]{8,40}$/.test(kept)) return kept;
  const made = Array.from(crypto.getRandomValues(new Uint8Array(12)), (b) => (b % 36).toString(36)).join('');
  globalThis.localStorage?.setItem(KEY, made);
  return made;
}
