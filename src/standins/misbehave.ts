import { WELL_BEHAVED, type Misbehaviour } from '../core/protocol/standin.ts';

/** A path that loses, delays, reorders, doubles and spoils what goes over it. `random` gives numbers in [0, 1). */
export class UnreliablePath {
  behaviour: Misbehaviour = WELL_BEHAVED;
  #held: (() => void) | null = null;
  readonly #random: () => number;
  readonly #later: (what: () => void, ms: number) => void;

  constructor(random: () => number, later: (what: () => void, ms: number) => void = (w, ms) => void setTimeout(w, ms)) {
    this.#random = random;
    this.#later = later;
  }

  #happens(percent: number): boolean {
    return percent > 0 && this.#random() * 100 < percent;
  }

  /** Hands a packet on as the path is. Rubbish is the packet with some bytes changed, or cut short. */
  pass(packet: Uint8Array, deliver: (packet: Uint8Array) => void): void {
    const { vanished, lossPercent, duplicatePercent, rubbishPercent, reorderPercent } = this.behaviour;
    if (vanished || this.#happens(lossPercent)) return;
    // What is held or late is kept: the buffer it came in is used again.
    const kept = this.#happens(rubbishPercent) ? this.#spoil(packet) : packet;
    const give = (): void => this.#deliver(kept.slice(), deliver);
    if (this.#happens(reorderPercent) && !this.#held) {
      this.#held = give;
      return;
    }
    give();
    if (this.#happens(duplicatePercent)) give();
    const held = this.#held;
    this.#held = null;
    held?.();
  }

  #deliver(packet: Uint8Array, deliver: (packet: Uint8Array) => void): void {
    const { delayMs, jitterMs } = this.behaviour;
    const wait = delayMs + jitterMs * this.#random();
    if (wait > 0) this.#later(() => deliver(packet), wait);
    else deliver(packet);
  }

  #spoil(packet: Uint8Array): Uint8Array {
    const spoilt = packet.slice(0, this.#random() < 0.3 ? Math.floor(this.#random() * packet.length) : packet.length);
    for (let i = 0; i < 8 && spoilt.length > 0; i++)
      spoilt[Math.floor(this.#random() * spoilt.length)] = Math.floor(this.#random() * 256);
    return spoilt;
  }
}
