/**
 * The framed kind of USB-serial DMX interface: 0x7E, label, length (low, high), data, 0xE7. Label 6 puts out DMX
 * (start code first), 3 asks for parameters, 10 for the serial number.
 */
export const LABEL_PARAMETERS = 3;
export const LABEL_SEND_DMX = 6;
export const LABEL_SERIAL = 10;
const START = 0x7e;
const END = 0xe7;
const HEAD = 4;
/** Longest data a message carries: start code and 512 slots, with room for what newer devices say. */
const LONGEST = 600;
/** Shortest DMX such an interface takes: start code and 24 slots. */
const FEWEST_SLOTS = 24;

export function encodeFramed(label: number, data: Uint8Array): Uint8Array {
  const message = new Uint8Array(HEAD + data.length + 1);
  message[0] = START;
  message[1] = label;
  message[2] = data.length & 255;
  message[3] = data.length >> 8;
  message.set(data, HEAD);
  message[HEAD + data.length] = END;
  return message;
}

/** A message that sends DMX, to be reused: `fillFramedDmx` writes the slots. Other ports have labels of their own. */
export const makeFramedDmx = (slotCount = 512, label = LABEL_SEND_DMX): Uint8Array =>
  encodeFramed(label, new Uint8Array(1 + Math.max(FEWEST_SLOTS, Math.min(512, slotCount))));

export function fillFramedDmx(message: Uint8Array, slots: Uint8Array): void {
  message.set(slots.subarray(0, message.length - HEAD - 2), HEAD + 1);
}

/**
 * Cuts a stream of bytes into framed messages. Takes any pieces; what does not fit the framing is passed over up to
 * the next start mark and counted.
 */
export class FramedReader {
  readonly #bytes = new Uint8Array(LONGEST + HEAD + 1);
  #length = 0;
  skipped = 0;
  readonly #take: (label: number, data: Uint8Array) => void;
  constructor(take: (label: number, data: Uint8Array) => void) {
    this.#take = take;
  }

  push(piece: Uint8Array): void {
    for (const byte of piece) {
      this.#bytes[this.#length++] = byte;
      while (this.#length > 0 && !this.#sound()) this.#drop();
    }
  }

  /** True while what is there may still become a message; hands a whole one on. */
  #sound(): boolean {
    if (this.#bytes[0] !== START) return false;
    if (this.#length < HEAD) return true;
    const length = this.#bytes[2]! | (this.#bytes[3]! << 8);
    if (length > LONGEST) return false;
    const whole = HEAD + length + 1;
    if (this.#length < whole) return true;
    if (this.#bytes[whole - 1] !== END) return false;
    this.#take(this.#bytes[1]!, this.#bytes.slice(HEAD, HEAD + length));
    this.#length = 0;
    return true;
  }

  /** Leaves out everything up to the next start mark. */
  #drop(): void {
    let next = 1;
    while (next < this.#length && this.#bytes[next] !== START) next++;
    this.#bytes.copyWithin(0, next, this.#length);
    this.#length -= next;
    this.skipped += next;
  }
}

/** Serial number of a framed interface: 4 bytes of packed decimals, lowest first; null for anything else. */
export function decodeSerialNumber(data: Uint8Array): string | null {
  if (data.length !== 4) return null;
  return [...data]
    .reverse()
    .map((b) => b.toString(16).padStart(2, '0'))
    .join('');
}

/** Parameters (label 3): firmware, times of break and mark in us, rate. Null for anything else. */
export function decodeUsbParameters(
  data: Uint8Array,
): { firmware: string; breakUs: number; markUs: number; rate: number } | null {
  if (data.length < 5) return null;
  const TICK_US = 10.67;
  return {
    firmware: `${data[1]}.${data[0]}`,
    breakUs: Math.round(data[2]! * TICK_US),
    markUs: Math.round(data[3]! * TICK_US),
    rate: data[4]!,
  };
}
