import { fork, type ChildProcess, type Serializable } from 'node:child_process';

/** A process of this program that takes orders and says things; one that dies is started anew, with its last order. */
export class KeptProcess<Order extends Serializable, Said> {
  readonly #entry: string;
  readonly #againMs: number;
  readonly #hear: (said: Said) => void;
  readonly #order: () => Order;
  #child: ChildProcess | null = null;
  #again: NodeJS.Timeout | null = null;

  /** `order` is what it is told whenever it begins. */
  constructor(entry: string, againMs: number, order: () => Order, hear: (said: Said) => void) {
    this.#entry = entry;
    this.#againMs = againMs;
    this.#order = order;
    this.#hear = hear;
    this.#begin();
  }

  #begin(): void {
    this.#again = null;
    const child = fork(this.#entry, [], { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], serialization: 'advanced' });
    this.#child = child;
    child.on('message', (said: Said) => {
      if (this.#child === child) this.#hear(said);
    });
    child.on('error', () => undefined);
    child.on('exit', () => {
      if (this.#child !== child) return;
      this.#child = null;
      this.#again = setTimeout(() => this.#begin(), this.#againMs);
    });
    child.send(this.#order());
  }

  /** Tells it the order that holds now. */
  tell(): void {
    if (this.#child?.connected) this.#child.send(this.#order());
  }

  end(): void {
    if (this.#again) clearTimeout(this.#again);
    this.#again = null;
    const child = this.#child;
    this.#child = null;
    child?.kill();
  }
}
