import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { collide } from '../../standins/rdm-responder.ts';
import { discover, type RdmBus } from './rdm-discovery.ts';
import { encodeBranchResponse, uidOfNumber, uidToNumber, type Uid } from './rdm.ts';

/** Many devices on one pair of wires: those that answer at once spoil one another. */
function line(
  uids: readonly Uid[],
  odd: { stubborn?: Uid; spoilt?: Uid; deafTo?: (count: number) => boolean } = {},
): RdmBus & { mutes: number } {
  const muted = new Set<Uid>();
  return {
    mutes: 0,
    branch(low, high) {
      const [from, to] = [uidToNumber(low), uidToNumber(high)];
      const answers = uids
        .filter((u) => !muted.has(u) && uidToNumber(u) >= from && uidToNumber(u) <= to)
        .map((u) => {
          const answer = encodeBranchResponse(u);
          if (u === odd.spoilt) answer[12]! ^= 0x55;
          return answer;
        });
      return collide(answers);
    },
    mute(uid) {
      this.mutes++;
      if (odd.deafTo?.(this.mutes)) return false;
      if (!uids.includes(uid)) return false;
      if (uid !== odd.stubborn) muted.add(uid);
      return true;
    },
    unmuteAll() {
      muted.clear();
    },
  };
}

const randomUids = (count: number, seed: number): Uid[] => {
  const random = seeded(seed);
  const found = new Set<Uid>();
  while (found.size < count) found.add(uidOfNumber(Math.floor(random() * (2 ** 48 - 2))));
  return [...found].sort();
};

describe('discovery', () => {
  test('finds 200 devices that collide all over the range', async () => {
    const uids = randomUids(200, 7);
    const found = await discover(line(uids));
    assert.deepEqual(found.uids, uids);
    assert.deepEqual([found.unruly, found.complete], [[], true]);
    // Halving finds a device in at most 48 steps; 200 of them need a few thousand questions.
    assert.ok(found.requests < 200 * 50, `${found.requests} requests`);
  });
  test('finds 200 devices of one maker with successive numbers', async () => {
    const uids = Array.from({ length: 200 }, (_, i) => uidOfNumber(0x7ff1_0000_0000 + i));
    assert.deepEqual((await discover(line(uids))).uids, uids);
  });
  test('finds none on an empty line with one question', async () => {
    assert.deepEqual(await discover(line([])), { uids: [], unruly: [], requests: 1, complete: true });
  });
  test('finds the lowest and the highest UID', async () => {
    const uids: Uid[] = ['0000:00000000', 'ffff:fffffffe'];
    assert.deepEqual((await discover(line(uids))).uids, uids);
  });
  test('finds a device whose answers are always spoilt, by muting what is left', async () => {
    const uids = randomUids(20, 3);
    assert.deepEqual((await discover(line(uids, { spoilt: uids[9]! }))).uids, uids);
  });
  test('a device that does not stay muted is told apart, and the others are found', async () => {
    const uids = randomUids(30, 5);
    const found = await discover(line(uids, { stubborn: uids[11]! }));
    assert.deepEqual(found.uids, uids);
    assert.deepEqual(found.unruly, [uids[11]]);
    assert.equal(found.complete, true);
  });
  test('a lost answer to a mute is asked for again', async () => {
    const uids = randomUids(40, 11);
    assert.deepEqual((await discover(line(uids, { deafTo: (count) => count % 3 === 0 }))).uids, uids);
  });
  test('rubbish without end is given up', async () => {
    const noise: RdmBus = {
      branch: () => new Uint8Array(24).fill(0xff),
      mute: () => false,
      unmuteAll: () => undefined,
    };
    assert.equal((await discover(noise)).complete, false);
  });
});
