import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { showWith, units } from '../../../../tests/support/rig.ts';
import type { LitId } from '../../ids.ts';
import type { UnitValues } from '../../records/scene.ts';
import { mergeHand, type HandSet } from '../live/by-hand.ts';
import { compileRig } from './rig.ts';
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
