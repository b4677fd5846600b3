import { TOP } from './ranges.ts';

/** One line of a manual's table: its values and its name. Values are as written, not yet checked. */
export interface LineReading {
  readonly from: number;
  readonly to: number;
  readonly name: string;
}

/** A number of the table, and where it stands. */
interface Value {
  readonly number: number;
  readonly percent: boolean;
  readonly start: number;
  readonly end: number;
  /** True where a dash or a word like it leads to the next value. */
  joined: boolean;
}

/** Dashes and other signs that stand between two values in manuals. */
const BETWEEN =
  /^\s*(?:->|\.{2,3}|\b(?:to|thru|through|bis)\b|[-\u2010-\u2015\u2212\ufe63\uff0d~\u301c\uff5e<\u2192\u2026\u00f7])+\s*/i;
const VALUE =
  /^(?:0x([0-9a-f]{1,2})|([0-9a-f]{1,2})h|(\d{1,6}(?:\.\d+|,\d+(?=\s*%))?)(?:\s*(%))?)(?![\p{L}\d%]|\.\d)/iu;
/** Bullets, quotes and brackets before the first value. */
const BEFORE = /^[\s"'([\u2022\u00b7*|:;=,-]*/;
const SEPARATOR = /^[\s"'()[\]:;,|=]+/;
const COLUMN_BREAK = /[\t;|]|\s{2,}|,(?=\s*"?\d)/;
const CHANNEL = /^ch(?:annel)?\.?\s*\d{1,3}(?=[\s:;,|)-])/i;
/** Two values with a comma between and one behind: columns, not a decimal. */
const COMMAS = /^(\s*"?\d+"?)\s*,\s*("?\d+"?)\s*,/;

const columns = (line: string): string => line.replace(/\u00a0/g, ' ').replace(COMMAS, '$1\t$2\t');

function valueAt(text: string, at: number): Value | null {
  const found = VALUE.exec(text.slice(at));
  if (!found) return null;
  const number = found[1] ?? found[2];
  return {
    number: number !== undefined ? Number.parseInt(number, 16) : Number(found[3]!.replace(',', '.')),
    percent: found[4] === '%',
    start: at,
    end: at + found[0].length,
    joined: false,
  };
}

/** Values that stand in a row from `at` on, at most three. */
function valuesFrom(text: string, at: number): Value[] {
  const values: Value[] = [];
  let next = valueAt(text, at);
  while (next && values.length < 3) {
    const rest = text.slice(next.end);
    const between = BETWEEN.exec(rest);
    const joinedTo = between && valueAt(text, next.end + between[0].length);
    // `3-facet` is a name: a dash that leads to no value makes none of what stands before it.
    if (between && !joinedTo && between[0].trimStart() === between[0] && /^\p{L}/u.test(rest.slice(between[0].length)))
      break;
    next.joined = joinedTo !== null && !values.some((v) => v.joined);
    values.push(next);
    if (values.at(-2)?.joined) break;
    const separator = SEPARATOR.exec(rest);
    next = joinedTo ?? (separator ? valueAt(text, next.end + separator[0].length) : null);
  }
  return values;
}

/** Values a line begins with: what decides for a whole table whether its first column counts channels. */
export function leadOf(line: string): readonly number[] {
  const text = columns(line);
  return text.trim() === '' ? [] : valuesFrom(text, BEFORE.exec(text)![0].length).map((v) => v.number);
}

/**
 * True where the first of three leading columns is the number of the channel: the same on every line, and the next two
 * a range, while the first two would not be one.
 */
export function firstIsChannel(leads: readonly (readonly number[])[]): boolean {
  const three = leads.filter((l) => l.length === 3);
  if (three.length === 0 || !three.every(([, from, to]) => from! <= to!)) return false;
  const same = three.every(([first]) => first === three[0]![0]);
  const climbs = three.every(([from, to], i) => from! <= to! && (i === 0 || from! > three[i - 1]![1]!));
  return same && (three.length > 1 || !climbs);
}

/** Reads one line. Null where no values are found, or it could be read in two ways. */
export function readTableLine(line: string, channelFirst: boolean): LineReading | null {
  const text = columns(line);
  const at = BEFORE.exec(text)![0].length;
  const channel = CHANNEL.exec(text.slice(at));
  const start = channel ? at + channel[0].length : at;
  const values = valuesFrom(text, start + BEFORE.exec(text.slice(start))![0].length);
  if (values.length === 0) return channel ? null : nameFirst(text);
  const joined = values.findIndex((v) => v.joined);
  const first = joined >= 0 ? joined : values.length === 3 && channelFirst ? 1 : 0;
  const from = values[first]!;
  // Columns of a table; numbers further on belong to the name.
  const to = values[first + 1] ?? from;
  return reading(from, to, tidy(text.slice(to.end)));
}

/** `White 0-15`, `White: (0-15)`, `White<tab>0<tab>15`: the values stand at the end, or once in the middle. */
function nameFirst(text: string): LineReading | null {
  const pairs: [Value, Value][] = [];
  for (let at = 0; at < text.length; at++) {
    if (/[\p{L}\d.,]/u.test(text[at - 1] ?? ' ')) continue;
    const values = valuesFrom(text, at);
    if (values[0]?.joined) pairs.push([values[0], values[1]!]);
    if (values.length > 0) at = values[0]!.joined ? values[1]!.end : values[0]!.end;
  }
  const isLast = ([, to]: [Value, Value]): boolean => /^[\s"')\]]*$/.test(text.slice(to.end));
  const pair = pairs.length === 1 ? pairs[0]! : pairs.find(isLast);
  if (pair) {
    const after = tidy(text.slice(pair[1].end));
    return reading(...pair, isLast(pair) || after === '' ? tidy(text.slice(0, pair[0].start)) : after);
  }
  if (pairs.length > 1) return null;
  const cells = text.split(COLUMN_BREAK).map((cell) => cell.trim());
  const numbers = cells.slice(-2).map((cell) => valueAt(cell.replace(/^"|"$/g, ''), 0));
  const [a, b] = numbers;
  if (cells.length > 2 && a && b) return reading(a, b, tidy(cells.slice(0, -2).join(' ')));
  if (cells.length > 1 && b) return reading(b, b, tidy(cells.slice(0, -1).join(' ')));
  const spaced = /^(.*\p{L}\S*)\s+(\d{1,3})\s+(\d{1,3})\s*$/u.exec(text);
  return spaced ? { from: Number(spaced[2]), to: Number(spaced[3]), name: tidy(spaced[1]!) } : null;
}

function reading(from: Value, to: Value, name: string): LineReading {
  const percent = from.percent || to.percent;
  if (!percent) return { from: from.number, to: to.number, name };
  // A lower end begins where its percentage does, an upper end stops before the next.
  const low = Math.ceil((from.number / 100) * 256);
  const high = from === to ? low : Math.min(TOP, Math.ceil(((to.number + 1) / 100) * 256) - 1);
  return { from: Math.min(TOP, low), to: Math.min(TOP, high), name };
}

const tidy = (text: string): string =>
  text
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f\u007f\u00a0]+/g, ' ')
    .replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '')
    .replace(/^[\s"':;,=|.)\]\u2022\u2013\u2014-]+|[\s"':;,=|([]+$/g, '')
    .replace(/\s+/g, ' ');
