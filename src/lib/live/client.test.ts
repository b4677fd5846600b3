import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { after, before, beforeEach, describe, mock, test } from 'node:test';
import { build, transform } from 'esbuild';
import { compileModule } from 'svelte/compiler';
import { chase, scene, showWith, units } from '../../../tests/support/rig.ts';
import type { Document } from '../../core/document/change.ts';
import type { ServerMessage } from '../../core/protocol/live.ts';
import { make, type AnyRecord, type UnitRecord } from '../../core/records/index.ts';
import { initialLive } from '../../core/show/index.ts';
import type { LiveClient } from './client.svelte.ts';

/** The page's end of the wire, run without a page: compiled as Svelte does, against a server that is played by hand. */
let Client: new () => LiveClient;
const folder = mkdtempSync(path.resolve('node_modules/.client-'));
before(async () => {
  const outfile = path.join(folder, 'client.mjs');
  await build({
    entryPoints: ['src/lib/live/client.svelte.ts'],
    outfile,
    bundle: true,
    format: 'esm',
    platform: 'node',
    conditions: ['browser'],
    alias: { $core: path.resolve('src/core'), $lib: path.resolve('src/lib') },
    logLevel: 'error',
    plugins: [
      {
        name: 'svelte modules',
        setup({ onLoad }) {
          onLoad({ filter: /\.svelte\.ts$/ }, async ({ path: file }) => {
            const { code } = await transform(readFileSync(file, 'utf8'), { loader: 'ts', target: 'es2023' });
            return { contents: compileModule(code, { generate: 'client', filename: file }).js.code, loader: 'js' };
          });
        },
      },
    ],
  });
  ({ LiveClient: Client } = (await import(outfile)) as { LiveClient: new () => LiveClient });
});
after(() => rmSync(folder, { recursive: true }));

/** Sockets that were opened, the newest last. */
let sockets: Far[] = [];
class Far {
  static readonly OPEN = 1;
  readyState = 1;
  readonly sent: Record<string, unknown>[] = [];
  onmessage: ((event: { data: string }) => void) | null = null;
  onclose: (() => void) | null = null;
  constructor() {
    sockets.push(this);
  }
  send(text: string): void {
    this.sent.push(JSON.parse(text) as Record<string, unknown>);
  }
  close(): void {
    this.readyState = 3;
    this.onclose?.();
  }
  say(message: object): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }
  /** What was asked of a type and not answered yet, oldest first. */
  asked(type: string): Record<string, unknown>[] {
    return this.sent.filter((m) => m['type'] === type);
  }
  reply(id: unknown, over: object = {}): void {
    this.say({ type: 'reply', id, faults: null, revision: null, label: null, ...over });
  }
}
Object.assign(globalThis, { WebSocket: Far, location: { protocol: 'http:', host: 'here' } });

const document: Document = showWith(
  ...units({ slug: 'a', profile: 'generic-dimmer', mode: '1ch', universe: 1, address: 1 }),
  scene('s', { a: { Dimmer: 1 } }),
  chase('c', ['s']),
);
const unit = document.get('unit:a') as UnitRecord;
const named = (name: string): AnyRecord => ({ ...unit, name });
const settle = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve();
};

let client: LiveClient;
let told: [string, string][];
const far = (): Far => sockets.at(-1)!;
const welcome = (over: Partial<Extract<ServerMessage, { type: 'welcome' }>> = {}): void =>
  far().say({
    type: 'welcome',
    pages: null,
    clientId: 'me',
    show: { showId: 'show:s', revision: 3, records: [...document.values()] },
    history: { undo: null, redo: null },
    live: initialLive(0),
    liveSeq: 7,
    now: Date.now(),
    universes: [1],
    system: { engine: null, standins: null, database: 'up', disk: null },
    ...over,
  });
const change = (revision: number, put: AnyRecord[], over: object = {}): void =>
  far().say({
    type: 'change',
    revision,
    change: { put, remove: [] },
    author: 'somebody',
    origin: 'other',
    action: 'edit',
    label: 'Edit',
    history: { undo: null, redo: null },
    ...over,
  });

beforeEach(() => {
  mock.timers.reset();
  mock.timers.enable({ apis: ['setTimeout', 'setInterval'] });
  sockets = [];
  told = [];
  client = new Client();
  client.tell = (kind, text) => void told.push([kind, text]);
  client.connect();
});
after(() => mock.timers.reset());
const nameOf = (): string => (client.document.get('unit:a') as UnitRecord).name;

