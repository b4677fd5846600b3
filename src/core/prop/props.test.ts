import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { FaultError } from '../faults.ts';
import { documentOf } from '../document/change.ts';
import { keptAside } from '../patch/impact.ts';
import { make } from '../records/index.ts';
import { propSchema } from '../records/prop.ts';
import { PIXELS } from '../../../tests/support/rig.ts';
import { cellCount, cellPlaces, shapeDots } from './cells.ts';
import { aboutFoot, readCoordinates } from '../format/coordinates.ts';
import { gridJumps, gridBlock, gridNumbers, packGrid, readDrawnGrid, unpackGrid } from '../records/grid.ts';
import { readGridText } from '../format/grid-text.ts';
import { pulled, sameSize, shapeHandles } from './handles.ts';
import { litOf } from '../patch/lit.ts';
import { reshaped, SHAPES } from './reshape.ts';
import { naturalParts } from './sets.ts';
import { shapeSchema, type Shape } from '../records/shape.ts';

const matrix: Shape = shapeSchema.parse({ shape: 'matrix', columns: 4, rows: 3, widthM: 3, heightM: 2, zigzag: true });
const line: Shape = { shape: 'line', count: 24, widthM: 2 };

describe('another shape', () => {
  test('keeps the number of cells wherever the kind can have it, and is always one that can be', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.constantFrom(...SHAPES), (count, kind) => {
        const made = reshaped({ shape: 'line', count, widthM: 2 }, kind);
        assert.equal(shapeSchema.safeParse(made).success, true, `${kind} of ${count}`);
        if (!['grid', 'icicles', 'matrix', 'tree'].includes(kind)) assert.equal(cellCount(made), count);
      }),
    ));
  test('a matrix and a tree of 24 have 24', () => {
    for (const kind of ['matrix', 'tree', 'icicles'] as const) assert.equal(cellCount(reshaped(line, kind)), 24);
  });
});

describe('handles', () => {
  test('pulled to where they are nothing changes but the last digit', () => {
    for (const kind of SHAPES) {
      const shape = reshaped(line, kind);
      for (const { key, place } of shapeHandles(shape)) {
        const again = pulled(shape, key, place);
        assert.equal(cellCount(again), cellCount(shape), kind);
        cellPlaces(again).forEach((p, i) =>
          p.forEach((v, axis) => {
            const was = cellPlaces(shape)[i]![axis]!;
            assert.ok(Number.isNaN(was) || Math.abs(v - was) < 0.01, `${kind} ${key}: ${v} was ${was}`);
          }),
        );
      }
    }
  });
  test('pull a shape into form and never out of what it can be', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...SHAPES),
        fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -900, max: 900, noNaN: true }))),
        (kind, to) => {
          const shape = reshaped(line, kind);
          for (const { key } of shapeHandles(shape))
            assert.equal(shapeSchema.safeParse(pulled(shape, key, to as never)).success, true, `${kind} ${key}`);
        },
      ),
    ));
  test('the same size as another takes measures and leaves counts', () => {
    const large: Shape = { ...matrix, columns: 9, widthM: 8, heightM: 6 } as Shape;
    assert.deepEqual(sameSize(matrix, large), { ...matrix, widthM: 8, heightM: 6 });
    assert.deepEqual(sameSize(line, large), { ...line, widthM: 8 });
  });
});

describe('parts that a shape has of itself', () => {
  test('rows from the top and columns from the left, whatever the wiring', () => {
    const ways = naturalParts(matrix);
    // Wired from the bottom left along rows, every second one backwards.
    assert.deepEqual(
      ways.get('Row')!.map((p) => p.cells),
      [
        [9, 10, 11, 12],
        [8, 7, 6, 5],
        [1, 2, 3, 4],
      ],
    );
    assert.deepEqual(ways.get('Column')![0]!.cells, [9, 8, 1]);
  });
  test('every way takes each cell at most once and none that is not there', () => {
    for (const kind of SHAPES) {
      const shape = reshaped({ ...line, count: 60 }, kind);
      for (const [way, parts] of naturalParts(shape)) {
        const cells = parts.flatMap((p) => p.cells);
        assert.equal(new Set(cells).size, cells.length, `${kind} ${way}`);
        for (const cell of cells) assert.ok(cell >= 1 && cell <= cellCount(shape), `${kind} ${way} ${cell}`);
      }
    }
  });
});

