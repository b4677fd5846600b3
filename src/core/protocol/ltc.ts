import { codeAt, codeSeconds, framesIn, frameS, isCode, type CodeRate, type TimeCode } from './timecode.ts';
import type { CodeHeard } from './mtc.ts';

/** Linear time code (SMPTE ST 12-1): 80 bits a frame in biphase mark, as sound. */

const BITS = 80;
/** The last sixteen bits of a frame: 0011 1111 1111 1101. */
const SYNC = [0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1];

/** A code in the sound: heard with its end at so many samples since the reader began. */
export interface LtcHeard extends CodeHeard {
  readonly code: TimeCode;
  readonly sample: number;
}

/**
 * Reads time code from blocks of sound, at any level, speed (a tenth to eight times) and either way. Noise and speech
 * give nothing: two frames that follow one another are wanted before any is told.
 */
export class LtcReader {
  readonly #sampleRate: number;
  readonly #bits = new Uint8Array(BITS);
  #count = 0;
  /** Samples so far, and where the level last crossed. */
  #now = 0;
  #crossed = 0;
  #high = false;
  /** How loud it is, and half of a bit, samples. */
  #loud = 0;
  #half: number;
  #open = false;
  #before: { readonly at: number; readonly sample: number; readonly way: 1 | -1 } | null = null;
  #seconds = -1;
  #mostFrame = 0;
  #rate: CodeRate = '25';

  /** `sampleRate`: samples a second. */
  constructor(sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.#half = sampleRate / (25 * BITS * 2);
  }

  /** Reads a block of samples (-1 to 1). Gives each code whose end lies in it. */
  take(samples: Float32Array): LtcHeard[] {
    const found: LtcHeard[] = [];
    for (let i = 0; i < samples.length; i++) {
      const value = samples[i]!;
      const size = Math.abs(value);
      this.#loud = size > this.#loud ? size : this.#loud * 0.9999;
      const edge = this.#loud * 0.15;
      if (this.#loud > 0.002 && (this.#high ? value < -edge : value > edge)) {
        this.#high = !this.#high;
        const heard = this.#crossing(this.#now - this.#crossed);
        this.#crossed = this.#now;
        if (heard) found.push(heard);
      }
      this.#now++;
    }
    return found;
  }

  /** After so many samples the level crossed again: half a bit, or a whole one. */
  #crossing(length: number): LtcHeard | null {
    const slowest = this.#sampleRate / (24 * 0.1 * BITS);
    if (length > slowest) {
      this.#count = 0;
      this.#open = false;
      this.#before = null;
      return null;
    }
    if (length < this.#half * 1.5) {
      // Two halves are a one.
      if (length > this.#half * 0.4) this.#half += (length - this.#half) * 0.08;
      else this.#half = Math.max(1, this.#half * 0.97);
      this.#open = !this.#open;
      return this.#open ? null : this.#bit(1);
    }
    this.#half += (length / 2 - this.#half) * 0.08;
    // A half that stood alone: it was out of step.
    if (this.#open) this.#count = 0;
    this.#open = false;
    return this.#bit(0);
  }

  #bit(bit: 0 | 1): LtcHeard | null {
    this.#bits.copyWithin(0, 1);
    this.#bits[BITS - 1] = bit;
    this.#count = Math.min(BITS, this.#count + 1);
    if (this.#count < BITS) return null;
    if (SYNC.every((want, i) => this.#bits[BITS - 16 + i] === want)) return this.#frame(this.#bits, 1);
    // Backwards the word comes first, from its end.
    if (SYNC.every((want, i) => this.#bits[15 - i] === want)) return this.#frame(this.#bits.slice().reverse(), -1);
    return null;
  }

  #frame(bits: Uint8Array, way: 1 | -1): LtcHeard | null {
    const number = (from: number, count: number): number => {
      let n = 0;
      for (let i = 0; i < count; i++) n |= bits[from + i]! << i;
      return n;
    };
    const frames = number(0, 4) + 10 * number(8, 2);
    const seconds = number(16, 4) + 10 * number(24, 3);
    this.#learnRate(frames, seconds, bits[10] === 1);
    const code: TimeCode = {
      hours: number(48, 4) + 10 * number(56, 2),
      minutes: number(32, 4) + 10 * number(40, 3),
      seconds,
      frames,
      rate: this.#rate,
    };
    if ([number(0, 4), number(16, 4), number(32, 4), number(48, 4)].some((digit) => digit > 9) || !isCode(code))
      return null;
    // Its end is where the next frame begins; backwards its beginning.
    const at = codeSeconds(code) + (way === 1 ? frameS(this.#rate) : 0);
    const before = this.#before;
    this.#before = { at, sample: this.#now, way };
    const follows = before !== null && before.way === way && Math.abs(at - before.at - way * frameS(this.#rate)) < 0.02;
    return follows ? { at, rate: this.#rate, way, code, sample: this.#now } : null;
  }

  /** Frames count to 23, 24 or 29 before the second turns; numbers that are left out are told by a bit. */
  #learnRate(frames: number, seconds: number, drops: boolean): void {
    if (drops) {
      this.#rate = '29.97 drop';
      return;
    }
    if (this.#rate === '29.97 drop') this.#rate = '30';
    if (frames >= framesIn(this.#rate)) this.#rate = frames >= 25 ? '30' : '25';
    if (seconds === this.#seconds) this.#mostFrame = Math.max(this.#mostFrame, frames);
    else {
      if (this.#mostFrame === 23) this.#rate = '24';
      else if (this.#mostFrame === 24) this.#rate = '25';
      else if (this.#mostFrame === 29) this.#rate = '30';
      [this.#seconds, this.#mostFrame] = [seconds, frames];
    }
  }
}

/** Codes as sound: frames one after the other from a code on, for stand-ins and tests. */
export function ltcSound(from: TimeCode, frames: number, sampleRate: number, level = 0.5): Float32Array {
  const perBit = (frameS(from.rate) * sampleRate) / BITS;
  const sound = new Float32Array(Math.ceil(frames * BITS * perBit));
  const start = codeSeconds(from);
  let sign = 1;
  let at = 0;
  for (let n = 0; n < frames; n++) {
    const bits = frameBits(codeAtFrame(start, n, from.rate));
    for (const bit of bits) {
      sign = -sign;
      const [begin, middle, end] = [at, at + perBit / 2, at + perBit].map(Math.round) as [number, number, number];
      sound.fill(sign * level, begin, middle);
      if (bit === 1) sign = -sign;
      sound.fill(sign * level, middle, end);
      at += perBit;
    }
  }
  return sound;
}
const codeAtFrame = (start: number, n: number, rate: CodeRate): TimeCode =>
  codeAt(start + (n + 0.25) * frameS(rate), rate);

function frameBits({ hours, minutes, seconds, frames, rate }: TimeCode): number[] {
  const bits = new Array<number>(BITS).fill(0);
  const put = (from: number, count: number, value: number): void => {
    for (let i = 0; i < count; i++) bits[from + i] = (value >> i) & 1;
  };
  put(0, 4, frames % 10);
  put(8, 2, Math.floor(frames / 10));
  bits[10] = rate === '29.97 drop' ? 1 : 0;
  put(16, 4, seconds % 10);
  put(24, 3, Math.floor(seconds / 10));
  put(32, 4, minutes % 10);
  put(40, 3, Math.floor(minutes / 10));
  put(48, 4, hours % 10);
  put(56, 2, Math.floor(hours / 10));
  SYNC.forEach((bit, i) => (bits[BITS - 16 + i] = bit));
  return bits;
}
