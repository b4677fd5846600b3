import type { ShowRecord } from '../records/index.ts';
import type { RigArrays } from './rig.ts';

export type Safety = ShowRecord['safety'];

/** A flash is a rise of at least this much light (0-1) out of a dip, as in WCAG 2.2, success criterion 2.3.1. */
const RISE = 0.1;
/** While held back a lamp may rise so much a second: at the slowest forbidden rate that is less than a flash. */
const SLEW_PER_S = 0.5;
/** A lamp that was held back is let free when it has not flashed too fast for so long. */
const FREE_AFTER_S = 1;
/** Frames come at whole moments: so much is allowed for that. */
const FRAME_S = 0.05;
/** A gap of more than this between frames begins afresh. */
const GAP_S = 1;

/**
 * Holds back flashes that are not safe, last of all, after all masters. It remembers what each lamp did in the last
 * second: when more than `share` of the plot flashes more often than `flashesPerSecond`, those lamps may only rise
 * slowly until they stop. Built-in strobes are kept below `strobeHz`, and below `flashesPerSecond` where more than
 * `share` of the units strobe. Every unit counts the same, however many cells it has. Allocates nothing in a frame;
 * linear in the lamps.
 */
export class FlashGuard {
  readonly #rig: RigArrays;
  readonly #safety: Safety;
  readonly #keep: number;
  /** The lowest light since the last rise, or the highest since the last fall. */
  readonly #turning: Float32Array;
  readonly #up: Uint8Array;
  /** Times (s) of the last rises of each lamp, round and round. */
  readonly #rises: Float32Array;
  readonly #next: Uint8Array;
  readonly #freeAt: Float32Array;
  readonly #held: Float32Array;
  /** What each lamp shows in this frame, before it is held back. */
  readonly #seen: Float32Array;
  #startMs = NaN;
  #lastS = 0;
  #holding = false;

  constructor(rig: RigArrays, safety: Safety) {
    const { count } = rig.lamps;
    this.#rig = rig;
    this.#safety = safety;
    this.#keep = Math.max(1, Math.floor(safety.flashesPerSecond));
    this.#turning = new Float32Array(count);
    this.#up = new Uint8Array(count);
    this.#rises = new Float32Array(count * this.#keep);
    this.#next = new Uint8Array(count);
    this.#freeAt = new Float32Array(count);
    this.#held = new Float32Array(count);
    this.#seen = new Float32Array(count);
  }

  /** True while lamps are held back. */
  get holding(): boolean {
    return this.#holding;
  }

  apply(current: Float32Array, nowMs: number): void {
    if (!this.#safety.limitFlashes) return;
    const seconds = (nowMs - this.#startMs) / 1000;
    const passed = seconds - this.#lastS;
    if (!(passed >= 0 && passed < GAP_S) || seconds > 3600) return this.#begin(current, nowMs);
    this.#lastS = seconds;
    this.#strobes(current);
    const share = this.#watch(current, seconds);
    this.#holding = share > this.#safety.share;
    this.#hold(current, seconds, passed);
  }

  #begin(current: Float32Array, nowMs: number): void {
    this.#startMs = nowMs;
    this.#lastS = 0;
    this.#rises.fill(-Infinity);
    this.#freeAt.fill(-Infinity);
    this.#up.fill(0);
    for (let i = 0; i < this.#turning.length; i++) this.#held[i] = this.#turning[i] = this.#light(current, i);
    this.#strobes(current);
  }

  #light(current: Float32Array, lamp: number): number {
    const { level, colour } = this.#rig.lamps;
    const base = colour[lamp]!;
    const lit = level[lamp]! < 0 ? 1 : current[level[lamp]!]!;
    if (base < 0) return lit;
    const r = current[base]!;
    const g = current[base + 1]!;
    const b = current[base + 2]!;
    return lit * (r > g ? (r > b ? r : b) : g > b ? g : b);
  }

  /** Notes rises; the share of the plot (0-1) that has flashed too often within the last second. */
  #watch(current: Float32Array, seconds: number): number {
    const { count, weight, whole } = this.#rig.lamps;
    let over = 0;
    for (let i = 0; i < count; i++) {
      const light = (this.#seen[i] = this.#light(current, i));
      const turning = this.#turning[i]!;
      if (this.#up[i] === 1) {
        if (light > turning) this.#turning[i] = light;
        else if (light < turning - RISE) {
          this.#up[i] = 0;
          this.#turning[i] = light;
        }
      } else if (light < turning) this.#turning[i] = light;
      else if (light > turning + RISE) {
        this.#up[i] = 1;
        this.#turning[i] = light;
        this.#rise(i, seconds);
      }
      if (this.#freeAt[i]! > seconds) over += weight[i]!;
    }
    return whole > 0 ? over / whole : 0;
  }

  #rise(lamp: number, seconds: number): void {
    const at = lamp * this.#keep + this.#next[lamp]!;
    // As many rises as are allowed fell within the last second: this one is too many.
    const span = this.#keep / this.#safety.flashesPerSecond - FRAME_S;
    if (seconds - this.#rises[at]! < span) this.#freeAt[lamp] = seconds + FREE_AFTER_S;
    this.#rises[at] = seconds;
    this.#next[lamp] = (this.#next[lamp]! + 1) % this.#keep;
  }

  #hold(current: Float32Array, seconds: number, passed: number): void {
    if (!this.#holding) return void this.#held.set(this.#seen);
    const { count, level, colour } = this.#rig.lamps;
    for (let i = 0; i < count; i++) {
      const light = this.#seen[i]!;
      const most = this.#held[i]! + SLEW_PER_S * passed;
      if (this.#freeAt[i]! <= seconds || light <= most) {
        this.#held[i] = light;
        continue;
      }
      this.#held[i] = most;
      const down = most / light;
      if (level[i]! >= 0 && colour[i]! < 0) current[level[i]!] = current[level[i]!]! * down;
      else for (let c = 0; c < 3; c++) current[colour[i]! + c] = current[colour[i]! + c]! * down;
    }
  }

  /** Built-in strobes: none faster than `strobeHz`; where many strobe, none faster than `flashesPerSecond`. */
  #strobes(current: Float32Array): void {
    const { strobes, lamps } = this.#rig;
    if (strobes.slot.length === 0) return;
    const { flashesPerSecond, strobeHz, share } = this.#safety;
    let fast = 0;
    for (let i = 0; i < strobes.slot.length; i++)
      if (strobes.hz[strobes.table[i]! * 256 + ((current[strobes.slot[i]!]! * 255) | 0)]! > flashesPerSecond) fast++;
    const cap = fast / Math.max(1, lamps.whole) > share ? Math.min(strobeHz, flashesPerSecond) : strobeHz;
    for (let i = 0; i < strobes.slot.length; i++) {
      const table = strobes.table[i]! * 256;
      const slot = strobes.slot[i]!;
      const raw = (current[slot]! * 255) | 0;
      if (strobes.hz[table + raw]! <= cap) continue;
      current[slot] = slower(strobes.hz, strobes.range, table, raw, cap, strobes.open[strobes.table[i]!]!);
    }
  }
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
