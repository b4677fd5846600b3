import type { UnitId } from '../../ids.ts';
import type { ShowRecord } from '../../records/index.ts';
import { FlashWatch } from './flash-watch.ts';
import type { RigArrays } from '../rig/rig.ts';

export type Safety = ShowRecord['safety'];

/** While held back a lamp follows the mean of what is asked for: so slowly that what is left is no flash. */
const FOLLOW_S = 4;
/** Areas are sums of fractions. */
const ROUNDING = 1e-4;
/** Times are kept as seconds since the guard began, which is moved along before they become inexact. */
const SHIFT_S = 600;

/**
 * Holds back flashes that are not safe, last of all, after all masters. It remembers what each lamp did in the last
 * second (`FlashWatch`): when more than `share` of the plot, by area, flashes more often than `flashesPerSecond`, those
 * lamps follow the mean of what is asked for until they stop. Built-in strobes are kept below `strobeHz`, and below
 * `flashesPerSecond` where more than `share` of the plot strobes. What it knows belongs to lamps, not to a rig: after
 * an edit `follow` takes it along. Allocates nothing in a frame; linear in the lamps.
 */
export class FlashGuard {
  #rig: RigArrays;
  #safety: Safety;
  #watch: FlashWatch;
  /** Attribute values as they were let out in the frame before; kept while they may be needed. */
  #before: Float32Array;
  #beforeIsKnown = false;
  /** Slots that were done in this frame: lamps share levels. */
  #done = new Uint8Array(0);
  #startMs = NaN;
  #lastMs = NaN;
  #master = 1;
  #holding = false;

  constructor(rig: RigArrays, safety: Safety) {
    this.#rig = rig;
    this.#safety = safety;
    this.#watch = new FlashWatch(rig, safety.flashesPerSecond);
    this.#before = new Float32Array(rig.slotCount);
  }

  /** True while lamps are held back. */
  get holding(): boolean {
    return this.#holding;
  }

  /**
   * To be told where nobody knows what the lamps did a moment ago, because whoever sent to them died: for the first
   * second every lamp counts as having flashed as often as it may.
   */
  suspect(nowMs: number): void {
    this.#begin(nowMs);
    this.#watch.arm(0);
  }

