/**
 * Keys of large objects. The engine of JavaScript sorts them anew at each asking, which takes longer than to look all of
 * them up; thousands of units by hand are such an object, and it is asked many times a step of a fader.
 */
const MANY = 512;
const known = new WeakMap<object, readonly string[]>();

/** The keys of an object that nobody changes any more, in their order. */
export function keysOf(object: object): readonly string[] {
  const found = known.get(object);
  if (found) return found;
  const keys = Object.keys(object);
  if (keys.length >= MANY) known.set(object, keys);
  return keys;
}

/** Says that an object has the very keys of another, in the same order: their lists are one then. */
export function keysAs(object: object, other: object): void {
  const keys = known.get(other);
  if (keys) known.set(object, keys);
}
