import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { documentOf, type Document } from '../../src/core/document/change.ts';
import { seeded } from '../../src/core/random.ts';
import type { AnyRecord } from '../../src/core/records/index.ts';
import { compilePlay, compileRig, makeFrame, prepareLive, render, type LiveState } from '../../src/core/show/index.ts';
import { App, until } from '../support/app.ts';
import { Page, something } from '../support/page.ts';

/** What one page asks for, and how often it waits for an answer before it asks again. */
const ROUNDS = 500;
const PAGES = 4;

let app: App;
before(async () => {
  app = await App.start();
});
after(() => app?.end());

const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
const sorted = (document: Document): unknown => plain([...document.values()].sort((a, b) => (a.id < b.id ? -1 : 1)));

test('pages, database and engine are of one mind after thousands of edits, undos and commands', async () => {
  const pages = await Promise.all(Array.from({ length: PAGES }, (_, i) => new Page(app, `browser${i}xxxx`).welcomed()));
  await Promise.all(
    pages.map(async (page, i) => {
      const chance = seeded(100 + i);
      const asked: Promise<void>[] = [];
      for (let round = 0; round < ROUNDS; round++) {
        asked.push(something(page, chance, `p${i}`));
        // Mostly on what it has just heard, now and then several things at once on what is old by then.
        if (chance() < 0.7) await asked.at(-1);
      }
      await Promise.all(asked);
    }),
  );
  // Somebody who comes now is told all of it at once.
  const late = await new Page(app, 'browserlate').welcomed();
  const { id, revision, records } = await app.openShow();
  assert.ok(revision > PAGES * ROUNDS * 0.2, `${revision} edits`);
  await until('every page to have heard of everything', () => pages.every((page) => page.revision === revision));
  await until('the engine', async () => (await app.health()).engine?.revision === revision);
  const wanted = sorted(documentOf(records));
  for (const page of [...pages, late]) assert.deepEqual(sorted(page.document), wanted);
  for (const page of pages) assert.ok(!page.faults.includes('INTERNAL'), page.faults.join(' '));

  // What plays is the same everywhere, and what is sent is what it comes to, once nothing moves any more.
  const [first] = pages;
  await first!.ask({ type: 'command', command: { do: 'releaseAll', fadeOutMs: 0 } });
  await first!.ask({ type: 'command', command: { do: 'grand', level: 0.8 } });
  const { live } = (await app.call<{ live: LiveState }>('GET', '/api/live')).body;
  await until('nothing to play', async () => (await app.live()).playing.length === 0);
  const settled = await app.live();
  assert.ok(live !== null);
  await until('every page to have heard that', () => [...pages, late].every((p) => p.live!.playing.length === 0));
  for (const page of [...pages, late]) assert.deepEqual(plain(page.live), plain(settled));
  const document = documentOf(records);
  const rig = compileRig(document);
  const prepared = prepareLive(rig, settled, (play) => compilePlay(rig, document, play), document);
  const bytes = render(rig.arrays, prepared, Date.now(), makeFrame(rig.arrays));
  for (const [i, universe] of rig.arrays.universes.entries())
    await until(`universe ${universe} to be what the show comes to`, async () => {
      const sent = await app.slots(universe);
      return sent.every((value, slot) => value === bytes[i * 512 + slot]);
    });

  // An edit by edit undone show is the show it was: each page takes its own back as far as it may.
  const before = sorted(documentOf(records));
  await first!.ask({ type: 'undo' });
  await first!.ask({ type: 'redo' });
  const again = await app.call<{ records: AnyRecord[] }>('GET', `/api/shows/${id}`);
  assert.deepEqual(sorted(documentOf(again.body.records)), before);
  for (const page of [...pages, late]) page.close();
});
