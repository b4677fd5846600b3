import { GAMMA_STEPS } from './encode.ts';
import type { RigArrays } from './rig.ts';

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
/** Going down, or at rest; of red: the dip was saturated; going up and not counted yet; going up and counted. */
const DOWN = 0;
const DOWN_SATURATED = 1;
const RISING = 2;
const UP = 3;

/** What each lamp did lately. Times are seconds since the watch began. Allocates nothing but when it is made. */
export class FlashWatch {
  readonly #rig: RigArrays;
  readonly #keep: number;
  readonly #spanS: number;
  readonly #freeAfterS: number;
  /** For each lamp and kind: the lowest value since the last rise, or the highest since the last fall; and which. */
  readonly #turning: Float32Array;
  readonly #state: Uint8Array;
  /** For each lamp and kind the times of the last rises, round and round. */
  readonly #rises: Float32Array;
  readonly #next: Uint8Array;
  /** For each lamp: until when it counts as flashing too fast. */
  readonly #freeAt: Float32Array;
  /** Rises of each lamp and kind since the watch began. */
  readonly #counted: Uint32Array;
  #begun = false;
  #armedUntil = -Infinity;
  /** Of the lamp that was measured last. */
  #luminance = 0;
  #red = 0;
  #most = 0;
  #saturated = false;

