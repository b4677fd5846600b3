import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { documentOf, recordsOf, applyChange } from '../document/change.ts';
import { parseCsv } from '../format/csv.ts';
import { makeId } from '../ids.ts';
import { builtInProfiles } from '../profile/library.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import { findHeadings, matchByValues, untaken } from './match.ts';
import { planImport } from './plan.ts';
import { ProfileFinder } from './profiles.ts';

/** Sheets as other people write them: what their columns are is told from what stands in them. */
const finder = new ProfileFinder(builtInProfiles());
const empty = documentOf([make('show', { id: 'show:test', name: 'Test' })]);
const random = seeded(3);

function read(...lines: string[]) {
  const { grid } = parseCsv(lines.join('\n'));
  const headings = matchByValues(findHeadings(grid!), grid!, finder);
  const plan = planImport(empty, grid!, {
    mapping: headings.mapping,
    titles: headings.titles,
    headingRow: headings.row,
    finder,
    newId: (kind) => makeId(kind, random),
    by: '',
    now: 0,
  });
  const units = recordsOf(applyChange(empty, plan.change), 'unit');
  return {
    mapping: headings.mapping,
    untaken: untaken(headings, grid!).map((c) => c.title),
    faults: plan.rows.flatMap((r) => r.faults.map((f) => `${f.row} ${f.column} ${f.code}`)),
    units: units.map(
      (u) =>
        `${u.number} ${u.name} ${u.patch?.universe}.${u.patch?.address} ${u.expectedEnd ? `${u.expectedEnd.universe}.${u.expectedEnd.address}` : '-'}`,
    ),
  };
}

describe('headings as builders write them', () => {
  test('Fixture is a number, a name or a profile, as its values are', () => {
    assert.deepEqual(read('Fixture,Type,Address', '1,Generic Dimmer,1.1', '2,Generic Dimmer,1.200').mapping, [
      'number',
      'profile',
      'patch',
    ]);
    assert.deepEqual(
      read('Fixture,Type,Address', 'Left wash,Plumlet RGB,1.1', 'Right wash,Plumlet RGB,1.200').mapping,
      ['name', 'profile', 'patch'],
    );
    assert.deepEqual(read('Name,Fixture,Address', 'Left,Generic Dimmer,1.1', 'Right,Generic Dimmer,1.200').mapping, [
      'name',
      'profile',
      'patch',
    ]);
    assert.deepEqual(read('Fixture,Unit,Fixture type,Address', 'Left,1,Generic Dimmer,1.200').mapping, [
      'name',
      'number',
      'profile',
      'patch',
    ]);
  });
  test('of Type and Model the one that names profiles is taken, the other is asked about', () => {
    const found = read(
      'Fixture,Type,Model,Start',
      '1,Moving head,Heron 150 Spot,1.200',
      '2,Moving head,Heron 150 Spot,1.220',
    );
    assert.deepEqual([found.mapping, found.untaken], [['number', null, 'profile', 'patch'], ['Type']]);
  });
  test('Model may be the mode where Type names the profile', () => {
    const found = read('Name,Type,Personality,DMX', 'A,Heron 150 Spot,16ch,U1/100', 'B,Heron 150 Spot,16ch,U1/120');
    assert.deepEqual([found.mapping, found.faults], [['name', 'profile', 'mode', 'patch'], []]);
    assert.deepEqual(found.units, ['1 A 1.100 -', '2 B 1.120 -']);
  });
  test('spans are address and expected end, in one column or beside a universe', () => {
    for (const lines of [
      ['Prop,Model,Address', 'Rack,Quayside Pack 4,1.1-4', 'Next,Quayside Pack 4,1.5-1.8'],
      ['Prop,Model,Universe,Channels', 'Rack,Quayside Pack 4,1,1-4', 'Next,Quayside Pack 4,1,5 to 8'],
      ['Prop,Model,Uni,Start', 'Rack,Quayside Pack 4,U1,1–4', 'Next,Quayside Pack 4,Universe 1,5–8'],
      ['Prop,Model,Channel', 'Rack,Quayside Pack 4,1-4', 'Next,Quayside Pack 4,5-8'],
    ]) {
      const found = read(...lines);
      assert.deepEqual([found.units, found.faults], [['1 Rack 1.1 1.4', '2 Next 1.5 1.8'], []], lines[0]);
    }
  });
  test('a column of channel counts stays one', () => {
    const found = read('Name,Profile,Address,Channels', 'A,Heron 150 Spot,1.200,16', 'B,Heron 150 Spot,1.216,16');
    assert.deepEqual([found.mapping.at(-1), found.faults, found.units.length], ['footprint', [], 2]);
  });
  test('a column without a heading we know is told, unless nothing stands in it', () => {
    const found = read(
      'Name,Profile,Address,Supplier,Empty',
      'A,Generic Dimmer,1.200,Acme,',
      'B,Generic Dimmer,1.210,,',
    );
    assert.deepEqual(found.untaken, ['Supplier']);
  });
});
