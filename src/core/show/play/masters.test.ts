import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, scene, showWith, slotsAt, units, type LiveCommandGiven } from '../../../../tests/support/rig.ts';
import { make } from '../../records/index.ts';

/** Two dimmers, a par and a derby at full; groups that overlap; an area in an area. */
const show = showWith(
  make('area', { id: 'area:hall', number: 1, name: 'Hall' }),
  make('area', { id: 'area:bar', number: 2, name: 'Bar', parentId: 'area:hall' }),
  ...units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1, fields: { areaId: 'area:hall' } },
    { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2, fields: { areaId: 'area:bar' } },
    { slug: 'c', profile: 'generic-dimmer', mode: '1ch', address: 3 },
    { slug: 'd', profile: 'marrow-whirligig', mode: '6ch', address: 4, fields: { areaId: 'area:hall' } },
  ),
  make('group', { id: 'group:ab', number: 1, name: 'AB', unitIds: ['unit:a', 'unit:b'] }),
  make('group', { id: 'group:bc', number: 2, name: 'BC', unitIds: ['unit:b', 'unit:c'] }),
  scene('all', {
    a: { Dimmer: 1 },
    b: { Dimmer: 1 },
    c: { Dimmer: 1 },
    d: { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 1, ColorRGB_Blue: 1 },
  }),
);
const PLAY: LiveCommandGiven = { do: 'play', target: 'scene:all' };
/** Levels in percent of a, b, c and the brightest emitter of d, long after the commands. */
const levels = (...commands: LiveCommandGiven[]): number[] => {
  const live = after(show, ...[PLAY, ...commands].map((c) => [0, c] as const));
  const slots = slotsAt(show, { live, at: 60_000 });
  const bytes = [slots[0]!, slots[1]!, slots[2]!, Math.max(...slots.subarray(3, 7))];
  return bytes.map((v) => Math.round((v / 255) * 100));
};

describe('masters multiply', () => {
  const cases: readonly (readonly [name: string, commands: readonly LiveCommandGiven[], wanted: readonly number[]])[] =
    [
      ['none', [], [100, 100, 100, 100]],
      ['the grand master', [{ do: 'grand', level: 0.5 }], [50, 50, 50, 50]],
      ['a group', [{ do: 'group', groupId: 'group:ab', level: 0.5 }], [50, 50, 100, 100]],
      [
        'two groups, one unit in both',
        [
          { do: 'group', groupId: 'group:ab', level: 0.5 },
          { do: 'group', groupId: 'group:bc', level: 0.4 },
        ],
        [50, 20, 40, 100],
      ],
      ['a kind', [{ do: 'kind', kind: 'dimmer', level: 0.2 }], [20, 20, 20, 100]],
      ['an area, with the area in it', [{ do: 'area', areaId: 'area:hall', level: 0.5 }], [50, 50, 100, 50]],
      [
        'an area in an area',
        [
          { do: 'area', areaId: 'area:hall', level: 0.5 },
          { do: 'area', areaId: 'area:bar', level: 0.5 },
        ],
        [50, 25, 100, 50],
      ],
      [
        'all kinds of masters at once',
        [
          { do: 'grand', level: 0.5 },
          { do: 'group', groupId: 'group:ab', level: 0.5 },
          { do: 'kind', kind: 'dimmer', level: 0.8 },
          { do: 'area', areaId: 'area:bar', level: 0.5 },
        ],
        [20, 10, 40, 50],
      ],
      ['only one unit', [{ do: 'solo', units: ['unit:c'] }], [0, 0, 100, 0]],
      [
        'only some, under their group',
        [
          { do: 'solo', units: ['unit:b', 'unit:c'] },
          { do: 'group', groupId: 'group:bc', level: 0.5 },
        ],
        [0, 50, 50, 0],
      ],
      ['an area dark alone', [{ do: 'areaDark', areaId: 'area:bar', on: true }], [100, 0, 100, 100]],
      [
        'dark and handed back',
        [
          { do: 'areaDark', areaId: 'area:hall', on: true },
          { do: 'areaDark', areaId: 'area:hall', on: false },
        ],
        [100, 100, 100, 100],
      ],
      ['Dark', [{ do: 'dark', on: true }], [0, 0, 0, 0]],
    ];
  for (const [name, commands, wanted] of cases) test(name, () => assert.deepEqual(levels(...commands), wanted));
});

describe('the hand', () => {
  test('passes masters no more than a scene does', () => {
    const hand: LiveCommandGiven = { do: 'hand', set: { 'unit:a': { Dimmer: 1 } } };
    assert.deepEqual(levels(hand, { do: 'group', groupId: 'group:ab', level: 0.5 }), [50, 50, 100, 100]);
    assert.deepEqual(levels(hand, { do: 'dark', on: true }), [0, 0, 0, 0]);
  });
});
