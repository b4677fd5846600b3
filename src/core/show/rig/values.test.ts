import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { showWith, units } from '../../../../tests/support/rig.ts';
import type { LitId } from '../../ids.ts';
import type { UnitValues } from '../../records/scene.ts';
import { mergeHand, spelled, type HandSet } from '../live/by-hand.ts';
import { asMany } from '../live/many.ts';
import { compileRig } from './rig.ts';
import { keysOf } from '../../keys.ts';
import { seeded } from '../../random.ts';
import { turned, valueDifference } from '../../document/difference.ts';
import { compileValues, HandCompiler } from './values.ts';

const IDS = ['a', 'b', 'c', 'd', 'e', 'f'];
const document = showWith(
  ...units(
    ...IDS.slice(0, 4).map((slug, i) => ({ slug, profile: 'quillon-heron', mode: '16ch', address: 1 + i * 20 })),
    { slug: 'e', profile: 'quillon-stave16', mode: '48ch', address: 101 },
    { slug: 'f', profile: 'generic-dimmer', mode: '1ch', address: 200 },
  ),
);
const rig = compileRig(document);

const level = fc.constantFrom(0, 0.25, 0.5, 1);
const values = fc.oneof(
  fc.record({ Dimmer: fc.option(level) }),
  fc.record({ Pan: fc.option(level), Tilt: level }),
  fc.record({ ColorRGB_Red: fc.option(level), 'ColorRGB_Red#3': fc.option(level) }),
  fc.constant({ Gobo1: { range: 'Reeds', at: 0.5 } }),
);
const step = fc.dictionary(fc.constantFrom(...IDS.map((slug) => `unit:${slug}`)), values) as fc.Arbitrary<HandSet>;

test('what is by hand comes to the same, whether it is compiled anew or follows what was there', () => {
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), (steps) => {
      const compiler = new HandCompiler();
      let hand = {} as Record<LitId, UnitValues>;
      for (const set of steps) {
        hand = mergeHand(hand, set);
        const followed = compiler.compile(rig, document, hand);
        assert.deepEqual(followed, compileValues(rig, document, hand));
      }
    }),
    { numRuns: 300 },
  );
});

test('laid over what is there by the rule, one unit after the other, whatever is one object', () => {
  const plain = (hand: Record<string, UnitValues>, set: HandSet): Record<string, UnitValues> => {
    const next: Record<string, Record<string, unknown>> = structuredClone(hand);
    for (const [id, own] of Object.entries(set)) {
      next[id] ??= {};
      for (const [key, value] of Object.entries(own)) {
        if (value === null) delete next[id][key];
        else next[id][key] = value;
      }
      if (Object.keys(next[id]).length === 0) delete next[id];
    }
    return next as Record<string, UnitValues>;
  };
  fc.assert(
    fc.property(fc.array(step, { maxLength: 8 }), (steps) => {
      let [hand, slow] = [{} as Record<LitId, UnitValues>, {} as Record<string, UnitValues>];
      for (const set of steps) {
        hand = mergeHand(hand, set);
        slow = plain(slow, set);
        assert.deepEqual(hand, slow);
      }
    }),
  );
  const all = Object.fromEntries(IDS.map((slug) => [`unit:${slug}`, { Dimmer: 0.5 }])) as HandSet;
  const hand = mergeHand({} as Record<LitId, UnitValues>, all);
  assert.equal(hand['unit:a'], hand['unit:b'], 'alike is one object');
});

test('the same for many comes to what it comes to unit by unit, over what is said of each', () => {
  const alike = fc.array(
    fc.record({ on: fc.array(fc.constantFrom(...IDS.map((slug) => `unit:${slug}` as LitId))), set: values }),
    { maxLength: 3 },
  );
  fc.assert(
    fc.property(step, step, alike, (before, set, more) => {
      const hand = mergeHand({}, before);
      const lists = more.filter(({ on }) => on.length > 0) as { on: LitId[]; set: HandSet[string] }[];
      const many = lists.map(({ on, set: own }) => ({ on: asMany(on), set: own }));
      const byUnit = lists.reduce(
        (next, { on, set: own }) => mergeHand(next, Object.fromEntries(on.map((id) => [id, own]))),
        mergeHand(hand, set),
      );
      assert.deepEqual(mergeHand(hand, set, many), byUnit);
      assert.deepEqual(mergeHand(hand, spelled(set, many)), byUnit);
    }),
  );
});

test('of thousands the keys that are remembered are those that are there, whatever comes and goes', () => {
  const chance = seeded(77);
  const ids = Array.from({ length: 900 }, (_, i) => `unit:u${i}` as LitId);
  let hand = mergeHand({}, {}, [{ on: asMany(ids.slice(0, 700)), set: { Dimmer: 0.5 } }]);
  for (let round = 0; round < 200; round++) {
    const on = ids.filter(() => chance() < (round % 3 === 0 ? 0.9 : 0.01));
    if (round % 5 === 0) on.splice(0, on.length, ...(Object.keys(hand) as LitId[]));
    const before = hand;
    if (on.length > 0)
      hand = mergeHand(hand, {}, [
        { on: asMany(on), set: { Dimmer: chance() < 0.2 ? null : Math.round(chance() * 8) / 8 } },
      ]);
    assert.deepEqual(keysOf(hand), Object.keys(hand), `round ${round}`);
    const difference = valueDifference(before, hand);
    if (difference) assert.deepEqual(turned(before, difference, 'is', 'hand'), hand, `round ${round}`);
    if (difference) assert.deepEqual(turned(hand, difference, 'was', 'hand'), before, `round ${round}`);
  }
});
