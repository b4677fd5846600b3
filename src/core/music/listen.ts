import { Follower, type Announcement } from './follow.ts';
import type { Listening } from './listening.ts';

/** Below this there is nothing to hear. */
const SILENT_DB = -60;
/** A beat counts as heard for so long, seconds. */
const FRESH_S = 3;
/** So many swings at full scale in a row are cut off. */
const [FULL, CUT] = [0.995, 3];

/** An ear on a stream: blocks in, beats and a report out. The same wherever it runs. */
export class Listener {
  readonly #ear: Follower;
  readonly #rate: number;
  #samples = 0;
  #square = 0;
  #peak = 0;
  #count = 0;
  #run = 0;
  #cutAt = -Infinity;
  #last: Announcement | null = null;

  constructor(rate: number) {
    this.#rate = rate;
    this.#ear = new Follower(rate);
  }

  /** Seconds that have come. */
  get at(): number {
    return this.#samples / this.#rate;
  }

  feed(block: Float32Array): Announcement[] {
    for (const x of block) {
      const swing = Math.abs(x);
      this.#square += x * x;
      if (swing > this.#peak) this.#peak = swing;
      this.#run = swing >= FULL ? this.#run + 1 : 0;
      if (this.#run >= CUT) this.#cutAt = this.at;
    }
    this.#count += block.length;
    this.#samples += block.length;
    const said = this.#ear.feed(block);
    this.#last = said.at(-1) ?? this.#last;
    return said;
  }

  /** What was heard since the last report. */
  report(): Listening {
    const rms = this.#count > 0 ? Math.sqrt(this.#square / this.#count) : 0;
    const peak = this.#peak;
    [this.#square, this.#peak, this.#count] = [0, 0, 0];
    const db = Math.max(-100, 20 * Math.log10(rms + 1e-9));
    const fresh = this.#last !== null && this.at - this.#last.emittedAt < FRESH_S;
    const state = fresh ? 'hearing' : db < SILENT_DB ? 'silent' : 'unsure';
    const mood = state === 'silent' ? null : this.#ear.mood;
    return {
      db: Math.round(db * 10) / 10,
      peak: Math.round(peak * 1000) / 1000,
      clips: this.at - this.#cutAt < 1,
      state,
      bpm: fresh ? this.#last!.bpm : null,
      confidence: fresh ? this.#last!.confidence : 0,
      metre: fresh ? this.#ear.metre : null,
      mood: mood?.mood ?? null,
      turn: mood?.turn ?? null,
    };
  }
}
