import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { applyChange, documentOf, getRecord, recordsOf, reverseOf, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import { parseCsv, readCsv } from '../format/csv.ts';
import type { Grid } from '../format/grid.ts';
import { makeId, type RecordKind } from '../ids.ts';
import { builtInProfiles } from '../profile/library.ts';
import { seeded } from '../random.ts';
import { make, type ProfileRecord } from '../records/index.ts';
import { exportCsv } from './export.ts';
import { findHeadings } from './match.ts';
import { planImport, type ImportPlan, type PlanOptions } from './plan.ts';
import { ProfileFinder } from './profiles.ts';

const LIBRARY = builtInProfiles();
const finder = new ProfileFinder(LIBRARY);
const random = seeded(7);
const newId = <K extends RecordKind>(kind: K) => makeId(kind, random);

function plan(document: Document, grid: Grid, more: Partial<PlanOptions> = {}): ImportPlan {
  const { row, titles, mapping } = findHeadings(grid);
  return planImport(document, grid, {
    mapping,
    titles,
    headingRow: row,
    finder,
    newId,
    by: 'Mira',
    now: 1000,
    ...more,
  });
}
const planText = (document: Document, text: string, more: Partial<PlanOptions> = {}): ImportPlan =>
  plan(document, parseCsv(text).grid!, more);
const faultsOf = (p: ImportPlan): string[] =>
  p.rows.flatMap((r) => r.faults.map((f) => `${f.row} ${f.column} ${f.code} ${f.value}`));
const warningsOf = (p: ImportPlan): string[] =>
  p.rows.flatMap((r) => r.warnings.map((f) => `${f.row} ${f.column} ${f.code}`));
const empty = documentOf([make('show', { id: 'show:test', name: 'Test' })]);
const dimmers = (count: number): UnitRow[] =>
  Array.from({ length: count }, (_, i) => ({
    slug: `d${i + 1}`,
    profile: 'generic-dimmer',
    mode: '1ch',
    address: i + 1,
    fields: { name: `Dimmer ${i + 1}` },
  }));

describe('a sheet into an empty show', () => {
  const text = [
    'Rig of the winter trail',
    '',
    'No.;Name;Type;Mode;Universe;Address;End address;Area;Line;Group',
    '1;Arch 1;Quillon Stave 16;50;1;1;1.50;Bridge;North run;Arches, All',
    '2;Arch 2;Stave 16;50ch;1;51;1.100;Bridge;North run;Arches',
    '7;Lantern;Generic Dimmer;;2;1;;Pond;;',
  ].join('\r\n');
  const p = planText(empty, text);
  const after = applyChange(empty, p.change);
  const names = LIBRARY.find((x) => x.id === 'profile:quillon-stave16')!;

  test('finds its headings, whatever stands above, and numbers rows as the file does', () => {
    assert.equal(`${names.maker} ${names.model}`, 'Quillon Stave 16');
    assert.deepEqual(
      p.rows.map((r) => [r.row, r.does]),
      [
        [4, 'add'],
        [5, 'add'],
        [6, 'add'],
      ],
    );
    assert.deepEqual(faultsOf(p), []);
    assert.deepEqual(warningsOf(p), []);
  });
  test('makes units, and areas, lines and groups by their names', () => {
    assert.deepEqual(changeFaults(empty, p.change), []);
    const list = recordsOf(after, 'unit').toSorted((a, b) => a.number - b.number);
    assert.deepEqual(
      list.map((u) => [u.number, u.name, u.profileId, u.mode, u.patch]),
      [
        [1, 'Arch 1', 'profile:quillon-stave16', '50ch', { universe: 1, address: 1 }],
        [2, 'Arch 2', 'profile:quillon-stave16', '50ch', { universe: 1, address: 51 }],
        [7, 'Lantern', 'profile:generic-dimmer', '1ch', { universe: 2, address: 1 }],
      ],
    );
    assert.deepEqual(
      recordsOf(after, 'area').map((a) => a.name),
      ['Bridge', 'Pond'],
    );
    assert.deepEqual(
      recordsOf(after, 'line').map((l) => [l.name, l.unitIds.length]),
      [['North run', 2]],
    );
    assert.deepEqual(
      recordsOf(after, 'group').map((g) => [g.name, g.unitIds.length]),
      [
        ['Arches', 2],
        ['All', 1],
      ],
    );
    assert.deepEqual(list[0]!.expectedEnd, { universe: 1, address: 50 });
  });
  test('is one step that can be taken back', () => {
    const back = applyChange(after, reverseOf(empty, p.change));
    assert.deepEqual([...back.keys()], [...empty.keys()]);
  });
  test('taken again changes nothing', () => {
    const again = planText(after, text);
    assert.deepEqual(again.counts, { add: 0, change: 0, same: 3, refused: 0 });
    assert.deepEqual(again.change.put, []);
  });
});

describe('rows that cannot be used', () => {
  const head = 'No.,Name,Profile,Mode,Universe,Slot,Notes';
  const cases: [why: string, row: string, expected: string[]][] = [
    ['address 0', '1,A,Generic Dimmer,,1,0,', ['2 Slot ADDRESS_RANGE 0']],
    ['address 513', '1,A,Generic Dimmer,,1,513,', ['2 Slot ADDRESS_RANGE 513']],
    ['a negative address', '1,A,Generic Dimmer,,1,-4,', ['2 Slot ADDRESS_RANGE -4']],
    ['64,000 universes', '1,A,Generic Dimmer,,"64,000",1,', ['2 Universe UNIVERSE_RANGE 64,000']],
    ['a decimal comma', '1,A,Generic Dimmer,,1,"3,5",', ['2 Slot ADDRESS_RANGE 3,5']],
    ['half an address', '1,A,Generic Dimmer,,1,,', ['2 Slot HALF_ADDRESS ']],
    ['a date', '1,A,Generic Dimmer,,1,2026-03-10,', ['2 Slot ADDRESS_DATE 2026-03-10']],
    ['another date', '1,A,Generic Dimmer,,1,10-Mar,', ['2 Slot ADDRESS_DATE 10-Mar']],
    ['a month', '1,A,Generic Dimmer,,1,Jan-16,', ['2 Slot ADDRESS_DATE Jan-16']],
    ['a date with points', '1,A,Generic Dimmer,,1,3.10.2026,', ['2 Slot ADDRESS_DATE 3.10.2026']],
    ['number 0', '0,A,Generic Dimmer,,1,1,', ['2 No. NUMBER_RANGE 0']],
    ['a number that is none', 'x,A,Generic Dimmer,,1,1,', ['2 No. NUMBER_RANGE x']],
    ['no profile', '1,A,,,1,1,', ['2 Profile PROFILE_MISSING ']],
    ['an unknown profile', '1,A,Stavee 16,,1,1,', ['2 Profile UNKNOWN_PROFILE Stavee 16']],
    ['an unknown mode', '1,A,Quillon Stave 16,99ch,1,1,', ['2 Mode UNKNOWN_MODE 99ch']],
    ['a mode that is not said', '1,A,Quillon Stave 16,,1,1,', ['2 Mode MODE_MISSING ']],
    ['control characters', '1,"A\u0007",Generic Dimmer,,1,1,', ['2 Name NAME_CHARACTERS A\u0007']],
  ];
  for (const [why, row, expected] of cases)
    test(why, () => {
      const p = planText(empty, `${head}\n${row}`);
      assert.deepEqual(faultsOf(p), expected);
      assert.ok(p.rows[0]!.faults.every((f) => f.message !== '' && f.remedy !== ''));
      assert.deepEqual([p.counts.refused, p.change.put], [1, []]);
    });

  test('a name of 10,000 characters', () => {
    const p = planText(empty, `${head}\n1,${'n'.repeat(10_000)},Generic Dimmer,,1,1,`);
    const [fault] = p.rows[0]!.faults;
    assert.deepEqual([fault?.code, fault?.column, fault?.message], ['TOO_LONG', 'Name', '10000 characters']);
    assert.ok(fault!.value.length < 200);
  });
  test('in one column, `1/0`, a comma and other numbers', () => {
    const p = planText(
      empty,
      'Name\tProfile\tAddress\nA\tGeneric Dimmer\t1/0\nB\tGeneric Dimmer\t3,145\nC\tGeneric Dimmer\t-3.1\nD\tGeneric Dimmer\t64000.1\nE\tGeneric Dimmer\t513',
    );
    assert.deepEqual(faultsOf(p), [
      '2 Address ADDRESS_RANGE 1/0',
      '3 Address ADDRESS_COMMA 3,145',
      '4 Address ADDRESS_NEGATIVE -3.1',
      '5 Address UNIVERSE_RANGE 64000.1',
    ]);
    // 513 alone is an absolute channel.
    assert.deepEqual(p.rows[4]!.changes.find((c) => c.column === 'patch')?.after, '2.1');
  });
  test('duplicate numbers name the row that has it already', () => {
    const p = planText(empty, `${head}\n4,A,Generic Dimmer,,1,1,\n4,B,Generic Dimmer,,1,2,`);
    assert.deepEqual(faultsOf(p), ['3 No. NUMBER_TWICE 4']);
    assert.match(p.rows[1]!.faults[0]!.message, /row 2/);
  });
  test('a refused row leaves nothing behind: no area, no line, no tag', () => {
    const p = planText(empty, 'No.,Name,Profile,Area,Line,Tag,Place\n1,A,Generic Dimmer,Attic,Run,Red,zero');
    assert.deepEqual(faultsOf(p), ['2 Place PLACE_RANGE zero']);
    assert.deepEqual(p.change.put, []);
  });
  test('merged cells are told where they are', () => {
    const { grid } = parseCsv(`${head}\n1,A,Generic Dimmer,,1,1,\n2,B,Generic Dimmer,,,2,`);
    const merges = [{ fromLine: 2, toLine: 3, fromColumn: 4, toColumn: 4 }];
    const p = plan(empty, { ...grid!, merges });
    assert.deepEqual(faultsOf(p), ['3 Universe MERGED_CELLS ']);
    assert.match(p.rows[1]!.faults[0]!.message, /rows 2 to 3/);
  });
  test('two ways of writing the address that do not agree', () => {
    const p = planText(
      empty,
      'Name,Profile,Universe,Slot,Absolute\nA,Generic Dimmer,2,1,513\nB,Generic Dimmer,2,2,513',
    );
    assert.deepEqual(faultsOf(p), ['3 Absolute ADDRESS_DISAGREES 513']);
  });
  test('the same number twice is told where the first row is refused for something else', () => {
    const p = planText(empty, `${head}\n5,A,Nobody knows,,1,1,\n5,B,Generic Dimmer,,1,2,`);
    assert.deepEqual(faultsOf(p), ['2 Profile UNKNOWN_PROFILE Nobody knows', '3 No. NUMBER_TWICE 5']);
  });
  test('text from right to left and any letters are names like others', () => {
    const p = planText(empty, `${head}\n1,"مصباح ١",Generic Dimmer,,1,1,"הערה"`);
    assert.deepEqual(faultsOf(p), []);
    assert.equal(p.rows[0]!.name, 'مصباح ١');
  });
});

describe('doubts and clashes are told and do not stop the row', () => {
  test('in CSV too, unless the column kept a last zero somewhere or the address is said twice', () => {
    const lines = (rows: string[], heads = 'Name,Profile,Address'): string[] =>
      warningsOf(planText(empty, [heads, ...rows].join('\n')));
    assert.deepEqual(lines(['A,Generic Dimmer,3.1', 'B,Generic Dimmer,3.145']), ['2 Address ADDRESS_AMBIGUOUS']);
    assert.deepEqual(lines(['A,Generic Dimmer,3.1', 'B,Generic Dimmer,3.20']), []);
    assert.deepEqual(lines(['A,Generic Dimmer,3.1,3,1'], 'Name,Profile,Address,Universe,Slot'), []);
  });
  test('a number cell in which 3.10 would have become 3.1', () => {
    const { grid } = parseCsv('Name,Profile,Address\nA,Generic Dimmer,3.1\nB,Generic Dimmer,3.145');
    const rows = grid!.rows.map((r, i) => (i === 0 ? r : { ...r, numbers: new Set([2]) }));
    const typed = { merges: [], rows };
    assert.deepEqual(warningsOf(plan(empty, typed)), ['2 Address ADDRESS_AMBIGUOUS']);
    assert.deepEqual(warningsOf(plan(empty, { merges: [], rows: grid!.rows })), [], 'a workbook in which it is text');
  });
  test('overlaps, overruns, twice the same number, another end', () => {
    const show = showWith(...units(...dimmers(3)));
    const p = planText(
      show,
      'No.,Name,Profile,Mode,Address,End\n9,X,Quillon Stave 16,50ch,1.3,1.50\n10,Y,Quillon Stave 16,50ch,1.500,',
    );
    assert.deepEqual(p.counts, { add: 2, change: 0, same: 0, refused: 0 });
    assert.deepEqual(warningsOf(p), ['2 Address OVERLAP', '2 End EXPECTED_END', '3 Address OVERRUN']);
    assert.match(p.rows[0]!.warnings[1]!.message, /2 slots too far/);
  });
  test('what was wrong before is not told again', () => {
    const show = showWith(...units(dimmers(1)[0]!, { ...dimmers(1)[0]!, slug: 'e1', fields: { name: 'Other' } }));
    assert.deepEqual(warningsOf(planText(show, 'No.,Notes\n1,hello')), []);
  });
});

describe('a sheet over a show', () => {
  const show = showWith(...units(...dimmers(4)));
  test('changes the units it names, by number or by name, and only what it says', () => {
    const p = planText(show, 'No.,Name,Notes\n2,Dimmer two,loose plug\n,Dimmer 3,\n4,Dimmer 4,');
    assert.deepEqual(
      p.rows.map((r) => r.does),
      ['change', 'same', 'same'],
    );
    assert.deepEqual(p.rows[0]!.changes, [
      { column: 'name', before: 'Dimmer 2', after: 'Dimmer two' },
      { column: 'notes', before: '', after: 'loose plug' },
    ]);
    assert.deepEqual(
      p.change.put.map((r) => r.id),
      ['unit:d2'],
    );
  });
  test('puts a unit on another profile, with the mode that is named', () => {
    const p = planText(show, 'No.,Profile,Mode\n1,Fernlight Plumlet RGB,7 channel');
    assert.deepEqual(faultsOf(p), []);
    assert.equal(getRecord(applyChange(show, p.change), 'unit', 'unit:d1')?.profileId, 'profile:fernlight-plumlet');
  });
  test('a name that two units have needs the number', () => {
    const two = showWith(...units(dimmers(1)[0]!, { ...dimmers(1)[0]!, slug: 'e', address: 9 }));
    assert.deepEqual(faultsOf(planText(two, 'Name,Notes\nDimmer 1,x')), ['2 Name NAME_NOT_CLEAR Dimmer 1']);
  });
  test('empty cells say nothing, unless they are to take away', () => {
    const full = applyChange(show, planText(show, 'No.,Area,Notes\n1,Attic,loose').change);
    const text = 'No.,Area,Notes\n1,,';
    assert.deepEqual(planText(full, text).counts, { add: 0, change: 0, same: 1, refused: 0 });
    assert.deepEqual(
      planText(full, text, { clearEmpty: true }).rows[0]!.changes.map((c) => [c.column, c.after]),
      [
        ['area', ''],
        ['notes', ''],
      ],
    );
  });
  test('a profile chosen for an unknown name is used for every row that has it', () => {
    const chosen: ProfileRecord = LIBRARY.find((p) => p.id === 'profile:generic-dimmer')!;
    const text = 'No.,Name,Profile\n11,A,Old lamp\n12,B,Old lamp';
    const without = planText(show, text);
    assert.deepEqual(
      without.rows.map((r) => r.unknownProfile),
      ['Old lamp', 'Old lamp'],
    );
    const p = planText(show, text, { choices: new Map([['Old lamp', chosen]]) });
    assert.deepEqual(p.counts, { add: 2, change: 0, same: 0, refused: 0 });
  });
  test('numbers for rows without one are not those the file gives further down', () => {
    const p = planText(show, 'No.,Name,Profile\n,New,Generic Dimmer\n5,Five,Generic Dimmer');
    assert.deepEqual(
      p.rows.map((r) => r.number),
      ['6', '5'],
    );
  });
});

describe('what goes out comes back', () => {
  const rich = (): Document => {
    const show = make('show', {
      id: 'show:test',
      name: 'Test',
      tags: [{ key: 'warm', name: 'Warm', colour: '#ffb347', shape: 'disc' }],
    });
    const area = make('area', { id: 'area:a', number: 1, name: 'Floor, north' });
    const list = units(
      {
        slug: 'a',
        profile: 'quillon-stave16',
        mode: '50ch',
        universe: 3,
        address: 10,
        fields: {
          name: '=1+1',
          areaId: 'area:a',
          tag: 'warm',
          notes: '"quoted"\nand more',
          expectedEnd: { universe: 3, address: 60 },
        },
      },
      {
        slug: 'b',
        profile: 'quillon-stave16',
        mode: '50ch',
        address: null,
        fields: { name: "'=x", relation: { after: 'unit:a', gap: 3 } },
      },
      {
        slug: 'c',
        profile: 'generic-dimmer',
        mode: '1ch',
        universe: 3,
        address: 400,
        fields: {
          name: '-5',
          position: { x: -2.25, y: 0.1, z: 4 },
          walk: { state: 'skipped', by: 'Jo', at: 5, place: null, reason: 'no ladder' },
        },
      },
      {
        slug: 'd',
        profile: 'generic-dimmer',
        mode: '1ch',
        address: null,
        fields: { name: '@cmd', relation: { twinOf: 'unit:c' } },
      },
      { slug: 'e', profile: 'generic-dimmer', mode: '1ch', address: null, fields: { name: 'nowhere' } },
    );
    const line = make('line', { id: 'line:l', number: 1, name: 'Run', port: 'B', unitIds: ['unit:c', 'unit:a'] });
    const group = make('group', { id: 'group:g', number: 1, name: 'Odd ones', unitIds: ['unit:a', 'unit:c'] });
    return documentOf([show, ...LIBRARY, area, ...list, line, group]);
  };
  test('a whole show as CSV changes nothing when it is read again', () => {
    const document = rich();
    const p = plan(document, readCsv(exportCsv(document)).grid!);
    assert.deepEqual(faultsOf(p), []);
    assert.deepEqual(
      p.rows.filter((r) => r.does !== 'same').map((r) => [r.name, r.changes]),
      [],
    );
    assert.deepEqual(p.change.put, []);
  });
  test('and no cell of it is a formula', () => {
    const text = new TextDecoder().decode(exportCsv(rich()));
    for (const row of parseCsv(text, undefined).grid!.rows) assert.ok(row.cells.length > 10);
    assert.doesNotMatch(text, /(^|,|\n)"?[=@]/);
  });
  test('one changed number in a column moves the unit, whatever the others say', () => {
    const document = rich();
    const text = new TextDecoder().decode(exportCsv(document)).replace(',3,10,1034,', ',3,12,1034,');
    const p = planText(document, text);
    assert.deepEqual(faultsOf(p), []);
    assert.deepEqual(getRecord(applyChange(document, p.change), 'unit', 'unit:a')?.patch, { universe: 3, address: 12 });
  });
});

test('whatever a file holds, a plan comes out, and what it changes is sound', () => {
  const show = showWith(...units(...dimmers(5)));
  const heading = fc.constantFrom(
    'No.',
    'Name',
    'Profile',
    'Mode',
    'Universe',
    'Slot',
    'Address',
    'Absolute',
    'End',
    'Line',
    'Place',
    'Port',
    'Groups',
    'Area',
    'Tag',
    'Done',
    'Follows',
    'X m',
    'Notes',
    'Maker',
    '',
    '??',
  );
  const cell = fc.oneof(
    fc.constantFrom(
      '',
      '1',
      '2',
      '0',
      '-1',
      '3.145',
      'after 2',
      'twin of 3',
      'after 1 +9',
      'Generic Dimmer',
      'Stave 16',
      '50ch',
      'yes',
      'no',
      '1e9',
      '64000',
      'skipped: x',
      '=1',
      'NaN',
    ),
    fc.string({ maxLength: 12 }),
    fc.string({ unit: 'binary', maxLength: 6 }),
  );
  fc.assert(
    fc.property(
      fc.array(heading, { minLength: 1, maxLength: 8 }),
      fc.array(fc.array(cell, { maxLength: 9 }), { maxLength: 12 }),
      (titles, rows) => {
        const grid: Grid = { rows: [titles, ...rows].map((cells, i) => ({ line: i + 1, cells })), merges: [] };
        const p = plan(show, grid);
        assert.equal(p.rows.filter((r) => r.does === 'refused').length, p.counts.refused);
        for (const row of p.rows) {
          assert.equal(row.does === 'refused', row.faults.length > 0);
          for (const f of row.faults)
            assert.ok(f.code !== '' && f.remedy !== '' && f.value.length < 200 && f.row === row.row);
        }
        // Circles between rows are for the rules to refuse; nothing else may be wrong with it.
        assert.deepEqual(
          changeFaults(show, p.change).filter((f) => f.code !== 'RELATION_CIRCLE'),
          [],
        );
      },
    ),
    { numRuns: 400 },
  );
});
