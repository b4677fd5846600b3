import { curved, GAMMA_STEPS } from '../rig/encode.ts';
import type { RigArrays } from '../rig/rig.ts';

/**
 * Counts flashes of single lamps. Light is measured as WCAG 2.2 (success criterion 2.3.1) and ITU-R BT.1702 do, as
 * relative luminance and as saturated red, of linear light where 1 is the lamp's full white; and because lamps are far
 * brighter than the screens those are written for, a lamp that goes on and off in any colour counts as well.
 */
const LUMINANCE = 0;
const RED = 1;
const ON_OFF = 2;
const KINDS = 3;

/** Relative luminance: a flash is a rise of at least this much out of a dip that was darker than BRIGHT. */
const RISE = 0.1;
const BRIGHT = 0.8;
/** Red flash: a rise of (R - G - B) x 320 by more than 20, to or from R / (R + G + B) of at least SATURATED. */
const RED_RISE = 20 / 320;
const SATURATED = 0.8;
/** The largest of red, green and blue. */
const ON_OFF_RISE = 0.3;

/** Frames come at whole moments: so much is allowed for that. */
const FRAME_S = 0.05;
/** What a lamp is doing: its luminance rises, it comes on, and of red: */
const BRIGHTER = 1;
const COMES_ON = 2;
/** going down or at rest; the dip was saturated; going up and not counted yet; going up and counted. */
const RED_DOWN = 0;
const RED_DOWN_SATURATED = 4;
const RED_RISING = 8;
const RED_UP = 12;
const RED_BITS = 12;

/** Lamps whose light is worked out before they are looked at: few enough to stay at hand. */
const AT_ONCE = 512;

/** What each lamp did lately. Times are seconds since the watch began. Allocates nothing but when it is made. */
export class FlashWatch {
  readonly #rig: RigArrays;
  readonly #keep: number;
  readonly #spanS: number;
  readonly #freeAfterS: number;
  /**
   * For each lamp and kind: the highest value since the last rise, or the lowest since the last fall; of luminance and
   * on-off the lowest with its sign turned round.
   */
  readonly #turning: Float32Array;
  /** For each lamp: which of the two it is. */
  readonly #state: Uint8Array;
  /** For each lamp and kind the times of the last rises, round and round. */
  readonly #rises: Float32Array;
  readonly #next: Uint8Array;
  /** For each lamp: until when it counts as flashing too fast; and until when any does. */
  readonly #freeAt: Float32Array;
  #anyFreeAt = -Infinity;
  /** Rises of each lamp and kind since the watch began. */
  readonly #counted: Uint32Array;
  #begun = false;
  #armedUntil = -Infinity;
  /** Linear red, green and blue of lamps that are looked at next. */
  readonly #light = new Float64Array(AT_ONCE * 3);

  /** `perSecond`: more flashes than that are too many. */
  constructor(rig: RigArrays, perSecond: number) {
    const { count } = rig.lamps;
    this.#rig = rig;
    this.#keep = Math.max(1, Math.floor(perSecond));
    this.#spanS = this.#keep / perSecond - FRAME_S;
    this.#freeAfterS = Math.max(1, this.#keep / perSecond);
    this.#turning = new Float32Array(count * KINDS);
    this.#state = new Uint8Array(count);
    this.#rises = new Float32Array(count * KINDS * this.#keep).fill(-Infinity);
    this.#next = new Uint8Array(count * KINDS);
    this.#freeAt = new Float32Array(count).fill(-Infinity);
    this.#counted = new Uint32Array(count * KINDS);
  }

  /** True while the next rise of some lamp may be one too many. */
  isArmed(seconds: number): boolean {
    return seconds < this.#armedUntil;
  }
  isOver(lamp: number, seconds: number): boolean {
    return this.#freeAt[lamp]! > seconds;
  }

  /** Flashes since the watch began, of the lamp and kind that has most. */
  get most(): number {
    return this.#counted.reduce((most, count) => Math.max(most, count), 0);
  }

