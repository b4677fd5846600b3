import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { scene, showWith, slotsAt, units, type UnitRow } from '../../../tests/support/rig.ts';
import { applyChange, getRecord, reverseOf, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import { removalOf } from '../rules/removal.ts';
import { make, type UnitRecord } from '../records/index.ts';
import { patchFaults } from './faults.ts';
import { patchedUnit, patchOf, placeOf } from './of-document.ts';

const dimmer = (slug: string, address: number | null, fields: UnitRow['fields'] = {}): UnitRow => ({
  slug,
  profile: 'generic-dimmer',
  mode: '1ch',
  address,
  fields,
});
const bar = (slug: string, address: number | null, fields: UnitRow['fields'] = {}): UnitRow => ({
  slug,
  profile: 'quillon-stave16',
  mode: '50ch',
  address,
  fields,
});
const at = (document: Document, slug: string): string => {
  const place = placeOf(patchOf(document).get(`unit:${slug}`));
  return place ? `${place.universe}.${place.address}` : 'nowhere';
};
const unitOf = (document: Document, slug: string): UnitRecord => getRecord(document, 'unit', `unit:${slug}`)!;
const withUnit = (document: Document, slug: string, fields: Partial<UnitRecord>): Document =>
  applyChange(document, { put: [{ ...unitOf(document, slug), ...fields }], remove: [] });

describe('a unit chained after another', () => {
  const show = showWith(
    ...units(
      bar('a', 10),
      bar('b', null, { relation: { after: 'unit:a', gap: 0 } }),
      bar('c', null, { relation: { after: 'unit:b', gap: 5 } }),
    ),
  );

  test('starts in the slot after its last, with the gap', () => {
    assert.deepEqual(
      ['a', 'b', 'c'].map((s) => at(show, s)),
      ['1.10', '1.60', '1.115'],
    );
  });
  test('follows when that one moves', () => {
    const moved = withUnit(show, 'a', { patch: { universe: 3, address: 1 } as never });
    assert.deepEqual(
      ['a', 'b', 'c'].map((s) => at(moved, s)),
      ['3.1', '3.51', '3.106'],
    );
  });
  test('follows when that one changes its size', () => {
    const modes = getRecord(show, 'profile', 'profile:quillon-stave16')!.modes;
    const other = modes.find((m) => m.key !== '50ch')!;
    const changed = withUnit(show, 'a', { mode: other.key });
    const size = patchOf(changed)
      .get('unit:a')!
      .spans.reduce((n, s) => n + s.to - s.from + 1, 0);
    assert.notEqual(size, 50);
    assert.equal(at(changed, 'b'), `1.${10 + size}`);
  });
  test('goes to the next universe where the rest of this one does not take it whole', () => {
    const high = withUnit(show, 'a', { patch: { universe: 1, address: 440 } as never });
    assert.deepEqual(
      ['b', 'c'].map((s) => at(high, s)),
      ['2.1', '2.56'],
    );
  });
  test('is nowhere while the one before is nowhere', () => {
    const none = withUnit(show, 'a', { patch: null });
    assert.deepEqual(
      ['b', 'c'].map((s) => at(none, s)),
      ['nowhere', 'nowhere'],
    );
    assert.equal(patchFaults(none).filter((c) => c.code === 'NO_ADDRESS').length, 3);
  });
  test('may be at the end of a very long chain', () => {
    const rows = Array.from({ length: 12_000 }, (_, i) =>
      dimmer(`u${i}`, i === 0 ? 1 : null, i === 0 ? {} : { relation: { after: `unit:u${i - 1}`, gap: 0 } }),
    );
    const long = showWith(...units(...rows.reverse()));
    assert.equal(at(long, 'u11999'), `${Math.floor(11_999 / 512) + 1}.${(11_999 % 512) + 1}`);
  });
  test('cannot follow itself, near or far', () => {
    const change = { put: [{ ...unitOf(show, 'a'), relation: { after: 'unit:c' as const, gap: 0 } }], remove: [] };
    const [fault] = changeFaults(show, change);
    assert.deepEqual([fault?.code, fault?.path], ['RELATION_CIRCLE', 'unit:a.relation']);
    // Were it there all the same, nothing hangs.
    assert.equal(at(applyChange(show, change), 'b'), 'nowhere');
  });
  test('keeps its address when the one before it goes, and one undo brings the chain back', () => {
    const change = removalOf(show, ['unit:a']);
    assert.deepEqual(changeFaults(show, change), []);
    const after = applyChange(show, change);
    assert.deepEqual(
      ['b', 'c'].map((s) => at(after, s)),
      ['1.60', '1.115'],
    );
    assert.equal(unitOf(after, 'b').relation, null);
    const back = applyChange(after, reverseOf(show, change));
    assert.deepEqual(unitOf(back, 'b').relation, { after: 'unit:a', gap: 0 });
  });
  test('is found also when it is not in the document yet', () => {
    const fresh = { ...unitOf(show, 'c'), id: 'unit:new' as const, relation: { after: 'unit:c' as const, gap: 0 } };
    assert.deepEqual(placeOf(patchedUnit(show, fresh)), { universe: 1, address: 165 });
  });
});

describe('twins', () => {
  const rows = [dimmer('a', 7), dimmer('b', null, { relation: { twinOf: 'unit:a' } }), dimmer('c', 7)];
  const show = showWith(...units(...rows));
  const overlaps = (document: Document): string[] =>
    patchFaults(document).flatMap((c) => (c.code === 'OVERLAP' ? [`${c.unitId} ${c.otherId}`] : []));

  test('share an address without clashing; a stranger there clashes with both', () => {
    assert.equal(at(show, 'b'), '1.7');
    assert.deepEqual(overlaps(show).sort(), ['unit:a unit:c', 'unit:b unit:c', 'unit:c unit:a', 'unit:c unit:b']);
  });
  test('move as one', () => {
    const moved = withUnit(show, 'a', { patch: { universe: 2, address: 30 } as never });
    assert.deepEqual([at(moved, 'a'), at(moved, 'b')], ['2.30', '2.30']);
    assert.deepEqual(overlaps(moved), []);
  });
  test('do what is programmed for either, on the same slots', () => {
    const pair = showWith(
      ...units(rows[0]!, rows[1]!),
      scene('s', { a: { Dimmer: 1 } }),
      scene('t', { b: { Dimmer: 0.5 } }),
    );
    assert.equal(slotsAt(pair, { play: ['scene:s'], at: 1000 })[6], 255);
    assert.equal(slotsAt(pair, { play: ['scene:t'], at: 1000 })[6], 128);
  });
  test('that are not alike are told, and then their overlap is one', () => {
    const odd = withUnit(showWith(...units(rows[0]!, rows[1]!)), 'b', {
      profileId: 'profile:quillon-stave16',
      mode: '50ch',
    });
    assert.deepEqual(
      patchFaults(odd)
        .filter((c) => c.code === 'TWIN_DIFFERS')
        .map((c) => c.message),
      ['is a twin of 1 Unit a, which has another profile or mode'],
    );
  });
});

describe('what else is wrong with a patch', () => {
  const output = (slug: string, fields: object = {}) =>
    make('output', { id: `output:${slug}`, name: slug, protocol: 'sacn', destinations: ['10.0.0.5'], ...fields });
  const route = (slug: string, universe: number, to: string, wireUniverse: number) =>
    make('route', { id: `route:${slug}`, universe, outputId: `output:${to}`, wireUniverse });
  const said = (document: Document): string[] =>
    patchFaults(document).map((c) => `${c.unitId.slice(5)} ${c.code}: ${c.message}`);

  test('an end that was expected elsewhere, in slots and cells', () => {
    const rows = units(
      bar('a', 10, { expectedEnd: { universe: 1, address: 56 } }),
      bar('b', 100, { expectedEnd: { universe: 1, address: 149 } }),
    );
    const rest = [output('o'), route('r', 1, 'o', 1)];
    assert.deepEqual(said(showWith(...rows, ...rest)), [
      'a EXPECTED_END: ends at 1.59, expected 1.56: 3 slots too far (1 cell)',
    ]);
  });
  test('a universe that goes nowhere', () => {
    const show = showWith(
      ...units(dimmer('a', 1), { ...dimmer('b', 1), universe: 2 }),
      output('o'),
      route('r', 1, 'o', 1),
    );
    assert.deepEqual(said(show), ['b NO_ROUTE: universe 2 goes out through no output']);
  });
  test('two universes under one number on the same wire, but not a spare of lower priority', () => {
    const rows = units(dimmer('a', 1), { ...dimmer('b', 1), universe: 2 });
    const routes = [route('r', 1, 'o', 9), route('s', 2, 'p', 9)];
    assert.deepEqual(said(showWith(...rows, output('o'), output('p'), ...routes)), [
      'a WIRE_TWICE: universes 1 and 2 both go out as sACN universe 9',
      'b WIRE_TWICE: universes 2 and 1 both go out as sACN universe 9',
    ]);
    assert.deepEqual(said(showWith(...rows, output('o'), output('p', { priority: 50 }), ...routes)), []);
    assert.deepEqual(said(showWith(...rows, output('o'), output('p', { destinations: ['10.0.0.6'] }), ...routes)), []);
    assert.deepEqual(said(showWith(...rows, output('o'), output('p', { protocol: 'artnet' }), ...routes)), []);
  });
  test('a port with more pixels than it drives', () => {
    const line = make('line', {
      id: 'line:l',
      number: 1,
      name: 'Snack bar',
      port: '2',
      pixelLimit: 30,
      unitIds: ['unit:a', 'unit:b'],
    });
    const show = showWith(...units(bar('a', 1), bar('b', 60)), line, output('o'), route('r', 1, 'o', 1));
    assert.deepEqual(said(show), [
      'b PORT_LIMIT: Snack bar, port 2, drives 30 pixels; with this unit it has 32, 2 too many',
    ]);
  });
});

describe('rules', () => {
  const line = (slug: string, ...unitIds: string[]) =>
    make('line', { id: `line:${slug}`, number: 1, name: slug, unitIds: unitIds.map((u) => `unit:${u}` as const) });
  test('a unit hangs on one line', () => {
    const show = showWith(...units(dimmer('a', 1), dimmer('b', 2)), line('x', 'a', 'b'));
    const faults = changeFaults(show, { put: [line('y', 'b')], remove: [] });
    assert.deepEqual(
      faults.map((f) => [f.code, f.path]),
      [['ON_TWO_LINES', 'line:y.unitIds']],
    );
    assert.deepEqual(changeFaults(show, { put: [line('y', 'b'), line('x', 'a')], remove: [] }), []);
  });
  test('an area does not lie in itself', () => {
    const area = (slug: string, parent: string | null) =>
      make('area', { id: `area:${slug}`, number: 1, name: slug, parentId: parent ? `area:${parent}` : null });
    const show = showWith(area('a', null), area('b', 'a'));
    assert.deepEqual(
      changeFaults(show, { put: [area('a', 'b')], remove: [] }).map((f) => f.code),
      ['AREA_IN_ITSELF'],
    );
  });
  test('what goes takes its mentions along: areas, lines, rules', () => {
    const area = make('area', { id: 'area:a', number: 1, name: 'Floor' });
    const group = make('group', {
      id: 'group:g',
      number: 1,
      name: 'Floor units',
      unitIds: [],
      rule: { areaId: 'area:a' },
    });
    const show = showWith(
      area,
      ...units(dimmer('a', 1, { areaId: 'area:a' }), dimmer('b', 2)),
      group,
      line('x', 'a', 'b'),
    );
    const change = removalOf(show, ['area:a', 'unit:b']);
    assert.deepEqual(changeFaults(show, change), []);
    const after = applyChange(show, change);
    assert.equal(unitOf(after, 'a').areaId, null);
    assert.deepEqual(getRecord(after, 'line', 'line:x')?.unitIds, ['unit:a']);
    // The rule is gone with its area; who was in stays in.
    const left = getRecord(after, 'group', 'group:g')!;
    assert.deepEqual([left.rule, left.unitIds], [null, ['unit:a']]);
  });
});
