import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { Remembered } from './remembered.ts';

const made = (most = 10) =>
  new Remembered<{ at: number; name: string }>({
    most,
    confirmMs: 2000,
    forgetStrangerMs: 15_000,
    forgetKnownMs: 600_000,
  });
const names = (of: ReturnType<typeof made>): string[] => [...of.values()].map((v) => v.name).sort();

describe('what was heard on the network', () => {
  test('a flood of strangers drives out strangers only', () => {
    const seen = made();
    for (const at of [0, 2500]) for (const name of ['real 1', 'real 2']) seen.note(name, { at, name });
    seen.note('named', { at: 2500, name: 'named' }, true);
    for (let i = 0; i < 10_000; i++) seen.note(`false ${i}`, { at: 3000, name: `false ${i}` });
    assert.equal(seen.size, 10);
    for (const name of ['real 1', 'real 2', 'named']) assert.ok(seen.get(name), name);
    assert.equal(seen.driven, 10_000 - 7);
  });
  test('after the flood others are heard as before', () => {
    const seen = made();
    for (let i = 0; i < 1000; i++) seen.note(`false ${i}`, { at: 0, name: `false ${i}` });
    seen.note('late', { at: 5000, name: 'late' });
    seen.tidy(16_000);
    assert.deepEqual(names(seen), ['late']);
    for (const at of [7500, 10_000]) seen.note('late', { at, name: 'late' });
    seen.tidy(100_000);
    assert.deepEqual(names(seen), ['late'], 'it is known, and only lost');
    assert.deepEqual(seen.tidy(700_000), ['late']);
  });
  test('who is named is never forgotten', () => {
    const seen = made();
    seen.note('desk', { at: 0, name: 'desk' });
    assert.deepEqual(
      seen.tidy(1e9, (v) => v.name === 'desk'),
      [],
    );
  });
  test('full of known ones, whoever was silent longest goes', () => {
    const seen = made(3);
    for (const [i, name] of ['a', 'b', 'c'].entries()) seen.note(name, { at: i, name }, true);
    seen.note('a', { at: 100, name: 'a' });
    seen.note('d', { at: 101, name: 'd' }, true);
    assert.deepEqual(names(seen), ['a', 'c', 'd']);
  });
});
