import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { PIXELS, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { standinAddresses } from '../../addresses.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { millpondWalk } from '../../db/seed/millpond.ts';
import { applyChange, documentOf } from '../document/change.ts';
import { builtInProfiles } from '../profile/library.ts';
import { propSchema } from '../records/prop.ts';
import { lyingOn, overlapsOf } from './overlap.ts';

const at = (x: number, y: number, z = 3) => ({ position: { x, y, z } });
const par = (slug: string, x: number, y: number, z = 3): UnitRow => ({
  slug,
  profile: 'generic-rgb',
  mode: '3ch',
  address: 1,
  fields: at(x, y, z),
});
const line = (slug: string, x: number, y: number, turnDeg = 0): UnitRow => ({
  slug,
  profile: 'px',
  mode: 'px',
  address: null,
  fields: {
    ...at(x, y, 1),
    rotation: { x: 0, y: 0, z: turnDeg },
    prop: propSchema.parse({ shape: { shape: 'line', count: 50, widthM: 5 } }),
  },
});
const found = (...rows: UnitRow[]): string[] =>
  [...overlapsOf(showWith(PIXELS, ...units(...rows)))]
    .map(([id, list]) => `${id}: ${list.map((u) => u.id).join()}`)
    .sort();

describe('what lies on what', () => {
  test('in the same place they do, beside, above or before one another they do not', () => {
    assert.deepEqual(found(par('a', 0, 0), par('b', 0.02, 0)), ['unit:a: unit:b', 'unit:b: unit:a']);
    for (const other of [par('b', 1, 0), par('b', 0, 1), par('b', 0, 0, 4)])
      assert.deepEqual(found(par('a', 0, 0), other), []);
  });
  test('thousands in one place all have their mark, and each names a few', () => {
    const rows = Array.from({ length: 3000 }, (_, i) => par(`u${i}`, 0, 0));
    const all = overlapsOf(showWith(...units(...rows)));
    assert.equal(all.size, 3000);
    for (const list of all.values()) assert.ok(list.length <= 8);
  });
  test('long things that cross or run side by side do not lie on each other; one laid along another does', () => {
    assert.deepEqual(found(line('a', 0, 0), line('b', 0, 0, 90)), []);
    assert.deepEqual(found(line('a', 0, 0, 45), line('b', 1, 0, 45)), []);
    assert.equal(found(line('a', 0, 0), line('b', 1, 0)).length, 2);
  });
  test('the demo shows hang free; a kite put on another is found, both ways', () => {
    const addresses = standinAddresses('/tests');
    for (const make of [copperlineRink, millpondWalk])
      assert.deepEqual([...overlapsOf(documentOf(make(builtInProfiles(), addresses)))], []);
    const show = documentOf(millpondWalk(builtInProfiles(), addresses));
    const [one, two] = ['unit:kite1', 'unit:kite2'].map((id) => show.get(id as never));
    assert.ok(one?.kind === 'unit' && two?.kind === 'unit');
    const moved = applyChange(show, { put: [{ ...two, position: one.position }], remove: [] });
    assert.deepEqual([...overlapsOf(moved).keys()].sort(), ['unit:kite1', 'unit:kite2']);
    // Asked of one unit alone it is the same.
    for (const record of moved.values())
      if (record.kind === 'unit') assert.deepEqual(lyingOn(moved, record.id), overlapsOf(moved).get(record.id) ?? []);
  });
});
