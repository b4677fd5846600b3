/** What the measurements share: JSON lines on stdout, medians, a bare timer to compare with. */
export function report(name: string, value: number, unit: string): void {
  process.stdout.write(`${JSON.stringify({ name, value: Number(value.toPrecision(4)), unit })}\n`);
}

export const quantileOf = (values: readonly number[], share: number): number => {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
};

/** Runs `work` for a while and gives the time of each round in ms. */
export function timed(rounds: number, work: (round: number) => void): number[] {
  const times = new Array<number>(rounds);
  for (let i = 0; i < rounds; i++) {
    const start = performance.now();
    work(i);
    times[i] = performance.now() - start;
  }
  return times;
}

/** Heap growth in bytes over `work`, everything that can be freed freed before and after. Needs --expose-gc. */
export function heapGrowth(work: () => void): number {
  const collect = (globalThis as { gc?: () => void }).gc;
  if (!collect) throw new Error('run with --expose-gc');
  work();
  collect();
  const before = process.memoryUsage().heapUsed;
  work();
  const grown = process.memoryUsage().heapUsed - before;
  return grown;
}

/** Lateness in ms of an ordinary timer of 25 ms, while something else is measured in the same minutes. */
export function bareTimer(): { stop(): number[] } {
  const latenesses: number[] = [];
  let next = performance.now() + 25;
  let timer: NodeJS.Timeout;
  const tick = (): void => {
    const now = performance.now();
    latenesses.push(now - next);
    next += 25;
    if (next < now) next = now + 25;
    timer = setTimeout(tick, Math.max(0, next - now));
  };
  timer = setTimeout(tick, 25);
  return {
    stop() {
      clearTimeout(timer);
      return latenesses;
    },
  };
}
