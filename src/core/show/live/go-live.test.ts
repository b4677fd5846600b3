import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { mergedTry, type Tried } from './go-live.ts';
import { newPlay, type Play } from '../index.ts';

const play = (id: string, fields: Partial<Play> = {}): Play => ({
  ...newPlay({ id, target: 'scene:a', startedAt: Number(id.slice(1)) }),
  ...fields,
});
const state = (fields: Partial<Tried> = {}): Tried => ({ playing: [], hand: {}, handEffects: [], ...fields });
const playing = (...plays: Play[]): Tried => state({ playing: plays });
const ids = ({ playing: plays }: Tried): string => plays.map((p) => p.id).join();

describe('what plays', () => {
  const begun = playing(play('p1'), play('p2'));
  const cases: readonly (readonly [name: string, tried: Tried, real: Tried, wanted: string])[] = [
    ['nothing happened', begun, begun, 'p1,p2'],
    ['begun here', playing(play('p1'), play('p2'), play('p5')), begun, 'p1,p2,p5'],
    ['begun by somebody else', begun, playing(play('p1'), play('p2'), play('p4')), 'p1,p2,p4'],
    ['begun by both', playing(...begun.playing, play('p5')), playing(...begun.playing, play('p4')), 'p1,p2,p4,p5'],
    ['let go here', playing(play('p2')), begun, 'p2'],
    ['fading out here', playing(play('p1', { releasedAt: 9 }), play('p2')), begun, 'p2'],
    ['let go by somebody else', begun, playing(play('p1', { releasedAt: 9 }), play('p2')), 'p2'],
    ['changed here, let go by somebody else', playing(play('p1', { speed: 2 })), playing(play('p2')), 'p1'],
    ['tried from nothing', playing(play('p7')), begun, 'p7'],
  ];
  for (const [name, tried, real, wanted] of cases)
    test(name, () => assert.equal(ids(mergedTry(begun, tried, real)), wanted));

  test('a pace that somebody else changed stays, unless it was changed here', () => {
    const [base, faster, slower] = [1, 2, 0.5].map((speed) => playing(play('p1', { speed }))) as [Tried, Tried, Tried];
    assert.equal(mergedTry(base, base, faster).playing[0]!.speed, 2);
    assert.equal(mergedTry(base, slower, faster).playing[0]!.speed, 0.5);
  });
});

describe('the hand', () => {
  const hand = (values: Tried['hand']): Tried => state({ hand: values });
  const base = hand({ 'unit:a': { Dimmer: 0.5, Pan: 0.1 } });
  test('attributes of both sides come together', () => {
    const tried = hand({ 'unit:a': { Dimmer: 1, Pan: 0.1 }, 'unit:b': { Dimmer: 0.2 } });
    const real = hand({ 'unit:a': { Dimmer: 0.5, Pan: 0.9 }, 'unit:c': { Dimmer: 0.3 } });
    assert.deepEqual(mergedTry(base, tried, real).hand, {
      'unit:a': { Dimmer: 1, Pan: 0.9 },
      'unit:b': { Dimmer: 0.2 },
      'unit:c': { Dimmer: 0.3 },
    });
  });
  test('what was let go here is let go; a unit without values is gone', () => {
    assert.deepEqual(mergedTry(base, hand({ 'unit:a': { Pan: 0.1 } }), base).hand, { 'unit:a': { Pan: 0.1 } });
    assert.deepEqual(mergedTry(base, hand({}), base).hand, {});
  });
});

test('where nobody else did anything it is what was tried', () => {
  const plays = fc
    .uniqueArray(fc.integer({ min: 1, max: 30 }), { maxLength: 8 })
    .map((n) => n.map((i) => play(`p${i}`)));
  const values = fc.dictionary(
    fc.constantFrom('unit:a', 'unit:b'),
    fc.dictionary(fc.constantFrom('Dimmer', 'Pan', 'Tilt'), fc.constantFrom(0, 0.5, 1), { minKeys: 1 }),
  );
  const any: fc.Arbitrary<Tried> = fc.record({ playing: plays, hand: values, handEffects: plays }) as never;
  const sorted = (t: Tried): Tried => ({
    ...t,
    playing: [...t.playing].sort((a, b) => a.startedAt - b.startedAt),
    handEffects: [...t.handEffects].sort((a, b) => a.startedAt - b.startedAt),
  });
  fc.assert(
    fc.property(any, any, (base, tried) => {
      assert.deepEqual(
        JSON.parse(JSON.stringify(mergedTry(base, tried, base))),
        JSON.parse(JSON.stringify(sorted(tried))),
      );
      // And where nothing was tried it is what is live.
      assert.deepEqual(
        JSON.parse(JSON.stringify(mergedTry(base, base, tried))),
        JSON.parse(JSON.stringify(sorted(tried))),
      );
    }),
  );
});
