import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { chase, scene, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { run, SAFETY } from '../../../tests/support/flash-rig.ts';
import type { Document } from '../document/change.ts';
import type { UnitValues } from '../records/scene.ts';
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
    ['colours on what has none', effect({ rate: 9, parts: [{ does: 'colour', way: 'hue' }] }), []],
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
  const RGB = units(
    ...[0, 1, 2, 3].map((i): UnitRow => ({
      slug: `c${i}`,
      profile: 'fernlight-plumlet',
      mode: '3ch',
      address: 100 + i * 3,
    })),
  );
  const coloured = RGB.map((u) => u.id as `unit:${string}`);
  const walk = (rate: number, on: readonly string[], ...colours: string[]): AnyRecord =>
    effect({ rate, on: [...on], light: 1, parts: [{ does: 'colour', way: 'walk', size: 0, colours }] });
  const ofPixels = (on: readonly string[], rate: number, pattern: string): AnyRecord =>
    effect({ rate, on: [...on], parts: [{ does: 'pixels', pattern, colours: ['#ffffff'] }] });
  for (const [name, record] of [
    ['a hue, one turn a second', effect({ rate: 1, on: coloured, light: 1, parts: [{ does: 'colour', way: 'hue' }] })],
    ['a hue, nine', effect({ rate: 9, on: coloured, light: 1, parts: [{ does: 'colour', way: 'hue' }] })],
    ['red and blue, two turns', walk(2, coloured, '#ff0000', '#0000ff')],
    ['red and blue, eight', walk(8, coloured, '#ff0000', '#0000ff')],
    ['eight of amber and blue', walk(8, coloured, '#ffb000', '#0000ff')],
    ['eight on one of four', walk(8, coloured.slice(0, 1), '#ff0000', '#0000ff')],
    ['eight of nearly the same', walk(8, coloured, '#ffffff', '#f8f8f8')],
    ['bars that race', ofPixels(coloured, 6, 'bars')],
    ['bars that go', ofPixels(coloured, 0.5, 'bars')],
    ['snow', ofPixels(coloured, 1, 'snow')],
    ['a comet that races', ofPixels(coloured, 7, 'comet')],
    ['fire', ofPixels(coloured, 0.7, 'fire')],
  ] as const)
    test(`${name}: said exactly when the guard holds it`, () => {
      const document = showWith(...RGB, record);
      const said = programmingFaults(document).some((f) => f.code === 'FLASHES');
      assert.equal(said, run(document, 'effect:e', 5, SAFETY).held);
    });
  test('a chase of colours alone, 16 steps a second', () => {
    const all = (own: UnitValues): Record<string, UnitValues> =>
      Object.fromEntries(RGB.map((u) => [u.id.slice(5), own]));
    const amber = scene('a', all({ ColorRGB_Red: 1, ColorRGB_Green: 0.4, ColorRGB_Blue: 0 }));
    const blue = scene('b', all({ ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 1 }), { number: 2 });
    const steps = Array.from({ length: 500 }, (_, i) => (i % 2 ? 'b' : 'a'));
    const document = (hold: number): Document => showWith(...RGB, amber, blue, chase('c', steps, { fade: 0, hold }));
    assert.deepEqual(found(document(1 / 16)), [['FLASHES', false]]);
    assert.deepEqual(found(document(0.3)), []);
  });
  test('only some steps of a long chase are too fast', () => {
    const on = scene('on', { d0: { Dimmer: 1 }, d1: { Dimmer: 1 }, d2: { Dimmer: 1 } });
    const off = scene('off', { d0: { Dimmer: 0 }, d1: { Dimmer: 0 }, d2: { Dimmer: 0 } }, { number: 2 });
    const steps = Array.from({ length: 60 }, (_, i) => ({
      sceneId: i % 2 ? ('scene:on' as const) : ('scene:off' as const),
      hold: i > 30 && i < 48 ? 0.05 : 1,
    }));
    assert.deepEqual(found(show(on, off, chase('c', [], { steps, fade: 0 }))), [['FLASHES', false]]);
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
