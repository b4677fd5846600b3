import type { Mode, ModeSlot } from '../../records/profile.ts';

/** One slot of a mode taken out of its list: a byte of a channel, of the whole unit (cell 0) or of a cell. */
export interface FlatSlot {
  readonly channel: string;
  readonly byte: number;
  readonly cell: number;
}

/** A mode slot by slot; null where a slot is not used. */
export function flatten(mode: Mode): (FlatSlot | null)[] {
  return mode.slots.flatMap((entry): (FlatSlot | null)[] => {
    if ('unused' in entry) return [null];
    if (!('cells' in entry)) return [{ channel: entry.channel, byte: entry.byte, cell: 0 }];
    return Array.from({ length: entry.cells }, (_, i) =>
      entry.slots.map((s) => ({ channel: s.channel, byte: s.byte, cell: entry.firstCell + i })),
    ).flat();
  });
}

/** The other way round: runs of cells with the same slots become one block. */
export function gather(flat: readonly (FlatSlot | null)[]): ModeSlot[] {
  const slots: ModeSlot[] = [];
  for (let at = 0; at < flat.length;) {
    const first = flat[at];
    if (!first) {
      slots.push({ unused: true });
      at++;
      continue;
    }
    if (first.cell === 0) {
      slots.push({ channel: first.channel, byte: first.byte });
      at++;
      continue;
    }
    const block = runOf(flat, at, first.cell);
    let cells = 1;
    const same = (start: number, cell: number): boolean => {
      const other = runOf(flat, start, cell);
      return (
        other.length === block.length &&
        other.every((s, i) => s.channel === block[i]!.channel && s.byte === block[i]!.byte)
      );
    };
    while (same(at + cells * block.length, first.cell + cells)) cells++;
    slots.push({ cells, firstCell: first.cell, slots: block.map(({ channel, byte }) => ({ channel, byte })) });
    at += cells * block.length;
  }
  return slots;
}

/** The slots from `at` on that belong to one cell, each byte of a channel once. */
function runOf(flat: readonly (FlatSlot | null)[], at: number, cell: number): FlatSlot[] {
  const run: FlatSlot[] = [];
  for (let slot = flat[at]; slot && slot.cell === cell; slot = flat[++at]) {
    if (run.some((s) => s.channel === slot!.channel && s.byte === slot!.byte)) break;
    run.push(slot);
  }
  return run;
}
