import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { PLENTY, rigOf, song } from '../../../tests/support/auto-rig.ts';
import { NOTHING_ASKED } from '../auto/plan.ts';
import { applyChange, getRecord, type Document } from '../document/change.ts';
import type { LaneId } from '../ids.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import type { Block, LaneRecord } from '../records/lane.ts';
import { PRESETS } from '../ready/presets.ts';
import { point, valueAt } from '../song/curves.ts';
import { gridOf, sectionsOf } from '../song/grid.ts';
import { blockOf } from './blocks.ts';
import { atMoments, dealtOut, overlapping } from './fill.ts';
import { courseOf, songBeat, songTime } from './light.ts';
import { clipOf, cleared, cutTo, laidClip } from './passages.ts';
import { proposed } from './propose.ts';

const plays: Block['plays'] = { is: 'effect', name: 'Tide', spec: PRESETS.find((p) => p.key === 'tide')!.spec };
const near = (a: number, b: number, off = 2e-4): void => assert.ok(Math.abs(a - b) <= off, `${a} is not ${b}`);
/** Beats that are not even: a drummer. */
const BEATS = ((): number[] => {
  const random = seeded(4);
  let at = 0.4;
  return Array.from({ length: 140 }, () => (at += 0.42 + random() * 0.16));
})();
const document: Document = rigOf(PLENTY);
const lane = (blocks: Block[], fields: Partial<LaneRecord> = {}): LaneRecord =>
  make('lane', { id: 'lane:a', number: 1, songId: 'song:one', on: 'unit:u0', ...fields, blocks });
const ids = (): (() => LaneId) => {
  let n = 0;
  return () => `lane:new${n++}`;
};

describe('time of beats', () => {
  test('a beat and its moment are inverse, before the first and after the last too', () => {
    const random = seeded(2);
    for (let i = 0; i < 200; i++) {
      const beat = random() * 160 - 5;
      near(songBeat(BEATS, songTime(BEATS, beat)), beat, 1e-9);
    }
    near(songTime([], 6), 3);
  });
});

describe('from the ear', () => {
  test('a block at each moment, none into the next, in a layer that is free', () => {
    const there = [blockOf({ key: 'a', at: 4, length: 3, plays })];
    const filled = atMoments(there, [1, 4, 4.5, 5, 9, 20], { from: 4, to: 10 }, { plays, length: 0.8, fade: 0.5 });
    const own = filled.slice(1);
    assert.deepEqual(
      own.map(({ at, length, layer, fadeOut }) => [at, length, layer, fadeOut]),
      [
        [4, 0.5, 1, 0.25],
        [4.5, 0.5, 1, 0.25],
        [5, 0.8, 1, 0.4],
        [9, 0.8, 1, 0.4],
      ],
    );
    assert.equal(new Set(filled.map(({ key }) => key)).size, filled.length);
    assert.deepEqual(overlapping(filled), []);
    assert.equal(atMoments(there, [50], { from: 4, to: 10 }, { plays, length: 1 }), there);
  });
  test('one prop after the other', () => {
    assert.deepEqual(dealtOut([1, 2, 3, 4, 5], 2), [
      [1, 3, 5],
      [2, 4],
    ]);
  });
  test('overlaps in a layer are found', () => {
    const a = blockOf({ key: 'a', at: 0, length: 2, plays });
    const list = [a, { ...a, key: 'b', at: 1.5 }, { ...a, key: 'c', at: 1, layer: 1 }, { ...a, key: 'd', at: 9 }];
    assert.deepEqual(
      overlapping(list).map(({ key }) => key),
      ['b'],
    );
  });
});

