import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { scene, showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { applyChange, getRecord, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import { removalOf } from '../rules/removal.ts';
import { make, type PaletteRecord } from '../records/index.ts';
import { paletteSchema } from '../records/palette.ts';
import { storedPalette, usersOf } from '../show/live/store.ts';
import { hexOf } from './colour.ts';
import { paletteKeys, paletteValue } from './resolve.ts';

const RIG = units(
  { slug: 'wash', profile: 'fernlight-plumlet', mode: '3ch', address: 1 },
  { slug: 'wash2', profile: 'fernlight-plumlet', mode: '3ch', address: 4 },
  { slug: 'spot', profile: 'tansy-flitter', mode: '5ch', address: 20 },
);
const palette = (fields: Partial<Parameters<typeof make<'palette'>>[1]> = {}): PaletteRecord =>
  make('palette', {
    id: 'palette:p',
    number: 1,
    name: 'Red',
    family: 'colour',
    all: { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 },
    ...fields,
  });
const refer = {
  ColorRGB_Red: { palette: 'palette:p' },
  ColorRGB_Green: { palette: 'palette:p' },
  ColorRGB_Blue: { palette: 'palette:p' },
} as const;
const show = showWith(...RIG, palette(), scene('s', { wash: { Dimmer: 1, ...refer }, wash2: { Dimmer: 1, ...refer } }));
const sent = (document: Document): number[] => [...slotsAt(document, { play: ['scene:s'], at: 10 }).subarray(0, 6)];

describe('a palette', () => {
  test('changed once is changed in every scene', () => {
    assert.deepEqual(sent(show), [255, 0, 0, 255, 0, 0]);
    const blue = palette({ all: { ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 1 } });
    assert.deepEqual(sent(applyChange(show, { put: [blue], remove: [] })), [0, 0, 255, 0, 0, 255]);
  });
  test('says it nearest: of a unit, of its profile, of all', () => {
    const said = palette({
      profiles: { 'profile:fernlight-plumlet': { ColorRGB_Red: 0.5 } },
      units: { 'unit:wash2': { ColorRGB_Red: 0.2 } },
    });
    const ask = (id: 'unit:wash' | 'unit:wash2' | 'unit:spot', profileId: string): number | object | null =>
      paletteValue(said, { id, unitId: id, profileId, channel: null }, 'ColorRGB_Red');
    assert.deepEqual(
      [
        ask('unit:wash', 'profile:fernlight-plumlet'),
        ask('unit:wash2', 'profile:fernlight-plumlet'),
        ask('unit:spot', 'profile:other'),
      ],
      [0.5, 0.2, 1],
    );
  });
  test('a mixture reaches wheels as the nearest slot', () => {
    const keys = paletteKeys(show, palette(), 'unit:spot');
    const wheel = keys.find((k) => /^Color\d+$/.test(k));
    assert.ok(wheel, 'the scanner’s wheel is reached');
  });
  test('removed, its values are written into what used it: the look stays', () => {
    const change = removalOf(show, ['palette:p']);
    assert.deepEqual(changeFaults(show, change), []);
    const after = applyChange(show, change);
    assert.deepEqual(sent(after), sent(show));
    assert.equal(getRecord(after, 'scene', 'scene:s')!.values['unit:wash']!['ColorRGB_Red'], 1);
  });
  test('cannot be taken away while scenes refer to it, nor be referred to where there is none', () => {
    assert.equal(changeFaults(show, { put: [], remove: ['palette:p'] })[0]?.code, 'STILL_USED');
    const lost = scene('t', { wash: { Dimmer: { palette: 'palette:gone' } as never } });
    const fault = changeFaults(show, { put: [lost], remove: [] })[0]!;
    assert.deepEqual([fault.code, fault.path], ['UNKNOWN_ID', 'scene:t.values.unit:wash.Dimmer.palette']);
  });
  test('cannot lead to a palette: no circles', () =>
    assert.ok(!paletteSchema.safeParse({ ...palette(), all: { Dimmer: { palette: 'palette:p' } } }).success));
  test('is found where it is used, colours of effects among them', () => {
    const effect = make('effect', {
      id: 'effect:e',
      number: 1,
      name: 'Walk',
      parts: [{ does: 'colour', way: 'walk', colours: ['palette:p', '#00ff00'] }],
    });
    const more = applyChange(show, { put: [effect], remove: [] });
    assert.deepEqual(
      usersOf(more, 'palette:p').map((u) => u.name),
      ['s', 'Walk'],
    );
    assert.equal(hexOf(more, 'palette:p'), '#ff0000');
    const gone = applyChange(more, removalOf(more, ['palette:p']));
    const part = getRecord(gone, 'effect', 'effect:e')!.parts[0]!;
    assert.ok(part.does === 'colour');
    assert.deepEqual(part.colours, ['#ff0000', '#00ff00']);
  });
});

describe('storing the hand as a palette', () => {
  test('what all have in common is said of all, a wheel of its profile, what differs of each', () => {
    const wheel = { range: 'Lake', at: 0.5 };
    const said = storedPalette(show, 'colour', {
      'unit:wash': { Dimmer: 1, ColorRGB_Red: 0.4, ColorRGB_Green: 0.1 },
      'unit:wash2': { ColorRGB_Red: 0.4, ColorRGB_Green: 0.3 },
      'unit:spot': { Color1: wheel },
    });
    assert.deepEqual(said.all, { ColorRGB_Red: 0.4 });
    assert.deepEqual(said.profiles, { 'profile:tansy-flitter': { Color1: wheel } });
    assert.deepEqual(said.units, { 'unit:wash': { ColorRGB_Green: 0.1 }, 'unit:wash2': { ColorRGB_Green: 0.3 } });
  });
});