  /** As if every lamp had just flashed as often as it may: nobody knows what happened before. */
  arm(seconds: number): void {
    this.#rises.fill(seconds);
    this.#armedUntil = seconds + this.#spanS;
  }

  /** Takes over what another watch knows of a lamp, which is another one's `from` here. */
  carry(other: FlashWatch, from: number, lamp: number): void {
    this.#begun = true;
    this.#armedUntil = Math.max(this.#armedUntil, other.#armedUntil);
    this.#anyFreeAt = Math.max(this.#anyFreeAt, other.#anyFreeAt);
    this.#freeAt[lamp] = other.#freeAt[from]!;
    this.#state[lamp] = other.#state[from]!;
    for (let kind = 0; kind < KINDS; kind++) {
      const [here, there] = [lamp * KINDS + kind, from * KINDS + kind];
      this.#turning[here] = other.#turning[there]!;
      // Newest first, from both ends: the rings may differ in length.
      for (let back = 1; back <= Math.min(this.#keep, other.#keep); back++)
        this.#rises[here * this.#keep + this.#keep - back] =
          other.#rises[there * other.#keep + ((other.#next[there]! + other.#keep * 2 - back) % other.#keep)]!;
    }
  }

  /** A lamp that nothing is known of starts from what it shows. */
  meet(current: Float32Array, lamp: number): void {
    this.#measure(current, lamp, 0);
    this.#turn(lamp, lamp + 1);
  }

  /**
   * Looks at all lamps; the area (m²) of those that have flashed too often lately. Plain pixels are written to `bytes` on
   * the way. Linear in the lamps.
   */
  look(current: Float32Array, seconds: number, bytes: Uint8Array | null = null): number {
    const { cells } = this.#rig;
    for (let run = 0; run < cells.lamp.length; run++)
      for (let done = 0; done < cells.count[run]!; done += AT_ONCE) {
        const count = Math.min(AT_ONCE, cells.count[run]! - done);
        this.#measureCells(current, run, done, count, bytes);
        this.#see(cells.lamp[run]! + done, count, seconds);
      }
    for (let run = 0; run < cells.other.length; run++)
      for (let done = 0; done < cells.otherCount[run]!; done += AT_ONCE) {
        const count = Math.min(AT_ONCE, cells.otherCount[run]! - done);
        const from = cells.other[run]! + done;
        for (let i = 0; i < count; i++) this.#measure(current, from + i, i * 3);
        this.#see(from, count, seconds);
      }
    this.#begun = true;
    return this.#anyFreeAt > seconds ? this.#areaOver(seconds) : 0;
  }

  #areaOver(seconds: number): number {
    const { count, weight } = this.#rig.lamps;
    let over = 0;
    for (let i = 0; i < count; i++) if (this.#freeAt[i]! > seconds) over += weight[i]!;
    return over;
  }

  /** Moves all times, so that they stay small enough to be exact. */
  shift(seconds: number): void {
    for (let i = 0; i < this.#rises.length; i++) this.#rises[i] = this.#rises[i]! - seconds;
    for (let i = 0; i < this.#freeAt.length; i++) this.#freeAt[i] = this.#freeAt[i]! - seconds;
    this.#armedUntil -= seconds;
    this.#anyFreeAt -= seconds;
  }

  #see(lamp: number, count: number, seconds: number): void {
    if (this.#begun) this.#swing(lamp, lamp + count, seconds);
    else this.#turn(lamp, lamp + count);
  }

  /** Lamps begin with the light that was worked out last. */
  #turn(from: number, to: number): void {
    const light = this.#light;
    for (let lamp = from, at = 0; lamp < to; lamp++, at += 3) {
      const [r, g, b] = [light[at]!, light[at + 1]!, light[at + 2]!];
      this.#turning[lamp * KINDS + LUMINANCE] = -(0.2126 * r + 0.7152 * g + 0.0722 * b);
      this.#turning[lamp * KINDS + ON_OFF] = -Math.max(r, g, b);
      this.#turning[lamp * KINDS + RED] = Math.max(0, r - g - b);
      this.#state[lamp] = isSaturated(r, g, b) ? RED_DOWN_SATURATED : RED_DOWN;
    }
  }

  /** Follows lamps to the light that was worked out last. One loop without calls but where something rises. */
  #swing(from: number, to: number, seconds: number): void {
    const light = this.#light;
    const turning = this.#turning;
    const states = this.#state;
    for (let lamp = from, at = 0, k = from * KINDS; lamp < to; lamp++, at += 3, k += KINDS) {
      const r = light[at]!;
      const g = light[at + 1]!;
      const b = light[at + 2]!;
      let state = states[lamp]!;
      const luminance = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      // Up and down are one thing seen from two sides: the largest of the light, or of what is less than none.
      const way = ((state & BRIGHTER) << 1) - 1;
      const turned = turning[k + LUMINANCE]!;
      const towards = way * luminance;
      if (towards < turned - RISE && (way > 0 || turned > -BRIGHT)) {
        state ^= BRIGHTER;
        turning[k + LUMINANCE] = -towards;
        if (way < 0) this.#rise(k + LUMINANCE, seconds);
      } else turning[k + LUMINANCE] = Math.max(turned, towards);
      const most = r > g ? (r > b ? r : b) : g > b ? g : b;
      const comes = (state & COMES_ON) - 1;
      const turnedOn = turning[k + ON_OFF]!;
      const lit = comes * most;
      if (lit < turnedOn - ON_OFF_RISE && (comes > 0 || turnedOn > -BRIGHT)) {
        state ^= COMES_ON;
        turning[k + ON_OFF] = -lit;
        if (comes < 0) this.#rise(k + ON_OFF, seconds);
      } else turning[k + ON_OFF] = Math.max(turnedOn, lit);
      const excess = r - g - b;
      const red = excess > 0 ? excess : 0;
      const before = turning[k + RED]!;
      // Nothing was red, and nothing is: so it is with most lamps.
      if (red !== 0 || before !== 0 || (state & RED_BITS) !== RED_DOWN)
        state = this.#swingRed(k + RED, red, before, isSaturated(r, g, b), state, seconds);
      states[lamp] = state;
    }
  }

  /** The state after. */
  #swingRed(at: number, red: number, before: number, saturated: boolean, state: number, seconds: number): number {
    const others = state & ~RED_BITS;
    const phase = state & RED_BITS;
    if (phase >= RED_RISING) {
      if (red > before) this.#turning[at] = red;
      else if (red < before - RED_RISE) {
        this.#turning[at] = red;
        return others | (saturated ? RED_DOWN_SATURATED : RED_DOWN);
      }
      if (phase === RED_RISING && saturated) {
        this.#rise(at, seconds);
        return others | RED_UP;
      }
    } else if (red < before) {
      this.#turning[at] = red;
      return others | (saturated ? RED_DOWN_SATURATED : RED_DOWN);
    } else if (red > before + RED_RISE) {
      this.#turning[at] = red;
      if (!saturated && phase !== RED_DOWN_SATURATED) return others | RED_RISING;
      this.#rise(at, seconds);
      return others | RED_UP;
    }
    return state;
  }

  #rise(at: number, seconds: number): void {
    this.#counted[at] = this.#counted[at]! + 1;
    const keep = this.#keep;
    const next = this.#next[at]!;
    const lamp = (at / KINDS) | 0;
    // As many rises as are allowed fell within the last second: this one is too many.
    if (seconds - this.#rises[at * keep + next]! < this.#spanS) {
      this.#freeAt[lamp] = seconds + this.#freeAfterS;
      if (this.#freeAt[lamp]! > this.#anyFreeAt) this.#anyFreeAt = this.#freeAt[lamp]!;
    }
    this.#rises[at * keep + next] = seconds;
    const after = (next + 1) % keep;
    this.#next[at] = after;
    const until = this.#rises[at * keep + after]! + this.#spanS;
    if (until > this.#armedUntil) this.#armedUntil = until;
  }

  /** Light of `count` cells of a run as it will be sent, and their bytes. */
  #measureCells(current: Float32Array, run: number, done: number, count: number, bytes: Uint8Array | null): void {
    const { cells, gammaTables } = this.#rig;
    const light = this.#light;
    const step = cells.step[run]!;
    const curve = (cells.gamma[run]! - 1) * GAMMA_STEPS;
    let level = cells.level[run]! + step * done;
    let from = cells.colour[run]! + 3 * done;
    let to = cells.byte[run]! + 3 * done;
    for (let at = 0; at < count * 3; at += 3, level += step, from += 3, to += 3) {
      // `curved`, with the table found once for the run: it is asked for every cell of every frame.
      const asked = current[level]!;
      const lit = curve < 0 ? asked : gammaTables[curve + ((asked * (GAMMA_STEPS - 1) + 0.5) | 0)]!;
      const r = current[from]! * lit;
      const g = current[from + 1]! * lit;
      const b = current[from + 2]! * lit;
      light[at] = r;
      light[at + 1] = g;
      light[at + 2] = b;
      if (bytes === null) continue;
      bytes[to] = (r * 255 + 0.5) | 0;
      bytes[to + 1] = (g * 255 + 0.5) | 0;
      bytes[to + 2] = (b * 255 + 0.5) | 0;
    }
  }

  /** Light of one lamp as it will be sent, from attribute values, to three numbers from `at` on. */
  #measure(current: Float32Array, lamp: number, at: number): void {
    const { level, colour, gamma, special } = this.#rig.lamps;
    const lit = curved(this.#rig, level[lamp]! < 0 ? 1 : current[level[lamp]!]!, gamma[lamp]!);
    if (special[lamp]! >= 0) return this.#measureSpecial(current, lamp, lit, at);
    const base = colour[lamp]!;
    const light = this.#light;
    light[at] = base < 0 ? lit : current[base]! * lit;
    light[at + 1] = base < 0 ? lit : current[base + 1]! * lit;
    light[at + 2] = base < 0 ? lit : current[base + 2]! * lit;
  }

  #measureSpecial(current: Float32Array, lamp: number, level: number, at: number): void {
    const { lamps } = this.#rig;
    const { white, emitters, gates, wheel, r, g, b } = lamps.specials[lamps.special[lamp]!]!;
    const base = lamps.colour[lamp]!;
    const mixes = base >= 0;
    const own = mixes || emitters.length > 0;
    let red = mixes ? current[base]! : own ? 0 : r;
    let green = mixes ? current[base + 1]! : own ? 0 : g;
    let blue = mixes ? current[base + 2]! : own ? 0 : b;
    if (white >= 0) {
      const more = Math.max(0, current[white]! - Math.min(red, green, blue));
      red += more;
      green += more;
      blue += more;
    }
    for (let i = 0; i < emitters.length; i++) {
      const emitter = emitters[i]!;
      const amount = current[emitter.slot]!;
      red += amount * emitter.r;
      green += amount * emitter.g;
      blue += amount * emitter.b;
    }
    let lit = level;
    for (let i = 0; i < gates.length; i++)
      lit *= lamps.gates[gates[i]!.table + ((current[gates[i]!.slot]! * 255) | 0)]!;
    if (wheel) {
      const row = wheel.table + ((current[wheel.slot]! * 255) | 0) * 3;
      red *= lamps.wheels[row]!;
      green *= lamps.wheels[row + 1]!;
      blue *= lamps.wheels[row + 2]!;
    }
    this.#light[at] = Math.min(1, red) * lit;
    this.#light[at + 1] = Math.min(1, green) * lit;
    this.#light[at + 2] = Math.min(1, blue) * lit;
  }
}

const isSaturated = (r: number, g: number, b: number): boolean => r > 0 && r >= SATURATED * (r + g + b);
