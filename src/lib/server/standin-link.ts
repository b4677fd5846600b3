import { FaultError, type Fault } from '../../core/faults.ts';
import { standinReportSchema, type StandinOrder, type StandinReport } from '../../core/protocol/standin.ts';

const ASK_MS = 400;

/** Asks the stand-ins what they receive. `report` is null while they do not answer or there are none. */
export class StandinLink {
  report: StandinReport | null = null;
  #timer: NodeJS.Timeout | undefined;
  #closed = false;
  readonly #base: string;
  readonly #onReport: () => void;

  constructor(port: number, onReport: () => void) {
    this.#base = `http://127.0.0.1:${port}`;
    this.#onReport = onReport;
    void this.#ask();
  }

  async #ask(): Promise<void> {
    try {
      const answer = await fetch(`${this.#base}/report`, { signal: AbortSignal.timeout(1000) });
      const parsed = standinReportSchema.safeParse(await answer.json());
      this.report = parsed.success ? parsed.data : null;
    } catch {
      this.report = null;
    }
    if (this.#closed) return;
    this.#onReport();
    this.#timer = setTimeout(() => void this.#ask(), ASK_MS);
  }

  /** Gives a stand-in an order; throws FaultError when there is no such one. */
  async order(order: StandinOrder): Promise<StandinReport> {
    const answer = await fetch(`${this.#base}/order`, {
      method: 'POST',
      body: JSON.stringify(order),
      signal: AbortSignal.timeout(2000),
    }).catch(() => null);
    if (answer?.status === 200) {
      this.report = standinReportSchema.parse(await answer.json());
      this.#onReport();
      return this.report;
    }
    throw new FaultError({
      code: 'NO_STANDIN',
      path: 'id',
      message: `there is no stand-in “${order.id}”`,
      received: order.id,
      remedy: 'GET /api/health lists them; they run unless AMBER_DEMO is 0.',
    } satisfies Fault);
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }
}
