/**
 * Framing of the control socket between engine and web: 4 bytes length of what follows (big-endian), 1 byte kind,
 * payload. Kind 0 is JSON (UTF-8), kind 1 a binary frame message.
 */
export const MESSAGE_JSON = 0;
export const MESSAGE_FRAME = 1;
/** Longest message taken: enough for a whole frame of 63,999 universes' worth of changes is never sent at once. */
export const MESSAGE_LIMIT = 40 * 1024 * 1024;

/** Length and kind. */
const HEAD = 5;

export function encodeMessage(kind: number, payload: Uint8Array): Uint8Array {
  const message = new Uint8Array(HEAD + payload.length);
  new DataView(message.buffer).setUint32(0, payload.length + 1);
  message[4] = kind;
  message.set(payload, HEAD);
  return message;
}

export const encodeJson = (value: unknown): Uint8Array =>
  encodeMessage(MESSAGE_JSON, new TextEncoder().encode(JSON.stringify(value)));

/**
 * Cuts a stream of bytes into messages. `push` may be given any pieces. A length beyond the limit throws a
 * RangeError: the stream cannot be trusted any more and must be closed.
 */
export class MessageReader {
  #pieces: Uint8Array[] = [];
  #size = 0;
  /** Less than this is no message yet: nothing is put together before. */
  #wanted = HEAD;
  readonly #take: (kind: number, payload: Uint8Array) => void;
  constructor(take: (kind: number, payload: Uint8Array) => void) {
    this.#take = take;
  }

  push(piece: Uint8Array): void {
    this.#pieces.push(piece);
    this.#size += piece.length;
    while (this.#size >= this.#wanted) {
      const head = this.#join();
      const length = new DataView(head.buffer, head.byteOffset, 4).getUint32(0);
      if (length < 1 || length > MESSAGE_LIMIT)
        throw new RangeError(`message of ${length} bytes on the control socket`);
      this.#wanted = 4 + length;
      if (this.#size < 4 + length) return;
      this.#wanted = HEAD;
      const rest = head.subarray(4 + length);
      this.#pieces = rest.length > 0 ? [rest] : [];
      this.#size = rest.length;
      this.#take(head[4]!, head.subarray(5, 4 + length));
    }
  }

  #join(): Uint8Array {
    if (this.#pieces.length === 1) return this.#pieces[0]!;
    const whole = new Uint8Array(this.#size);
    let at = 0;
    for (const piece of this.#pieces) {
      whole.set(piece, at);
      at += piece.length;
    }
    this.#pieces = [whole];
    return whole;
  }
}

const FRAME_HEAD = 15;
const FRAME_ENTRY = 514;

/** Whose slots a frame message carries: what we send, or what other desks send us. */
export type FrameKind = 'sent' | 'received';

/**
 * A frame message: kind (uint8: 0 sent, 1 received), time (float64 ms), frame number (uint32), count (uint16), then for each universe that changed its
 * number (uint16) and its 512 slots. All big-endian.
 */
export function encodeFrame(
  timeMs: number,
  frameNumber: number,
  universes: readonly (readonly [universe: number, slots: Uint8Array])[],
  kind: FrameKind = 'sent',
): Uint8Array {
  const bytes = new Uint8Array(FRAME_HEAD + universes.length * FRAME_ENTRY);
  fillFrame(bytes, 0, timeMs, frameNumber, universes, kind);
  return bytes;
}

/**
 * A frame as a message of the control socket, in `room` where it fits: thirty times a second half a megabyte of a large
 * rig would be swept up again else.
 */
export function encodeFrameMessage(
  room: Uint8Array,
  ...[timeMs, frameNumber, universes, kind]: Required<Parameters<typeof encodeFrame>>
): Uint8Array {
  const length = FRAME_HEAD + universes.length * FRAME_ENTRY;
  const bytes = room.length >= HEAD + length ? room.subarray(0, HEAD + length) : new Uint8Array(HEAD + length);
  new DataView(bytes.buffer, bytes.byteOffset, HEAD).setUint32(0, 1 + length);
  bytes[4] = MESSAGE_FRAME;
  fillFrame(bytes, HEAD, timeMs, frameNumber, universes, kind);
  return bytes;
}

function fillFrame(
  bytes: Uint8Array,
  from: number,
  ...[timeMs, frameNumber, universes, kind]: Required<Parameters<typeof encodeFrame>>
): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset + from, FRAME_HEAD + universes.length * FRAME_ENTRY);
  view.setUint8(0, kind === 'sent' ? 0 : 1);
  view.setFloat64(1, timeMs);
  view.setUint32(9, frameNumber >>> 0);
  view.setUint16(13, universes.length);
  universes.forEach(([universe, slots], i) => {
    const at = FRAME_HEAD + i * FRAME_ENTRY;
    view.setUint16(at, universe);
    bytes.set(slots.length > 512 ? slots.subarray(0, 512) : slots, from + at + 2);
  });
}

/** Reads a frame message; null when its length does not fit its count. */
export function decodeFrame(
  bytes: Uint8Array,
): { kind: FrameKind; timeMs: number; frameNumber: number; universes: [number, Uint8Array][] } | null {
  if (bytes.length < FRAME_HEAD) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint16(13);
  if (bytes.length !== FRAME_HEAD + count * FRAME_ENTRY) return null;
  const universes: [number, Uint8Array][] = [];
  for (let i = 0; i < count; i++) {
    const at = FRAME_HEAD + i * FRAME_ENTRY;
    universes.push([view.getUint16(at), bytes.subarray(at + 2, at + FRAME_ENTRY)]);
  }
  const kind = view.getUint8(0) === 0 ? 'sent' : 'received';
  return { kind, timeMs: view.getFloat64(1), frameNumber: view.getUint32(9), universes };
}