  /** Goes on with another rig or other limits, after an edit; lamps that were there before keep what is known of them. */
  follow(rig: RigArrays, safety: Safety): void {
    const [old, was] = [this.#rig, this.#watch];
    if (rig === old && safety.flashesPerSecond === this.#safety.flashesPerSecond) {
      this.#safety = safety;
      return;
    }
    const watch = new FlashWatch(rig, safety.flashesPerSecond);
    const before = new Float32Array(rig.home);
    const places = new Map<UnitId, number>(old.lamps.unitIds.map((id, i) => [id, i]));
    rig.lamps.unitIds.forEach((id, unit) => {
      const known = places.get(id);
      const [from, to] = [rig.lamps.unitFrom[unit]!, lampsEnd(rig, unit)];
      for (let lamp = from; lamp < to; lamp++) {
        const there = known === undefined ? Infinity : old.lamps.unitFrom[known]! + lamp - from;
        if (known !== undefined && there < lampsEnd(old, known)) {
          watch.carry(was, there, lamp);
          carryValues(old, this.#before, there, rig, before, lamp);
        } else watch.meet(rig.home, lamp);
      }
    });
    this.#rig = rig;
    this.#safety = safety;
    this.#watch = watch;
    this.#before = before;
  }

  /**
   * `master`: what the grand master and Dark leave of all levels (0-1); where it falls, what is held falls with it. Plain
   * pixels are written to `bytes` on the way; true where they are written as they are let out.
   */
  apply(current: Float32Array, nowMs: number, master = 1, bytes: Uint8Array | null = null): boolean {
    if (!this.#safety.limitFlashes) {
      this.#startMs = NaN;
      this.#holding = false;
      return false;
    }
    if (Number.isNaN(this.#startMs)) this.#begin(nowMs);
    // A clock that was set back stands still for a frame.
    if (nowMs < this.#lastMs) this.#startMs -= this.#lastMs - nowMs;
    const passed = Math.max(0, nowMs - this.#lastMs) / 1000;
    this.#lastMs = nowMs;
    let seconds = (nowMs - this.#startMs) / 1000;
    if (seconds > SHIFT_S) {
      this.#watch.shift(seconds);
      this.#startMs = nowMs;
      seconds = 0;
    }
    this.#strobes(current);
    const { whole } = this.#rig.lamps;
    const over = this.#watch.look(current, seconds, bytes);
    this.#holding = whole > 0 && over / whole > this.#safety.share + ROUNDING;
    const held = this.#holding && this.#beforeIsKnown;
    if (held) this.#hold(current, seconds, passed, master);
    this.#master = master;
    this.#beforeIsKnown = this.#holding || this.#watch.isArmed(seconds);
    if (this.#beforeIsKnown) this.#before.set(current);
    return bytes !== null && !held;
  }

  #begin(nowMs: number): void {
    this.#startMs = this.#lastMs = nowMs;
    this.#watch = new FlashWatch(this.#rig, this.#safety.flashesPerSecond);
    this.#beforeIsKnown = false;
  }

  #hold(current: Float32Array, seconds: number, passed: number, master: number): void {
    const { count, level, colour, special, specials, gates: open } = this.#rig.lamps;
    const before = this.#before;
    const part = Math.min(1, passed / FOLLOW_S);
    const fall = this.#master > 0 ? Math.min(1, master / this.#master) : 0;
    if (this.#done.length !== current.length) this.#done = new Uint8Array(current.length);
    this.#done.fill(0);
    for (let i = 0; i < count; i++) {
      if (!this.#watch.isOver(i, seconds)) continue;
      if (level[i]! >= 0) this.#follow(current, level[i]!, fall, part);
      const scale = level[i]! >= 0 ? 1 : fall;
      if (colour[i]! >= 0) for (let c = 0; c < 3; c++) this.#follow(current, colour[i]! + c, scale, part);
      if (special[i]! < 0) continue;
      const { white, emitters, gates, wheel } = specials[special[i]!]!;
      if (white >= 0) this.#follow(current, white, scale, part);
      for (let e = 0; e < emitters.length; e++) this.#follow(current, emitters[e]!.slot, scale, part);
      // What jumps cannot follow: a shutter stays open, a wheel stays where it was.
      for (let g = 0; g < gates.length; g++) {
        const { slot, table } = gates[g]!;
        if (open[table + ((current[slot]! * 255) | 0)]! < open[table + ((before[slot]! * 255) | 0)]!)
          current[slot] = before[slot]!;
      }
      if (wheel) current[wheel.slot] = before[wheel.slot]!;
    }
  }

  /** From what was let out before, times `scale`, towards what is asked for; each slot once. */
  #follow(current: Float32Array, slot: number, scale: number, part: number): void {
    if (this.#done[slot] === 1) return;
    this.#done[slot] = 1;
    const from = this.#before[slot]! * scale;
    current[slot] = from + (current[slot]! - from) * part;
  }

  /** Built-in strobes: none faster than `strobeHz`; where many strobe, none faster than `flashesPerSecond`. */
  #strobes(current: Float32Array): void {
    const { strobes, lamps } = this.#rig;
    if (strobes.slot.length === 0) return;
    const { flashesPerSecond, strobeHz, share } = this.#safety;
    let fast = 0;
    for (let i = 0; i < strobes.slot.length; i++)
      if (strobes.hz[strobes.table[i]! * 256 + ((current[strobes.slot[i]!]! * 255) | 0)]! > flashesPerSecond)
        fast += strobes.weight[i]!;
    const cap =
      lamps.whole > 0 && fast / lamps.whole > share + ROUNDING ? Math.min(strobeHz, flashesPerSecond) : strobeHz;
    for (let i = 0; i < strobes.slot.length; i++) {
      const table = strobes.table[i]! * 256;
      const slot = strobes.slot[i]!;
      const raw = (current[slot]! * 255) | 0;
      if (strobes.hz[table + raw]! <= cap) continue;
      current[slot] = slower(strobes.hz, strobes.range, table, raw, cap, strobes.open[strobes.table[i]!]!);
    }
  }
}

const lampsEnd = ({ lamps }: RigArrays, unit: number): number => lamps.unitFrom[unit + 1] ?? lamps.count;

/** Takes the values of a lamp's slots from one rig to another; what the other does not have stays. */
function carryValues(
  old: RigArrays,
  from: Float32Array,
  there: number,
  rig: RigArrays,
  to: Float32Array,
  lamp: number,
): void {
  const copy = (slot: number, into: number, length = 1): void => {
    if (slot >= 0 && into >= 0) for (let i = 0; i < length; i++) to[into + i] = from[slot + i]!;
  };
  copy(old.lamps.level[there]!, rig.lamps.level[lamp]!);
  copy(old.lamps.colour[there]!, rig.lamps.colour[lamp]!, 3);
  const was = old.lamps.specials[old.lamps.special[there]!];
  const is = rig.lamps.specials[rig.lamps.special[lamp]!];
  if (!was || !is) return;
  copy(was.white, is.white);
  is.emitters.forEach(({ slot }, i) => copy(was.emitters[i]?.slot ?? -1, slot));
  is.gates.forEach(({ slot }, i) => copy(was.gates[i]?.slot ?? -1, slot));
  if (was.wheel && is.wheel) copy(was.wheel.slot, is.wheel.slot);
}

/** The value of the same range that flashes fastest without passing `cap`; open where the whole range is too fast. */
function slower(hz: Float32Array, range: Uint8Array, table: number, raw: number, cap: number, open: number): number {
  const same = range[table + raw]!;
  let best = -1;
  for (let value = 0; value < 256; value++) {
    if (range[table + value] !== same || hz[table + value]! > cap) continue;
    if (best < 0 || hz[table + value]! > hz[table + best]!) best = value;
  }
  return best < 0 ? open : (best + 0.25) / 255;
}