describe('a drawn grid as a shape', () => {
  const grid = readDrawnGrid([
    ['1', '', '2'],
    ['', '5', '2'],
  ]);
  const shape = shapeSchema.parse({
    shape: 'grid',
    columns: grid.columns,
    rows: grid.rows,
    pitchM: 0.5,
    numbers: packGrid(gridNumbers(grid)),
  });
  test('has cells up to its highest number; those that are missing are nowhere, twins twice', () => {
    assert.equal(cellCount(shape), 5);
    assert.deepEqual(
      shapeDots(shape).map((d) => [d.cell, ...d.place]),
      [
        [0, -0.5, 0, 0.5],
        [1, 0.5, 0, 0.5],
        [1, 0.5, 0, 0],
        [4, 0, 0, 0],
      ],
    );
    assert.deepEqual(cellPlaces(shape)[1], [0.5, 0, 0.5]);
    assert.ok(Number.isNaN(cellPlaces(shape)[2]![0]));
  });
  test('packs and unpacks, and becomes a block of text again', () => {
    const numbers = gridNumbers(grid);
    assert.deepEqual(unpackGrid(packGrid(numbers)), numbers);
    assert.deepEqual(gridBlock(numbers, 3), [
      ['1', '', '2'],
      ['', '5', '2'],
    ]);
  });
  test('tells where the wire leaps', () => {
    const leaping = readDrawnGrid([['1', '2', '', '', '', '3']]);
    assert.deepEqual(gridJumps(leaping), [{ from: 2, to: 3, apart: 4, row: 1, column: 6 }]);
    assert.deepEqual(gridJumps(grid), []);
  });
  test('is read from a clipboard and from commas; empty lines are rows', () => {
    assert.deepEqual(readGridText('1\t2\n\n3\t').grid?.rows, 3);
    assert.equal(readGridText('1,2\n3,4').grid?.cells, 4);
    assert.throws(() => readGridText(Array.from({ length: 401 }, () => '1').join('\n')), FaultError);
  });
  test('never breaks on what is pasted', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => {
        try {
          const { grid: read, faults } = readGridText(text);
          assert.ok(read !== null || faults.length > 0);
        } catch (error) {
          assert.ok(error instanceof FaultError);
        }
      }),
    ));
});

describe('places from a table', () => {
  const rows = (text: string) => text.split('\n').map((line, i) => ({ line: i + 1, cells: line.split(',') }));
  test('in any order of columns, with and without an index', () => {
    assert.deepEqual(readCoordinates(rows('index,x,y\n2,1,2\n1,0,5')).places, [
      [0, 5, 0],
      [1, 2, 0],
    ]);
    assert.deepEqual(readCoordinates(rows('1,2,3\n4,5,6')).places, [
      [1, 2, 3],
      [4, 5, 6],
    ]);
    assert.deepEqual(
      aboutFoot([
        [1, 2, 3],
        [3, 4, 7],
      ] as never),
      [
        [-1, -1, 0],
        [1, 1, 4],
      ],
    );
  });
  test('faults name the line and the column', () => {
    const at = (text: string) => readCoordinates(rows(text)).faults.map((f) => [f.path, f.message]);
    assert.deepEqual(at('x,y,index\n1,two,1'), [['line 2, column y', '“two” is no place']]);
    assert.deepEqual(at('x,y,index\n1,2,1\n1,2,1'), [['line 3, column index', 'cell 1 stands twice']]);
    assert.deepEqual(at('x,y,index\n1,2,3'), [['line 1, column index', 'cell 1 is missing']]);
    assert.deepEqual(at('NaN,1,1'), [['line 1, column x', '“NaN” is no place']]);
    assert.deepEqual(at('x,index\n1,1')[0], ['line 1, column x', 'there must be a column x and a column y']);
    assert.deepEqual(at(''), [['line 1, column x', 'there are no places']]);
  });
});

describe('what a value is for', () => {
  const unit = make('unit', {
    id: 'unit:k',
    number: 3,
    name: 'Kite',
    profileId: PIXELS.id,
    mode: 'px',
    prop: propSchema.parse({ shape: { shape: 'line', count: 10, widthM: 1 } }),
  });
  const part = make('part', { id: 'part:w', unitId: unit.id, number: 1, name: 'Wing', cells: '3-5, 40' });
  const document = documentOf([PIXELS, unit, part]);
  test('a part has its own cells and the name of both', () => {
    const lit = litOf(document, part.id)!;
    assert.equal(lit.name, 'Kite: Wing');
    assert.deepEqual([...new Set(lit.layout.programmable.map((p) => p.cells))], [3]);
    assert.equal(litOf(document, 'part:none'), null);
  });
  test('values of cells a shrunk prop no longer has are told by name', () => {
    const scene = make('scene', {
      id: 'scene:s',
      number: 1,
      name: 'Look',
      values: { 'unit:k': { 'Dimmer#11': 1, 'Dimmer#10': 1 }, 'part:w': { 'Dimmer#4': 1 } },
    });
    assert.deepEqual(
      keptAside(documentOf([PIXELS, unit, part, scene])).map((k) => [k.unit, k.why]),
      [
        ['Kite', 'there is no cell 11'],
        ['Kite: Wing', 'there is no cell 4'],
      ],
    );
  });
});
