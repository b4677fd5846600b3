import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { zeroBomb } from '../../../tests/support/zip.ts';
import { workbook } from '../../../tests/support/workbook.ts';
import { GRID_LIMITS } from './grid.ts';
import { readXlsx, writeXlsx } from './xlsx.ts';

const text = (at: string, value: string): string => `<c r="${at}" t="inlineStr"><is><t>${value}</t></is></c>`;
const codes = async (file: Uint8Array): Promise<string[]> => (await readXlsx(file)).faults.map((f) => f.code);

describe('reading a workbook', () => {
  test('keeps rows and columns where they stand, and tells numbers from text', async () => {
    const file = workbook({
      Rig: `<row r="3">${text('B3', 'Name')}${text('C3', 'Address')}</row><row r="6">${text('B6', 'A')}<c r="C6"><v>3.1</v></c><c r="D6" t="b"><v>1</v></c></row>`,
    });
    const { grid, sheets, sheet, faults } = await readXlsx(file);
    assert.deepEqual([faults, sheets, sheet], [[], ['Rig'], 'Rig']);
    const filled = grid!.rows.filter((r) => r.cells.some((c) => c !== ''));
    assert.deepEqual(
      filled.map((r) => [r.line, r.cells.slice(0, 4)]),
      [
        [3, ['', 'Name', 'Address', '']],
        [6, ['', 'A', '3.1', 'yes']],
      ],
    );
    assert.deepEqual([...(filled[1]!.numbers ?? [])], [2]);
  });
  test('tells merged cells and formulas that failed', async () => {
    const file = workbook(
      {
        Rig: `<row r="1">${text('A1', 'Universe')}</row><row r="2"><c r="A2"><v>4</v></c><c r="B2" t="e"><f>1/0</f><v>#DIV/0!</v></c></row>`,
      },
      '<mergeCells count="1"><mergeCell ref="A2:A5"/></mergeCells>',
    );
    const { grid, faults } = await readXlsx(file);
    assert.deepEqual(grid!.merges, [{ fromColumn: 0, fromLine: 2, toColumn: 0, toLine: 5 }]);
    assert.deepEqual(
      faults.map((f) => [f.code, f.path]),
      [['FORMULA_FAILED', 'B2']],
    );
  });
  test('takes the sheet that is named, or the first that suits', async () => {
    const file = workbook({
      Notes: `<row r="1">${text('A1', 'hello')}</row>`,
      Rig: `<row r="1">${text('A1', 'Name')}</row>`,
    });
    assert.equal((await readXlsx(file)).sheet, 'Notes');
    assert.equal((await readXlsx(file, { suits: (rows) => rows[0]?.cells[0] === 'Name' })).sheet, 'Rig');
    assert.equal((await readXlsx(file, { sheet: 'Rig' })).sheet, 'Rig');
    const none = await readXlsx(file, { sheet: 'Else' });
    assert.deepEqual([none.grid, none.faults[0]?.code, none.sheets], [null, 'NO_SUCH_SHEET', ['Notes', 'Rig']]);
  });
});

describe('hostile workbooks', () => {
  test('a bomb stops early', async () => {
    assert.deepEqual(await codes(zeroBomb(['xl/worksheets/sheet1.xml'], 200 * 1024 * 1024)), ['ARCHIVE_BOMB']);
  });
  test('one cell far away does not fill the memory', async () => {
    assert.deepEqual(await codes(workbook({ Rig: `<row r="1048576">${text('A1048576', 'x')}</row>` })), [
      'TOO_MANY_ROWS',
    ]);
    assert.deepEqual(await codes(workbook({ Rig: `<row r="1">${text('XFD1', 'x')}</row>` })), ['TOO_MANY_COLUMNS']);
    assert.deepEqual(await codes(workbook({ Rig: `<row r="1">${text(`A1`, 'x')}</row><row r="900000"/>` })), []);
  });
  test('what is no workbook is told as such', async () => {
    assert.deepEqual(await codes(strToU8('Name,Address')), ['NOT_AN_ARCHIVE']);
    assert.deepEqual(await codes(zipSync({ 'a.txt': strToU8('x') })), ['NOT_A_WORKBOOK']);
    assert.deepEqual(await codes(new Uint8Array(GRID_LIMITS.fileBytes + 1)), ['ARCHIVE_TOO_LARGE']);
    const sound = workbook({ Rig: `<row r="1">${text('A1', 'x')}</row>` });
    assert.deepEqual(await codes(sound.subarray(0, sound.length - 30)), ['ARCHIVE_TRUNCATED']);
    const members = unzipSync(sound);
    for (const name of Object.keys(members)) {
      const broken = zipSync({ ...members, [name]: strToU8('<oops') });
      const reading = await readXlsx(broken);
      assert.ok(reading.faults.length > 0 || reading.grid !== null, name);
    }
  });
});

test('a written workbook comes back, and an address stays text', async () => {
  const rows = [
    ['No.', 'Name', 'Address'],
    ['1', '=1+1', '3.10'],
    ['2', 'Käfer & <co>', ''],
  ];
  const file = await writeXlsx(rows, { sheet: 'Patch', numeric: [true, false, false], widths: [6, 20, 10] });
  const { grid, faults } = await readXlsx(file);
  assert.deepEqual(faults, []);
  assert.deepEqual(
    grid!.rows.map((r) => r.cells),
    rows,
  );
  assert.deepEqual(
    grid!.rows.map((r) => [...(r.numbers ?? [])]),
    [[], [0], [0]],
  );
});
