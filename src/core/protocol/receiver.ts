import { isOutOfSequence, sequenceStep } from './sacn.ts';

/** ANSI E1.31 6.7.1: a source that is silent this long is gone. */
export const SOURCE_TIMEOUT_MS = 2500;
/** Sources remembered for one universe; a hostile sender cannot fill the memory. */
const SOURCE_LIMIT = 16;

export interface ReceivedPacket {
  readonly sourceId: string;
  readonly sourceName: string;
  readonly priority: number;
  readonly sequence: number;
  readonly slots: Uint8Array;
  readonly terminated?: boolean;
}

interface Source {
  name: string;
  priority: number;
  sequence: number;
  seenAt: number;
  readonly slots: Uint8Array;
}

/** How sequence numbers count: sACN through 0-255, Art-Net through 1-255 with 0 for "not counted". */
export type SequenceKind = 'sacn' | 'artnet';

/** How far a sequence number went on; a step back or a long way is negative or 0. Art-Net counts 0 as "not counted". */
function stepOf(kind: SequenceKind, previous: number, next: number): number {
  if (kind === 'sacn') return sequenceStep(previous, next);
  if (next === 0 || previous === 0) return 1;
  return ((((next - previous + 127) % 255) + 255) % 255) - 127;
}

/** Packets lost between two that were received one after the other. */
export const lossOf = (kind: SequenceKind, previous: number, next: number): number =>
  Math.max(0, stepOf(kind, previous, next) - 1);

/**
 * One universe as a receiver sees it: sources by priority, highest-takes-precedence between equals (ANSI E1.31
 * 6.2.3), sequence check, lost packets, rate. Time is a parameter.
 */
export class UniverseReceiver {
  readonly #sources = new Map<string, Source>();
  readonly #arrivals: number[] = [];
  readonly #kind: SequenceKind;
  packets = 0;
  lost = 0;
  lastSeenMs: number | null = null;
  /** What comes out: the winner's slots, merged where several win. */
  readonly slots = new Uint8Array(512);

  constructor(kind: SequenceKind) {
    this.#kind = kind;
  }

  /** False when the packet was out of sequence, or one source too many, and was dropped. */
  receive(packet: ReceivedPacket, nowMs: number): boolean {
    this.#expire(nowMs);
    let source = this.#sources.get(packet.sourceId);
    if (source && packet.terminated) {
      this.#sources.delete(packet.sourceId);
      this.#merge();
      return true;
    }
    if (packet.terminated) return true;
    if (source && !this.#inSequence(source, packet.sequence)) return false;
    if (!source) {
      if (this.#sources.size >= SOURCE_LIMIT) return false;
      source = {
        name: packet.sourceName,
        priority: packet.priority,
        sequence: packet.sequence,
        seenAt: nowMs,
        slots: new Uint8Array(512),
      };
      this.#sources.set(packet.sourceId, source);
    }
    source.name = packet.sourceName;
    source.priority = packet.priority;
    source.sequence = packet.sequence;
    source.seenAt = nowMs;
    source.slots.set(packet.slots.subarray(0, 512));
    this.packets++;
    this.lastSeenMs = nowMs;
    this.#arrivals.push(nowMs);
    while (this.#arrivals.length > 0 && this.#arrivals[0]! <= nowMs - 1000) this.#arrivals.shift();
    this.#merge();
    return true;
  }

  #inSequence(source: Source, sequence: number): boolean {
    const step = stepOf(this.#kind, source.sequence, sequence);
    if (isOutOfSequence(step)) return false;
    this.lost += Math.max(0, step - 1);
    return true;
  }

  #expire(nowMs: number): void {
    let gone = false;
    for (const [id, source] of this.#sources)
      if (nowMs - source.seenAt > SOURCE_TIMEOUT_MS) gone = this.#sources.delete(id);
    if (gone) this.#merge();
  }

  #merge(): void {
    let top = -1;
    for (const source of this.#sources.values()) top = Math.max(top, source.priority);
    let first = true;
    for (const source of this.#sources.values()) {
      if (source.priority !== top) continue;
      if (first) this.slots.set(source.slots);
      else for (let i = 0; i < 512; i++) this.slots[i] = Math.max(this.slots[i]!, source.slots[i]!);
      first = false;
    }
  }

  /** Highest priority that is alive, or -1. */
  priority(nowMs: number): number {
    this.#expire(nowMs);
    let top = -1;
    for (const source of this.#sources.values()) top = Math.max(top, source.priority);
    return top;
  }

  /** Packets that arrived in the last second. */
  rate(nowMs: number): number {
    let count = 0;
    for (let i = this.#arrivals.length - 1; i >= 0 && this.#arrivals[i]! > nowMs - 1000; i--) count++;
    return count;
  }

  /** Sources that are alive, highest priority first. */
  sources(nowMs: number): { id: string; name: string; priority: number }[] {
    this.#expire(nowMs);
    return [...this.#sources]
      .map(([id, s]) => ({ id, name: s.name, priority: s.priority }))
      .sort((a, b) => b.priority - a.priority);
  }
}
