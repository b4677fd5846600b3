import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { Newer } from './newer.ts';

function page(own = 'one') {
  const state = { unsaved: false, typing: false };
  let [kept, reloads]: [string | null, number] = [null, 0];
  const jobs = new Set<() => void>();
  const newer = new Newer({
    own,
    state: () => state,
    reload: () => reloads++,
    memory: { get: () => kept, set: (build) => (kept = build) },
    every: (job) => {
      jobs.add(job);
      return { stop: () => jobs.delete(job) };
    },
  });
  const look = (): void => jobs.forEach((job) => job());
  return { newer, state, look, reloads: () => reloads, waiting: () => jobs.size };
}

describe('a page of another build than the server’s', () => {
  test('is reloaded at once where nothing would be lost', () => {
    const { newer, reloads, waiting } = page();
    assert.equal(newer.see('two'), true);
    assert.deepEqual([reloads(), waiting()], [1, 0]);
  });
  test('waits until edits are saved and nobody types', () => {
    const { newer, state, look, reloads } = page();
    state.unsaved = true;
    newer.see('two');
    look();
    assert.equal(reloads(), 0);
    Object.assign(state, { unsaved: false, typing: true });
    look();
    assert.equal(reloads(), 0);
    state.typing = false;
    look();
    look();
    assert.equal(reloads(), 1);
  });
  test('is reloaded once for a build, however often it is greeted', () => {
    const { newer, reloads } = page();
    for (let i = 0; i < 4; i++) assert.equal(newer.see('two'), true);
    assert.equal(reloads(), 1);
    newer.see('three');
    assert.equal(reloads(), 2);
  });
  test('that is the server’s own again no longer waits', () => {
    const { newer, state, look, reloads, waiting } = page();
    state.unsaved = true;
    newer.see('two');
    assert.equal(newer.see('one'), false);
    state.unsaved = false;
    look();
    assert.deepEqual([reloads(), waiting()], [0, 0]);
  });
  test('of a server that does not know stays', () => {
    const { newer, reloads } = page();
    assert.equal(newer.see(null), false);
    assert.equal(reloads(), 0);
  });
});
