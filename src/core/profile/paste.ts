import type { Fault } from '../faults.ts';
import type { Range } from '../records/profile.ts';
import { guessRange } from './guess.ts';
import { firstIsChannel, leadOf, readTableLine, type LineReading } from './paste-line.ts';
import { freeName, TOP } from './ranges.ts';

/** What a pasted table gave: ranges in the order of the lines, and what could not be used, each with its line. */
export interface PastedRanges {
  readonly ranges: readonly Range[];
  readonly faults: readonly (Fault & { readonly line: number })[];
  /** Headings and other lines that name no values: passed over, and shown. */
  readonly passed: readonly { readonly line: number; readonly text: string }[];
}

const LINES = 2000;
const LINE_LENGTH = 1000;
/** How a heading that has a number in it begins. */
const HEADING = /^\s*(ch(annel)?|kanal|canal|slot|dmx|value|mode|page|table|function|from|no)\b/i;

/**
 * Reads ranges from the text of a manual's table: one range a line, `0-15 White`, `000\u2013015<tab>White`,
 * `0<tab>15<tab>White` (from, to and name in columns, in either order), percent, or hexadecimal (`0Fh`, `0x0F`); a
 * single value is a range of one. A name may stand on the line below its values. Headings are passed over and returned
 * in `passed`. What a name says about colour, shutter and physical values is taken along for `attribute`. Faults:
 * RANGE_VALUE, RANGE_BACKWARDS, RANGE_OVERLAP, LINE_UNREADABLE, TOO_MANY_LINES.
 */
export function parseRanges(text: string, attribute = ''): PastedRanges {
  const ranges: Range[] = [];
  const passed: { line: number; text: string }[] = [];
  const faults: (Fault & { line: number })[] = [];
  const lineOf: number[] = [];
  const lines = text.split(/\r\n|\r|\n|\u2028/).map((line) => line.slice(0, LINE_LENGTH));
  const say = (line: number, code: string, message: string, received: string, remedy: string): void => {
    faults.push({ code, path: `line ${line}`, line, message, received: received.slice(0, 120), remedy });
  };
  if (lines.length > LINES)
    say(LINES + 1, 'TOO_MANY_LINES', `${lines.length} lines`, '', `Paste at most ${LINES} lines at once.`);
  const read = lines.slice(0, LINES);
  const channelFirst = firstIsChannel(read.map(leadOf));
  /** Place of a range that has values and waits for a name from the next line. */
  let nameless: number | null = null;
  read.forEach((line, i) => {
    if (line.trim() === '') return;
    const found =
      /\d/.test(line) || /(?<![\p{L}\d])[0-9a-f]{2}h\b/iu.test(line) ? readTableLine(line, channelFirst) : null;
    if (!found) {
      const name = line.trim();
      if (nameless !== null && !/\d/.test(name)) {
        const renamed = { ...ranges[nameless]!, name: freeName(ranges, name.slice(0, 96)) };
        ranges[nameless] = guessRange(renamed, attribute);
      } else if (!/\d/.test(line) || HEADING.test(line) || (ranges.length === 0 && !/^\W*\d/.test(line)))
        passed.push({ line: i + 1, text: name.slice(0, 120) });
      else
        say(
          i + 1,
          'LINE_UNREADABLE',
          'no range of values is found here',
          line,
          'Write it as 0-15 White, or take the line out.',
        );
      nameless = null;
      return;
    }
    nameless = null;
    const wrong = wrongRange(found, ranges, lineOf);
    if (wrong) return say(i + 1, wrong.code, wrong.message, line, wrong.remedy);
    const { from, to, name } = found;
    if (name === '') nameless = ranges.length;
    const free = freeName(ranges, (name || `Range ${ranges.length + 1}`).slice(0, 96));
    ranges.push(guessRange({ from, to, name: free }, attribute));
    lineOf.push(i + 1);
  });
  return { ranges, faults, passed };
}

function wrongRange(
  { from, to }: LineReading,
  ranges: readonly Range[],
  lineOf: readonly number[],
): Pick<Fault, 'code' | 'message' | 'remedy'> | null {
  const wrong = [from, to].find((value) => !Number.isInteger(value) || value > TOP);
  if (wrong !== undefined)
    return {
      code: 'RANGE_VALUE',
      message: `${wrong} is not a value from 0 to 255`,
      remedy: 'Values go from 0 to 255.',
    };
  if (from > to)
    return {
      code: 'RANGE_BACKWARDS',
      message: `the range runs from ${from} to ${to}`,
      remedy: `Did you mean ${to}-${from}? Put the lower value first.`,
    };
  const clash = ranges.findIndex((r) => r.from <= to && from <= r.to);
  if (clash < 0) return null;
  const other = ranges[clash]!;
  return {
    code: 'RANGE_OVERLAP',
    message: `${from}-${to} overlaps ${other.from}-${other.to} of line ${lineOf[clash]}`,
    remedy: 'Correct one of the two.',
  };
}
