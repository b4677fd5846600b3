import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, drawing, scene, showWith, units, type LiveCommandGiven } from '../../../../tests/support/rig.ts';
import type { Document } from '../../document/change.ts';
import type { EffectId, LitId } from '../../ids.ts';
import { make, type AnyRecord } from '../../records/index.ts';
import { effectSpecSchema, type EffectSpec } from '../../records/effect.ts';
import { storedSpec } from './hand-over.ts';
import type { LiveState } from './state.ts';

const base = [
  ...units(
    { slug: 'par', profile: 'generic-rgb', mode: '3ch', address: 1 },
    { slug: 'par2', profile: 'generic-rgb', mode: '3ch', address: 4 },
    { slug: 'head', profile: 'quillon-heron', mode: '16ch', address: 100 },
  ),
  scene('under', { head: { Dimmer: 0.3, Pan: 0.9 } }, { fadeInMs: 0 }),
];
const pars: LitId[] = ['unit:par', 'unit:par2'];
const spec = (part: object, light: number | null = null): EffectSpec =>
  effectSpecSchema.parse({ light, parts: [part] });
const command = (c: object): LiveCommandGiven => c as LiveCommandGiven;
const RED = { ColorRGB_Red: 1, ColorRGB_Green: 0.1, ColorRGB_Blue: 0 };

/** Stores what is by hand as the page does: a scene of the values, an effect of each effect. */
function stored(state: LiveState): { records: AnyRecord[]; command: LiveCommandGiven } {
  const effects = state.handEffects.map((play, i) => {
    const { rate, beats, light, levels, parts } = storedSpec(state.hand, play)!;
    const fields = {
      id: `effect:e${i}`,
      number: i + 1,
      name: `e${i}`,
      on: [...play.on!],
      rate,
      beats,
      light,
      levels,
      parts,
    };
    return { playId: play.id, record: make('effect', fields as never) as AnyRecord };
  });
  const some = Object.keys(state.hand).length > 0;
  const own = some ? [make('scene', { id: 'scene:s', number: 9, name: 's', values: state.hand }) as AnyRecord] : [];
  return {
    records: [...own, ...effects.map((e) => e.record)],
    command: command({
      do: 'handOver',
      scene: some ? 'scene:s' : null,
      hand: state.hand,
      effects: effects.map((e) => ({ playId: e.playId, target: e.record.id as EffectId })),
    }),
  };
}
const bytesAt = (document: Document, state: LiveState, ms: number): number[] => [...drawing(document, state).at(ms)];

describe('what is stored takes over from the hand without a step', () => {
  const hands: Record<string, (readonly [number, LiveCommandGiven])[]> = {
    'values alone': [
      [0, { do: 'hand', set: { 'unit:par': RED, 'unit:head': { Dimmer: 0.5, Tilt: 0.2 } }, light: true }],
    ],
    'values over a scene that plays': [
      [0, { do: 'play', target: 'scene:under' }],
      [0, { do: 'hand', set: { 'unit:head': { Dimmer: 0.8, Pan: 0.1 } } }],
    ],
    'an effect alone': [[0, command({ do: 'handEffect', spec: spec({ does: 'level', wave: 'wave' }, 0.8), on: pars })]],
    'an effect that scales a level by hand': [
      [0, { do: 'hand', set: { 'unit:par': { Dimmer: 1, ...RED }, 'unit:par2': { Dimmer: 0.6 } } }],
      [120, command({ do: 'handEffect', spec: spec({ does: 'level', wave: 'wave' }), on: pars })],
    ],
    'colours that turn, and an effect at its own speed': [
      [0, { do: 'hand', set: { 'unit:par': { Dimmer: 0.7 }, 'unit:par2': { Dimmer: 0.7 } } }],
      [40, command({ do: 'handEffect', spec: spec({ does: 'colour', colours: ['#ff0000', '#0000ff'] }), on: pars })],
      [90, { do: 'speed', playId: 'p1', speed: 2.5 }],
    ],
  };
  for (const [name, commands] of Object.entries(hands))
    test(name, () => {
      const before = showWith(...base);
      const state = after(before, ...commands);
      const { records, command: over } = stored(state);
      const document = showWith(...base, ...records);
      const next = after(document, ...commands, [1333, over]);
      assert.deepEqual([next.hand, next.handEffects], [{}, []]);
      for (const ms of [1333, 1334, 1400, 1777, 5001])
        assert.deepEqual(bytesAt(document, next, ms), bytesAt(before, state, ms), `${ms} ms`);
      assert.ok(bytesAt(document, next, 1777).some((v) => v > 0));
    });

  test('what was changed by hand meanwhile stays by hand', () => {
    const document = showWith(...base, scene('s', { par: RED }));
    const next = after(
      document,
      [0, { do: 'hand', set: { 'unit:par': { ...RED, Dimmer: 1 } } }],
      [5, { do: 'hand', set: { 'unit:par': { ColorRGB_Red: 0.4 }, 'unit:par2': { Dimmer: 1 } } }],
      [9, command({ do: 'handOver', scene: 'scene:s', hand: { 'unit:par': { ...RED, Dimmer: 1 } }, effects: [] })],
    );
    assert.deepEqual(next.hand, { 'unit:par': { ColorRGB_Red: 0.4 }, 'unit:par2': { Dimmer: 1 } });
  });
  test('a scene that it covers whole ends with it; one of which something else is seen, and a mood, go on', () => {
    const document = showWith(
      ...base,
      scene('s', { par: RED }),
      scene('red', { par: { ColorRGB_Red: 0.3 } }),
      scene('both', { par: { ColorRGB_Red: 0.3 }, par2: { Dimmer: 1 } }),
      scene('calm', {}, { mood: 'calm' }),
    );
    const plays = ['red', 'both', 'calm'].map(
      (slug, i) => [i, command({ do: 'play', target: `scene:${slug}` })] as const,
    );
    const next = after(document, ...plays, [
      9,
      command({ do: 'handOver', scene: 'scene:s', hand: { 'unit:par': RED }, effects: [] }),
    ]);
    assert.deepEqual(
      next.playing.map((p) => p.target),
      ['scene:both', 'scene:calm', 'scene:s'],
    );
  });
  test('a scene that plays already is not begun again', () => {
    const document = showWith(...base);
    const next = after(
      document,
      [0, { do: 'play', target: 'scene:under' }],
      [9, command({ do: 'handOver', scene: 'scene:under', hand: {}, effects: [] })],
    );
    assert.equal(next.playing.length, 1);
  });
});
