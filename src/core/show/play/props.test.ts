import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { applyChange } from '../../document/change.ts';
import { patchFaults } from '../../patch/faults.ts';
import { changeFaults } from '../../rules/faults.ts';
import { removalOf } from '../../rules/removal.ts';
import { make, type UnitRecord } from '../../records/index.ts';
import { propSchema } from '../../records/prop.ts';
import { PIXELS, showWith, slotsAt } from '../../../../tests/support/rig.ts';
import { compileRig } from '../index.ts';

const propUnit = (slug: string, address: number, prop: object): UnitRecord =>
  make('unit', {
    id: `unit:${slug}`,
    number: address,
    name: slug,
    profileId: PIXELS.id,
    mode: 'px',
    patch: { universe: 1, address },
    prop: propSchema.parse({ shape: { shape: 'line', count: 6, widthM: 1 }, gamma: 1, ...prop }),
  });
const part = make('part', { id: 'part:w', unitId: 'unit:k', number: 1, name: 'Left wing', cells: '2, 5-4' });
const red = { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 };
const look = (values: Record<string, Record<string, number>>) =>
  make('scene', { id: 'scene:s', number: 1, name: 's', fadeInMs: 0, values: values as never });
const sent = (prop: object, values: Record<string, Record<string, number>>, live = {}) => {
  const show = showWith(PIXELS, propUnit('k', 1, prop), part, look(values));
  return [...slotsAt(show, { play: ['scene:s'], at: 1, live })].slice(0, 18);
};
const reds = (slots: number[]): number[] => slots.filter((_, i) => i % 3 === 0);

describe('a prop in a frame', () => {
  test('level and colour of the whole reach every cell', () => {
    assert.deepEqual(sent({}, { 'unit:k': { Dimmer: 1, ...red } }), Array(6).fill([255, 0, 0]).flat());
  });
  test('the level goes through the gamma of the prop, the colour does not; a limit is one of light', () => {
    const half = { 'unit:k': { Dimmer: 0.5, ...red } };
    assert.equal(sent({}, half)[0], 128);
    assert.equal(sent({ gamma: 2.2 }, half)[0], Math.round(0.5 ** 2.2 * 255));
    assert.equal(sent({ gamma: 2.2 }, { 'unit:k': { Dimmer: 1, ...red, ColorRGB_Green: 0.5 } })[1], 128);
    const limited = { ...propUnit('k', 1, { gamma: 2.2 }), levelLimit: 0.8 };
    const show = showWith(PIXELS, limited, look({ 'unit:k': { Dimmer: 1, ...red } }));
    assert.equal(slotsAt(show, { play: ['scene:s'], at: 1 })[0], 204);
  });
  test('a part is lit like a unit, over what is said of its unit', () => {
    assert.deepEqual(reds(sent({}, { 'part:w': { Dimmer: 1, ...red } })), [0, 255, 0, 255, 255, 0]);
    const both = { 'part:w': { Dimmer: 0 }, 'unit:k': { Dimmer: 1, ...red } };
    assert.deepEqual(reds(sent({}, both)), [255, 0, 255, 0, 0, 255]);
  });
  test('cells of a part are counted in its own order', () => {
    assert.deepEqual(reds(sent({}, { 'part:w': { 'Dimmer#2': 1, ...red } })), [0, 0, 0, 0, 255, 0]);
  });
  test('a part is identified alone, by hand too', () => {
    assert.deepEqual(reds(sent({}, {}, { identify: ['part:w'] })), [0, 255, 0, 255, 255, 0]);
    assert.deepEqual(reds(sent({}, {}, { hand: { 'part:w': { Dimmer: 1 } } })), [0, 255, 0, 255, 255, 0]);
  });
  test('parts go with their unit, out of scenes as well, and one undo brings them back', () => {
    const show = showWith(PIXELS, propUnit('k', 1, {}), part, look({ 'part:w': { Dimmer: 1 } }));
    const gone = removalOf(show, ['unit:k']);
    assert.deepEqual([...gone.remove].sort(), ['part:w', 'unit:k']);
    assert.deepEqual(changeFaults(show, gone), []);
    const after = applyChange(show, gone);
    assert.deepEqual((after.get('scene:s') as { values: object }).values, {});
  });
  test('a twin of another shape is told, and is encoded by itself', () => {
    const twin = { ...propUnit('t', 2, { gamma: 3 }), relation: { twinOf: 'unit:k' as const } };
    const show = showWith(PIXELS, propUnit('k', 1, {}), twin);
    const told = patchFaults(show).flatMap((c) => (c.code === 'TWIN_DIFFERS' ? [c.message] : []));
    assert.deepEqual(told, ['is a twin of 1 k, which has another shape or wiring']);
    const rig = compileRig(show);
    assert.notEqual(rig.units.get('unit:t')!.base, rig.units.get('unit:k')!.base);
    const same = compileRig(showWith(PIXELS, propUnit('k', 1, {}), { ...twin, prop: propUnit('k', 1, {}).prop }));
    assert.equal(same.units.get('unit:t')!.base, same.units.get('unit:k')!.base);
  });
  test('a prop shrunk below what a scene uses sends what is left; the values stay and come back', () => {
    const values = { 'unit:k': { 'Dimmer#6': 1, 'Dimmer#1': 1, ...red } };
    const show = showWith(PIXELS, propUnit('k', 1, { shape: { shape: 'line', count: 3, widthM: 1 } }), look(values));
    assert.deepEqual(reds([...slotsAt(show, { play: ['scene:s'], at: 1 })].slice(0, 18)), [255, 0, 0, 0, 0, 0]);
    const back = applyChange(show, { put: [propUnit('k', 1, {})], remove: [] });
    assert.deepEqual(reds([...slotsAt(back, { play: ['scene:s'], at: 1 })].slice(0, 18)), [255, 0, 0, 0, 0, 255]);
  });
});

test('only what changed is compiled anew: the rest keeps its very own maps', () => {
  const show = showWith(PIXELS, propUnit('a', 1, {}), propUnit('b', 101, {}), propUnit('c', 201, {}));
  const before = compileRig(show);
  const after = compileRig(applyChange(show, { put: [propUnit('b', 101, { gamma: 3 })], remove: [] }));
  for (const id of ['unit:a', 'unit:c'] as const) assert.equal(after.units.get(id)!.slots, before.units.get(id)!.slots);
  assert.notEqual(after.units.get('unit:b')!.slots, before.units.get('unit:b')!.slots);
  // And the whole is what compiling it from nothing gives.
  const fresh = compileRig(
    showWith(PIXELS, propUnit('a', 1, {}), propUnit('b', 101, { gamma: 3 }), propUnit('c', 201, {})),
  );
  assert.deepEqual(after.arrays, fresh.arrays);
});
