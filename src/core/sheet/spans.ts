import type { Cells } from './doubts.ts';

const SPAN = /^(.*?\d)\s*(?:-|\u2010|\u2011|\u2012|\u2013|\u2014|\u2212|\.{2,}|\u2026|\bto\b|\bthru\b)\s*(.*\d)$/i;
const PAIR = /^(?:u(?:ni(?:v(?:erse)?)?)?\.?\s*)?(\d+)\s*[./:]\s*(\d+)$/i;

const MONTH = '(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec|mai|okt|dez)[a-z]*';
const DATES: readonly RegExp[] = [
  /^\d{4}[-/.]\d{1,2}[-/.]\d{1,2}(?:[ T].*)?$/,
  /^\d{1,2}[-/.]\d{1,2}[-/.](?:\d{4}|\d{2})(?:\s.*)?$/,
  new RegExp(`^\\d{1,2}[-/. ]+${MONTH}(?:[-/. ]+\\d{2,4})?$`, 'i'),
  new RegExp(`^${MONTH}[-/. ]+\\d{1,4}$`, 'i'),
];
/** What spreadsheets make of 3/10 and 1-16: 2026-03-10, 3/10/26, 10-Mar, Jan-16. */
export const isDate = (text: string): boolean => DATES.some((date) => date.test(text));

/**
 * An address written as a span (`1-16`, `3.145-152`, `3.145 to 3.152`): its first slot is the address, its last one the
 * end that is expected. Cells that are no spans, and sheets that give the end in a column of its own, stay as they are.
 */
export function spansApart(cells: Cells): Cells {
  for (const key of ['patch', 'slot', 'absolute']) {
    const cell = cells.get(key);
    const found = cell && SPAN.exec(cell.text.trim());
    if (!cell || !found || isDate(cell.text.trim())) continue;
    const [first, last] = [found[1]!.trim(), found[2]!.trim()];
    const universe =
      PAIR.exec(first)?.[1] ?? (key === 'slot' ? /\d+/.exec(cells.get('universe')?.text ?? '')?.[0] : undefined);
    const end = PAIR.test(last) || universe === undefined ? last : `${universe}.${last}`;
    if (!/^\d+$/.test(first) && !PAIR.test(first)) continue;
    const apart = new Map(cells).set(key, { ...cell, text: first });
    if ((cells.get('expected')?.text.trim() ?? '') === '') apart.set('expected', { text: end, index: cell.index });
    return apart;
  }
  return cells;
}
