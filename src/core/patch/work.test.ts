import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { profileBySlug, scene, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { preflight } from '../check/preflight.ts';
import { applyChange, getRecord, recordsOf, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import type { UnitId } from '../ids.ts';
import { make, type GroupRecord } from '../records/index.ts';
import { fromDipSwitches } from './address.ts';
import { duplicateUnits, nextName } from '../edits/duplicate.ts';
import { fromAbsoluteAcross, parseAddressEntry, relationText } from './entry.ts';
import { groupLetters, membersOf } from './groups.ts';
import { patchOf, placeOf } from './of-document.ts';
import { renameUnits, renumberUnits } from './rename.ts';
import { replaceUnits } from './replace.ts';
import { bitOfSwitch, settingOf, settingWords, switchWords } from './setting.ts';

const row = (
  slug: string,
  address: number | null,
  fields: UnitRow['fields'] = {},
  profile = 'generic-dimmer',
  mode = '1ch',
): UnitRow => ({
  slug,
  profile,
  mode,
  address,
  fields: { name: slug, ...fields },
});
const id = (slug: string): UnitId => `unit:${slug}`;
const at = (document: Document, unit: UnitId): string => {
  const place = placeOf(patchOf(document).get(unit));
  return place ? `${place.universe}.${place.address}` : 'nowhere';
};
const plain = { addressFromZero: false, dipSwitches: true } as const;

describe('what to set on a unit', () => {
  test('switches stand for the address both ways, from 0 to 511, whatever their order and count', () => {
    for (const addressFromZero of [false, true])
      for (const highFirst of [false, true])
        for (let value = 0; value < 512; value++) {
          const address = addressFromZero ? value + 1 : value;
          if (address < 1) continue;
          const { switches, menu } = settingOf({ ...plain, addressFromZero, dip: { highFirst } }, address);
          assert.equal(menu, value);
          assert.equal(
            switches.reduce((sum, s) => sum + (s.on ? s.worth : 0), 0),
            value,
          );
          const bits = switches.filter((s) => s.on).map((s) => bitOfSwitch(s.number, highFirst));
          assert.equal(fromDipSwitches(bits, addressFromZero), address);
        }
  });
  test('217 is switches 1 4 5 7 8, and mirrored where the first is worth most', () => {
    assert.equal(switchWords(settingOf(plain, 217)), '1 4 5 7 8');
    assert.equal(switchWords(settingOf({ ...plain, dip: { highFirst: true } }, 217)), '2 3 5 6 9');
    assert.equal(switchWords(settingOf({ ...plain, addressFromZero: true }, 1)), 'none');
  });
  test('the mode switch stands where the profile says', () => {
    const { switches } = settingOf({ ...plain, dip: { highFirst: false, modeSwitch: { number: 10, on: true } } }, 1);
    assert.deepEqual(switches.at(-1), { number: 10, on: true, role: 'mode', worth: 0 });
    assert.equal(
      settingWords(settingOf({ ...plain, dip: { highFirst: false, modeSwitch: { number: 10, on: true } } }, 1)),
      'switches 1 10 on',
    );
  });
  test('unit numbers in both bases, and what begins at none', () => {
    const dimmers = { ...plain, unitNumber: { circuits: 24, base: 16 as const } };
    assert.deepEqual(settingOf(dimmers, 217).unitNumber, { value: 10, decimal: '10', hex: '0A' });
    assert.equal(settingWords(settingOf(dimmers, 217)), 'unit number 10 (hex 0A)');
    assert.equal(settingOf(dimmers, 218).unitNumber, null);
    assert.match(settingWords(settingOf(dimmers, 218)), /no unit number begins at 218/);
    assert.equal(settingWords(settingOf(undefined, 33)), 'address 33');
  });
});

describe('what can be written as an address', () => {
  const show = showWith(
    ...units(
      row('one', 10),
      row('two', 20),
      row('two', 30, { name: 'two' }),
      row('pix', 40, {}, 'quillon-stave16', '50ch'),
    ),
  );
  const records = new Map(show);
  records.set('unit:second', { ...getRecord(show, 'unit', 'unit:two')!, id: 'unit:second', number: 9 });
  const slotsOf = (universe: number): 510 | 512 => (universe === 3 ? 510 : 512);
  const read = (text: string, self = 'unit:one') => {
    const result = parseAddressEntry(text, records, slotsOf, getRecord(records, 'unit', self));
    return result.ok ? result.value : result.fault.code;
  };
  test('nothing, places, absolute channels, what it follows', () => {
    assert.deepEqual(read(' '), { kind: 'none' });
    assert.deepEqual(read('3/145'), { kind: 'place', place: { universe: 3, address: 145 } });
    assert.deepEqual(read('513'), { kind: 'place', place: { universe: 2, address: 1 } });
    assert.deepEqual(read('after 4'), { kind: 'relation', relation: { after: 'unit:pix', gap: 0 } });
    assert.deepEqual(read('AFTER pix + 12'), { kind: 'relation', relation: { after: 'unit:pix', gap: 12 } });
    assert.deepEqual(read('twin of 9'), { kind: 'relation', relation: { twinOf: 'unit:second' } });
  });
  test('what cannot be', () => {
    assert.equal(read('3.511'), 'ADDRESS_RANGE');
    assert.equal(read('after 77'), 'NO_SUCH_UNIT');
    assert.equal(read('after two'), 'UNIT_NOT_CLEAR');
    assert.equal(read('after 1'), 'RELATION_CIRCLE');
    assert.equal(read('after 4 +600'), 'GAP_RANGE');
    assert.equal(read('twin of 4'), 'TWIN_DIFFERS');
    assert.equal(read('somewhere'), 'ADDRESS_UNREADABLE');
  });
  test('a relation reads back as it was written', () => {
    for (const text of ['after 4', 'after 4 +12', 'twin of 9']) {
      const entry = read(text);
      assert.ok(typeof entry === 'object' && entry.kind === 'relation');
      assert.equal(
        relationText(records, { ...getRecord(records, 'unit', 'unit:one')!, relation: entry.relation }),
        text,
      );
    }
  });
  test('absolute channels lead to where they are counted from, with 510 and 512', () => {
    for (const slots of [510, 512] as const)
      fc.assert(
        fc.property(fc.integer({ min: 1, max: 63_999 }), fc.integer({ min: 1, max: slots }), (universe, address) => {
          assert.deepEqual(
            fromAbsoluteAcross((universe - 1) * slots + address, () => slots),
            { universe, address },
          );
        }),
      );
  });
});

describe('names and numbers', () => {
  const area = make('area', { id: 'area:n', number: 1, name: 'North' });
  const show = showWith(
    area,
    ...units(
      row('a', 1, { areaId: 'area:n', number: 12 }),
      row('b', 2, { number: 13 }),
      row('c', 3, { number: 20 }),
      row('x', 4, { number: 102 }),
    ),
  );
  const ids = ['a', 'b', 'c'].map(id);
  test('patterns count and take what the unit has', () => {
    const names = (pattern: string, first?: number): string[] =>
      renameUnits(show, ids, pattern, first).names.map((n) => n.name);
    assert.deepEqual(names('Bar ##'), ['Bar 01', 'Bar 02', 'Bar 03']);
    assert.deepEqual(names('[area] [name] #', 9), ['North a 9', 'b 10', 'c 11']);
    assert.deepEqual(names('[model] [number] [what]'), ['Dimmer 12 [what]', 'Dimmer 13 [what]', 'Dimmer 20 [what]']);
  });
  test('a name that cannot be is told and not taken', () => {
    const { names, change } = renameUnits(show, ids, '[area]');
    assert.deepEqual(
      names.map((n) => n.fault),
      [null, 'the name would be empty', 'the name would be empty'],
    );
    assert.deepEqual(
      change.put.map((r) => r.id),
      ['unit:a'],
    );
    assert.match(renameUnits(show, ids, 'n'.repeat(101)).names[0]!.fault!, /101 characters/);
  });
  test('renumbering keeps holes or closes them', () => {
    const numbers = (holes: 'keep' | 'close', first: number) =>
      renumberUnits(show, ids, { first, holes, order: 'number' }).numbers.map((n) => n.number);
    assert.deepEqual(numbers('keep', 201), [201, 202, 209]);
    assert.deepEqual(numbers('close', 201), [201, 202, 203]);
  });
  test('renumbering tells who has a number already, and never leaves the range', () => {
    const { numbers } = renumberUnits(show, ids, { first: 101, holes: 'close', order: 'number' });
    assert.deepEqual(
      numbers.map((n) => n.clash?.name ?? null),
      [null, 'x', null],
    );
    assert.deepEqual(renumberUnits(show, ids, { first: 99_998, holes: 'close', order: 'number' }).change.put, []);
  });
  test('names count on past those there are', () => {
    const taken = new Set(['Arch 3', 'Arch 4', 'Bar 07', 'Sign']);
    assert.deepEqual(
      [nextName('Arch 3', taken), nextName('Arch 3', taken), nextName('Bar 07', taken), nextName('Sign', taken)],
      ['Arch 5', 'Arch 6', 'Bar 08', 'Sign 2'],
    );
    assert.equal(nextName('n'.repeat(100), taken).length, 100);
  });
});

describe('a copy', () => {
  let n = 0;
  const newId = (): UnitId => `unit:new${n++}`;
  const show = showWith(
    ...units(
      row('a0', 100, { name: 'Arch 1' }, 'quillon-stave16', '50ch'),
      row('a1', null, { name: 'Arch 2', relation: { after: 'unit:a0', gap: 0 } }, 'quillon-stave16', '50ch'),
    ),
  );
  test('goes on after the originals: addresses, numbers, names; the chain goes on among the copies', () => {
    const copies = duplicateUnits(show, ['unit:a0', 'unit:a1'], newId);
    const after = applyChange(show, { put: copies, remove: [] });
    assert.deepEqual(
      copies.map((u) => [u.number, u.name, at(after, u.id)]),
      [
        [3, 'Arch 3', '1.200'],
        [4, 'Arch 4', '1.250'],
      ],
    );
    assert.deepEqual(copies[1]!.relation, { after: copies[0]!.id, gap: 0 });
    assert.deepEqual(changeFaults(show, { put: copies, remove: [] }), []);
  });
  test('of a unit that follows one outside stays behind it only as a twin', () => {
    const [copy] = duplicateUnits(show, ['unit:a1'], newId);
    assert.deepEqual(copy!.relation, { after: 'unit:a0', gap: 0 });
  });
});

describe('groups', () => {
  const area = make('area', { id: 'area:n', number: 1, name: 'North' });
  const inner = make('area', { id: 'area:w', number: 2, name: 'Window', parentId: 'area:n' });
  const rows = units(
    ...[4, 1, 3, 2, 0].map((x, i) =>
      row(`u${i}`, i + 1, { position: { x, y: 0, z: 0 }, areaId: i < 3 ? 'area:w' : null, tag: i % 2 ? 'warm' : null }),
    ),
  );
  const group = (fields: Partial<Parameters<typeof make<'group'>>[1]>): GroupRecord =>
    make('group', { id: 'group:g', number: 1, name: 'G', unitIds: [], ...fields });
  const show = showWith(area, inner, ...rows);
  const members = (rule: object): string =>
    membersOf(show, group({ rule }))
      .map((m) => m.slice(6))
      .join('');
  test('by rule: area (and what lies in it), tag, profile, odd and even, every Nth, in an order', () => {
    assert.equal(members({ areaId: 'area:n' }), '012');
    assert.equal(members({ tag: 'warm' }), '13');
    assert.equal(members({ profileId: 'profile:generic-dimmer', every: 2 }), '024');
    assert.equal(members({ every: 2, from: 2 }), '13');
    assert.equal(members({ every: 3, from: 2 }), '14');
    assert.equal(members({ order: 'plot' }), '41320');
    assert.equal(members({ areaId: 'area:w', tag: 'warm' }), '1');
  });
  test('follow the show: who begins to match is in at once', () => {
    const moved = applyChange(show, {
      put: [{ ...getRecord(show, 'unit', 'unit:u4')!, areaId: 'area:n' }],
      remove: [],
    });
    assert.equal(membersOf(moved, group({ rule: { areaId: 'area:n' } })).length, 4);
  });
  test('listed by hand keep their order', () => {
    assert.deepEqual(membersOf(show, group({ unitIds: ['unit:u3', 'unit:u0'] })), ['unit:u3', 'unit:u0']);
  });
  test('the first 26 have letters', () => {
    const list = Array.from({ length: 30 }, (_, i) => ({ ...group({}), id: `group:g${i}` as const, number: 30 - i }));
    const letters = groupLetters(list);
    assert.deepEqual([letters.size, letters.get('A')?.number, letters.get('Z')?.number], [26, 1, 26]);
  });
});

describe('replacing units by another profile', () => {
  const show = showWith(
    ...units(
      row('a', 1, {}, 'fernlight-plumlet', '7ch'),
      row('b', null, { relation: { twinOf: 'unit:a' } }, 'fernlight-plumlet', '7ch'),
      row('c', 5, {}, 'generic-dimmer', '1ch'),
      row('d', null, { relation: { after: 'unit:a', gap: 0 } }),
    ),
    scene('s', { a: { Dimmer: 1, ColorRGB_Red: 1 }, b: { Dimmer: 0.5 }, c: { Dimmer: 1 } }),
  );
  const done = replaceUnits(show, ['unit:a'], profileBySlug('generic-dimmer'), '1ch');
  test('says attribute by attribute what survives, before it is done', () => {
    const fate = (attribute: string) => done.attributes.find((f) => f.attribute === attribute);
    assert.deepEqual([fate('Dimmer')?.fate, fate('Dimmer')?.values, fate('Dimmer')?.homeless], ['kept', 2, 0]);
    assert.deepEqual([fate('ColorRGB_Red')?.fate, fate('ColorRGB_Red')?.homeless], ['lost', 1]);
    assert.deepEqual([done.scenes, done.footprintBefore, done.footprintAfter], [['s'], [7], 1]);
  });
  test('takes twins along, moves what follows, keeps the programming', () => {
    assert.deepEqual(
      done.change.put.map((u) => u.id),
      ['unit:a', 'unit:b'],
    );
    assert.deepEqual(
      done.moves.map((m) => [m.unit.id, m.after?.address]),
      [['unit:d', 2]],
    );
    const after = applyChange(show, done.change);
    assert.deepEqual(changeFaults(show, done.change), []);
    assert.deepEqual(after.get('scene:s'), show.get('scene:s'));
  });
  test('tells the clashes it makes', () => {
    const larger = replaceUnits(show, ['unit:c'], profileBySlug('quillon-stave16'), '50ch');
    assert.ok(larger.clashes.some((c) => c.code === 'OVERLAP' && c.unitId === 'unit:d'));
    assert.ok(larger.attributes.some((f) => f.fate === 'new'));
  });
});

test('pre-flight lists each thing once, the worst first, with a way to go', () => {
  const show = showWith(
    ...units(row('a', 1), row('b', 1), row('c', null, { number: 1 }), { ...row('d', 9), universe: 4 }),
    scene('s', { a: { Pan: 0.5 } }),
  );
  const findings = preflight(show);
  assert.deepEqual(
    findings.map((f) => `${f.code} ${f.title} ${f.unitIds.length} ${f.step}`),
    [
      'OVERLAP 1 a 2 patch',
      'NO_ADDRESS 1 c 1 patch',
      'NUMBER_TWICE 1 c 2 patch',
      'NO_ROUTE Universe 1 2 lines',
      'NO_ROUTE Universe 4 1 lines',
      'KEPT_ASIDE s 1 scenes',
    ],
  );
  assert.ok(findings.every((f) => f.message !== '' && f.remedy !== ''));
  assert.equal(findings[0]!.severe, true);
  assert.equal(recordsOf(show, 'unit').length, 4);
});
