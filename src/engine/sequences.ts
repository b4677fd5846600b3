import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** A restarted engine goes on this far ahead in its sequence numbers, past what it may have sent since they were kept. */
const SEQUENCE_LEAP = 64;

/** Sequence numbers of streams, kept over a restart so that receivers take the engine for the same source. */
export class SequenceFile {
  readonly #file: string;

  constructor(dataDir: string) {
    this.#file = join(dataDir, 'engine-sequences.json');
  }

  /** Numbers to go on from; none where nothing (or nothing sound) was kept. */
  read(): Record<string, number> {
    try {
      const kept = JSON.parse(readFileSync(this.#file, 'utf8')) as Record<string, number>;
      return Object.fromEntries(Object.entries(kept).map(([key, value]) => [key, (value + SEQUENCE_LEAP) & 0xff]));
    } catch {
      return {};
    }
  }

  /** Throws when the folder cannot be written. */
  keep(sequences: Readonly<Record<string, number>>): void {
    writeFileSync(`${this.#file}.new`, JSON.stringify(sequences));
    renameSync(`${this.#file}.new`, this.#file);
  }
}
