import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import {
  after,
  drawing,
  profileBySlug,
  scene,
  showWith,
  units,
  type LiveCommandGiven,
} from '../../../../tests/support/rig.ts';
import { builtInProfiles } from '../../profile/library.ts';
import { layoutMode } from '../../profile/layout.ts';
import { readyFor } from '../../ready/ready.ts';
import { make } from '../../records/index.ts';
import type { EffectSpec } from '../../records/effect.ts';
import { makeReader, readCell } from '../../patch/readout.ts';
import { givesNoLight, unlitIn, withLight, withLightOf } from './bring-light.ts';
import type { LiveState } from './state.ts';

const RED = { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 };
const wave = (light: number | null): EffectSpec =>
  ({ rate: 1, beats: false, light, levels: 'over', parts: [{ does: 'level', wave: 'wave' }] }) as unknown as EffectSpec;
const show = showWith(
  ...units(
    { slug: 'par', profile: 'generic-rgb', mode: '3ch', address: 1 },
    { slug: 'bar', profile: 'quillon-stave16', mode: '50ch', address: 10 },
    { slug: 'head', profile: 'quillon-heron', mode: '16ch', address: 100 },
  ),
  scene('lit', { par: { Dimmer: 0.5 } }),
  scene('out', { par: { Dimmer: 0 } }),
  make('chase', { id: 'chase:c', number: 1, name: 'c', steps: [{ sceneId: 'scene:out' }, { sceneId: 'scene:lit' }] }),
  make('group', { id: 'group:g', number: 1, name: 'g', unitIds: ['unit:par'] }),
  make('effect', {
    id: 'effect:e',
    number: 1,
    name: 'e',
    on: ['group:g'],
    parts: [{ does: 'level', wave: 'wave' }],
  } as unknown as Parameters<typeof make<'effect'>>[1]),
);
const touch = (set: Record<string, object>): LiveCommandGiven =>
  ({ do: 'hand', set, light: true }) as unknown as LiveCommandGiven;
const byHand = (state: LiveState, id: string): Record<string, unknown> =>
  (state.hand as Record<string, Record<string, unknown>>)[id] ?? {};

