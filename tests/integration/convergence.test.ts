import assert from 'node:assert/strict';
import { once } from 'node:events';
import { after, before, test } from 'node:test';
import WebSocket from 'ws';
import { applyChange, documentOf, recordsOf, type ChangeSet, type Document } from '../../src/core/document/change.ts';
import { turned } from '../../src/core/document/difference.ts';
import type { ServerMessage } from '../../src/core/protocol/live.ts';
import { seeded } from '../../src/core/random.ts';
import { make, type AnyRecord } from '../../src/core/records/index.ts';
import { removalOf } from '../../src/core/rules/removal.ts';
import { compilePlay, compileRig, makeFrame, prepareLive, render, type LiveState } from '../../src/core/show/index.ts';
import { App, until } from '../support/app.ts';

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

/** A page as far as the wire goes: it follows what it is told, and asks for things on whatever it has then. */
class Page {
  document: Document = new Map();
  revision = 0;
  live: LiveState | null = null;
  #seq = 0;
  #next = 1;
  readonly faults: string[] = [];
  readonly #waiting = new Map<number, () => void>();
  readonly #socket: WebSocket;

  constructor(name: string) {
    this.#socket = new WebSocket(`${app.url.replace('http', 'ws')}/live?browser=${name}`);
    this.#socket.on('message', (data, binary) => {
      if (!binary) this.#take(JSON.parse((data as Buffer).toString()) as ServerMessage);
    });
  }

  async welcomed(): Promise<this> {
    if (this.#socket.readyState !== WebSocket.OPEN) await once(this.#socket, 'open');
    await until('the welcome', () => this.live !== null);
    return this;
  }

  #take(message: ServerMessage): void {
    if (message.type === 'welcome') {
      this.document = documentOf(message.show!.records);
      this.revision = message.show!.revision;
      this.live = message.live;
      this.#seq = message.liveSeq;
    } else if (message.type === 'change') {
      assert.equal(message.revision, this.revision + 1, 'no change is missed');
      this.document = applyChange(this.document, message.change);
      this.revision = message.revision;
    } else if (message.type === 'live') {
      this.live = message.live;
      this.#seq = message.seq;
    } else if (message.type === 'liveChange') {
      if (message.seq <= this.#seq) return;
      assert.equal(message.seq, this.#seq + 1, 'no step of the live state is missed');
      this.live = turned(this.live, message.difference, 'is', 'live') as LiveState;
      this.#seq = message.seq;
    } else if (message.type === 'reply') {
      for (const fault of message.faults ?? []) this.faults.push(fault.code);
      this.#waiting.get(message.id)?.();
      this.#waiting.delete(message.id);
    }
  }

  ask(message: object): Promise<void> {
    const id = this.#next++;
    this.#socket.send(JSON.stringify({ id, ...message }));
    return new Promise((resolve) => this.#waiting.set(id, resolve));
  }
  edit(label: string, { put, remove }: ChangeSet, blind = false): Promise<void> {
    return this.ask({ type: 'edit', base: this.revision, label, change: { put, remove }, blind });
  }
  close(): void {
    this.#socket.close();
  }
}

/** One thing that somebody does, drawn by chance, on the show as this page sees it. */
function something(page: Page, chance: () => number, name: string): Promise<void> {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  const { document } = page;
  const units = recordsOf(document, 'unit');
  const scenes = recordsOf(document, 'scene');
  const put = (...records: AnyRecord[]): ChangeSet => ({ put: records, remove: [] });
  const what = Math.floor(chance() * 16);
  const unit = pick(units);
  const level = Math.round(chance() * 100) / 100;
  switch (what) {
    case 0:
      return page.edit('Name', put({ ...unit, name: `Unit ${Math.floor(chance() * 1e6)}` }));
    case 1:
      return page.edit('Note', put({ ...unit, notes: `Note ${Math.floor(chance() * 1e6)}` }));
    case 2:
      return page.edit('Move', put({ ...unit, position: { ...unit.position, x: level * 10 } }));
    case 3: {
      const scene = pick(scenes);
      const [id] = pick(Object.entries(scene.values)) ?? [];
      if (!id) return Promise.resolve();
      const values = { ...scene.values, [id]: { ...scene.values[id as never], Dimmer: level } };
      return page.edit('Level', put({ ...scene, values } as AnyRecord), chance() < 0.3);
    }
    case 4: {
      const group = pick(recordsOf(document, 'group').filter((g) => g.rule === null));
      const has = group.unitIds.includes(unit.id);
      const unitIds = has ? group.unitIds.filter((id) => id !== unit.id) : [...group.unitIds, unit.id];
      return page.edit('Member', put({ ...group, unitIds }));
    }
    case 5:
      return page.edit('Area', put(make('area', { id: `area:${name}${Math.floor(chance() * 5)}`, number: 900, name })));
    case 6: {
      const area = recordsOf(document, 'area').find((a) => a.id.startsWith(`area:${name}`));
      return area ? page.edit('Away', removalOf(document, [area.id])) : Promise.resolve();
    }
    case 7:
      return page.ask({ type: 'undo', blind: chance() < 0.2 });
    case 8:
      return page.ask({ type: 'redo' });
    case 9:
      return page.ask({ type: 'command', command: { do: 'play', target: pick(scenes).id } });
    case 10:
      return page.ask({ type: 'command', command: { do: 'release', target: pick(scenes).id } });
    case 11:
      return page.ask({ type: 'command', command: { do: 'hand', set: { [unit.id]: { Dimmer: level } } } });
    case 12:
      return page.ask({ type: 'command', command: { do: 'letGo', units: [unit.id] } });
    case 13:
      return page.ask({ type: 'command', command: { do: 'grand', level } });
    case 14:
      return page.ask({ type: 'command', command: { do: 'tempo', bpm: 60 + level * 100 } });
    default:
      return page.edit('Several', put(...units.slice(0, 5).map((u) => ({ ...u, notes: `${name} ${level}` }))));
  }
}

test('pages, database and engine are of one mind after thousands of edits, undos and commands', async () => {
  const pages = await Promise.all(Array.from({ length: PAGES }, (_, i) => new Page(`browser${i}xxxx`).welcomed()));
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
  const late = await new Page('browserlate').welcomed();
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