  /** `perSecond`: more flashes than that are too many. */
  constructor(rig: RigArrays, perSecond: number) {
    const { count } = rig.lamps;
    this.#rig = rig;
    this.#keep = Math.max(1, Math.floor(perSecond));
    this.#spanS = this.#keep / perSecond - FRAME_S;
    this.#freeAfterS = Math.max(1, this.#keep / perSecond);
    this.#turning = new Float32Array(count * KINDS);
    this.#state = new Uint8Array(count * KINDS);
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
    this.#freeAt[lamp] = other.#freeAt[from]!;
    for (let kind = 0; kind < KINDS; kind++) {
      const [here, there] = [lamp * KINDS + kind, from * KINDS + kind];
      this.#turning[here] = other.#turning[there]!;
      this.#state[here] = other.#state[there]!;
      // Newest first, from both ends: the rings may differ in length.
      for (let back = 1; back <= Math.min(this.#keep, other.#keep); back++)
        this.#rises[here * this.#keep + this.#keep - back] =
          other.#rises[there * other.#keep + ((other.#next[there]! + other.#keep * 2 - back) % other.#keep)]!;
    }
  }

  /** A lamp that nothing is known of starts from what it shows. */
  meet(current: Float32Array, lamp: number): void {
    this.#measure(current, lamp);
    this.#turn(lamp);
  }

  /** Looks at all lamps; the area (m²) of those that have flashed too often lately. Linear in the lamps. */
  look(current: Float32Array, seconds: number): number {
    const { count, weight } = this.#rig.lamps;
    if (!this.#begun) {
      for (let i = 0; i < count; i++) this.meet(current, i);
      this.#begun = true;
      return 0;
    }
    let over = 0;
    for (let i = 0; i < count; i++) {
      this.#measure(current, i);
      this.#swing(i * KINDS + LUMINANCE, this.#luminance, RISE, seconds);
      this.#swing(i * KINDS + ON_OFF, this.#most, ON_OFF_RISE, seconds);
      this.#swingRed(i * KINDS + RED, this.#red, this.#saturated, seconds);
      if (this.#freeAt[i]! > seconds) over += weight[i]!;
    }
    return over;
  }

  /** Moves all times, so that they stay small enough to be exact. */
  shift(seconds: number): void {
    for (let i = 0; i < this.#rises.length; i++) this.#rises[i] = this.#rises[i]! - seconds;
    for (let i = 0; i < this.#freeAt.length; i++) this.#freeAt[i] = this.#freeAt[i]! - seconds;
    this.#armedUntil -= seconds;
  }

  #turn(lamp: number): void {
    const at = lamp * KINDS;
    this.#turning[at + LUMINANCE] = this.#luminance;
    this.#turning[at + ON_OFF] = this.#most;
    this.#turning[at + RED] = this.#red;
    this.#state[at + RED] = this.#saturated ? DOWN_SATURATED : DOWN;
  }

  #swing(at: number, value: number, rise: number, seconds: number): void {
    const turning = this.#turning[at]!;
    if (this.#state[at] === UP) {
      if (value > turning) this.#turning[at] = value;
      else if (value < turning - rise) {
        this.#state[at] = DOWN;
        this.#turning[at] = value;
      }
    } else if (value < turning) this.#turning[at] = value;
    else if (value > turning + rise && turning < BRIGHT) {
      this.#state[at] = UP;
      this.#turning[at] = value;
      this.#rise(at, seconds);
    }
  }

  #swingRed(at: number, value: number, saturated: boolean, seconds: number): void {
    const turning = this.#turning[at]!;
    const state = this.#state[at]!;
    if (state >= RISING) {
      if (value > turning) this.#turning[at] = value;
      else if (value < turning - RED_RISE) {
        this.#state[at] = saturated ? DOWN_SATURATED : DOWN;
        this.#turning[at] = value;
        return;
      }
      if (state === RISING && saturated) {
        this.#state[at] = UP;
        this.#rise(at, seconds);
      }
    } else if (value < turning) {
      this.#turning[at] = value;
      this.#state[at] = saturated ? DOWN_SATURATED : DOWN;
    } else if (value > turning + RED_RISE) {
      const counts = saturated || state === DOWN_SATURATED;
      this.#state[at] = counts ? UP : RISING;
      this.#turning[at] = value;
      if (counts) this.#rise(at, seconds);
    }
  }

  #rise(at: number, seconds: number): void {
    this.#counted[at] = this.#counted[at]! + 1;
    const keep = this.#keep;
    const next = this.#next[at]!;
    const lamp = (at / KINDS) | 0;
    // As many rises as are allowed fell within the last second: this one is too many.
    if (seconds - this.#rises[at * keep + next]! < this.#spanS) this.#freeAt[lamp] = seconds + this.#freeAfterS;
    this.#rises[at * keep + next] = seconds;
    const after = (next + 1) % keep;
    this.#next[at] = after;
    const until = this.#rises[at * keep + after]! + this.#spanS;
    if (until > this.#armedUntil) this.#armedUntil = until;
  }

  /** Light of one lamp as it will be sent, from attribute values. */
  #measure(current: Float32Array, lamp: number): void {
    const { level, colour, gamma, special } = this.#rig.lamps;
    let lit = level[lamp]! < 0 ? 1 : current[level[lamp]!]!;
    if (gamma[lamp]! > 0)
      lit = this.#rig.gammaTables[(gamma[lamp]! - 1) * GAMMA_STEPS + ((lit * (GAMMA_STEPS - 1) + 0.5) | 0)]!;
    if (special[lamp]! >= 0) return this.#measureSpecial(current, lamp, lit);
    const base = colour[lamp]!;
    if (base < 0) this.#note(lit, lit, lit);
    else this.#note(current[base]! * lit, current[base + 1]! * lit, current[base + 2]! * lit);
  }

  #measureSpecial(current: Float32Array, lamp: number, level: number): void {
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
      const at = wheel.table + ((current[wheel.slot]! * 255) | 0) * 3;
      red *= lamps.wheels[at]!;
      green *= lamps.wheels[at + 1]!;
      blue *= lamps.wheels[at + 2]!;
    }
    this.#note(Math.min(1, red) * lit, Math.min(1, green) * lit, Math.min(1, blue) * lit);
  }

  #note(r: number, g: number, b: number): void {
    this.#luminance = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    this.#most = r > g ? (r > b ? r : b) : g > b ? g : b;
    const red = r - g - b;
    this.#red = red > 0 ? red : 0;
    this.#saturated = r > 0 && r >= SATURATED * (r + g + b);
  }
}
