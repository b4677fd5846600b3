import type { Fault } from '../faults.ts';
import type { Range } from '../records/profile.ts';
import { guessRange } from './guess.ts';
import { freeName, TOP } from './ranges.ts';

/** What a pasted table gave: ranges in the order of the lines, and what could not be used, each with its line. */
export interface PastedRanges {
  readonly ranges: readonly Range[];
  readonly faults: readonly (Fault & { readonly line: number })[];
}

const LINES = 2000;
const LINE_LENGTH = 1000;
/** Dashes and other signs that stand between two values in manuals. */
const BETWEEN =
  '(?:-|\\u2010|\\u2011|\\u2012|\\u2013|\\u2014|\\u2015|\\u2212|\\ufe63|\\uff0d|~|\\u301c|\\uff5e|<|\\u2192|->|\\.{2,3}|\\u2026|to|bis|\\u00f7)';
const VALUE = '(\\d{1,6}(?:[.,]\\d+)?)\\s*(%|h(?![a-z])|)';
const PAIR = new RegExp(`(?<![\\d.,])${VALUE}\\s*${BETWEEN}+\\s*${VALUE}(?![\\d])`, 'i');
const SINGLE = new RegExp(`^\\s*${VALUE}(?=[\\s:;,=|]|$)`, 'i');
const HEX_PAIR = /(?<![\w])([0-9a-f]{2})h\s*[-\u2013\u2014~]\s*([0-9a-f]{2})h(?![\w])/i;
/** A leading column with a channel's number or letters like `CH 8`. */
const COLUMN = /^\s*(?:ch(?:annel)?\.?\s*)?\d{0,3}\s*$/i;

/**
 * Reads ranges from the text of a manual's table: one range a line, `0-15 White`, `000\u2013015<tab>White`,
 * `White 0-15`, percent, or hexadecimal with an `h`; a single value is a range of one. Lines without a value (headings,
 * empty ones) are passed over. What a name says about colour, shutter and physical values is taken along for
 * `attribute`. Faults: RANGE_VALUE, RANGE_BACKWARDS, RANGE_OVERLAP, LINE_UNREADABLE, TOO_MANY_LINES.
 */
export function parseRanges(text: string, attribute = ''): PastedRanges {
  const ranges: Range[] = [];
  const faults: (Fault & { line: number })[] = [];
  const lineOf: number[] = [];
  const lines = text.split(/\r\n|\r|\n|\u2028/);
  const say = (line: number, code: string, message: string, received: string, remedy: string): void => {
    faults.push({ code, path: `line ${line}`, line, message, received: received.slice(0, 120), remedy });
  };
  if (lines.length > LINES)
    say(LINES + 1, 'TOO_MANY_LINES', `${lines.length} lines`, '', `Paste at most ${LINES} lines at once.`);
  lines.slice(0, LINES).forEach((raw, i) => {
    const line = raw.slice(0, LINE_LENGTH);
    if (!/\d/.test(line)) return;
    const found = readLine(line);
    if (!found) {
      if (/[\p{L}]/u.test(line) && !/^\s*\d/.test(line)) return;
      return say(i + 1, 'LINE_UNREADABLE', 'no range of values stands here', line, 'Write it as 0-15 White.');
    }
    const { from, to, name } = found;
    const high = Math.max(from, to);
    if (!Number.isInteger(from) || !Number.isInteger(to) || high > TOP)
      return say(i + 1, 'RANGE_VALUE', `${high} is not a value from 0 to 255`, line, 'Values go from 0 to 255.');
    if (from > to)
      return say(
        i + 1,
        'RANGE_BACKWARDS',
        `the range runs from ${from} to ${to}`,
        line,
        `Did you mean ${to}-${from}? Put the lower value first.`,
      );
    const clash = ranges.findIndex((r) => r.from <= to && from <= r.to);
    if (clash >= 0)
      return say(
        i + 1,
        'RANGE_OVERLAP',
        `${from}-${to} overlaps ${ranges[clash]!.from}-${ranges[clash]!.to} of line ${lineOf[clash]}`,
        line,
        'Correct one of the two.',
      );
    const free = freeName(ranges, (name || `Range ${ranges.length + 1}`).slice(0, 96));
    ranges.push(guessRange({ from, to, name: free }, attribute));
    lineOf.push(i + 1);
  });
  return { ranges, faults };
}

function readLine(line: string): { from: number; to: number; name: string } | null {
  const hex = HEX_PAIR.exec(line);
  if (hex) return named(line, hex, Number.parseInt(hex[1]!, 16), Number.parseInt(hex[2]!, 16));
  const pair = PAIR.exec(line);
  if (pair) {
    const percent = pair[2] === '%' || pair[4] === '%';
    return named(line, pair, valueOf(pair[1]!, percent, false), valueOf(pair[3]!, percent, true));
  }
  const single = SINGLE.exec(line);
  if (!single) return null;
  const percent = single[2] === '%';
  const value = valueOf(single[1]!, percent, false);
  return named(line, single, value, value);
}

/** Percent as values 0-255: a lower end begins where the percentage does, an upper end stops before the next. */
function valueOf(text: string, percent: boolean, upper: boolean): number {
  const value = Number(text.replace(',', '.'));
  if (!percent) return value;
  return upper ? Math.min(TOP, Math.ceil(((value + 1) / 100) * 256) - 1) : Math.ceil((value / 100) * 256);
}

/** The name is what stands after the values; what stands before them where nothing does. */
function named(
  line: string,
  found: RegExpExecArray,
  from: number,
  to: number,
): { from: number; to: number; name: string } {
  const before = line.slice(0, found.index);
  const after = tidy(line.slice(found.index + found[0].length));
  const name = after !== '' ? after : COLUMN.test(before) ? '' : tidy(before);
  return { from, to, name };
}

const tidy = (text: string): string =>
  text
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f\u007f\u00a0]+/g, ' ')
    .replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '')
    .replace(/^[\s:;,=|.)\]\u2022\u2013\u2014-]+|[\s:;,=|([]+$/g, '')
    .replace(/\s+/g, ' ');
