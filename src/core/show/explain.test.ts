import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, drawing, scene, showWith, units, type LiveCommandGiven } from '../../../tests/support/rig.ts';
import { make } from '../records/index.ts';
import { explain, initialLive, type Explanation, type TargetId } from './index.ts';

const show = showWith(
  make('area', { id: 'area:hall', number: 1, name: 'Hall' }),
  ...units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1, fields: { areaId: 'area:hall', levelLimit: 0.9 } },
    { slug: 'h', profile: 'tansy-flitter', mode: '5ch', address: 5 },
  ),
  scene('low', { a: { Dimmer: 0.2 }, h: { Pan: 0.2 } }),
  scene('high', { a: { Dimmer: 0.8 }, h: { Pan: 0.8 } }),
  scene('over', { a: { Dimmer: 0.5 } }, { priority: 150 }),
  scene('later', { a: { Dimmer: 0.1 } }, { fadeInMs: 10_000 }),
  scene('brighter', { a: { Dimmer: 0.7 } }, { fadeInMs: 10_000 }),
  scene('glide', { h: { Pan: 0.1 } }, { fadeInMs: 10_000 }),
  make('effect', {
    id: 'effect:scale',
    number: 1,
    name: 'Scale',
    on: ['unit:a'],
    levels: 'scale',
    rate: 0,
    fadeInMs: 0,
    parts: [{ does: 'level', wave: 'square', width: 1, size: 0.5 }],
  }),
);
function ask(
  commands: readonly LiveCommandGiven[],
  attribute: string,
  unit: 'unit:a' | 'unit:h' = 'unit:a',
  nowMs = 1000,
): Explanation {
  const state = after(show, ...commands.map((command, i) => [i, command] as const));
  const { rig, live } = drawing(show, state);
  return explain({ rig, document: show, state, live, nowMs }, unit, [attribute])[0]!;
}
const play = (target: TargetId, more: object = {}): LiveCommandGiven => ({ do: 'play', target, ...more });
const stack = (e: Explanation): string[] => e.influences.map((i) => `${i.name}: ${i.verdict}`);
const round = (v: number): number => Math.round(v * 1000) / 1000;

describe('who sets what, and why', () => {
  test('nothing plays: it is at rest', () => assert.deepEqual(stack(ask([], 'Dimmer')), ['At rest: wins']));
  test('levels: the highest of a rank wins, whichever came first', () => {
    assert.deepEqual(stack(ask([play('scene:high'), play('scene:low')], 'Dimmer')), [
      'At rest: covered',
      'high: wins',
      'low: lower',
    ]);
    assert.deepEqual(stack(ask([play('scene:low'), play('scene:high')], 'Dimmer')), [
      'At rest: covered',
      'low: lower',
      'high: wins',
    ]);
  });
  test('the rest: the latest', () =>
    assert.deepEqual(stack(ask([play('scene:high'), play('scene:low')], 'Pan', 'unit:h')), [
      'At rest: covered',
      'high: earlier',
      'low: wins',
    ]));
  test('a higher priority covers, the hand covers that, identify the hand', () => {
    const list: LiveCommandGiven[] = [
      play('scene:high'),
      play('scene:over'),
      { do: 'hand', set: { 'unit:a': { Dimmer: 0.3 } } },
      { do: 'identify', units: ['unit:a'] },
    ];
    assert.deepEqual(stack(ask(list, 'Dimmer')), [
      'At rest: covered',
      'high: covered',
      'over: covered',
      'By hand: covered',
      'Identify: wins',
    ]);
  });
  test('what fades in counts with what is below; what has not begun is silent', () => {
    // A level over nothing is sent as far as it is in; over another value it is mixed with that.
    assert.deepEqual(stack(ask([play('scene:later')], 'Dimmer')), ['At rest: covered', 'later: wins']);
    assert.deepEqual(stack(ask([play('scene:later'), play('scene:brighter')], 'Dimmer')), [
      'At rest: covered',
      'later: lower',
      'brighter: wins',
    ]);
    assert.deepEqual(stack(ask([play('scene:high'), play('scene:glide')], 'Pan', 'unit:h')), [
      'At rest: covered',
      'high: counts',
      'glide: fading',
    ]);
    assert.deepEqual(stack(ask([play('scene:later')], 'Dimmer', 'unit:a', 0)), ['At rest: wins', 'later: silent']);
  });
  test('an effect that scales counts, and what it scales wins', () => {
    const found = ask([play('scene:high'), play('effect:scale')], 'Dimmer');
    assert.deepEqual(stack(found), ['At rest: covered', 'high: wins', 'Scale: counts']);
    assert.equal(round(found.influences.at(-1)!.after), 0.4);
  });
  test('an area’s own is named with what it leaves, and everything the masters take', () => {
    const found = ask(
      [
        play('scene:high'),
        play('scene:low', { areaId: 'area:hall' }),
        { do: 'area', areaId: 'area:hall', level: 0.5 },
        { do: 'grand', level: 0.5 },
      ],
      'Dimmer',
    );
    assert.deepEqual(stack(found), ['At rest: covered', 'high: covered', 'low: wins']);
    assert.deepEqual(
      found.masters.map((m) => [m.what, m.leaves]),
      [
        ['limit', 0.9],
        ['area', 0.5],
        ['grand', 0.5],
      ],
    );
    assert.equal(round(found.sent), round(0.2 * 0.9 * 0.5 * 0.5));
  });
  test('a unit that is not there has nothing', () => {
    const state = initialLive(0);
    const { rig, live } = drawing(show, state);
    assert.deepEqual(explain({ rig, document: show, state, live, nowMs: 0 }, 'unit:gone'), []);
  });
});
