/** How many picture points are drawn for each of the screen's, from the best down. */
const STEPS = [1, 0.7, 0.5, 0.35, 0.25] as const;
/** Slower than this is not usable; a finer step is tried where it should take less than this. Milliseconds a picture. */
const SLOW_MS = 50;
const QUICK_MS = 42;
/** Pictures that are looked at before anything is decided; of very slow ones fewer, as many as come in so long. */
const WATCHED = 12;
const [FEWEST, LONGEST_MS] = [3, 900];
/** A finer step is tried after so many decisions; each time that it was too slow, after twice as many. */
const PATIENCE = 4;
/** The first pictures make everything ready and tell nothing. */
const FIRST = 3;

/** Steps the picture down until it keeps up, and up again where there is time. */
export class Quality {
  #step = 0;
  #seen: number[] = [];
  #waits = 0;
  #wait = PATIENCE;
  #first = FIRST;

  get scale(): number {
    return STEPS[this.#step]!;
  }

  /** A picture took so long, from its beginning until it was there; true where the scale is another now. */
  took(ms: number): boolean {
    if (this.#first > 0) {
      this.#first--;
      return false;
    }
    this.#seen.push(ms);
    const seen = this.#seen.length;
    const long = seen >= FEWEST && this.#seen.reduce((sum, one) => sum + one, 0) > LONGEST_MS;
    if (seen < WATCHED && !long) return false;
    const middle = this.#seen.sort((a, b) => a - b)[seen >> 1]!;
    this.#seen = [];
    if (middle > SLOW_MS && this.#step < STEPS.length - 1) {
      // As far down as it takes, by the points that are drawn.
      const wanted = this.scale * Math.sqrt(SLOW_MS / middle);
      do this.#step++;
      while (this.#step < STEPS.length - 1 && this.scale > wanted);
      this.#waits = 0;
      // What was too slow once is tried less and less often.
      this.#wait *= 2;
      return true;
    }
    const finer = STEPS[this.#step - 1];
    const expected = finer === undefined ? Infinity : middle * (finer / this.scale) ** 2;
    if (expected < QUICK_MS && ++this.#waits >= this.#wait) {
      this.#step--;
      this.#waits = 0;
      return true;
    }
    return false;
  }
}
