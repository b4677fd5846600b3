import type { ByteRuns } from './byte-runs.ts';
import type { Lamps } from './lamps.ts';

/**
 * Plain pixels side by side: `count` lamps from `lamp` on, their levels from slot `level` on (`step` 1, or 0 where all
 * have the same), their colours from slot `colour` on, three to each, written to as many bytes from `byte` on; `gamma` as
 * in `Lamps`. What nearly all large rigs are made of, so that they can be watched and written in one go.
 */
export interface CellRuns {
  readonly lamp: Int32Array;
  readonly count: Int32Array;
  readonly level: Int32Array;
  readonly step: Uint8Array;
  readonly colour: Int32Array;
  readonly gamma: Uint8Array;
  readonly byte: Int32Array;
  /** Lamps that are in none of the runs: stretches of `otherCount` from `other` on. */
  readonly other: Int32Array;
  readonly otherCount: Int32Array;
}

/** The cell runs of a rig and the bytes that are left over. `wide`: bytes that are written otherwise. Linear. */
export function cellRunsOf(
  lamps: Lamps,
  bytes: ByteRuns,
  wide: readonly Int32Array[],
  byteCount: number,
): { cells: CellRuns; rest8: ByteRuns } {
  const writers = countWriters(bytes, wide, byteCount);
  const byColour = new Map<number, number>();
  for (let run = 0; run < bytes.slot.length; run++)
    if (bytes.count[run] === 3 && bytes.flip[run] === 0) byColour.set(bytes.slot[run]!, run);
  const taken = new Uint8Array(bytes.slot.length);
  const made = new Building();
  for (let lamp = 0; lamp < lamps.count; lamp++) {
    const run = lamps.special[lamp]! < 0 ? (byColour.get(lamps.colour[lamp]!) ?? -1) : -1;
    const level = lamps.level[lamp]!;
    const fits =
      run >= 0 &&
      taken[run] === 0 &&
      level >= 0 &&
      bytes.scale[run] === level &&
      bytes.gamma[run] === lamps.gamma[lamp];
    // A byte that two write is for the one that comes later, which only the general way knows.
    if (!fits || !isAlone(writers, bytes.offset[run]!)) {
      made.other(lamp);
      continue;
    }
    taken[run] = 1;
    made.cell(lamp, level, lamps.colour[lamp]!, lamps.gamma[lamp]!, bytes.offset[run]!);
  }
  return { cells: made.runs(), rest8: without(bytes, taken) };
}

function countWriters(bytes: ByteRuns, wide: readonly Int32Array[], byteCount: number): Uint8Array {
  const writers = new Uint8Array(byteCount);
  const count = (byte: number): void => {
    if (byte >= 0 && writers[byte]! < 2) writers[byte] = writers[byte]! + 1;
  };
  for (let run = 0; run < bytes.slot.length; run++)
    for (let i = 0; i < bytes.count[run]!; i++) count(bytes.offset[run]! + i);
  for (const list of wide) list.forEach(count);
  return writers;
}

const isAlone = (writers: Uint8Array, byte: number): boolean =>
  writers[byte] === 1 && writers[byte + 1] === 1 && writers[byte + 2] === 1;

class Building {
  readonly #rows: {
    lamp: number;
    count: number;
    level: number;
    step: number;
    colour: number;
    gamma: number;
    byte: number;
  }[] = [];
  readonly #others: { from: number; count: number }[] = [];

  cell(lamp: number, level: number, colour: number, gamma: number, byte: number): void {
    const last = this.#rows.at(-1);
    const step = last && last.count === 1 ? level - last.level : (last?.step ?? 0);
    if (
      last &&
      (step === 0 || step === 1) &&
      lamp === last.lamp + last.count &&
      level === last.level + step * last.count &&
      colour === last.colour + 3 * last.count &&
      byte === last.byte + 3 * last.count &&
      gamma === last.gamma
    ) {
      last.step = step;
      last.count++;
    } else this.#rows.push({ lamp, count: 1, level, step: 0, colour, gamma, byte });
  }

  other(lamp: number): void {
    const last = this.#others.at(-1);
    if (last && last.from + last.count === lamp) last.count++;
    else this.#others.push({ from: lamp, count: 1 });
  }

  runs(): CellRuns {
    return {
      lamp: Int32Array.from(this.#rows, (r) => r.lamp),
      count: Int32Array.from(this.#rows, (r) => r.count),
      level: Int32Array.from(this.#rows, (r) => r.level),
      step: Uint8Array.from(this.#rows, (r) => r.step),
      colour: Int32Array.from(this.#rows, (r) => r.colour),
      gamma: Uint8Array.from(this.#rows, (r) => r.gamma),
      byte: Int32Array.from(this.#rows, (r) => r.byte),
      other: Int32Array.from(this.#others, (r) => r.from),
      otherCount: Int32Array.from(this.#others, (r) => r.count),
    };
  }
}

function without(bytes: ByteRuns, taken: Uint8Array): ByteRuns {
  const kept = Array.from(taken.keys()).filter((run) => taken[run] === 0);
  return {
    slot: Int32Array.from(kept, (run) => bytes.slot[run]!),
    scale: Int32Array.from(kept, (run) => bytes.scale[run]!),
    flip: Uint8Array.from(kept, (run) => bytes.flip[run]!),
    offset: Int32Array.from(kept, (run) => bytes.offset[run]!),
    gamma: Uint8Array.from(kept, (run) => bytes.gamma[run]!),
    count: Uint16Array.from(kept, (run) => bytes.count[run]!),
  };
}
