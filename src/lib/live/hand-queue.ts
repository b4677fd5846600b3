import type { LitId } from '$core/ids.ts';
import { asMany, type LiveCommand } from '$core/show/index.ts';

type HandCommand = Extract<LiveCommand, { do: 'hand' }>;
type Set = Record<string, Record<string, unknown>>;
/** So many units with the same values, and more, are said as one. */
const MANY = 16;

/** Hand values, gathered over one animation frame: a dragged fader sends at most one message a frame. */
export class HandQueue {
  readonly #send: (command: HandCommand) => void;
  #queued: Set | null = null;
  #light = false;

  constructor(send: (command: HandCommand) => void) {
    this.#send = send;
  }

  /** `light`: what nothing lights gets light with its colour, aim or picture. */
  add(set: Set, light: boolean): void {
    if (light) this.#light = true;
    if (!this.#queued) {
      this.#queued = {};
      requestAnimationFrame(() => this.#flush());
    }
    for (const [unit, values] of Object.entries(set)) this.#queued[unit] = { ...this.#queued[unit], ...values };
  }

  #flush(): void {
    const said = shortened(this.#queued as HandCommand['set']);
    const light = this.#light;
    this.#queued = null;
    this.#light = false;
    this.#send({ do: 'hand', ...said, ...(light ? { light: true } : {}) });
  }
}

/** Units that are set to the same, said together. */
function shortened(set: HandCommand['set']): Pick<HandCommand, 'set' | 'alike'> {
  const ids = Object.keys(set) as LitId[];
  if (ids.length < MANY) return { set };
  const byValues = new Map<string, { on: LitId[]; set: HandCommand['set'][LitId] }>();
  for (const id of ids) {
    const key = JSON.stringify(set[id]);
    const found = byValues.get(key);
    if (found) found.on.push(id);
    else byValues.set(key, { on: [id], set: set[id]! });
  }
  const all = [...byValues.values()];
  const alike = all.filter(({ on }) => on.length >= MANY).map(({ on, set: own }) => ({ on: asMany(on), set: own }));
  const single = all.filter(({ on }) => on.length < MANY);
  return { set: Object.fromEntries(single.flatMap((s) => s.on.map((id) => [id, s.set]))) as typeof set, alike };
}
