import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { decodeText, guard, parseCsv, readCsv, unguard, writeCsv, writeTabs } from './csv.ts';
import { columnIndex, columnLetters, GRID_LIMITS } from './grid.ts';

const rowsOf = (text: string): [number, string[]][] => parseCsv(text).grid!.rows.map((r) => [r.line, [...r.cells]]);

describe('reading text of rows and columns', () => {
  test('finds out what stands between the columns', () => {
    for (const d of [',', ';', '\t', '|'])
      assert.deepEqual(rowsOf(`a${d}b${d}c\n1${d}2${d}3\n`), [
        [1, ['a', 'b', 'c']],
        [2, ['1', '2', '3']],
      ]);
    // Decimal commas do not make a comma the delimiter.
    assert.deepEqual(rowsOf('x;y\n1,5;2,5\n3,5;4,5'), [
      [1, ['x', 'y']],
      [2, ['1,5', '2,5']],
      [3, ['3,5', '4,5']],
    ]);
  });
  test('numbers rows by the line of the file, also past quoted line breaks and empty lines', () => {
    assert.deepEqual(rowsOf('a,b\r\n"two\r\nlines",x\r\n\r\n3,4\r\n'), [
      [1, ['a', 'b']],
      [2, ['two\nlines', 'x']],
      [4, ['']],
      [5, ['3', '4']],
    ]);
    assert.deepEqual(
      rowsOf('a,b\rc,d\re,f').map(([line]) => line),
      [1, 2, 3],
    );
  });
  test('knows the encodings that spreadsheets write', () => {
    const word = 'Käfer';
    const utf16 = new Uint8Array([
      0xff,
      0xfe,
      ...[...word].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
    ]);
    assert.equal(decodeText(utf16), word);
    assert.equal(decodeText(new Uint8Array([0xef, 0xbb, 0xbf, ...new TextEncoder().encode(word)])), word);
    assert.equal(decodeText(new TextEncoder().encode(word)), word);
    assert.equal(decodeText(new Uint8Array([0x4b, 0xe4, 0x66, 0x65, 0x72])), word);
  });
  test('says what it cannot read', () => {
    const codes = (text: string): string[] => parseCsv(text).faults.map((f) => f.code);
    assert.deepEqual(codes('a\u0000b'), ['NOT_TEXT']);
    assert.deepEqual(codes('a,b\n"open,1\nmore'), ['QUOTES']);
    assert.deepEqual(parseCsv('a,b\n"open,1\nmore').faults[0]?.path, 'line 2');
    assert.deepEqual(codes(`${'a,'.repeat(GRID_LIMITS.columns)}b`), ['TOO_MANY_COLUMNS']);
    assert.deepEqual(codes('x\n'.repeat(GRID_LIMITS.rows + 5)), ['TOO_MANY_ROWS']);
    assert.deepEqual(
      readCsv(new Uint8Array(GRID_LIMITS.fileBytes + 1)).faults.map((f) => f.code),
      ['FILE_TOO_LARGE'],
    );
    assert.deepEqual(rowsOf(''), []);
  });
  test('never throws, whatever the text', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('"', ',', ';', '\t', '\n', '\r', 'a', '1', "'", '=', '\u0000') }),
        (text) => {
          const { grid, faults } = parseCsv(text);
          assert.ok(grid !== null || faults.length > 0);
          let line = 0;
          for (const row of grid?.rows ?? []) {
            assert.ok(row.line > line);
            line = row.line;
          }
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('writing', () => {
  test('makes formulas harmless and takes that back when it is read', () => {
    assert.deepEqual(['=1+1', '+1', '-5', '-x', '@a', "'=x", "it's", '\t=1', '+44 7'].map(guard), [
      "'=1+1",
      '+1',
      '-5',
      "'-x",
      "'@a",
      "''=x",
      "it's",
      "'\t=1",
      "'+44 7",
    ]);
    fc.assert(fc.property(fc.string(), (text) => assert.equal(unguard(guard(text)), text)));
  });
  test('comes back as it went, as CSV and as the clipboard', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', '"', ',', ';', '\n', '=', '-', "'", ' ', 'é', '1') });
    const table = fc
      .integer({ min: 2, max: 5 })
      .chain((n) => fc.array(fc.array(cell, { minLength: n, maxLength: n }), { minLength: 1, maxLength: 6 }));
    fc.assert(
      fc.property(table, (rows) => {
        const framed = [rows[0]!.map((_, i) => `head${i}`), ...rows];
        assert.deepEqual(
          parseCsv(writeTabs(framed), '\t').grid!.rows.map((r) => r.cells),
          framed,
        );
        const back = readCsv(writeCsv(framed));
        assert.deepEqual(back.faults, []);
        assert.deepEqual(back.grid!.rows[0]!.cells, framed[0]);
      }),
    );
  });
});

test('columns are named as spreadsheets name them', () => {
  assert.deepEqual([0, 25, 26, 701, 702].map(columnLetters), ['A', 'Z', 'AA', 'ZZ', 'AAA']);
  for (let i = 0; i < 1000; i++) assert.equal(columnIndex(columnLetters(i)), i);
});
