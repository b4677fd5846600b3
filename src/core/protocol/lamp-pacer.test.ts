import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { HUB_UPDATES_A_SECOND, LampPacer, type LampColour } from './lamp-pacer.ts';

const colour = (level: number): LampColour => ({ red: level, green: 0, blue: 0 });

describe('the pace of a hub', () => {
  test('at most 25 updates a second in all and 10 a lamp, whatever changes', () => {
    for (const lamps of [1, 3, 20]) {
      const pacer = new LampPacer();
      const sent = new Map<string, number[]>();
      for (let ms = 0; ms < 10_000; ms += 25) {
        for (let i = 0; i < lamps; i++) pacer.want(`${i}`, colour((ms % 1000) / 1000 + i));
        for (const { lampId } of pacer.take(ms)) sent.set(lampId, [...(sent.get(lampId) ?? []), ms]);
      }
      const all = [...sent.values()].flat();
      assert.ok(all.length <= HUB_UPDATES_A_SECOND * 10 + 5, `${lamps} lamps: ${all.length} in 10 s`);
      for (const times of sent.values())
        for (let i = 1; i < times.length; i++) assert.ok(times[i]! - times[i - 1]! >= 100);
      // Nobody is left out.
      assert.equal(sent.size, lamps);
      const counts = [...sent.values()].map((t) => t.length);
      assert.ok(Math.max(...counts) - Math.min(...counts) <= 2, counts.join(' '));
    }
  });
  test('the newest colour is sent, what came between is left out', () => {
    const pacer = new LampPacer();
    pacer.want('a', colour(0.1));
    assert.deepEqual(pacer.take(0), [{ lampId: 'a', colour: colour(0.1) }]);
    pacer.want('a', colour(0.2));
    assert.deepEqual(pacer.take(50), []);
    pacer.want('a', colour(0.3));
    assert.deepEqual(pacer.take(100), [{ lampId: 'a', colour: colour(0.3) }]);
  });
  test('what does not change is told again only now and then', () => {
    const pacer = new LampPacer();
    let count = 0;
    for (let ms = 0; ms <= 20_000; ms += 25) {
      pacer.want('a', colour(0.5));
      count += pacer.take(ms).length;
    }
    assert.equal(count, 5);
  });
  test('what was not taken is tried again, and lamps that are gone are forgotten', () => {
    const pacer = new LampPacer();
    pacer.want('a', colour(1));
    pacer.want('b', colour(1));
    assert.equal(pacer.take(0).length, 2);
    pacer.failed('a');
    assert.deepEqual(
      pacer.take(150).map((l) => l.lampId),
      ['a'],
    );
    pacer.keepOnly(new Set(['b']));
    pacer.failed('a');
    assert.deepEqual(
      pacer.take(9000).map((l) => l.lampId),
      ['b'],
    );
  });
});
