import { decodeText } from './csv.ts';
import type { Fault } from '../faults.ts';
import { LONGEST_SONG_S, MOST_MARKS, type Mark } from '../records/song.ts';
import { kept } from '../song/grid.ts';

/**
 * Marks as plain text: a line each, from, to and label with tabs between, seconds with a point. What others write is read
 * too: semicolons or commas in place of tabs, minutes and seconds (`1:02.5`), a comma in a number where tabs or semicolons
 * part the columns, no `to`, a heading, lines of words with their moment in brackets (`[01:02.50]words`), comments (`#`).
 */

const HEADING = /[\p{L}]/u;
const BRACKETED = /^\s*((?:\[\d{1,3}:\d{1,2}(?:[.:]\d{1,3})?\]\s*)+)(.*)$/;
/** What such files say of themselves: `[ti:Title]`. */
const ABOUT = /^\s*\[[a-zA-Z#]+:.*\]\s*$/;

export interface MarksRead {
  readonly marks: Mark[];
  readonly faults: readonly Fault[];
}

const fault = (line: number, code: string, message: string, received: unknown, remedy: string): Fault => ({
  path: `line ${line}`,
  code,
  message,
  received,
  remedy,
});

/** Reads marks from the bytes of a text file (UTF-8, UTF-16 or Windows-1252). Lines that cannot be read are named and left out. */
export function readMarks(bytes: Uint8Array): MarksRead {
  const lines = decodeText(bytes).split(/\r\n|\r|\n/);
  const marks: Mark[] = [];
  const faults: Fault[] = [];
  let first = true;
  for (const [i, line] of lines.entries()) {
    const text = line.trim();
    if (text === '' || text.startsWith('#') || ABOUT.test(text)) continue;
    const found = wordsIn(text) ?? columnsIn(line);
    if ('marks' in found) marks.push(...found.marks);
    else if (!(first && HEADING.test(text) && !/^[\d.:,]/.test(text)))
      faults.push(fault(i + 1, 'MARK_UNREADABLE', found.message, text.slice(0, 120), REMEDY));
    first = false;
  }
  marks.sort((a, b) => a.at - b.at || a.to - b.to);
  if (marks.length > MOST_MARKS)
    faults.push(
      fault(
        lines.length,
        'TOO_MANY_MARKS',
        `there are ${marks.length} marks, at most ${MOST_MARKS} are kept`,
        marks.length,
        'Leave some out.',
      ),
    );
  return { marks: endedWords(marks).slice(0, MOST_MARKS), faults };
}
const REMEDY =
  'Write from, to and label with tabs between, such as "12.5", "14", "Verse": seconds, or minutes:seconds.';

type LineRead = { readonly marks: Mark[] } | { readonly message: string };

function wordsIn(text: string): LineRead | null {
  const found = BRACKETED.exec(text);
  if (!found) return null;
  const moments = [...found[1]!.matchAll(/\[(\d+):(\d+)(?:[.:](\d+))?\]/g)].map(
    ([, m, s, part]) => Number(m) * 60 + Number(s) + Number(`0.${part ?? 0}`),
  );
  const bad = moments.find((at) => at > LONGEST_SONG_S);
  if (bad !== undefined) return { message: `${bad} s is after the longest song (${LONGEST_SONG_S} s)` };
  return { marks: moments.map((at) => mark(at, at, found[2]!, true)) };
}

/** Words are sung until what comes next. */
function endedWords(marks: readonly Mark[]): Mark[] {
  // From the last on: where the next later mark is.
  let [at, next] = [Infinity, Infinity];
  const found = [...marks].reverse().map((one): Mark => {
    if (one.at < at) [at, next] = [one.at, at];
    return one.words && one.at === one.to && next < Infinity ? { ...one, to: next } : one;
  });
  return found.reverse();
}

function columnsIn(line: string): LineRead {
  const by = line.includes('\t') ? '\t' : line.includes(';') ? ';' : line.includes(',') ? ',' : /\s{2,}|\s/;
  const cells = line.split(by).map((cell) => unquoted(cell.trim()));
  const [from, second] = [secondsIn(cells[0] ?? ''), secondsIn(cells[1] ?? '')];
  if (from === null) return { message: `“${(cells[0] ?? '').slice(0, 40)}” is no moment` };
  const label = cells
    .slice(second === null && (cells[1] ?? '') !== '' ? 1 : 2)
    .join(typeof by === 'string' && by !== '\t' ? `${by} ` : ' ')
    .trim();
  const to = second ?? from;
  if (to < from) return { message: `it ends (${to} s) before it begins (${from} s)` };
  if (to > LONGEST_SONG_S) return { message: `${to} s is after the longest song (${LONGEST_SONG_S} s)` };
  return { marks: [mark(from, to, label)] };
}

const unquoted = (cell: string): string => (/^".*"$/.test(cell) ? cell.slice(1, -1).replaceAll('""', '"') : cell);
// eslint-disable-next-line no-control-regex
const CONTROLS = /[\u0000-\u001f\u007f]/g;
const mark = (at: number, to: number, label: string, words = false): Mark => ({
  at: kept(at),
  to: kept(to),
  label: label.replace(CONTROLS, ' ').trim().slice(0, 200).toWellFormed(),
  words,
});

/** `12.5`, `12,5`, `1:02.5`, `1:00:02.5` in seconds; null for anything else. */
export function secondsIn(text: string): number | null {
  const found = /^(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,6}(?:[.,]\d{1,9})?)$/.exec(text.trim());
  if (!found) return null;
  return Number(found[1] ?? 0) * 3600 + Number(found[2] ?? 0) * 60 + Number(found[3]!.replace(',', '.'));
}

/** Marks as text, with tabs between from, to and label. */
export const writeMarks = (marks: readonly Mark[]): string =>
  marks.map(({ at, to, label }) => `${at.toFixed(4)}\t${to.toFixed(4)}\t${label.replace(/[\t\r\n]/g, ' ')}\n`).join('');
