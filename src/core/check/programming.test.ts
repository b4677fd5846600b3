import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { chase, scene, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import type { Document } from '../document/change.ts';
import { make, type AnyRecord } from '../records/index.ts';
import { preflight } from './preflight.ts';
import { programmingFaults } from './programming.ts';

const RIG = units(
  ...[0, 1, 2, 3].map((i): UnitRow => ({ slug: `d${i}`, profile: 'generic-dimmer', mode: '1ch', address: i + 1 })),
);
const all = RIG.map((u) => u.id as `unit:${string}`);
const effect = (fields: object): AnyRecord =>
  make('effect', {
    id: 'effect:e',
    number: 1,
    name: 'E',
    on: all,
    parts: [{ does: 'level', wave: 'square' }],
    ...fields,
  });
const found = (document: Document): [string, boolean][] => programmingFaults(document).map((f) => [f.code, f.severe]);
const show = (...records: AnyRecord[]): Document => showWith(...RIG, ...records);

describe('programming that will not be as it was meant', () => {
  const cases: [name: string, record: AnyRecord, expected: string[]][] = [
    ['an effect of three flashes a second', effect({ rate: 3 }), []],
    ['of four', effect({ rate: 4 }), ['FLASHES']],
    ['of four, on a quarter of the units', effect({ rate: 4, on: all.slice(0, 1) }), []],
    ['by the tempo: two turns a beat at 120', effect({ rate: 2, beats: true }), ['FLASHES']],
    [
      'of parts that go faster than the effect',
      effect({ rate: 1, parts: [{ does: 'level', wave: 'pulse', times: 5 }] }),
      ['FLASHES'],
    ],
    ['a hue that turns fast', effect({ rate: 9, parts: [{ does: 'colour', way: 'hue' }] }), []],
    ['on nobody', effect({ on: [] }), ['PLAYS_ON_NOBODY']],
    ['a chase without steps', chase('c', []), ['NO_STEPS']],
  ];
  for (const [name, record, expected] of cases)
    test(name, () =>
      assert.deepEqual(
        found(show(record)).map(([code]) => code),
        expected,
      ),
    );
  test('a chase that changes every 0.1 s', () => {
    const on = Object.fromEntries(['d0', 'd1', 'd2'].map((d) => [d, { Dimmer: 1 }]));
    const off = Object.fromEntries(['d0', 'd1', 'd2'].map((d) => [d, { Dimmer: 0 }]));
    const steps = [scene('on', on), scene('off', off)];
    assert.deepEqual(found(show(...steps, chase('c', ['on', 'off'], { fade: 0, hold: 0.1 }))), [['FLASHES', false]]);
    assert.deepEqual(found(show(...steps, chase('c', ['on', 'off'], { fade: 0, hold: 0.5 }))), []);
  });
  test('where the limit is lifted it is severe', () => {
    const document = new Map(show(effect({ rate: 8 })));
    const record = document.get('show:test')!;
    assert.ok(record.kind === 'show');
    document.set('show:test', { ...record, safety: { ...record.safety, limitFlashes: false } });
    assert.deepEqual(found(document), [['FLASHES', true]]);
  });
  test('a palette that says nothing for a unit', () => {
    const palette = make('palette', {
      id: 'palette:p',
      number: 1,
      name: 'P',
      family: 'colour',
      all: { ColorRGB_Red: 1 },
    });
    const refers = scene('s', { d0: { Dimmer: { palette: 'palette:p' } } });
    const faults = programmingFaults(show(palette, refers));
    assert.deepEqual(
      faults.map((f) => [f.code, f.playableId, f.unitIds]),
      [['SILENT_PALETTE', 'scene:s', ['unit:d0']]],
    );
  });
  test('all of it is in the pre-flight, with where to go', () => {
    const finding = preflight(show(effect({ rate: 8 }))).find((f) => f.code === 'FLASHES')!;
    assert.deepEqual([finding.step, finding.playableId], ['scenes', 'effect:e']);
  });
});
