import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { song } from '../../../tests/support/auto-rig.ts';
import { make, type LaneRecord } from '../records/index.ts';
import type { Block } from '../records/lane.ts';
import { PRESETS } from '../ready/presets.ts';
import { blockOf } from './blocks.ts';
import { cueSheet } from './cue-sheet.ts';
import { anotherVersion, differences } from './versions.ts';

const plays: Block['plays'] = { is: 'effect', name: 'Tide', spec: PRESETS.find((p) => p.key === 'tide')!.spec };
const block = (key: string, at: number, length = 1, fields: Partial<Block> = {}): Block =>
  blockOf({ key, at, length, plays, ...fields });
const lane = (id: string, on: LaneRecord['on'], blocks: Block[], fields: Partial<LaneRecord> = {}): LaneRecord =>
  make('lane', { id: `lane:${id}`, number: 1, songId: 'song:one', on, ...fields, blocks });

describe('versions of a song', () => {
  test('another version has all of it and shares nothing; it is no different', () => {
    const lanes = [lane('a', 'unit:u0', [block('a', 1), block('b', 3)]), lane('b', null, [block('a', 2)])];
    let n = 0;
    const put = anotherVersion({ ...song(), codeAt: 5 }, lanes, {
      id: 'song:two',
      number: 2,
      name: 'Two',
      newLane: () => `lane:n${n++}`,
    });
    const [copy, ...others] = put;
    assert.ok(copy?.kind === 'song' && copy.name === 'Two' && copy.codeAt === null);
    assert.ok(others.every((r) => r.kind === 'lane' && r.songId === 'song:two'));
    assert.deepEqual(differences(lanes, others as LaneRecord[]), []);
  });
  test('what is gone, new and other is told by lane, in order of time', () => {
    const a = [lane('a', 'unit:u0', [block('a', 1), block('b', 3), block('c', 5)])];
    const b = [lane('b', 'unit:u0', [block('x', 1), block('y', 3, 2)]), lane('c', null, [block('z', 0.5)])];
    assert.deepEqual(
      differences(a, b).map(({ on, is, at }) => [on, is, at]),
      [
        [null, 'new', 0.5],
        ['unit:u0', 'other', 3],
        ['unit:u0', 'gone', 5],
      ],
    );
  });
});

describe('the cue sheet', () => {
  const names = { laneName: ({ on }: LaneRecord) => String(on), blockName: () => 'Tide' };
  test('has sections, marks and blocks with bar and beat; runs are one line; muted lanes are left out', () => {
    const marked = { ...song(), marks: [{ at: 4.5, to: 6, label: 'Bells', words: false }] };
    const run = Array.from({ length: 6 }, (_, i) => block(`r${i}`, 8.5 + i * 0.5, 0.2));
    const lines = cueSheet(
      marked,
      [lane('a', 'unit:u0', [block('a', 1), ...run]), lane('b', 'unit:u1', [block('m', 2)], { muted: true })],
      names,
    );
    assert.deepEqual(
      lines
        .filter(({ at }) => at < 20)
        .map(({ at, bar, beat, what, where, length }) => [
          at,
          bar,
          beat,
          what,
          where,
          length && Math.round(length * 10) / 10,
        ]),
      [
        [0, 0, 0, 'A, easy', '', null],
        [1, 1, 2, 'Tide', 'unit:u0', 1],
        [4.5, 3, 1, 'Bells', '', 1.5],
        [8.5, 5, 1, 'Tide, 6 times', 'unit:u0', 2.7],
      ],
    );
  });
});
