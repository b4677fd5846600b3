import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { actionSchema, idsOfAction, type Action } from '../../records/action.ts';
import { initialLive, newPlay, type LiveState } from '../index.ts';
import { Actor, type Signal } from './act.ts';
import { songOn } from './songs.ts';
import { liveCommandSchema, type LiveCommand } from './command.ts';
import { tappedBpm } from './taps.ts';

const PRESS: Signal = { kind: 'press' };
const hold = (on: boolean): Signal => ({ kind: 'hold', on });
const moved = (value: number, last: number | null): Signal => ({ kind: 'value', value, last });

function actor(over: Partial<LiveState> = {}) {
  const commands: LiveCommand[] = [];
  const live = { ...initialLive(0), ...over };
  const made = new Actor({ document: () => new Map(), live: () => live, command: (c) => commands.push(c) });
  return {
    commands,
    act: (action: Action, signal: Signal, ms = 0, who = 'me') => made.act(actionSchema.parse(action), signal, ms, who),
  };
}
const of = (action: Action, signal: Signal, over: Partial<LiveState> = {}) => actor(over).act(action, signal);
const playing = { playing: [newPlay({ id: 'p7', target: 'chase:c', startedAt: 0 })] };
const play: Action = { do: 'play', target: 'scene:s' };

/** What each action comes to when it is pressed, held, let go, moved up over the half, down, and heard for the first time. */
const ALL: readonly (readonly [Action, ...(object | null)[]])[] = [
  [
    play,
    { do: 'play', target: 'scene:s' },
    { do: 'play', target: 'scene:s' },
    null,
    { do: 'play', target: 'scene:s' },
    null,
    null,
  ],
  [
    { ...play, held: true },
    { do: 'play', target: 'scene:s' },
    { do: 'play', target: 'scene:s' },
    { do: 'release', target: 'scene:s' },
    { do: 'play', target: 'scene:s' },
    { do: 'release', target: 'scene:s' },
    null,
  ],
  [
    { do: 'flash', target: 'scene:s' },
    null,
    { do: 'flash', target: 'scene:s', on: true },
    { do: 'flash', target: 'scene:s', on: false },
    { do: 'flash', target: 'scene:s', on: true },
    { do: 'flash', target: 'scene:s', on: false },
    null,
  ],
  [{ do: 'releaseAll' }, { do: 'releaseAll' }, { do: 'releaseAll' }, null, { do: 'releaseAll' }, null, null],
  [
    { do: 'dark' },
    { do: 'dark', on: true },
    { do: 'dark', on: true },
    { do: 'dark', on: false },
    { do: 'dark', on: true },
    { do: 'dark', on: false },
    null,
  ],
  [
    { do: 'freeze' },
    { do: 'freeze', on: true },
    { do: 'freeze', on: true },
    { do: 'freeze', on: false },
    { do: 'freeze', on: true },
    { do: 'freeze', on: false },
    null,
  ],
  [
    { do: 'level', of: { what: 'grand' } },
    null,
    { do: 'grand', level: 1 },
    { do: 'grand', level: 0 },
    { do: 'grand', level: 0.8 },
    { do: 'grand', level: 0.2 },
    { do: 'grand', level: 0.8 },
  ],
  [
    { do: 'level', of: { what: 'area', id: 'area:a' }, to: 0.3 },
    { do: 'area', areaId: 'area:a', level: 0.3 },
    { do: 'area', areaId: 'area:a', level: 0.3 },
    null,
    { do: 'area', areaId: 'area:a', level: 0.3 },
    null,
    null,
  ],
  [
    { do: 'mood', mood: 'calm' },
    { do: 'mood', mood: 'calm' },
    { do: 'mood', mood: 'calm' },
    null,
    { do: 'mood', mood: 'calm' },
    null,
    null,
  ],
  [
    { do: 'tempo' },
    null,
    { do: 'tempo', bpm: 275 },
    { do: 'tempo', bpm: 20 },
    { do: 'tempo', bpm: 20 + 0.8 * 255 },
    { do: 'tempo', bpm: 20 + 0.2 * 255 },
    null,
  ],
  [
    { do: 'pace' },
    null,
    { do: 'pace', pace: 2 },
    { do: 'pace', pace: 0.1 },
    { do: 'pace', pace: 1.6 },
    { do: 'pace', pace: 0.4 },
    null,
  ],
  [
    { do: 'auto' },
    { do: 'auto', on: true },
    { do: 'auto', on: true },
    { do: 'auto', on: false },
    { do: 'auto', on: true },
    { do: 'auto', on: false },
    null,
  ],
  [
    { do: 'song', songId: 'song:a' },
    { do: 'song', songId: 'song:a' },
    { do: 'song', songId: 'song:a' },
    null,
    { do: 'song', songId: 'song:a' },
    null,
    null,
  ],
  [{ do: 'songList', listId: 'setlist:gone' }, null, null, null, null, null, null],
  [{ do: 'songPlay' }, null, null, null, null, null, null],
  [{ do: 'songNext' }, null, null, null, null, null, null],
  [{ do: 'autoNext' }, { do: 'autoNext' }, { do: 'autoNext' }, null, { do: 'autoNext' }, null, null],
  [
    { do: 'autoLean' },
    null,
    { do: 'autoLean', lean: 2 },
    { do: 'autoLean', lean: -2 },
    { do: 'autoLean', lean: 1 },
    { do: 'autoLean', lean: -1 },
    null,
  ],
  [
    { do: 'nudge', beats: 0.1 },
    { do: 'nudge', beats: 0.1 },
    { do: 'nudge', beats: 0.1 },
    null,
    { do: 'nudge', beats: 0.1 },
    null,
    null,
  ],
];
const SIGNALS = [PRESS, hold(true), hold(false), moved(0.8, 0.2), moved(0.2, 0.8), moved(0.8, null)];

