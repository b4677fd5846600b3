/** Something of the network that was heard at a moment. */
interface HeardAt {
  at: number;
}

interface RememberedOptions {
  /** So many are kept at most. */
  readonly most: number;
  /** What is heard again after this long is no passing stranger (ms). */
  readonly confirmMs: number;
  /** Strangers, and those that were known, are forgotten when they were silent this long (ms). */
  readonly forgetStrangerMs: number;
  readonly forgetKnownMs: number;
}

/**
 * What was heard on a network where anybody may say anything. What is heard again and again is known, and kept; what
 * came once is a stranger: strangers make room for one another, and for nobody who is known. So a flood of false devices
 * neither fills the memory for good nor drives out real ones. Constant time for each that is heard.
 */
export class Remembered<Value extends HeardAt> {
  readonly #options: RememberedOptions;
  readonly #known = new Map<string, Value>();
  /** In the order in which they came. */
  readonly #strangers = new Map<string, { readonly value: Value; readonly since: number }>();
  /** How many were forgotten to make room. */
  driven = 0;

  constructor(options: RememberedOptions) {
    this.#options = options;
  }

  get size(): number {
    return this.#known.size + this.#strangers.size;
  }

  get(key: string): Value | undefined {
    return this.#known.get(key) ?? this.#strangers.get(key)?.value;
  }

  *values(): Generator<Value> {
    yield* this.#known.values();
    for (const { value } of this.#strangers.values()) yield value;
  }

  /** It was heard now: `value.at`. `known` says that it is no stranger (somebody named it). */
  note(key: string, value: Value, known = false): void {
    if (this.#known.has(key)) return void this.#known.set(key, value);
    const stranger = this.#strangers.get(key);
    const since = stranger?.since ?? value.at;
    if (known || value.at - since >= this.#options.confirmMs) {
      this.#strangers.delete(key);
      this.#makeRoom();
      this.#known.set(key, value);
    } else {
      if (!stranger) this.#makeRoom();
      this.#strangers.set(key, { value, since });
    }
  }

  /** Room for one more: the oldest stranger goes, else whoever is known and has been silent longest. */
  #makeRoom(): void {
    if (this.size < this.#options.most) return;
    this.driven++;
    const [oldest] = this.#strangers.keys();
    if (oldest !== undefined) return void this.#strangers.delete(oldest);
    let silent: string | null = null;
    let since = Infinity;
    for (const [key, { at }] of this.#known) if (at < since) [silent, since] = [key, at];
    if (silent !== null) this.#known.delete(silent);
  }

  /** Forgets what has been silent for long; `keep` names what never is. Gives the keys that went. */
  tidy(nowMs: number, keep: (value: Value) => boolean = () => false): string[] {
    const gone: string[] = [];
    const { forgetStrangerMs, forgetKnownMs } = this.#options;
    for (const [key, { value }] of this.#strangers)
      if (nowMs - value.at > forgetStrangerMs && !keep(value) && this.#strangers.delete(key)) gone.push(key);
    for (const [key, value] of this.#known)
      if (nowMs - value.at > forgetKnownMs && !keep(value) && this.#known.delete(key)) gone.push(key);
    return gone;
  }
}
