import assert from 'node:assert/strict';
import { once } from 'node:events';
import WebSocket from 'ws';
import { applyChange, documentOf, recordsOf, type ChangeSet, type Document } from '../../src/core/document/change.ts';
import { turned } from '../../src/core/document/difference.ts';
import type { ServerMessage } from '../../src/core/protocol/live.ts';
import { make, type AnyRecord } from '../../src/core/records/index.ts';
import { removalOf } from '../../src/core/rules/removal.ts';
import type { LiveState } from '../../src/core/show/index.ts';
import { until, type App } from './app.ts';

/** A page as far as the wire goes: it follows what it is told, and asks for things on whatever it has then. */
export class Page {
  document: Document = new Map();
  revision = 0;
  live: LiveState | null = null;
  #seq = 0;
  #next = 1;
  readonly faults: string[] = [];
  readonly #waiting = new Map<number, () => void>();
  readonly #socket: WebSocket;

  constructor(app: App, name: string) {
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
export function something(page: Page, chance: () => number, name: string): Promise<void> {
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
