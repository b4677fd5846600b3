import { sameJson } from '../core/document/change.ts';
import { onlyForward, valueDifference } from '../core/document/difference.ts';
import type { FromEngine } from '../core/protocol/link.ts';

type State = Omit<Extract<FromEngine, { type: 'state' }>, 'type' | 'seq'>;

/**
 * The live state as the web process is told it: whole once, then what changes, like edits of a show. Each state has a
 * number, so that whoever misses one notices.
 */
export class Publication {
  readonly #read: () => State;
  readonly #tell: (message: FromEngine) => void;
  #told: State | null = null;
  #seq = 0;

  constructor(read: () => State, tell: (message: FromEngine) => void) {
    this.#read = read;
    this.#tell = tell;
  }

  /** Tells what changed since it was told last; nothing where nothing did. */
  now(): void {
    const state = this.#read();
    const before = this.#told;
    this.#told = state;
    if (!before || before.showId !== state.showId || !sameJson(before.universes, state.universes)) {
      this.#seq++;
      return this.#tell(this.#message(state));
    }
    const difference = valueDifference(before.live, state.live);
    if (!difference) return;
    this.#tell({ type: 'live', difference: onlyForward(difference), seq: ++this.#seq });
  }

  /** What was told last, whole, for somebody who comes new. */
  whole(): FromEngine {
    this.now();
    return this.#message(this.#told!);
  }

  #message(state: State): FromEngine {
    return { type: 'state', ...state, seq: this.#seq };
  }
}
