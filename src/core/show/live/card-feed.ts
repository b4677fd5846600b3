import { songAt, type SongOn } from './songs.ts';
import { offInLoop, rateFor } from '../../song/together.ts';

/** What a sound card is fed with, so that it stays together with the clock of the show: pure, block by block. */

/** Sound of two channels at the rate of the card. */
export interface Stereo {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** A song that is on from `fromMs` of the show, until the next one is. */
export interface FeedSong {
  readonly on: SongOn;
  readonly fromMs: number;
  readonly sound: Stereo;
}

/** How fast the model of the card follows what is seen, per look. */
const [FOLLOWS, LEARNS] = [0.02, 0.0002];
/** What it does while it begins is not looked at; it is known after so many looks more. */
const [BEGINS, SETTLES] = [10, 40];
/** Off by more than this (ms) it was interrupted: it is looked at anew. */
const LOST_MS = 150;

/**
 * When a card takes what it is given. Its clock is not ours: it is seen at the moments at which it takes more, which come in
 * bursts, and is followed smoothly.
 */
export class CardClock {
  readonly #nominal: number;
  #frame = 0;
  #ms = 0;
  #perFrame: number;
  #looks = -BEGINS;
  /** It has been looked at for long enough. */
  known = false;

  constructor(rate: number) {
    this.#nominal = 1000 / rate;
    this.#perFrame = this.#nominal;
  }

  /** It has taken so many frames in all, at a moment (ms). */
  took(frames: number, ms: number): void {
    const off = ms - this.at(frames);
    if (this.#looks <= 0 || Math.abs(off) > LOST_MS) {
      [this.#frame, this.#ms, this.#perFrame] = [frames, ms, this.#nominal];
      this.#looks = Math.min(1, this.#looks + 1);
      return;
    }
    this.#looks++;
    this.known ||= this.#looks > SETTLES;
    const passed = frames - this.#frame;
    this.#ms = this.at(frames) + off * Math.max(FOLLOWS, 1 / this.#looks);
    this.#frame = frames;
    if (passed > 0) this.#perFrame += (off * LEARNS) / passed;
    // No card is off by more than half a percent.
    const most = this.#nominal * 0.005;
    this.#perFrame = Math.max(this.#nominal - most, Math.min(this.#nominal + most, this.#perFrame));
  }

  /** When it takes a frame, ms; to be believed once it is known. */
  at(frame: number): number {
    return this.#ms + (frame - this.#frame) * this.#perFrame;
  }
}

/** Sound never begins, ends or jumps with a click, s. */
const FADE_S = 0.015;

/** What plays: where in the song it is (frames, with a fraction), and how loud it is on its way in or out. */
interface Voice {
  readonly song: FeedSong;
  at: number;
  gain: number;
  goal: 0 | 1;
}

/** Blocks of sound of the songs that are on. */
export class CardFeed {
  readonly #rate: number;
  #songs: readonly FeedSong[] = [];
  #voice: Voice | null = null;
  /** What fades out. */
  #leaving: Voice[] = [];
  #level = 1;
  /** Sound is so much ahead of the show, s; null while nothing plays. */
  off: number | null = null;

  constructor(rate: number) {
    this.#rate = rate;
  }

  /** The songs that are on, one after the other; and how loud, 0-1. */
  set(songs: readonly FeedSong[], level: number): void {
    this.#songs = songs;
    this.#level = level;
  }

  /** The next frames, left and right by turns, of which the first is at the ear at `earMs` of the show. */
  block(frames: number, earMs: number): Float32Array {
    const out = new Float32Array(frames * 2);
    // What begins within the block begins at its own frame.
    const frameOf = (ms: number): number => Math.ceil(((ms - earMs) * this.#rate) / 1000);
    const begins = this.#songs
      .map(({ on, fromMs }) => frameOf(Math.max(on.ms, fromMs)))
      .filter((frame) => frame > 0 && frame < frames);
    const edges = [0, ...begins.sort((a, b) => a - b), frames];
    for (let k = 0; k + 1 < edges.length; k++)
      this.#fill(out.subarray(edges[k]! * 2, edges[k + 1]! * 2), earMs + (edges[k]! * 1000) / this.#rate);
    return out;
  }

  #fill(out: Float32Array, earMs: number): void {
    const rate = this.#steer(earMs);
    if (this.#voice) this.#mix(out, this.#voice, rate);
    for (const voice of this.#leaving) this.#mix(out, voice, voice.song.on.rate);
    this.#leaving = this.#leaving.filter(({ gain }) => gain > 0);
  }

  /** Looks at what should be heard at a moment. Returns how fast it plays until it is looked at again. */
  #steer(earMs: number): number {
    const song = this.#songs.findLast(({ fromMs }) => earMs >= fromMs);
    const wanted = song?.on.playing && earMs >= song.on.ms ? songAt(song.on, earMs) * this.#rate : null;
    if (!song || wanted === null || wanted >= song.sound.left.length) {
      this.#leave();
      this.off = null;
      return 1;
    }
    const voice = this.#voice;
    const same = voice?.song.sound === song.sound;
    let off = same ? (voice.at - wanted) / this.#rate : Infinity;
    const { loop } = song.on;
    // Both go round in it: then it is the shorter way that counts.
    const goesRound = (at: number): boolean =>
      loop !== null && at >= loop.from * this.#rate && at < loop.to * this.#rate;
    if (loop && same && goesRound(voice.at) && goesRound(wanted)) off = offInLoop(off, loop.to - loop.from);
    const rate = Number.isFinite(off) ? rateFor(off) : null;
    if (rate === null) {
      this.#leave();
      this.#voice = { song, at: wanted, gain: wanted < 2 ? 1 : 0, goal: 1 };
      this.off = 0;
      return song.on.rate;
    }
    if (voice!.song !== song) this.#voice = { ...voice!, song };
    this.off = off;
    return rate * song.on.rate;
  }

  #leave(): void {
    if (this.#voice) this.#leaving.push({ ...this.#voice, goal: 0 });
    this.#voice = null;
  }

  #mix(out: Float32Array, voice: Voice, rate: number): void {
    const { left, right } = voice.song.sound;
    const { on } = voice.song;
    const step = 1 / (FADE_S * this.#rate);
    const loop = on.loop && voice.at < on.loop.to * this.#rate ? on.loop : null;
    for (let i = 0; i < out.length; i += 2) {
      if (voice.gain !== voice.goal)
        voice.gain = voice.goal === 1 ? Math.min(1, voice.gain + step) : Math.max(0, voice.gain - step);
      const whole = Math.floor(voice.at);
      const part = voice.at - whole;
      const gain = voice.gain * this.#level;
      out[i] = out[i]! + between(left, whole, part) * gain;
      out[i + 1] = out[i + 1]! + between(right, whole, part) * gain;
      voice.at += rate;
      if (loop && voice.at >= loop.to * this.#rate) voice.at -= (loop.to - loop.from) * this.#rate;
    }
  }
}

/** A sample between others, by a cubic through four of them. */
function between(list: Float32Array, at: number, part: number): number {
  const b = list[at] ?? 0;
  if (part === 0) return b;
  const [a, c, d] = [list[at - 1] ?? 0, list[at + 1] ?? 0, list[at + 2] ?? 0];
  return b + 0.5 * part * (c - a + part * (2 * a - 5 * b + 4 * c - d + part * (3 * (b - c) + d - a)));
}
