import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { HeardClock, ShowClock } from './clock.ts';
import { seeded } from './random.ts';

/** Runs a clock beside a wall clock that is read to the millisecond, a look a second; `wallAt` gives what that says. */
function run(wallAt: (mono: number) => number, seconds: number, ahead = 0) {
  const clock = new ShowClock(wallAt(0), 0, ahead);
  let last = clock.at(0);
  let [fastest, slowest] = [0, Infinity];
  for (let mono = 0; mono <= seconds * 1000; mono += 25) {
    if (mono % 1000 === 0) clock.follow(Math.floor(wallAt(mono)), mono);
    const now = clock.at(mono);
    if (mono > 0) {
      fastest = Math.max(fastest, now - last);
      slowest = Math.min(slowest, now - last);
    }
    last = now;
  }
  return { off: last - wallAt(seconds * 1000), fastest, slowest };
}
const WALL = 1_800_000_000_000;

describe('the clock of a show', () => {
  test('goes as the wall clock goes, also where the machine counts seconds a little wrong', () => {
    assert.ok(Math.abs(run((mono) => WALL + mono, 600).off) < 3);
    // 100 parts in a million: 8.6 s a day.
    assert.ok(Math.abs(run((mono) => WALL + mono * 1.0001, 3600).off) < 6);
  });
  for (const by of [300, -300, 90_000, -90_000])
    test(`does not jump when the wall clock is set by ${by} ms, and catches up at 2 ms a second`, () => {
      const set = (mono: number): number => WALL + mono + (mono >= 10_000 ? by : 0);
      const soon = run(set, 60);
      assert.ok(soon.fastest < 25.06 && soon.slowest > 24.94, `${soon.slowest} to ${soon.fastest} ms in 25`);
      const left = Math.abs(by) - 2 * 590;
      const later = run(set, 600);
      if (left <= 0) assert.ok(Math.abs(later.off) < 3, `${later.off} ms off`);
      else assert.ok(Math.abs(Math.abs(later.off) - left) < 10, `${later.off} ms off`);
    });
  test('goes on over a restart from where it was', () => {
    const clock = new ShowClock(WALL, 0, 45_000);
    assert.equal(clock.at(10), WALL + 45_010);
    assert.equal(clock.follow(WALL + 10, 10), 45_000);
  });
});

describe('a clock that is heard', () => {
  test('is as near as its quickest messages, never goes back, and does not jump about with the slow ones', () => {
    const chance = seeded(3);
    const clock = new HeardClock();
    assert.equal(clock.at(5), null);
    let last = -Infinity;
    let worst = 0;
    for (let mono = 0; mono < 120_000; mono += 20) {
      // Mostly 3 ms late, now and then 200.
      const late = chance() < 0.2 ? chance() * 200 : 3 + chance();
      if (mono % 500 === 0) clock.hear(WALL + mono - late, mono);
      const now = clock.at(mono)!;
      assert.ok(now > last);
      last = now;
      if (mono > 20_000) worst = Math.max(worst, Math.abs(now - (WALL + mono)));
    }
    assert.ok(worst < 8, `${worst} ms off`);
  });
  test('that is another one is taken over at once', () => {
    const clock = new HeardClock();
    clock.hear(WALL, 0);
    clock.hear(WALL + 3_600_000, 1000);
    assert.equal(clock.at(1000), WALL + 3_600_000);
  });
});
