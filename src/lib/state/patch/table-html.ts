import type { Merge } from '$core/format/grid.ts';

const escape = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** Rows as the clipboard's table: every cell is text, so that a spreadsheet does not make 3.1 of 3.10. */
export const tableHtml = (rows: readonly (readonly string[])[]): string =>
  `<table>${rows
    .map((r) => `<tr>${r.map((c) => `<td style="mso-number-format:'\\@'">${escape(c)}</td>`).join('')}</tr>`)
    .join('')}</table>`;

/** Merged cells of a table on the clipboard. It is parsed as a document of its own: nothing of it is ever shown. */
export function mergesInHtml(html: string): Merge[] {
  if (!/(row|col)span/i.test(html) || html.length > 20_000_000) return [];
  const table = new DOMParser().parseFromString(html, 'text/html').querySelector('table');
  const merges: Merge[] = [];
  const taken = new Set<string>();
  [...(table?.rows ?? [])].forEach((row, r) => {
    let column = 0;
    for (const cell of row.cells) {
      while (taken.has(`${r} ${column}`)) column++;
      const { rowSpan, colSpan } = cell;
      if ((rowSpan > 1 || colSpan > 1) && merges.length < 1000) {
        const [toRow, toColumn] = [r + Math.min(rowSpan, 1000) - 1, column + Math.min(colSpan, 200) - 1];
        merges.push({ fromLine: r + 1, toLine: toRow + 1, fromColumn: column, toColumn });
        for (let y = r; y <= toRow; y++) for (let x = column; x <= toColumn; x++) taken.add(`${y} ${x}`);
      }
      column += colSpan;
    }
  });
  return merges;
}
