/** Metres that bars are counted in. */
const METRES = [4, 3, 2, 6, 5, 7] as const;
/** What was heard so many beats ago counts half. */
const HALF_BEATS = 16;
/** Another way of counting has to be so much likelier (natural logarithm, all in all). */
const BETTER = 1.5;
/** How much rarer a metre is than four (natural logarithm). */
const RARE: Readonly<Record<(typeof METRES)[number], number>> = { 4: 0, 3: 0.7, 2: 1.5, 6: 2, 5: 3, 7: 3 };
const KEEP = 0.5 ** (1 / HALF_BEATS);
const [LEAST, MOST] = [0.02, 0.98];

/** How likely a beat is the first of a bar, by the highest of both activations near it. */
export const shareOfFirst = (beat: number, downbeat: number): number =>
  Math.max(LEAST, Math.min(MOST, downbeat / Math.max(beat, downbeat, 0.2)));

/** One way of counting: bars of so many beats, the first of which is the `first` of every so many. */
interface Way {
  readonly metre: number;
  readonly first: number;
  score: number;
}

/** Which beat of a bar each one is, from the past alone, by how likely each was the first of one. */
export class Bars {
  readonly #ways: Way[] = METRES.flatMap((metre) =>
    Array.from({ length: metre }, (_, first) => ({ metre, first, score: -RARE[metre] - Math.log(metre) })),
  );
  #way = this.#ways[0]!;
  #count = -1;
  /** The highest of both since the beat was said. */
  #beat = 0;
  #downbeat = 0;
  bar = 0;

  /** Beats of a bar as they are counted; null while too few were heard. */
  get metre(): number | null {
    return this.#count < HALF_BEATS ? null : this.#way.metre;
  }

  /** What is heard until the next beat: how likely a beat is, and the first of a bar, 0-1. */
  hear(beat: number, downbeat: number): void {
    if (beat > this.#beat) this.#beat = beat;
    if (downbeat > this.#downbeat) this.#downbeat = downbeat;
  }

  /** A beat begins: its place in the bar, 0 for the first. */
  next(): number {
    if (this.#count >= 0) this.#learn();
    this.#count++;
    const place = this.#placeIn(this.#way, this.#count);
    if (place === 0) this.bar++;
    return place;
  }

  #placeIn({ metre, first }: Way, count: number): number {
    return (count + metre - first) % metre;
  }

  #learn(): void {
    const first = shareOfFirst(this.#beat, this.#downbeat);
    [this.#beat, this.#downbeat] = [0, 0];
    let best = this.#way;
    for (const way of this.#ways) {
      const prior = -RARE[way.metre as (typeof METRES)[number]] - Math.log(way.metre);
      const likely = this.#placeIn(way, this.#count) === 0 ? first : 1 - first;
      way.score = prior + (way.score - prior) * KEEP + Math.log(likely);
      if (way.score > best.score) best = way;
    }
    if (best.score - this.#way.score > BETTER) this.#way = best;
  }
}