describe('a stretch with all its lanes', () => {
  const curves = { level: [point(0, 0), point(2, 1)], phase: [point(0, 0.5)], speed: [point(1, 1), point(4, 3)] };
  const blocks = [
    blockOf({ key: 'a', at: 2, length: 6, plays, fadeIn: 1, fadeOut: 1, curves }),
    blockOf({ key: 'b', at: 9, length: 1, plays, layer: 1 }),
    blockOf({ key: 'c', at: 30, length: 1, plays }),
  ];
  test('what is cut goes on as it was there', () => {
    const cut = cutTo(document, blocks[0]!, BEATS, { from: 4, to: 5 })!;
    assert.deepEqual([cut.at, cut.length, cut.fadeIn, cut.fadeOut], [4, 1, 0, 0]);
    for (const at of [4, 4.5, 4.99]) {
      near(valueAt(cut.curves.level!, at - 4), valueAt(curves.level, at - 2), 1e-9);
      near(cut.slip + courseOf(document, cut, BEATS, at), courseOf(document, blocks[0]!, BEATS, at), 1e-6);
    }
    assert.equal(cutTo(document, blocks[0]!, BEATS, { from: 8, to: 9 }), null);
    assert.equal(cutTo(document, blocks[0]!, BEATS, { from: 1, to: 9 }), blocks[0]);
  });
  test('copied and laid in its own place it is the same', () => {
    const stretch = { from: 1, to: 12 };
    const clip = clipOf(document, [lane(blocks)], BEATS, stretch, () => 'One');
    const empty = cleared(document, lane(blocks), BEATS, stretch);
    assert.deepEqual(
      empty.blocks.map(({ key }) => key),
      ['c'],
    );
    const [back] = laidClip(clip, {
      songId: 'song:one',
      lanes: [empty],
      beats: BEATS,
      at: 1,
      end: 60,
      newId: ids(),
    });
    const [a, b] = back!.blocks.slice(1);
    for (const [is, was] of [
      [a!, blocks[0]!],
      [b!, blocks[1]!],
    ] as const) {
      for (const key of ['at', 'length', 'fadeIn', 'fadeOut'] as const) near(is[key], was[key], 3e-4);
      assert.equal(is.layer, was.layer);
    }
    near(a!.curves.level![1]!.at, 2, 3e-4);
  });
  test('elsewhere it is in the time of that place: every block keeps its beats', () => {
    const clip = clipOf(document, [lane(blocks)], BEATS, { from: 1, to: 12 }, () => 'One');
    const at = songTime(BEATS, 80);
    const [there] = laidClip(clip, { songId: 'song:one', lanes: [], beats: BEATS, at, end: 70, newId: ids() });
    const first = songBeat(BEATS, 1);
    there!.blocks.forEach((block, i) => {
      near(songBeat(BEATS, block.at) - 80, songBeat(BEATS, blocks[i]!.at) - first, 2e-3);
      near(
        songBeat(BEATS, block.at + block.length) - 80,
        songBeat(BEATS, blocks[i]!.at + blocks[i]!.length) - first,
        2e-3,
      );
    });
  });
  test('a verse is stretched to the bars of another, exactly', () => {
    const clip = clipOf(document, [lane(blocks)], BEATS, { from: 1, to: 12 }, () => 'One');
    const whole = [{ ...clip.lanes[0]!, blocks: [blockOf({ key: 'w', at: 0, length: clip.beats, plays })] }];
    const fill = { from: BEATS[40]!, to: BEATS[72]! };
    const laying = { songId: 'song:one', lanes: [], beats: BEATS, at: fill.from, fill, end: 70, newId: ids() } as const;
    const [there] = laidClip({ ...clip, lanes: whole }, laying);
    near(there!.blocks[0]!.at, fill.from);
    near(there!.blocks[0]!.at + there!.blocks[0]!.length, fill.to);
  });
  test('clearing cuts what reaches over the edges, and what goes through becomes two', () => {
    const one = lane([blockOf({ key: 'a', at: 0, length: 20, plays })]);
    const two = cleared(document, one, BEATS, { from: 5, to: 8 });
    assert.deepEqual(
      two.blocks.map(({ at, length }) => [at, length]),
      [
        [0, 5],
        [8, 12],
      ],
    );
    assert.equal(new Set(two.blocks.map(({ key }) => key)).size, 2);
    assert.equal(cleared(document, one, BEATS, { from: 25, to: 30 }), one);
  });
  test('locked lanes stay; nothing is laid beyond the end; what is lost keeps its name', () => {
    const clip = clipOf(
      document,
      [lane(blocks, { on: null, lost: 'Arches' })],
      BEATS,
      { from: 1, to: 12 },
      () => 'One',
    );
    const locked = lane([], { on: null, lost: 'Arches', locked: true });
    const laid = laidClip(clip, { songId: 'song:one', lanes: [locked], beats: BEATS, at: 60, end: 62, newId: ids() });
    assert.equal(laid.length, 1);
    assert.deepEqual([laid[0]!.id, laid[0]!.lost, laid[0]!.number], ['lane:new0', 'Arches', 2]);
    assert.ok(laid[0]!.blocks.every(({ at, length }) => at + length <= 62.0001));
  });
});

describe('proposed by Auto', () => {
  test('a section is filled with blocks that can be edited: within it, on what they are for, made once', () => {
    const found = getRecord(document, 'song', 'song:one') ?? song();
    const sections = sectionsOf(found);
    const stretch = { from: sections[1]!.at, to: sections[2]!.at };
    let n = 0;
    const proposing = {
      asked: { ...NOTHING_ASKED, seed: 7 },
      newLane: (): LaneId => `lane:p${n++}`,
      newGroup: (): `group:${string}` => `group:p${n++}`,
    };
    const put = proposed(document, found, stretch, proposing);
    const lanes = put.filter((r) => r.kind === 'lane');
    assert.ok(lanes.length > 0 && lanes.some(({ blocks }) => blocks.length > 0));
    for (const { blocks } of lanes)
      for (const { at, length } of blocks)
        assert.ok(at >= stretch.from - 1e-3 && at + length <= stretch.to + 1e-3, `${at} ${length}`);
    const after = applyChange(document, { put, remove: [] });
    for (const { on } of lanes) assert.ok(on === null || after.has(on), String(on));
    // The same groups serve the next section.
    const again = proposed(
      after,
      found,
      { from: sections[2]!.at, to: sections[3]?.at ?? gridOf(found).beats.at(-1)! },
      proposing,
    );
    const groups = put.filter((r) => r.kind === 'group').map((r) => JSON.stringify(r.unitIds));
    for (const group of again.filter((r) => r.kind === 'group'))
      assert.ok(!groups.includes(JSON.stringify(group.unitIds)), 'no group twice');
  });
});
