import type { Fault } from '../faults.ts';
import { numberedNames } from '../naming.ts';
import type { Range } from '../records/profile.ts';

/** Working with the named ranges of a channel, in values 0-255 of its coarse slot. Lists are kept in ascending order. */
export const TOP = 255;

export const sortedRanges = (ranges: readonly Range[]): Range[] =>
  [...ranges].sort((a, b) => a.from - b.from || a.to - b.to);

/** Values that belong to no range, as from-to pairs. */
export function gapsOf(ranges: readonly Range[]): { from: number; to: number }[] {
  const gaps: { from: number; to: number }[] = [];
  let next = 0;
  for (const range of sortedRanges(ranges)) {
    if (range.from > next) gaps.push({ from: next, to: range.from - 1 });
    next = Math.max(next, range.to + 1);
  }
  if (next <= TOP) gaps.push({ from: next, to: TOP });
  return gaps;
}

/** Pairs of neighbours that share values: places of the second in the sorted list. */
export function overlapsOf(ranges: readonly Range[]): number[] {
  const sorted = sortedRanges(ranges);
  let highest = -1;
  return sorted.flatMap((range, i) => {
    const shared = range.from <= highest;
    highest = Math.max(highest, range.to);
    return shared ? [i] : [];
  });
}

const fault = (code: string, path: string, message: string, received: unknown, remedy: string): Fault => ({
  code,
  path,
  message,
  received,
  remedy,
});

export type Edited = { readonly ranges: Range[] } | { readonly fault: Fault };

/**
 * Moves one edge of a range. A neighbour that touched it, or would now be overlapped, follows; one that would vanish
 * is not swallowed: the edit is refused and says so.
 */
export function moveEdge(ranges: readonly Range[], index: number, edge: 'from' | 'to', value: number): Edited {
  const list = sortedRanges(ranges);
  const range = list[index];
  const path = `ranges.${index}.${edge}`;
  if (!range) return { fault: fault('NO_SUCH_RANGE', path, `there is no range ${index}`, index, 'Choose a range.') };
  if (!Number.isInteger(value) || value < 0 || value > TOP)
    return { fault: fault('RANGE_VALUE', path, `${value} is not a value from 0 to 255`, value, 'Give 0 to 255.') };
  const [from, to] = edge === 'from' ? [value, range.to] : [range.from, value];
  if (from > to)
    return {
      fault: fault(
        'RANGE_BACKWARDS',
        path,
        `“${range.name}” would run from ${from} to ${to}`,
        value,
        edge === 'from' ? `Give at most ${range.to}.` : `Give at least ${range.from}.`,
      ),
    };
  const other = edge === 'from' ? index - 1 : index + 1;
  const neighbour = list[other];
  if (neighbour) {
    const touched = edge === 'from' ? neighbour.to === range.from - 1 : neighbour.from === range.to + 1;
    const overlapped = edge === 'from' ? neighbour.to >= from : neighbour.from <= to;
    if (touched || overlapped) {
      const moved = edge === 'from' ? { ...neighbour, to: from - 1 } : { ...neighbour, from: to + 1 };
      if (moved.from > moved.to)
        return {
          fault: fault(
            'RANGE_SWALLOWED',
            path,
            `“${neighbour.name}” (${neighbour.from}-${neighbour.to}) would have nothing left`,
            value,
            `Remove “${neighbour.name}” first, or stop before it.`,
          ),
        };
      list[other] = moved;
    }
  }
  list[index] = { ...range, from, to };
  return { ranges: list };
}

/** A new range in the first gap; where there is none, the widest range is halved. Null when nothing can be halved. */
export function addRange(ranges: readonly Range[], name: string): Range[] | null {
  const gap = gapsOf(ranges)[0];
  const free = freeName(ranges, name);
  if (gap) return sortedRanges([...ranges, { ...gap, name: free }]);
  const widest = [...ranges].sort((a, b) => b.to - b.from - (a.to - a.from))[0];
  if (!widest || widest.to === widest.from) return null;
  const middle = Math.floor((widest.from + widest.to) / 2);
  return sortedRanges([
    ...ranges.map((r) => (r === widest ? { ...r, to: middle } : r)),
    { from: middle + 1, to: widest.to, name: free },
  ]);
}

/** `name`, or `name 2`, `name 3` ... until no range is called so. */
export function freeName(ranges: readonly { readonly name: string }[], name: string): string {
  const taken = new Set(ranges.map((r) => r.name));
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}

export interface EqualRanges {
  readonly start: number;
  readonly width: number;
  readonly count: number;
  /** `#` stands for the running number, as in names of units. */
  readonly pattern: string;
  readonly firstNumber: number;
}

/** Ranges of one width in a row. Says which of them would not fit. */
export function equalRanges({ start, width, count, pattern, firstNumber }: EqualRanges): Edited {
  const whole = (value: number, low: number, high: number): boolean =>
    Number.isInteger(value) && value >= low && value <= high;
  const wrong = (
    [
      ['start', start, 0, TOP],
      ['width', width, 1, TOP + 1],
      ['count', count, 1, TOP + 1],
    ] as const
  ).find(([, value, low, high]) => !whole(value, low, high));
  if (wrong) {
    const [name, value, low, high] = wrong;
    return { fault: fault('WIZARD_VALUE', name, `${name} is ${value}`, value, `Give ${low} to ${high}.`) };
  }
  const end = start + count * width - 1;
  if (end > TOP) {
    const fitting = Math.floor((TOP + 1 - start) / width);
    return {
      fault: fault(
        'WIZARD_TOO_LONG',
        'count',
        `${count} ranges of ${width} from ${start} end at ${end}`,
        count,
        fitting >= 1 ? `At most ${fitting} fit below 256.` : 'Start lower or make them narrower.',
      ),
    };
  }
  const names = numberedNames(pattern.includes('#') ? pattern : `${pattern} #`, count, firstNumber);
  return {
    ranges: names.map((name, i) => {
      const from = start + i * width;
      return { from, to: from + width - 1, name };
    }),
  };
}
