/** Events a second from counters that only rise, looked at now and then. */
export class Rates {
  readonly #known = new Map<string, { count: number; at: number; rate: number }>();

  /** The rate over the last second or so; `count` is what the counter shows at `now` (ms). */
  rateOf(key: string, count: number, now: number): number {
    const known = this.#known.get(key) ?? { count, at: now, rate: 0 };
    const since = now - known.at;
    const next = since >= 1000 ? { count, at: now, rate: Math.max(0, ((count - known.count) * 1000) / since) } : known;
    this.#known.set(key, next);
    return next.rate;
  }

  forget(key: string): void {
    this.#known.delete(key);
  }
}