describe('colour, aim and picture bring light', () => {
  test('a dark unit gets its level with its colour, and is seen in it', () => {
    const state = after(show, [0, touch({ 'unit:par': RED })]);
    assert.deepEqual(byHand(state, 'unit:par'), { Dimmer: 1, ...RED });
    assert.deepEqual([...drawing(show, state).at(10).subarray(0, 3)], [255, 0, 0]);
  });
  test('without being asked a value by hand stays the only one', () => {
    const state = after(show, [0, { do: 'hand', set: { 'unit:par': RED } }]);
    assert.deepEqual(byHand(state, 'unit:par'), RED);
  });
  test('what is lit keeps its level: by a scene, a chase that is dark in this moment, an effect, or by hand', () => {
    const lit: LiveCommandGiven[] = [
      { do: 'play', target: 'scene:lit' },
      { do: 'play', target: 'chase:c' },
      { do: 'play', target: 'effect:e' },
      { do: 'handEffect', spec: wave(null), on: ['unit:par'] } as unknown as LiveCommandGiven,
      { do: 'hand', set: { 'unit:par': { Dimmer: 0 } } },
    ];
    for (const command of lit) {
      const state = after(show, [0, command], [10, touch({ 'unit:par': RED })]);
      assert.notEqual(byHand(state, 'unit:par')['Dimmer'], 1, command.do);
    }
  });
  test('a scene that holds it at nothing, one let go, and one that plays elsewhere do not light it', () => {
    const dark: LiveCommandGiven[][] = [
      [{ do: 'play', target: 'scene:out' }],
      [
        { do: 'play', target: 'scene:lit' },
        { do: 'release', target: 'scene:lit' },
      ],
      [{ do: 'play', target: 'scene:lit', on: ['unit:head'] }],
    ];
    for (const commands of dark) {
      const state = after(show, ...commands.map((c) => [0, c] as const), [10, touch({ 'unit:par': RED })]);
      assert.equal(byHand(state, 'unit:par')['Dimmer'], 1, JSON.stringify(commands));
    }
  });
  test('an aim on a dark head opens its shutter; the level touched in the same moment is kept', () => {
    const aimed = byHand(after(show, [0, touch({ 'unit:head': { Pan: 0.3 } })]), 'unit:head');
    assert.equal(aimed['Dimmer'], 1);
    assert.equal(aimed['Pan'], 0.3);
    const low = byHand(after(show, [0, touch({ 'unit:head': { Pan: 0.3, Dimmer: 0.2 } })]), 'unit:head');
    assert.equal(low['Dimmer'], 0.2);
  });
  test('a part whose unit has a level by hand keeps that; on its own it gets light', () => {
    const part = make('part', { id: 'part:p', unitId: 'unit:bar', number: 1, name: 'Left', cells: '1-4' });
    const parted = showWith(...[...show.values()].filter((r) => r.kind !== 'profile' && r.kind !== 'show'), part);
    const alone = after(parted, [0, touch({ 'part:p': RED })]);
    assert.deepEqual([byHand(alone, 'part:p'), byHand(alone, 'unit:bar')['Dimmer']], [RED, 1]);
    // Its own cells are red, the others of the bar, which share the level, stay dark.
    const profile = profileBySlug('quillon-stave16');
    const laid = layoutMode(
      profile,
      profile.modes.find((m) => m.key === '50ch')!,
    ).channels;
    const bytes = drawing(parted, alone).at(10).subarray(9, 59);
    for (const { cell, channel, offsets } of laid.filter((c) => c.cell > 0 && c.channel.attribute === 'ColorAdd_R'))
      assert.equal(bytes[offsets[0]!], cell <= 4 ? 255 : 0, `${channel.name} of cell ${cell}`);
    const scene = { 'part:p': RED } as unknown as Parameters<typeof withLight>[1];
    assert.deepEqual(unlitIn(parted, scene), ['part:p']);
    assert.equal(givesNoLight(parted, withLight(parted, scene)), false);
    const low = after(parted, [0, { do: 'hand', set: { 'unit:bar': { Dimmer: 0.3 } } }], [5, touch({ 'part:p': RED })]);
    assert.deepEqual(byHand(low, 'part:p'), RED);
  });
  test('letting a value go, levels and settings of the unit itself bring nothing', () => {
    for (const set of [{ Pan: null }, { Dimmer: 0.4 }, { Control1: 0.5 }, { FixtureGlobalReset: 0 }])
      assert.equal(
        Object.keys(byHand(after(show, [0, touch({ 'unit:head': set })]), 'unit:head')).length,
        Object.values(set).filter((v) => v !== null).length,
        JSON.stringify(set),
      );
  });
  test('one cell of a bar with one level for all: only that cell is lit', () => {
    const cell = { 'ColorRGB_Red#3': 1, 'ColorRGB_Green#3': 0, 'ColorRGB_Blue#3': 0 };
    const state = after(show, [0, touch({ 'unit:bar': cell })]);
    const bytes = drawing(show, state).at(10).subarray(9, 59);
    const layout = layoutMode(
      profileBySlug('quillon-stave16'),
      profileBySlug('quillon-stave16').modes.find((m) => m.key === '50ch')!,
    );
    const of = (n: number): number[] =>
      layout.channels
        .filter((c) => c.cell === n && c.channel.attribute.startsWith('ColorAdd_'))
        .map((c) => bytes[c.offsets[0]!]!);
    assert.deepEqual(of(3), [255, 0, 0]);
    for (const n of [1, 2, 4, 16]) assert.deepEqual(of(n), [0, 0, 0], `cell ${n}`);
  });
  test('single emitters are seen alone: what else would be at full stays dark', () => {
    const profile = profileBySlug('generic-rgbw');
    const one = showWith(...units({ slug: 'w', profile: 'generic-rgbw', mode: profile.modes[0]!.key, address: 1 }));
    const state = after(one, [0, touch({ 'unit:w': { ColorAdd_W: 1 } })]);
    assert.deepEqual([...drawing(one, state).at(10).subarray(0, 4)], [0, 0, 0, 255]);
  });

  /** The newcomer's first press, on everything that the library has. */
  test('every colour pad shows light on every built-in profile and mode that takes a colour', () => {
    let tried = 0;
    for (const profile of builtInProfiles())
      for (const mode of profile.modes) {
        const one = showWith(
          ...units({ slug: 'x', profile: profile.id.slice('profile:'.length), mode: mode.key, address: 1 }),
        );
        const look = readyFor(one, ['unit:x'])
          .find((s) => s.key === 'colour')
          ?.looks.find((l) => l.name === 'Red');
        if (!look) continue;
        tried++;
        const state = after(one, [0, touch(look.set)]);
        const { rig, at } = drawing(one, state);
        const bytes = at(10);
        const record = one.get('unit:x');
        assert.ok(record?.kind === 'unit' && rig.units.size > 0);
        const reader = makeReader(one, record);
        const light = { r: 0, g: 0, b: 0, strobing: false };
        const frames = new Map([[1, bytes.subarray(0, 512)]]);
        const lit = reader.cells.some((_, cell) => {
          readCell(reader, cell, frames, light);
          return light.r > 0.05;
        });
        assert.ok(lit, `${profile.model}, ${mode.name}`);
      }
    assert.ok(tried > 100, `only ${tried} modes take a colour`);
  });
});

describe('scenes without light', () => {
  const values = { 'unit:par': RED } as unknown as Parameters<typeof withLight>[1];
  test('are found, and lit by the remedy', () => {
    assert.deepEqual(unlitIn(show, values), ['unit:par']);
    assert.equal(givesNoLight(show, values), true);
    const mended = withLight(show, values);
    assert.deepEqual(mended, { 'unit:par': { Dimmer: 1, ...RED } });
    assert.equal(givesNoLight(show, mended), false);
  });
  test('take the light they are seen in now along; what is at nothing in this moment is taken as full', () => {
    const now = { 'unit:par': { Dimmer: 0.4, ColorRGB_Red: 0.1 } };
    assert.deepEqual(withLightOf(show, values, now), { 'unit:par': { Dimmer: 0.4, ...RED } });
    assert.deepEqual(withLightOf(show, values, { 'unit:par': { Dimmer: 0 } }), { 'unit:par': { Dimmer: 1, ...RED } });
  });
  test('a scene that lights one of two gives light; one that holds everything at nothing means it', () => {
    const half = { 'unit:par': { Dimmer: 1 }, 'unit:head': { Pan: 0.2 } } as unknown as typeof values;
    assert.deepEqual([unlitIn(show, half), givesNoLight(show, half)], [['unit:head'], false]);
    const out = { 'unit:par': { Dimmer: 0, ...RED } } as unknown as typeof values;
    assert.deepEqual([unlitIn(show, out), givesNoLight(show, out)], [[], false]);
    assert.equal(givesNoLight(show, {}), false);
  });
});
