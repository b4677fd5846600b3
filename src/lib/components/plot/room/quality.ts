/** How many picture points are drawn for each of the screen's, from the best down. */
const STEPS = [1, 0.7, 0.5, 0.35, 0.25] as const;
/** Slower than this is not usable; faster than this, a finer step may do. Milliseconds a picture. */
const SLOW_MS = 50;
const QUICK_MS = 16;
/** Pictures that are looked at before anything is decided. */
const WATCHED = 12;
/** A finer step that was too slow is not tried again for so many decisions. */
const PATIENCE = 20;

/** Steps the picture down until it keeps up, and up again where there is time. */
export class Quality {
  #step = 0;
  #seen: number[] = [];
  #waits = 0;
  #wait = PATIENCE;

  get scale(): number {
    return STEPS[this.#step]!;
  }

  /** A picture took so long, from its beginning to the next; true where the scale is another now. */
  took(ms: number): boolean {
    this.#seen.push(ms);
    if (this.#seen.length < WATCHED) return false;
    const middle = this.#seen.sort((a, b) => a - b)[WATCHED >> 1]!;
    this.#seen = [];
    if (middle > SLOW_MS && this.#step < STEPS.length - 1) {
      this.#step++;
      this.#waits = 0;
      // What was too slow once is tried less and less often.
      this.#wait *= 2;
      return true;
    }
    if (middle < QUICK_MS && this.#step > 0 && ++this.#waits >= this.#wait) {
      this.#step--;
      this.#waits = 0;
      return true;
    }
    return false;
  }
}
