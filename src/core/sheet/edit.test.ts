import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { applyChange, getRecord, recordsOf, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import { makeId, type RecordKind, type UnitId } from '../ids.ts';
import { builtInProfiles } from '../profile/library.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import { columnOf, DEFAULT_COLUMNS, SHEET_COLUMNS, sortUnits } from './columns.ts';
import { counted, editCells, editColumn, fillDown, type CellEdit } from './edit.ts';
import { sheetFacts } from './facts.ts';
import { matchTitles } from './match.ts';
import { findModeByText, ProfileFinder } from './profiles.ts';
import { WRITERS } from './write.ts';

const finder = new ProfileFinder(builtInProfiles());
const random = seeded(3);
const options = { newId: <K extends RecordKind>(kind: K) => makeId(kind, random), finder, by: 'Mira', now: 5000 };
const bar = (slug: string, address: number | null, fields: UnitRow['fields'] = {}): UnitRow => ({
  slug,
  profile: 'quillon-stave16',
  mode: '50ch',
  address,
  fields: { name: `Bar ${slug}`, ...fields },
});
const show = showWith(...units(bar('1', 1), bar('2', 51), bar('3', 101)));
const ids: UnitId[] = ['unit:1', 'unit:2', 'unit:3'];
const text = (document: Document, id: UnitId, key: string): string =>
  columnOf(key)!.text(sheetFacts(document), getRecord(document, 'unit', id)!);
function after(document: Document, edits: readonly CellEdit[]): Document {
  const { change, faults } = editCells(document, edits, options);
  assert.deepEqual(faults, []);
  assert.deepEqual(changeFaults(document, change), []);
  return applyChange(document, change);
}
const cell = (unitId: UnitId, column: string, value: string): CellEdit => ({ unitId, column, text: value });

describe('writing cells', () => {
  test('every column that is written reads back what was written', () => {
    const values: Record<string, string> = {
      number: '77',
      name: 'Counter left',
      mode: 'Whole bar',
      patch: '4.20',
      universe: '9',
      slot: '33',
      absolute: '1537',
      follows: 'after 2 +3',
      expected: '4.69',
      line: 'South',
      area: 'Bar',
      groups: 'Blue, Green',
      tag: 'Low',
      x: '-2.5',
      y: '1',
      z: '3.25',
      notes: 'two\nlines',
      done: 'skipped: stuck',
      profile: 'Generic Dimmer',
    };
    const modes = getRecord(show, 'profile', 'profile:quillon-stave16')!.modes;
    values['mode'] = modes.find((m) => m.key !== '50ch')!.name;
    for (const [column, value] of Object.entries(values)) {
      const next = after(show, [cell('unit:1', column, value)]);
      assert.equal(text(next, 'unit:1', column).replace(/ for [\d.]+/, ''), value, column);
    }
    const hung = after(
      show,
      ids.map((id) => cell(id, 'line', 'South')),
    );
    assert.equal(text(after(hung, [cell('unit:3', 'place', '1')]), 'unit:1', 'place'), '2');
    assert.equal(text(after(hung, [cell('unit:3', 'port', 'B')]), 'unit:1', 'port'), 'B');
    // Nothing that can be written was forgotten here.
    assert.deepEqual(
      Object.keys(WRITERS).filter((k) => !(k in values) && k !== 'place' && k !== 'port'),
      [],
    );
  });
  test('columns that are worked out say so', () => {
    for (const column of SHEET_COLUMNS.filter((c) => !c.written)) {
      const { faults, change } = editCells(show, [cell('unit:1', column.key, '1')], options);
      assert.deepEqual([faults.map((f) => f.code), change.put], [['READ_ONLY'], []]);
    }
  });
  test('what one cell refuses, the others do not lose', () => {
    const { change, faults } = editCells(
      show,
      [cell('unit:1', 'patch', '1.600'), cell('unit:2', 'name', 'B')],
      options,
    );
    assert.deepEqual(
      faults.map((f) => [f.code, f.edit.unitId]),
      [['ADDRESS_RANGE', 'unit:1']],
    );
    assert.deepEqual(
      change.put.map((r) => r.id),
      ['unit:2'],
    );
  });
  test('a unit leaves its line and groups again', () => {
    const full = after(show, [cell('unit:1', 'line', 'South'), cell('unit:1', 'groups', 'Blue')]);
    const next = after(full, [cell('unit:1', 'line', ''), cell('unit:1', 'groups', '')]);
    assert.deepEqual(recordsOf(next, 'line')[0]?.unitIds, []);
    assert.deepEqual(recordsOf(next, 'group')[0]?.unitIds, []);
  });
  test('names of lines, areas and tags are the same whatever their case', () => {
    const next = after(show, [
      cell('unit:1', 'area', 'Bar'),
      cell('unit:2', 'area', ' bar '),
      cell('unit:1', 'tag', 'Low'),
      cell('unit:2', 'tag', 'LOW'),
    ]);
    assert.equal(recordsOf(next, 'area').length, 1);
    assert.equal(recordsOf(next, 'show')[0]?.tags.length, 1);
  });
  test('a group with a rule is left to its rule', () => {
    const ruled = showWith(
      ...show.values(),
      make('group', { id: 'group:r', number: 1, name: 'All bars', unitIds: [], rule: {} }),
    );
    const next = after(ruled, [cell('unit:1', 'groups', 'All bars, Mine')]);
    assert.deepEqual(getRecord(next, 'group', 'group:r')?.unitIds, []);
    assert.equal(text(next, 'unit:1', 'groups'), 'All bars, Mine');
  });
  test('a tick knows who, when and for which address; it is out of date when that changes', () => {
    const next = after(show, [cell('unit:1', 'done', 'yes')]);
    assert.deepEqual(getRecord(next, 'unit', 'unit:1')?.walk, {
      state: 'done',
      by: 'Mira',
      at: 5000,
      place: { universe: 1, address: 1 },
      reason: '',
    });
    const moved = after(next, [cell('unit:1', 'patch', '2.7')]);
    assert.equal(text(moved, 'unit:1', 'done'), 'done for 1.1');
    assert.equal(text(after(moved, [cell('unit:1', 'done', 'no')]), 'unit:1', 'done'), '');
  });
});

describe('filling down and many at once', () => {
  const filled = (document: Document, column: string, step?: number): string[] => {
    const next = after(document, fillDown(document, ids, column, step));
    return ids.map((id) => text(next, id, column));
  };
  test('counts numbers, names and addresses, repeats the rest', () => {
    assert.deepEqual(filled(after(show, [cell('unit:1', 'patch', '1.400')]), 'patch'), ['1.400', '1.450', '2.1']);
    assert.deepEqual(filled(show, 'name'), ['Bar 1', 'Bar 2', 'Bar 3']);
    assert.deepEqual(filled(after(show, [cell('unit:1', 'number', '40')]), 'number'), ['40', '41', '42']);
    assert.deepEqual(filled(after(show, [cell('unit:1', 'number', '40')]), 'number', 10), ['40', '50', '60']);
    assert.deepEqual(filled(after(show, [cell('unit:1', 'notes', 'plug 9')]), 'notes'), ['plug 9', 'plug 9', 'plug 9']);
    assert.deepEqual(filled(after(show, [cell('unit:1', 'area', 'Bar')]), 'area'), ['Bar', 'Bar', 'Bar']);
  });
  test('numbers at the end of names keep their zeros', () => {
    assert.deepEqual(
      ['Bar 07', 'Bar 99', 'L3a', 'Sign'].map((n) => counted('name', n, 1)),
      ['Bar 08', 'Bar 100', 'L4a', 'Sign'],
    );
  });
  test('one text into many: an address goes on, a number counts, a name is repeated', () => {
    const many = (column: string, value: string): string[] => {
      const { change, faults } = editColumn(show, ids, column, value, options);
      assert.deepEqual(faults, []);
      const next = applyChange(show, change);
      return ids.map((id) => text(next, id, column));
    };
    assert.deepEqual(many('patch', '3.480'), ['3.480', '4.1', '4.51']);
    assert.deepEqual(many('number', '101'), ['101', '102', '103']);
    assert.deepEqual(many('area', 'Attic'), ['Attic', 'Attic', 'Attic']);
    assert.deepEqual(
      editColumn(show, ids, 'patch', '9.999', options).faults.map((f) => f.code),
      ['ADDRESS_RANGE'],
    );
  });
});

describe('columns', () => {
  test('have their own keys, titles and headings', () => {
    assert.equal(new Set(SHEET_COLUMNS.map((c) => c.key)).size, SHEET_COLUMNS.length);
    assert.deepEqual(
      matchTitles(SHEET_COLUMNS.map((c) => c.title)),
      SHEET_COLUMNS.map((c) => c.key),
    );
    for (const key of DEFAULT_COLUMNS) assert.ok(columnOf(key), key);
  });
  test('are recognised by the words of other sheets', () => {
    assert.deepEqual(
      matchTitles(['Fixture ID', 'Prop Name', 'Universe', 'Address', 'END CHANNEL', 'Manufacturer', 'Model', 'Colour']),
      ['number', 'name', 'universe', 'slot', 'expected', 'maker', 'profile', 'tag'],
    );
    assert.deepEqual(matchTitles(['Name', 'Start channel', 'Name']), ['name', 'absolute', null]);
    assert.deepEqual(matchTitles(['universe.address', 'Universe']), ['patch', 'universe']);
  });
  test('sort by what they mean', () => {
    const sorted = (key: string, descending = false): string =>
      sortUnits(sheetFacts(mixed), recordsOf(mixed, 'unit'), columnOf(key)!, descending)
        .map((u) => u.id.slice(5))
        .join('');
    const mixed = showWith(
      ...units(
        bar('a', 100, { name: 'Bar 10' }),
        { ...bar('b', 20, { name: 'Bar 9' }), universe: 2 },
        bar('c', null, { name: 'Arch' }),
      ),
    );
    assert.deepEqual(
      [sorted('name'), sorted('patch'), sorted('patch', true), sorted('number')],
      ['cba', 'abc', 'cba', 'abc'],
    );
  });
});

describe('profiles and modes by what people write', () => {
  test('by maker and model, by model alone, in any case and spelling of spaces', () => {
    for (const name of ['Quillon Stave 16', 'stave 16', ' QUILLON  stave-16 ']) {
      const found = finder.find(name);
      assert.ok(found.ok && found.value.id === 'profile:quillon-stave16', name);
    }
  });
  test('what is not there is refused with what it may be', () => {
    const miss = finder.find('Quilon Stave 16');
    assert.ok(!miss.ok);
    assert.match(miss.fault.remedy, /Quillon Stave 16/);
    assert.deepEqual(finder.offers('zzzz'), []);
    assert.ok(!finder.find('').ok);
  });
  test('a mode by name, key or number of channels; said when it is not clear', () => {
    const profile = builtInProfiles().find((p) => p.id === 'profile:fernlight-plumlet')!;
    for (const written of ['7 channel', '7ch', '7', '7 ch', '7 CHANNELS']) {
      const mode = findModeByText(profile, written);
      assert.ok(mode.ok && mode.value.key === '7ch', written);
    }
    const none = findModeByText(profile, '');
    assert.deepEqual([none.ok, !none.ok && none.fault.code], [false, 'MODE_MISSING']);
  });
});
