import { codeSeconds, CODE_RATES, frameS, isCode, type CodeRate } from './timecode.ts';

/** MIDI time code (MIDI 1.0 detailed specification, MTC): quarter frames and full frames. */

/** A moment of time code as it was heard. */
export interface CodeHeard {
  /** Seconds of the code at the moment it was heard. */
  readonly at: number;
  readonly rate: CodeRate;
  /** -1 while it runs backwards; 0 for a place that was told while it stands. */
  readonly way: 1 | 0 | -1;
}

const STATUS = 0xf1;
const PIECES = 8;

/** Puts quarter frames together. One reader for each input. */
export class MtcReader {
  readonly #pieces = new Uint8Array(PIECES);
  /** Pieces that came in order, and which way. */
  #count = 0;
  #last = -1;
  #way: 1 | -1 = 1;

  /** Reads one MIDI message; null while nothing is known from it. */
  take(message: ArrayLike<number>): CodeHeard | null {
    if (message[0] === STATUS && message.length >= 2) return this.#quarter(message[1]! & 0x7f);
    // A full frame: F0 7F device 01 01 hh mm ss ff F7.
    if (message[0] === 0xf0 && message[1] === 0x7f && message[3] === 1 && message[4] === 1 && message.length >= 10) {
      this.#count = 0;
      this.#last = -1;
      return heard([message[5]!, message[6]!, message[7]!, message[8]!], 0, 0);
    }
    return null;
  }

  #quarter(data: number): CodeHeard | null {
    const piece = data >> 4;
    const way = piece === (this.#last + 1) % PIECES ? 1 : piece === (this.#last + PIECES - 1) % PIECES ? -1 : null;
    if (this.#last < 0 || way === null || (way !== this.#way && this.#count > 1)) this.#count = 0;
    if (way !== null && this.#last >= 0) this.#way = way;
    this.#last = piece;
    this.#pieces[piece] = data & 0x0f;
    this.#count = Math.min(PIECES, this.#count + 1);
    // The last piece of a code tells all of it: forwards the seventh, backwards the first.
    if (this.#count < PIECES || piece !== (this.#way === 1 ? PIECES - 1 : 0)) return null;
    const [f0, f1, s0, s1, m0, m1, h0, h1] = this.#pieces as unknown as number[];
    const bytes = [(h1! << 4) | h0!, (m1! << 4) | m0!, (s1! << 4) | s0!, (f1! << 4) | f0!];
    // It is the code of the moment its first piece was sent: seven quarters of a frame ago.
    return heard(bytes, this.#way === 1 ? 7 / 4 : 0, this.#way);
  }
}

function heard([hours, minutes, seconds, frames]: number[], later: number, way: CodeHeard['way']): CodeHeard | null {
  const rate = CODE_RATES[(hours! >> 5) & 3]!;
  const code = {
    hours: hours! & 0x1f,
    minutes: minutes! & 0x3f,
    seconds: seconds! & 0x3f,
    frames: frames! & 0x1f,
    rate,
  };
  return isCode(code) ? { at: codeSeconds(code) + later * frameS(rate), rate, way } : null;
}

/** The quarter frames of a code, in order, as MIDI messages: what a sender makes of every second frame. */
export function quarterFrames(
  hours: number,
  minutes: number,
  seconds: number,
  frames: number,
  rate: CodeRate,
): number[][] {
  const h = hours | (CODE_RATES.indexOf(rate) << 5);
  return [frames & 15, frames >> 4, seconds & 15, seconds >> 4, minutes & 15, minutes >> 4, h & 15, h >> 4].map(
    (nibble, piece) => [STATUS, (piece << 4) | nibble],
  );
}