describe('an action', () => {
  for (const [action, ...wanted] of ALL)
    test(`${JSON.stringify(action)}, however it is asked for`, () => {
      SIGNALS.forEach((signal, i) => {
        const command = of(action, signal);
        assert.deepEqual(command, wanted[i], JSON.stringify(signal));
        if (command) liveCommandSchema.parse(command);
      });
    });
  test('that changes over looks at what is', () => {
    const toggle: Action = { do: 'toggle', target: 'chase:c' };
    assert.deepEqual(of(toggle, PRESS), { do: 'play', target: 'chase:c' });
    assert.deepEqual(of(toggle, PRESS, playing), { do: 'release', target: 'chase:c' });
    const dark = { dark: { on: true, at: 0, from: 1 } };
    assert.deepEqual(of({ do: 'dark' }, PRESS, dark), { do: 'dark', on: false });
    assert.deepEqual(of({ do: 'dark', areaId: 'area:a' }, PRESS, dark), { do: 'areaDark', areaId: 'area:a', on: true });
    assert.deepEqual(of({ do: 'freeze' }, PRESS, { frozen: { at: 1, beat: 1 } }), { do: 'freeze', on: false });
    const song = songOn('song:a', 0, 0, { list: { id: 'setlist:l', seed: 1 } });
    assert.deepEqual(of({ do: 'song', songId: 'song:a' }, PRESS, { song }), { do: 'songOff' });
    assert.deepEqual(of({ do: 'song', songId: 'song:b' }, PRESS, { song }), { do: 'song', songId: 'song:b' });
    assert.deepEqual(of({ do: 'songList', listId: 'setlist:l' }, PRESS, { song }), { do: 'songOff' });
    assert.deepEqual(of({ do: 'songPlay' }, PRESS, { song }), { do: 'songPlay', on: false });
    assert.deepEqual(of({ do: 'songNext' }, PRESS, { song }), { do: 'songBy', by: 1 });
  });
  test('goes a step on, or begins', () => {
    const go: Action = { do: 'go', target: 'chase:c' };
    assert.deepEqual(of(go, PRESS), { do: 'play', target: 'chase:c' });
    assert.deepEqual(of(go, PRESS, playing), { do: 'step', playId: 'p7', by: 1 });
    assert.deepEqual(of({ ...go, back: true }, PRESS, playing), { do: 'step', playId: 'p7', by: -1 });
  });
  test('fires once on the way over the half, whatever it does beyond', () => {
    const { act, commands } = actor();
    let last: number | null = null;
    for (const value of [0.1, 0.4, 0.6, 0.9, 0.7, 0.3, 0.1, 0.8]) {
      act(play, moved(value, last));
      last = value;
    }
    assert.equal(commands.length, 2);
  });
  test('names the records it is about', () => {
    const ids = (action: Action): unknown[] => [...idsOfAction(action)];
    assert.deepEqual(ids({ ...play, areaId: 'area:a' }), [
      ['target', 'scene:s'],
      ['areaId', 'area:a'],
    ]);
    assert.deepEqual(ids({ do: 'toggle', target: 'mood:calm' }), []);
    assert.deepEqual(ids({ do: 'level', of: { what: 'group', id: 'group:g' } }), [['of.id', 'group:g']]);
    assert.deepEqual(ids({ do: 'level', of: { what: 'kind', kind: 'par' } }), []);
  });
});

describe('a tempo that is tapped', () => {
  test('is the mean of the newest row of taps; a pause begins another', () => {
    assert.equal(tappedBpm([]), null);
    assert.equal(tappedBpm([1000]), null);
    assert.equal(tappedBpm([1000, 1500, 2000]), 120);
    assert.equal(tappedBpm([0, 400, 5000, 5500]), 120);
    assert.equal(tappedBpm([0, 400, 5000]), null);
    assert.equal(tappedBpm([0, 100, 200]), null, '600 a minute are none');
  });
  test('of one person is none of another', () => {
    const { act } = actor();
    const tap: Action = { do: 'tap' };
    assert.equal(act(tap, PRESS, 0, 'anna'), null);
    assert.equal(act(tap, PRESS, 300, 'ben'), null);
    assert.deepEqual(act(tap, PRESS, 500, 'anna'), { do: 'tempo', bpm: 120, beatNow: true });
  });
});
