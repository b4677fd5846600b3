import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { make } from '../../records/index.ts';
import { RECORDS_VERSION } from '../../records/versions.ts';
import { initialLive, newPlay } from '../index.ts';
import { readStoredState } from './stored-state.ts';

const state = {
  ...initialLive(1000),
  grand: 0.4,
  playing: [
    newPlay({ id: 'a', target: 'scene:a', startedAt: 5 }),
    newPlay({ id: 'b', target: 'scene:b', startedAt: 6 }),
  ],
  hand: { 'unit:a': { Dimmer: 0.5 }, 'unit:b': { Dimmer: 1 } } as never,
  held: [make('scene', { id: 'scene:a', number: 1, name: 'A' })],
};
const read = (raw: unknown, version = RECORDS_VERSION) =>
  readStoredState(JSON.parse(JSON.stringify(raw)), version, 9000);

describe('a stored live state', () => {
  test('is read as it was', () => assert.deepEqual(read(state), { state, faults: [] }));
  test('of before fields were there has them at rest', () => {
    const { pace: _, raw: __, ...older } = state;
    assert.deepEqual(read(older, 3), { state, faults: [] });
  });
  test('with one play that cannot be read plays the others, and says which', () => {
    const { state: found, faults } = read({
      ...state,
      playing: [{ ...state.playing[0], speed: 'fast' }, state.playing[1]],
    });
    assert.deepEqual(found, { ...state, playing: [state.playing[1]] });
    assert.deepEqual(
      faults.map((f) => f.path),
      ['live.playing.0'],
    );
  });
  test('with values of one unit that cannot be read keeps those of the others', () => {
    const { state: found, faults } = read({
      ...state,
      hand: { ...(state.hand as object), 'unit:b': { Dimmer: 'lots' } },
    });
    assert.deepEqual(found.hand, { 'unit:a': { Dimmer: 0.5 } });
    assert.deepEqual(
      faults.map((f) => f.path),
      ['live.hand.unit:b'],
    );
  });
  test('with a master that is none has it at rest, and a held record that is none leaves', () => {
    const { state: found, faults } = read({ ...state, grand: 'full', held: [{ kind: 'scene', id: 7 }] });
    assert.deepEqual(found, { ...state, grand: 1, held: [] });
    assert.ok(faults.some((f) => f.path === 'live.grand') && faults.some((f) => f.path.startsWith('7')));
  });
  test('that is none at all is rest', () => {
    for (const raw of [null, 7, 'x', [1]]) {
      const { state: found, faults } = read(raw);
      assert.deepEqual(found, initialLive(9000));
      assert.deepEqual(
        faults.map((f) => f.path),
        ['live'],
      );
    }
  });
});
