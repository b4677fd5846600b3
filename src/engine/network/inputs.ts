import type { InputHealth } from '../../core/protocol/network.ts';
import { UniverseReceiver } from '../../core/protocol/receiver.ts';
import type { InputRecord } from '../../core/records/index.ts';
import type { Action } from '../../core/records/action.ts';
import type { MergedInput, Signal } from '../../core/show/index.ts';
import { InputMemory } from '../shared.ts';
import type { HeardUniverse } from './sources.ts';

interface Incoming {
  readonly input: InputRecord;
  readonly universe: number;
  readonly wireUniverse: number;
  readonly receiver: UniverseReceiver;
  /** Place in the memory the frame thread merges from; -1 for one that is only shown. */
  readonly entry: number;
  merged: boolean;
}

/** A desk asks for something: what one of its slots works, by the value it was moved to. */
export type Act = (desk: string, action: Action, signal: Signal) => void;

/** Universes of other desks: arbitrates between their sources, hands them to the frame thread, works what they work. */
export class InputDesk {
  #incoming: Incoming[] = [];
  /** By protocol and universe on the wire: a packet looks up only whom it concerns. */
  readonly #byWire = new Map<string, Incoming[]>();
  #memory = new InputMemory(new SharedArrayBuffer(0));
  /** What each control said last, so that only changes are commands. */
  readonly #said = new Map<string, number>();
  readonly #now: () => number;
  readonly #act: Act;

  constructor(now: () => number, act: Act) {
    this.#now = now;
    this.#act = act;
  }

  /** Follows the show. Inputs that did not change keep what they have received. Gives what the frame thread needs. */
  setInputs(inputs: readonly InputRecord[]): { memory: SharedArrayBuffer; entries: MergedInput[] } {
    const before = new Map(this.#incoming.map((i) => [keyOf(i.input, i.wireUniverse, i.universe), i]));
    const entries: MergedInput[] = [];
    this.#byWire.clear();
    this.#incoming = inputs
      .filter((input) => input.enabled)
      .flatMap((input) => {
        const mapped = new Map(input.universes.map((u) => [`${u.wireUniverse} ${u.universe}`, u]));
        // A control may sit in a universe that is not mapped to one of ours.
        for (const { wireUniverse } of input.controls)
          if (!input.universes.some((u) => u.wireUniverse === wireUniverse))
            mapped.set(`${wireUniverse}`, { wireUniverse, universe: 0 });
        return [...mapped.values()].map(({ wireUniverse, universe }) => {
          const use = input.use;
          const merges = universe > 0 && (use === 'htp' || use === 'takeover');
          if (merges) entries.push({ universe, use });
          const old = before.get(keyOf(input, wireUniverse, universe));
          const incoming: Incoming = {
            input,
            universe,
            wireUniverse,
            receiver: old?.receiver ?? new UniverseReceiver(input.protocol),
            entry: merges ? entries.length - 1 : -1,
            merged: false,
          };
          const wire = `${input.protocol} ${wireUniverse}`;
          this.#byWire.set(wire, [...(this.#byWire.get(wire) ?? []), incoming]);
          return incoming;
        });
      });
    const memory = new SharedArrayBuffer(InputMemory.bytesFor(entries.length));
    this.#memory = new InputMemory(memory);
    this.tidy();
    return { memory, entries };
  }

  /** Universes on the wire that are listened for. */
  wanted(protocol: 'sacn' | 'artnet'): number[] {
    return this.#incoming.filter((i) => i.input.protocol === protocol).map((i) => i.wireUniverse);
  }

  take(heard: HeardUniverse): void {
    const concerned = this.#byWire.get(`${heard.protocol} ${heard.wireUniverse}`);
    if (!concerned) return;
    const now = this.#now();
    for (const incoming of concerned) {
      const { input, receiver } = incoming;
      if (input.from !== null && input.from !== heard.from) continue;
      // A preview stream is there to be looked at, not to be sent on (ANSI E1.31 6.2.6).
      if (heard.preview && input.use !== 'show') continue;
      if (!receiver.receive(heard, now)) continue;
      this.#publish(incoming, now);
      this.#work(input, heard.wireUniverse, receiver.slots);
    }
  }

  #publish(incoming: Incoming, now: number): void {
    const { receiver, input, entry } = incoming;
    const priority = receiver.priority(now);
    incoming.merged = entry >= 0 && priority >= 0 && (input.use === 'htp' || priority >= input.priority);
    if (entry < 0) return;
    const { slotPriorities } = receiver;
    const least = input.use === 'takeover' ? Math.max(1, input.priority) : 1;
    this.#memory.write(
      entry,
      incoming.merged ? receiver.slots : null,
      slotPriorities && slotPriorities.map((p) => (p >= least ? 1 : 0)),
    );
  }

  #work(input: InputRecord, wireUniverse: number, slots: Uint8Array): void {
    for (const [i, control] of input.controls.entries()) {
      if (control.wireUniverse !== wireUniverse) continue;
      const value = slots[control.address - 1]!;
      const key = `${input.id} ${i} ${wireUniverse}.${control.address} ${control.does.do}`;
      const last = this.#said.get(key) ?? null;
      if (last === value) continue;
      this.#said.set(key, value);
      this.#act(input.name, control.does, {
        kind: 'value',
        value: value / 255,
        last: last === null ? null : last / 255,
      });
    }
  }

  /** Lets go of desks that fell silent: called a few times a second. */
  tidy(): void {
    const now = this.#now();
    for (const incoming of this.#incoming) this.#publish(incoming, now);
  }

  /** The slots that each mapped universe receives, by our universe number. */
  received(): Map<number, Uint8Array> {
    const now = this.#now();
    const found = new Map<number, Uint8Array>();
    for (const { universe, receiver } of this.#incoming)
      if (universe > 0 && receiver.priority(now) >= 0) found.set(universe, receiver.slots);
    return found;
  }

  health(): InputHealth[] {
    const now = this.#now();
    return this.#incoming.map(({ input, universe, wireUniverse, receiver, merged }) => ({
      inputId: input.id,
      universe,
      wireUniverse,
      packetsPerSecond: receiver.rate(now),
      lost: receiver.lost,
      lastSeenMs: receiver.lastSeenMs,
      sources: receiver.sources(now).map(({ name, priority }) => ({ name, priority })),
      merged,
    }));
  }
}

const keyOf = (input: InputRecord, wireUniverse: number, universe: number): string =>
  `${input.id} ${input.protocol} ${input.from ?? ''} ${wireUniverse} ${universe}`;
