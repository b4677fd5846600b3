import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { scene, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { getRecord } from '../document/change.ts';
import type { FAN_SHAPES } from './live/fan.ts';
import { fanPlaces } from './live/fan.ts';
import { carryValues, clipScenes, matchClip, mergedScenes, mirrorValues } from './reuse.ts';
import { storedInto, wholeOf } from './live/store.ts';

const heads = (count: number, prefix: string, x = (i: number) => i): UnitRow[] =>
  Array.from({ length: count }, (_, i) => ({
    slug: `${prefix}${i}`,
    profile: 'tansy-flitter',
    mode: '5ch',
    address: null,
    fields: { position: { x: x(i), y: 0, z: 3 } },
  }));
const rows = [
  ...heads(3, 'a', (i) => i - 1),
  ...heads(5, 'b', (i) => 20 + i),
  { slug: 'dim', profile: 'generic-dimmer', mode: '1ch', address: null },
];
const show = showWith(...units(...rows));
const list = (prefix: string, count: number) => Array.from({ length: count }, (_, i) => `unit:${prefix}${i}` as const);

describe('carrying values to a group of another size', () => {
  const fan = { 'unit:a0': { Pan: 0.2 }, 'unit:a1': { Pan: 0.5 }, 'unit:a2': { Pan: 0.8 } };
  const pans = (to: readonly `unit:${string}`[]): unknown[] =>
    to.map((id) => carryValues(show, fan, list('a', 3), to).values[id]?.['Pan']);
  test('a fan stays the fan over more, and over fewer', () => {
    assert.deepEqual(pans(list('b', 5)), [0.2, 0.35, 0.5, 0.65, 0.8]);
    assert.deepEqual(pans(list('b', 2)), [0.2, 0.8]);
    assert.deepEqual(pans(list('b', 1)), [0.2]);
  });
  test('what nobody there has is named, not lost in silence', () => {
    const { values, lost } = carryValues(show, { 'unit:a0': { Pan: 0.2, Tilt: 0.1 } }, ['unit:a0'], ['unit:dim']);
    assert.deepEqual([values, lost], [{}, ['Pan', 'Tilt']]);
  });
  test('from nobody or to nobody is nothing', () => {
    assert.deepEqual(carryValues(show, fan, [], list('b', 2)).values, {});
    assert.deepEqual(carryValues(show, fan, list('a', 3), []).values, {});
  });
});

describe('left and right', () => {
  test('partners change places and turn their pan round; who has none keeps its own', () => {
    const { values, alone } = mirrorValues(show, { 'unit:a0': { Pan: 0.25, Tilt: 0.4 }, 'unit:b0': { Pan: 0.1 } });
    assert.deepEqual(values, { 'unit:a2': { Pan: 0.75, Tilt: 0.4 }, 'unit:b0': { Pan: 0.1 } });
    assert.deepEqual(alone, ['unit:b0']);
  });
  test('twice is as it was', () => {
    const given = { 'unit:a0': { Pan: 0.25 }, 'unit:a1': { Pan: 0.5 }, 'unit:a2': { Pan: 0.125 } };
    assert.deepEqual(mirrorValues(show, mirrorValues(show, given).values).values, given);
  });
});

describe('scenes to another show', () => {
  test('by name and model first, then by model in order; nobody twice', () => {
    const given = scene('s', { a0: { Pan: 1 }, a2: { Pan: 0 }, dim: { Dimmer: 1 } });
    const from = showWith(...units(...rows), given);
    const clip = clipScenes(from, [getRecord(from, 'scene', 'scene:s')!]);
    const other = showWith(...units(...heads(2, 'z'), { ...heads(1, 'a')[0]!, slug: 'a2' }));
    const { to, lost } = matchClip(other, clip);
    assert.equal(to.get('unit:a2'), 'unit:a2');
    assert.equal(to.get('unit:a0'), 'unit:z0');
    assert.deepEqual(lost, ['9 Unit dim']);
  });
});

describe('storing', () => {
  const values = { 'unit:a0': { Pan: 0.1, Dimmer: 1 }, 'unit:a1': { 'Dimmer#1': 1, 'Dimmer#2': 0.5 } };
  test('add, replace, take out', () => {
    assert.deepEqual(storedInto(values, { 'unit:a0': { Pan: 0.9 } }, 'add'), {
      ...values,
      'unit:a0': { Pan: 0.9, Dimmer: 1 },
    });
    assert.deepEqual(storedInto(values, { 'unit:a0': { Pan: 0.9 } }, 'replace'), { 'unit:a0': { Pan: 0.9 } });
    assert.deepEqual(storedInto(values, { 'unit:a0': { Pan: 0.9 }, 'unit:a1': { Dimmer: 0 } }, 'takeOut'), {
      'unit:a0': { Dimmer: 1 },
    });
  });
  test('merged: where both say something the second does', () => {
    const of = (s: string, v: Parameters<typeof scene>[1]) =>
      getRecord(showWith(...units(...rows), scene(s, v)), 'scene', `scene:${s}`)!;
    assert.deepEqual(mergedScenes(of('x', { a0: { Pan: 0.1, Tilt: 0.2 } }), of('y', { a0: { Pan: 0.9 } })), {
      'unit:a0': { Pan: 0.9, Tilt: 0.2 },
    });
  });
  test('cells that are all the same are one value', () => {
    assert.deepEqual(
      wholeOf({ 'Dimmer#1': 1, 'Dimmer#2': 1 }, () => 2),
      { Dimmer: 1 },
    );
    assert.deepEqual(
      wholeOf({ 'Dimmer#1': 1, 'Dimmer#2': 0 }, () => 2),
      { 'Dimmer#1': 1, 'Dimmer#2': 0 },
    );
  });
});

describe('spreading a value', () => {
  const cases: [shape: (typeof FAN_SHAPES)[number], count: number, expected: number[]][] = [
    ['line', 3, [0, 0.5, 1]],
    ['centre', 3, [1, 0, 1]],
    ['mirror', 5, [0, 0.5, 1, 0.5, 0]],
    ['line', 1, [0]],
    ['line', 0, []],
  ];
  for (const [shape, count, expected] of cases)
    test(`${shape} over ${count}`, () => assert.deepEqual(fanPlaces(count, shape), expected));
  test('by chance: the same for the same seed, within 0-1', () => {
    fc.assert(
      fc.property(fc.nat(60), fc.nat(1000), (count, seed) => {
        const places = fanPlaces(count, 'random', seed);
        assert.deepEqual(places, fanPlaces(count, 'random', seed));
        assert.ok(places.every((p) => p >= 0 && p < 1));
      }),
    );
  });
});
