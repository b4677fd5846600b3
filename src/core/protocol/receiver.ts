import { isOutOfSequence, sequenceStep } from './sacn.ts';

/** ANSI E1.31 6.7.1: a source that is silent this long is gone. */
export const SOURCE_TIMEOUT_MS = 2500;
/** Sources remembered for one universe; a hostile sender cannot fill the memory. */
const SOURCE_LIMIT = 16;

/** Start codes (ANSI E1.11): slots, and the priority of each slot (registered with ESTA for use with E1.31). */
export const SLOTS_CODE = 0;
export const PRIORITIES_CODE = 0xdd;

type HeardCode = typeof SLOTS_CODE | typeof PRIORITIES_CODE;
/** True for the start codes that a receiver of levels understands. */
export const isHeard = (startCode: number): startCode is HeardCode =>
  startCode === SLOTS_CODE || startCode === PRIORITIES_CODE;

export interface ReceivedPacket {
  /** What `slots` are: levels, or priorities 0-200 where 0 says that a slot is not sourced. */
  readonly startCode?: HeardCode;
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
  /** Priority of each slot, where the source sends such, and when it did last. */
  bySlot: Uint8Array | null;
  bySlotAt: number;
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
  /** Priority that each slot was won with, 0 for nobody's; null while no source gives priorities by slot. */
  slotPriorities: Uint8Array | null = null;

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
        bySlot: null,
        bySlotAt: 0,
      };
      this.#sources.set(packet.sourceId, source);
    }
    source.name = packet.sourceName;
    source.sequence = packet.sequence;
    source.seenAt = nowMs;
    const given = packet.slots.subarray(0, 512);
    if (packet.startCode === PRIORITIES_CODE) {
      source.bySlot ??= new Uint8Array(512);
      source.bySlot.set(given);
      source.bySlot.fill(0, given.length);
      source.bySlotAt = nowMs;
    } else {
      source.priority = packet.priority;
      source.slots.set(given);
      // What a shorter stream leaves out is at nothing, not as it was.
      source.slots.fill(0, given.length);
    }
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
    for (const [id, source] of this.#sources) {
      if (nowMs - source.seenAt > SOURCE_TIMEOUT_MS) gone = this.#sources.delete(id);
      else if (source.bySlot && nowMs - source.bySlotAt > SOURCE_TIMEOUT_MS) {
        source.bySlot = null;
        gone = true;
      }
    }
    if (gone) this.#merge();
  }

  #merge(): void {
    const sources = [...this.#sources.values()];
    if (sources.some((s) => s.bySlot)) return this.#mergeBySlot(sources);
    this.slotPriorities = null;
    const top = Math.max(-1, ...sources.map((s) => s.priority));
    let first = true;
    for (const source of sources) {
      if (source.priority !== top) continue;
      if (first) this.slots.set(source.slots);
      else for (let i = 0; i < 512; i++) this.slots[i] = Math.max(this.slots[i]!, source.slots[i]!);
      first = false;
    }
  }

  /** The highest priority of each slot wins it; between equals the highest level. */
  #mergeBySlot(sources: readonly Source[]): void {
    const won = (this.slotPriorities ??= new Uint8Array(512));
    won.fill(0);
    this.slots.fill(0);
    for (const { bySlot, priority, slots } of sources)
      for (let i = 0; i < 512; i++) {
        // A source without priorities by slot sources every slot; its 0 is the lowest, yet not none.
        const own = bySlot ? bySlot[i]! : Math.max(1, priority);
        if (own === 0 || own < won[i]!) continue;
        this.slots[i] = own > won[i]! ? slots[i]! : Math.max(this.slots[i]!, slots[i]!);
        won[i] = own;
      }
  }

  /** Highest priority that is alive, or -1. */
  priority(nowMs: number): number {
    this.#expire(nowMs);
    let top = -1;
    for (const { bySlot, priority } of this.#sources.values())
      top = Math.max(top, bySlot ? bySlot.reduce((most, p) => Math.max(most, p), 0) : priority);
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
