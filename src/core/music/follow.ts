import type { Mood } from '../records/profile.ts';
import { modulo } from '../units.ts';
import { FPS } from './features.ts';
import { Bars } from './bars.ts';
import { HARMONY, PastHarmony } from './harmony.ts';
import { LiveMood, type LiveMoodNow } from './live-mood.ts';
import { LiveNetwork, liveWeights } from './network.ts';
import { StreamFeatures, type StreamFrame } from './stream-features.ts';
import { changeTempi, clipped, PERIODS, regionOf, REST, STEPS_S, withBeats } from './tempi.ts';

/** The ear that hears what nobody knows: from the past alone it says when the next beat will be. */

/** A beat that comes. Times in seconds of the stream. */
export interface Announcement {
  /** When the beat is. */
  readonly at: number;
  /** Which beat of the bar it is, 1 the first; and the number of the bar since it began to hear. */
  readonly beat: number;
  readonly bar: number;
  /** Up to where the stream was known when it was said. */
  readonly emittedAt: number;
  readonly bpm: number;
  /** How sure it is, 0-1. */
  readonly confidence: number;
  readonly mood: Mood | null;
}

/** A beat is said so long before it is, as the decoder's time goes. */
const AHEAD_S = 0.07;
/** Another way of counting has to be so much likelier (natural logarithm) for so long before it is followed. */
const BETTER = 8;
const PATIENCE_S = 0.8;
/** What is unlikely by more than this is forgotten: a set that changes is followed. */
const FORGOTTEN = 45;
/** How sure it has to be to begin, and below which it ends: silence, speech, noise. */
const [BEGINS, ENDS] = [0.14, 0.07];
const SILENT = 1e-3;
const WITH_BEAT = withBeats();

interface Where {
  readonly tempo: number;
  readonly place: number;
}

/** Follows a stream of sound that comes in blocks of any size. */
export class Follower {
  readonly #features: StreamFeatures;
  readonly #rings = PERIODS.map((period) => new Float64Array(period));
  readonly #regions = PERIODS.map(regionOf);
  readonly #entering = new Float64Array(PERIODS.length);
  readonly #from = new Uint8Array(PERIODS.length);
  #step = 0;
  readonly #harmony = new PastHarmony();
  readonly #network = new LiveNetwork(liveWeights());
  #changes: Float32Array = new Float32Array(HARMONY);
  #frame = 0;
  #was: { readonly beat: number; readonly at: number } | null = null;
  #follows: Where | null = null;
  #betterSince: number | null = null;
  #said = -Infinity;
  readonly #bars = new Bars();
  readonly #mood = new LiveMood();
  #on = 0;
  #off = 0;
  #silentSince: number | null = null;
  /** It is sure enough to say beats. */
  #speaks = false;

  constructor(rate: number) {
    this.#features = new StreamFeatures(rate);
  }

  /** How much goes on now; null until there has been something for some seconds. */
  get mood(): LiveMoodNow | null {
    return this.#mood.now;
  }

  /** Beats of a bar; null until enough of them were heard. */
  get metre(): number | null {
    return this.#bars.metre;
  }

  feed(block: Float32Array): Announcement[] {
    return this.#features.feed(block).flatMap((frame) => this.#hear(frame));
  }

  #hear(frame: StreamFrame): Announcement[] {
    const found: Announcement[] = [];
    this.#mood.hear(frame);
    if (this.#frame++ % 2 === 0) this.#changes = this.#harmony.next(frame.chroma, frame.bass);
    const heard = this.#network.next(frame.mel, this.#changes);
    this.#bars.hear(heard.beat, heard.downbeat);
    const was = this.#was ?? { beat: heard.beat, at: frame.at };
    this.#was = { beat: heard.beat, at: frame.at };
    // Two steps of the decoder for each frame, the first of them between this and the one before.
    for (let half = 1; half <= STEPS_S / FPS; half++) {
      const part = (half * FPS) / STEPS_S;
      const b = was.beat + (heard.beat - was.beat) * part;
      this.#observe(b);
      const now = was.at + (frame.at - was.at) * part;
      const said = this.#look(now, b, frame);
      if (said) found.push(said);
    }
    return found;
  }

