import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../../random.ts';
import { beatMapSchema } from '../live/tempo.ts';
import { beatAt, bpmAt, msAt, shifted, steady, type BeatMap } from './beat-map.ts';

const near = (a: number, b: number, within = 1e-6): void => assert.ok(Math.abs(a - b) <= within, `${a} is not ${b}`);

describe('a beat map', () => {
  test('of one point is a straight line, before its point too', () => {
    const map = steady(120, 10_000, 8);
    assert.deepEqual([beatAt(map, 10_000), beatAt(map, 10_500), beatAt(map, 9_000)], [8, 9, 6]);
    assert.deepEqual([msAt(map, 8), msAt(map, 9), msAt(map, 6)], [10_000, 10_500, 9_000]);
    assert.equal(bpmAt(map, 12), 120);
  });
  test('of several goes through each of them and on at its own pace', () => {
    const map: BeatMap = {
      points: [
        { ms: 1000, beat: 0 },
        { ms: 2000, beat: 2 },
        { ms: 4000, beat: 3 },
      ],
      bpm: 60,
    };
    assert.deepEqual(
      [0, 1000, 1500, 2000, 3000, 4000, 6000].map((ms) => beatAt(map, ms)),
      [-2, 0, 1, 2, 2.5, 3, 5],
    );
    assert.deepEqual(
      [500, 1500, 2000, 3999, 4000].map((ms) => Math.round(bpmAt(map, ms))),
      [120, 120, 30, 30, 60],
    );
  });
  test('and its inverse undo each other, for maps drawn by chance', () => {
    const chance = seeded(7);
    for (let round = 0; round < 50; round++) {
      const points = [{ ms: chance() * 1e6, beat: chance() * 100 - 50 }];
      for (let i = 0; i < Math.floor(chance() * 200); i++) {
        const { ms, beat } = points.at(-1)!;
        points.push({ ms: ms + 1 + chance() * 2000, beat: beat + 0.01 + chance() * 4 });
      }
      const map = beatMapSchema.parse({ points, bpm: 20 + chance() * 280 });
      let last = -Infinity;
      for (let ms = points[0]!.ms - 5000; ms < points.at(-1)!.ms + 5000; ms += 173) {
        const beat = beatAt(map, ms);
        assert.ok(beat > last, 'it rises');
        last = beat;
        near(msAt(map, beat), ms, 1e-3);
      }
      near(beatAt(shifted(map, 0.25), 777), beatAt(map, 777) + 0.25);
    }
  });
  test('that goes back, stands still or has no point is refused', () => {
    const at = (...points: { ms: number; beat: number }[]) => beatMapSchema.safeParse({ points, bpm: 120 }).success;
    assert.ok(at({ ms: 0, beat: 0 }));
    assert.ok(!at());
    assert.ok(!at({ ms: 0, beat: 0 }, { ms: 0, beat: 1 }));
    assert.ok(!at({ ms: 0, beat: 0 }, { ms: 10, beat: 0 }));
    assert.ok(!beatMapSchema.safeParse({ points: [{ ms: 0, beat: 0 }], bpm: 0 }).success);
  });
});
