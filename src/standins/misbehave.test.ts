import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { misbehaviourSchema, type Misbehaviour } from '../core/protocol/standin.ts';
import { seeded } from '../core/random.ts';
import { UnreliablePath } from './misbehave.ts';

/** Sends 1,000 numbered packets over a path with a clock of its own; gives them as they arrive. */
function over(behaviour: Partial<Misbehaviour>): number[] {
  const later: { at: number; what: () => void }[] = [];
  let now = 0;
  const path = new UnreliablePath(seeded(4), (what, ms) => later.push({ at: now + ms, what }));
  path.behaviour = misbehaviourSchema.parse(behaviour);
  const got: number[] = [];
  for (let i = 0; i < 1000; i++) {
    now = i * 25;
    for (const due of later.filter((l) => l.at <= now).sort((a, b) => a.at - b.at)) {
      later.splice(later.indexOf(due), 1);
      due.what();
    }
    path.pass(Uint8Array.of(i >> 8, i & 255), (p) => got.push(p.length === 2 ? (p[0]! << 8) | p[1]! : -1));
  }
  for (const due of later.sort((a, b) => a.at - b.at)) due.what();
  return got;
}
const inOrder = (list: readonly number[]): boolean => list.every((v, i) => i === 0 || v >= list[i - 1]!);

describe('an unreliable path', () => {
  test('that behaves hands everything on in order', () =>
    assert.deepEqual(
      over({}),
      Array.from({ length: 1000 }, (_, i) => i),
    ));
  test('loses about as many as it was told', () => {
    const got = over({ lossPercent: 20 });
    assert.ok(got.length > 750 && got.length < 850, String(got.length));
    assert.ok(inOrder(got));
    assert.equal(over({ lossPercent: 100 }).length, 0);
  });
  test('doubles', () => {
    const got = over({ duplicatePercent: 50 });
    assert.ok(got.length > 1400 && got.length < 1600);
    assert.equal(new Set(got).size, 1000);
  });
  test('reorders without losing any but one that is still held', () => {
    const got = over({ reorderPercent: 30 });
    assert.ok(!inOrder(got));
    assert.ok(got.length >= 999);
  });
  test('delays by the same, jitters out of order', () => {
    assert.ok(inOrder(over({ delayMs: 200 })));
    const got = over({ jitterMs: 200 });
    assert.equal(got.length, 1000);
    assert.ok(!inOrder(got));
  });
  test('spoils', () => {
    const got = over({ rubbishPercent: 50 });
    const right = got.filter((v, i) => v === i).length;
    assert.ok(right > 400 && right < 620, String(right));
  });
  test('is gone when it vanished', () => assert.deepEqual(over({ vanished: true }), []));
});
