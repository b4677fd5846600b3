import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { scene, showWith, slotsAt, units, type UnitRow } from '../../../tests/support/rig.ts';
import type { UnitValues } from '../records/scene.ts';
import { compileRig } from '../show/index.ts';
import { makeReader, readActivity, readCell, readSource, sentFraction, type CellLight } from './readout.ts';

/** Renders a unit with these values and reads back what it shows. */
function shown(row: Omit<UnitRow, 'slug' | 'address'>, values: UnitValues) {
  const rig = units({ slug: 'u', address: 100, ...row });
  const show = showWith(...rig, scene('s', { u: values }));
  const [unit] = rig;
  assert.ok(unit?.kind === 'unit');
  const reader = makeReader(show, unit);
  const { universes } = compileRig(show).arrays;
  const frames = new Map(
    Array.from(universes, (universe) => [universe, slotsAt(show, { play: ['scene:s'], universe })]),
  );
  const light = (cell = 0): CellLight => {
    const into = { r: 0, g: 0, b: 0, strobing: false };
    readCell(reader, cell, frames, into);
    return {
      ...into,
      r: Math.round(into.r * 100) / 100,
      g: Math.round(into.g * 100) / 100,
      b: Math.round(into.b * 100) / 100,
    };
  };
  return { show, unit, reader, frames, light };
}

const RED = { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 };

describe('reading light back from the slots that are sent', () => {
  test('an RGB par in a mode with level shows colour times level', () => {
    const { light } = shown({ profile: 'fernlight-plumlet', mode: '4ch' }, { Dimmer: 0.5, ...RED });
    assert.deepEqual(light(), { r: 0.5, g: 0, b: 0, strobing: false });
  });
  test('white of an RGBW par counts as all three', () => {
    const values = { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 0.5, ColorRGB_Blue: 0.5 };
    assert.deepEqual(shown({ profile: 'fernlight-brambleq', mode: '5ch' }, values).light(), {
      r: 1,
      g: 0.5,
      b: 0.5,
      strobing: false,
    });
  });
  test('a dimmer shows the colour of its filter', () => {
    const row = { profile: 'generic-dimmer', mode: '1ch', fields: { gel: '#ff0000' } };
    assert.deepEqual(shown(row, { Dimmer: 0.5 }).light(), { r: 0.5, g: 0, b: 0, strobing: false });
  });
  test('a head with its shutter closed is dark, strobing it says so, and its wheel gives the colour', () => {
    const values = { Dimmer: 1, Color1: { range: 'Ember red', at: 0.5 } };
    const shutters = shown({ profile: 'quillon-heron', mode: '16ch' }, values).reader.cells[0]!.shutter!.channel.ranges;
    const of = (light: 'open' | 'closed' | 'strobe') => ({
      range: shutters.find((r) => r.light === light)!.name,
      at: 0.5,
    });
    const look = (light: 'open' | 'closed' | 'strobe') =>
      shown({ profile: 'quillon-heron', mode: '16ch' }, { ...values, Shutter1: of(light) }).light();
    assert.equal(look('closed').r, 0);
    assert.ok(look('open').r > 0.5 && look('open').g < 0.1);
    assert.deepEqual([look('open').strobing, look('strobe').strobing], [false, true]);
  });
  test('cells one by one, under the bar’s own level', () => {
    const { light, reader } = shown(
      { profile: 'quillon-stave16', mode: '50ch' },
      { Dimmer: 0.5, ...RED, 'ColorRGB_Red#2': 0, 'ColorRGB_Blue#2': 1 },
    );
    assert.equal(reader.cells.length, 16);
    assert.deepEqual(
      [light(0), light(1)].map((l) => [l.r, l.b]),
      [
        [0.5, 0],
        [0, 0.5],
      ],
    );
  });
  test('pixels in the next universe', () => {
    const { light, reader } = shown(
      { profile: 'quillon-strip', mode: '300px' },
      { Dimmer: 1, ColorRGB_Red: 0, ColorRGB_Green: 0, 'ColorRGB_Green#300': 1 },
    );
    assert.equal(reader.cells.length, 300);
    assert.deepEqual(light(299), { r: 0, g: 1, b: 1, strobing: false });
    assert.deepEqual(light(0), { r: 0, g: 0, b: 1, strobing: false });
  });
  test('aims in 16 bit', () => {
    const { reader, frames } = shown({ profile: 'quillon-heron', mode: '16ch' }, { Pan: 0.25, Tilt: 0.75 });
    assert.ok(Math.abs(readSource(reader.pan!, frames) - 0.25) < 1e-4);
    assert.ok(Math.abs(readSource(reader.tilt!, frames) - 0.75) < 1e-4);
  });
  test('an attribute as it was programmed, also where pan is inverted and where there is no channel', () => {
    const row = { profile: 'quillon-heron', mode: '16ch', fields: { invertPan: true } };
    const { show, unit, frames } = shown(row, { Pan: 0.25, Dimmer: 0.5 });
    const sent = (attribute: string) => sentFraction(show, unit, attribute, frames);
    assert.ok(Math.abs(sent('Pan')! - 0.25) < 1e-4 && Math.abs(sent('Dimmer')! - 0.5) < 1e-4);
    assert.deepEqual([sent('ColorRGB_Red'), sent('Iris')], [null, null]);
    assert.equal(sentFraction(show, { ...unit, patch: null }, 'Pan', frames), null);
  });
  test('haze and motors are busy, not bright', () => {
    const haze = (value: UnitValues) => {
      const { reader, frames } = shown({ profile: 'marrow-millmist', mode: '2ch' }, value);
      return readActivity(reader, frames);
    };
    assert.equal(haze({}), 0);
    assert.ok(haze({ Haze1: 1 }) > 0.9);
  });
  test('a unit without an address, or in a universe that is not sent, is dark', () => {
    const [unit] = units({ slug: 'u', profile: 'fernlight-plumlet', mode: '4ch', address: null });
    assert.ok(unit?.kind === 'unit');
    const show = showWith(unit);
    const reader = makeReader(show, unit);
    const into = { r: 1, g: 1, b: 1, strobing: true };
    assert.deepEqual(readCell(reader, 0, new Map(), into), { r: 0, g: 0, b: 0, strobing: false });
  });
});
