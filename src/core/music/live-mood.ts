import type { Mood } from '../records/profile.ts';
import { FPS } from './features.ts';
import { moodAmong } from './mood.ts';
import type { StreamFrame } from './stream-features.ts';

/** How much goes on in sound that comes, from the past alone: a mood that does not twitch, and breaks, builds and drops. */

/** What goes on now is told over so many seconds; what is usual over so many. */
const [NOW_S, USUAL_S] = [3, 180];
/** Another mood has to last so long before it is said, seconds. */
const PATIENCE_S = 4;
/** A step down of this much is a break, one up after it a drop. */
const STEP = 0.8;
/** What rises by so much a second, for so long, out of a break is a build. */
const [RISE, RISE_S] = [0.06, 4];

export type LiveTurn = 'break' | 'build' | 'drop';
export interface LiveMoodNow {
  readonly mood: Mood;
  readonly turn: LiveTurn | null;
}

/** Hears frames and says the mood; null until there has been something for some seconds. */
export class LiveMood {
  #loud = 0;
  #onsets = 0;
  #frames = 0;
  /** Energy of each second that was not silent, newest last. */
  readonly #seconds: number[] = [];
  #mood: Mood | null = null;
  /** Since when another mood than the one that is said would fit; null while none would. */
  #since: number | null = null;
  /** Seconds of sound since there was none: levels have to come up first. */
  #sounding = 0;
  #turn: LiveTurn | null = null;
  #turnSince = 0;

  get now(): LiveMoodNow | null {
    return this.#mood && { mood: this.#mood, turn: this.#turn };
  }

  hear({ at, loud, rise, low }: StreamFrame): void {
    const slow = 1 / (NOW_S * FPS);
    this.#loud += (loud - this.#loud) * slow;
    this.#onsets += (rise + low - this.#onsets) * slow;
    if (++this.#frames % FPS !== 0) return;
    if (this.#loud < 1e-3) {
      this.#turn = null;
      this.#sounding = 0;
      return;
    }
    if (++this.#sounding <= 2 * NOW_S) return;
    this.#seconds.push(2 * Math.log(1e-4 + this.#loud) + Math.log(1e-2 + this.#onsets));
    if (this.#seconds.length > USUAL_S) this.#seconds.shift();
    if (this.#seconds.length < NOW_S + 1) return;
    this.#place(at);
    this.#turned(at);
  }

  #place(at: number): void {
    const mood = moodAmong(this.#seconds.at(-1)!, this.#seconds);
    if (this.#mood === null || mood === this.#mood) {
      this.#mood = mood;
      this.#since = null;
    } else {
      this.#since ??= at;
      if (at - this.#since < PATIENCE_S) return;
      this.#mood = mood;
      this.#since = null;
    }
  }

  #turned(at: number): void {
    const now = this.#seconds.at(-1)!;
    const before = mean(this.#seconds.slice(-20, -4));
    if (before === null) return;
    const held = at - this.#turnSince;
    if (this.#turn === null && now < before - STEP) this.#say('break', at);
    else if (this.#turn === 'break' && held > 2) {
      const lately = this.#seconds.slice(-RISE_S);
      const rise = (lately.at(-1)! - lately[0]!) / (lately.length - 1);
      if (now > before + STEP) this.#say('drop', at);
      else if (rise > RISE && lately.every((x, i) => i === 0 || x > lately[i - 1]! - 0.05)) this.#say('build', at);
      else if (held > 60) this.#turn = null;
    } else if (this.#turn === 'build') {
      const usual = mean(this.#seconds)!;
      if (now > usual + STEP / 4) this.#say('drop', at);
      else if (held > 30) this.#turn = null;
    } else if (this.#turn === 'drop' && held > 8) this.#turn = null;
  }

  #say(turn: LiveTurn, at: number): void {
    this.#turn = turn;
    this.#turnSince = at;
  }
}

const mean = (list: readonly number[]): number | null =>
  list.length === 0 ? null : list.reduce((a, b) => a + b, 0) / list.length;
