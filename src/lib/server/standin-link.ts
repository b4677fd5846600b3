import { standinReportSchema, type StandinReport } from '../../core/protocol/standin.ts';

const ASK_MS = 400;

/** Asks the stand-ins what they receive. `report` is null while they do not answer or there are none. */
export class StandinLink {
  report: StandinReport | null = null;
  #timer: NodeJS.Timeout | undefined;
  #closed = false;
  readonly #url: string;
  readonly #onReport: () => void;

  constructor(port: number, onReport: () => void) {
    this.#url = `http://127.0.0.1:${port}/report`;
    this.#onReport = onReport;
    void this.#ask();
  }

  async #ask(): Promise<void> {
    try {
      const answer = await fetch(this.#url, { signal: AbortSignal.timeout(1000) });
      const parsed = standinReportSchema.safeParse(await answer.json());
      this.report = parsed.success ? parsed.data : null;
    } catch {
      this.report = null;
    }
    if (this.#closed) return;
    this.#onReport();
    this.#timer = setTimeout(() => void this.#ask(), ASK_MS);
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }
}