  #observe(b: number): void {
    const n = PERIODS.length;
    const s = this.#step++;
    for (let i = 0; i < n; i++) this.#entering[i] = this.#rings[i]![beginning(i, s)]!;
    changeTempi(this.#entering, this.#from, WITH_BEAT);
    for (let i = 0; i < n; i++) this.#rings[i]![beginning(i, s)] = this.#entering[i]!;
    const add = Math.log(clipped(b)) - Math.log((1 - clipped(b)) / REST);
    for (let i = 0; i < n; i++) {
      const ring = this.#rings[i]!;
      let at = beginning(i, s);
      for (let k = this.#regions[i]!; k > 0; k--) {
        ring[at] = ring[at]! + add;
        if (++at === ring.length) at = 0;
      }
    }
    if (s % STEPS_S === 0) this.#forget();
  }

  /** What can no longer be is held within reach, and the numbers stay small. */
  #forget(): void {
    let most = -Infinity;
    for (const ring of this.#rings) for (const value of ring) if (value > most) most = value;
    for (const ring of this.#rings)
      for (let i = 0; i < ring.length; i++) ring[i] = Math.max(-FORGOTTEN, ring[i]! - most);
  }

  #look(now: number, b: number, { known, loud }: StreamFrame): Announcement | null {
    this.#silentSince = loud < SILENT ? (this.#silentSince ?? now) : null;
    const s = this.#step - 1;
    const best = this.#best(s);
    const mine = this.#follows && this.#onward(this.#follows, s);
    if (!mine) this.#follows = best.where;
    else if (best.score - mine.score > BETTER) {
      this.#betterSince ??= now;
      if (now - this.#betterSince > PATIENCE_S) {
        this.#follows = best.where;
        this.#betterSince = null;
      } else this.#follows = mine.where;
    } else {
      this.#betterSince = null;
      this.#follows = mine.where;
    }
    return this.#say(now, b, known);
  }

  #best(s: number): { where: Where; score: number } {
    let score = -Infinity;
    let where: Where = { tempo: 0, place: 0 };
    for (let i = 0; i < this.#rings.length; i++) {
      const ring = this.#rings[i]!;
      for (let at = 0; at < ring.length; at++)
        if (ring[at]! > score) {
          score = ring[at]!;
          where = { tempo: i, place: (at + s) % ring.length };
        }
    }
    return { where, score };
  }

  /** Where what is followed has come to: near where it would be, and about as fast. */
  #onward({ tempo, place }: Where, s: number): { where: Where; score: number } {
    let score = -Infinity;
    let where: Where = { tempo, place };
    const share = (place + 1) / PERIODS[tempo]!;
    for (let i = Math.max(0, tempo - 2); i <= Math.min(PERIODS.length - 1, tempo + 2); i++) {
      const ring = this.#rings[i]!;
      const middle = Math.round(share * ring.length);
      for (let off = -3; off <= 3; off++) {
        const at = modulo(middle + off, ring.length);
        const value = ring[modulo(at - s, ring.length)]!;
        if (value > score) {
          score = value;
          where = { tempo: i, place: at };
        }
      }
    }
    return { where, score };
  }

  #say(now: number, b: number, known: number): Announcement | null {
    const { tempo, place } = this.#follows!;
    const period = PERIODS[tempo]!;
    // How high it stands at beats and between them is how sure it is.
    const slow = 1 / (6 * STEPS_S);
    if (place < 3 || place > period - 3) this.#on += (b - this.#on) * slow * 12;
    else this.#off += (b - this.#off) * slow * 2;
    const left = (period - place) / STEPS_S;
    const at = now + left;
    if (left > AHEAD_S || at - this.#said < (0.45 * period) / STEPS_S) return null;
    const confidence = Math.max(0, Math.min(1, (this.#on - this.#off) * 1.6));
    const silent = this.#silentSince !== null && now - this.#silentSince > 2;
    const beat = this.#bars.next();
    this.#said = at;
    this.#speaks = !silent && confidence >= (this.#speaks ? ENDS : BEGINS);
    if (!this.#speaks) return null;
    return {
      at,
      beat: beat + 1,
      bar: this.#bars.bar,
      emittedAt: known,
      bpm: Math.round((60 * STEPS_S * 10) / period) / 10,
      confidence: Math.round(confidence * 1000) / 1000,
      mood: this.#mood.now?.mood ?? null,
    };
  }
}

const beginning = (tempo: number, s: number): number => modulo(-s, PERIODS[tempo]!);
