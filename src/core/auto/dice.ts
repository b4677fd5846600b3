import { seeded } from '../random.ts';

/** A number out of words and numbers, the same on every machine (FNV-1a). */
export function seedOf(parts: readonly (string | number)[]): number {
  let hash = 0x811c9dc5;
  for (const c of parts.join('/')) hash = Math.imul(hash ^ c.charCodeAt(0), 0x01000193) >>> 0;
  return hash;
}

/** Chance that is always the same for the same words. */
export class Dice {
  readonly #next: () => number;

  constructor(...parts: readonly (string | number)[]) {
    this.#next = seeded(seedOf(parts));
  }
  next(): number {
    return this.#next();
  }
  /** One of a list, which is not empty. */
  of<T>(list: readonly T[]): T {
    return list[Math.floor(this.#next() * list.length)]!;
  }
}