describe('the live client', () => {
  test('shows an edit at once, sends one at a time, and lays what is on its way over what others did', async () => {
    welcome();
    client.edit('One', { put: [named('One')], remove: [] });
    client.edit('Two', { put: [{ ...unit, name: 'One', notes: 'mine' }], remove: [] });
    assert.deepEqual([nameOf(), client.unsaved, far().asked('edit').length], ['One', 2, 1]);
    change(4, [{ ...unit, position: { ...unit.position, x: 5 } }]);
    assert.equal(nameOf(), 'One');
    assert.equal((client.document.get('unit:a') as UnitRecord).position.x, 5);
    far().reply(far().asked('edit')[0]!['id'], { revision: 5 });
    await settle();
    assert.equal(far().asked('edit').length, 2);
    assert.equal(far().asked('edit')[1]!['base'], 4);
  });
  test('takes a refused edit back and says why; one that breaks a rule is never sent', async () => {
    welcome();
    client.edit('One', { put: [named('One')], remove: [] });
    far().reply(far().asked('edit')[0]!['id'], {
      faults: [{ code: 'NO', path: '', message: 'not now', remedy: 'Later.' }],
    });
    await settle();
    assert.deepEqual([nameOf(), told], [unit.name, [['error', 'Not now']]]);
    assert.equal(client.edit('Wrong', { put: [{ ...unit, mode: '99ch' }], remove: [] }), false);
    assert.equal(far().asked('edit').length, 1);
  });
  test('waits longer from try to try when it is cut off, and sends again what was not saved', async () => {
    welcome();
    client.edit('One', { put: [named('One')], remove: [] });
    far().close();
    await settle();
    assert.deepEqual([client.connection, nameOf(), client.unsaved], ['lost', 'One', 1]);
    for (const wait of [200, 500, 1000, 2000, 2000]) {
      const before = sockets.length;
      mock.timers.tick(wait - 1);
      assert.equal(sockets.length, before, `not before ${wait} ms`);
      mock.timers.tick(1);
      assert.equal(sockets.length, before + 1);
      far().close();
    }
    mock.timers.tick(2000);
    welcome({ show: { showId: 'show:s', revision: 9, records: [...document.values()] } });
    await settle();
    assert.deepEqual(
      far()
        .asked('edit')
        .map((m) => [m['base'], m['label']]),
      [[9, 'One']],
    );
    assert.equal(nameOf(), 'One');
  });
  test('keeps an edit while the database is away, says so, and tries again a second later', async () => {
    welcome();
    client.edit('One', { put: [named('One')], remove: [] });
    const fault = { code: 'DATABASE_AWAY', path: '', message: 'away', remedy: 'Wait.' };
    far().reply(far().asked('edit')[0]!['id'], { faults: [fault] });
    await settle();
    assert.deepEqual([client.notSaved?.code, nameOf(), told], ['DATABASE_AWAY', 'One', []]);
    mock.timers.tick(999);
    assert.equal(far().asked('edit').length, 1);
    mock.timers.tick(1);
    assert.equal(far().asked('edit').length, 2);
    far().reply(far().asked('edit')[1]!['id'], { revision: 4 });
    await settle();
    assert.deepEqual([client.notSaved, client.unsaved], [null, 0]);
  });
  test('starts afresh where it has missed an edit or a step of the live state', () => {
    welcome();
    change(5, [named('Late')]);
    assert.equal(client.connection, 'lost');
    mock.timers.tick(200);
    welcome();
    far().say({ type: 'liveChange', difference: { fields: { grand: { is: 0.4 } } }, now: Date.now(), seq: 8 });
    assert.equal(client.real!.grand, 0.4);
    far().say({ type: 'liveChange', difference: { fields: { grand: { is: 0.1 } } }, now: Date.now(), seq: 8 });
    assert.equal(client.real!.grand, 0.4, 'one it has already is passed over');
    far().say({ type: 'liveChange', difference: { fields: { grand: { is: 0.9 } } }, now: Date.now(), seq: 10 });
    assert.equal(client.connection, 'lost');
  });
  test('gathers what is set by hand over one picture of the screen', async () => {
    const frames: (() => void)[] = [];
    Object.assign(globalThis, { requestAnimationFrame: (job: () => void) => frames.push(job) });
    welcome();
    for (let i = 0; i < 5; i++) client.setHand({ 'unit:a': { Dimmer: i / 10 } });
    client.setHand({ 'unit:a': { Pan: 0.5 } });
    assert.equal(far().asked('command').length, 0);
    frames.splice(0).forEach((job) => job());
    assert.deepEqual(
      far()
        .asked('command')
        .map((m) => m['command']),
      [{ do: 'hand', set: { 'unit:a': { Dimmer: 0.4, Pan: 0.5 } } }],
    );
  });
  test('says that its test signal is still wanted, and stops saying so', async () => {
    welcome();
    void client.test({ universes: [1], signal: { type: 'all', value: 1 } } as never);
    mock.timers.tick(3000);
    assert.equal(far().asked('testAlive').length, 2);
    void client.test(null);
    mock.timers.tick(6000);
    assert.equal(far().asked('testAlive').length, 2);
  });
  test('what is tried blind is not sent, but for edits, which are marked', async () => {
    welcome();
    Object.assign(globalThis, {
      Worker: class {
        postMessage(): void {}
        terminate(): void {}
      },
    });
    client.goBlind('nothing');
    await client.command({ do: 'play', target: 'scene:s' });
    assert.equal(client.live!.playing.length, 1);
    assert.equal(far().asked('command').length, 0);
    void client.command({ do: 'grand', level: 0.5 });
    assert.equal(far().asked('command').length, 1);
    client.edit('Area', { put: [make('area', { id: 'area:a', number: 1, name: 'A' })], remove: [] });
    assert.equal(far().asked('edit')[0]!['blind'], true);
  });
});
