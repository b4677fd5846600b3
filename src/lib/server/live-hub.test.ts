import assert from 'node:assert/strict';
import { once } from 'node:events';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { after, afterEach, before, describe, mock, test } from 'node:test';
import WebSocket from 'ws';
import { until } from '../../../tests/support/app.ts';
import { EMPTY_NETWORK } from '../../core/protocol/network.ts';
import { LiveHub, type HubHost } from './live-hub.ts';

/** What the hub asked of the rest of the server. */
const asked: unknown[][] = [];
let frame = new Map<number, Uint8Array>();
const host: HubHost = {
  welcome: ({ clientId }) => Promise.resolve({ type: 'welcome', clientId } as never),
  edit: () => Promise.reject(new Error('a bug in it')),
  turnBack: () => Promise.resolve(null),
  command: (by, command) => {
    asked.push([by, command]);
    return Promise.resolve(null);
  },
  ask: () => Promise.resolve({ fault: null, answer: null }),
  frame: (kind) => (kind === 'sent' ? frame : new Map()),
  network: () => EMPTY_NETWORK,
  report: () => undefined,
};

let hub: LiveHub;
let server: http.Server;
let url: string;
before(async () => {
  mock.timers.enable({ apis: ['setInterval'] });
  hub = new LiveHub(host);
  server = http.createServer();
  server.on('upgrade', (request, socket, head) => hub.upgrade(request, socket, head));
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  url = `ws://127.0.0.1:${(server.address() as AddressInfo).port}/live?browser=browser0test`;
});
afterEach(() => (asked.length = 0));
after(() => {
  hub.close();
  server.close();
  mock.timers.reset();
});

interface Heard {
  readonly type: string;
  readonly id?: number;
  readonly faults?: readonly { readonly code: string }[] | null;
}
async function page(options: WebSocket.ClientOptions = {}) {
  const socket = new WebSocket(url, options);
  const heard: Heard[] = [];
  const frames: Buffer[] = [];
  let code = 0;
  socket.on('message', (data, binary) =>
    binary ? frames.push(data as Buffer) : heard.push(JSON.parse((data as Buffer).toString()) as Heard),
  );
  socket.on('close', (why) => (code = why));
  socket.on('error', () => undefined);
  await until('the welcome', () => heard.some((m) => m.type === 'welcome'));
  return {
    socket,
    heard,
    frames,
    closed: () => code,
    say: (message: unknown) => socket.send(typeof message === 'string' ? message : JSON.stringify(message)),
    reply: (id: number) => until('the reply', () => heard.find((m) => m.type === 'reply' && m.id === id)),
  };
}

describe('the hub of pages', () => {
  test('answers what is no message with what is wrong, and cuts off who sends nothing else', async () => {
    const one = await page();
    one.say('{');
    await until('it to be said', () => one.heard.some((m) => m.faults?.[0]?.code === 'NOT_JSON'));
    one.say({ type: 'undo', id: 5, revision: 'last' });
    assert.ok((await one.reply(5)).faults!.length > 0);
    for (let i = 0; i < 60; i++) one.say('rubbish');
    await until('it to be cut off', () => one.closed() === 1008);
  });
  test('a bug behind one message is answered, and the next goes on', async () => {
    const one = await page();
    one.say({ type: 'edit', id: 1, base: 0, label: 'Edit', change: { put: [], remove: [] } });
    assert.equal((await one.reply(1)).faults![0]!.code, 'INTERNAL');
    one.say({ type: 'command', id: 2, command: { do: 'grand', level: 1 } });
    assert.equal((await one.reply(2)).faults, null);
    assert.deepEqual(asked.at(-1), [
      { role: 'owner', name: 'browser0test' },
      { do: 'grand', level: 1 },
    ]);
    one.socket.close();
  });
  test('a phone that fell asleep is let go of at the second look, with what it held', async () => {
    const asleep = await page({ autoPong: false });
    asleep.say({ type: 'identify', id: 1, units: ['unit:a'] });
    await asleep.reply(1);
    const awake = await page();
    const clients = hub.clients;
    mock.timers.tick(15_000);
    // Two questions and answers: by then whoever is awake has answered the look as well.
    for (const id of [2, 3]) {
      awake.say({ type: 'watch', id, frames: false });
      await awake.reply(id);
    }
    mock.timers.tick(15_000);
    await until('it to be gone', () => hub.clients === clients - 1);
    await until('its light to go out', () =>
      asked.some(([, command]) => JSON.stringify(command) === '{"do":"identify","units":[]}'),
    );
    awake.socket.close();
  });
  test('gives a page that watches the newest of what changed, and one that does not read no more than that', async () => {
    const one = await page();
    frame = new Map([[1, new Uint8Array(512).fill(1)]]);
    one.say({ type: 'watch', id: 1, frames: true });
    await one.reply(1);
    await until('the first frame', () => one.frames.length === 1);
    frame.set(2, new Uint8Array(512).fill(2));
    hub.frame([[2, frame.get(2)!]], 5, 1, 'sent');
    await until('what changed', () => one.frames.length === 2);
    assert.ok(one.frames[1]!.length < 600, 'one universe of two');
    one.socket.close();
  });
  test('cuts off a page that does not read at all, and the others hear everything', async () => {
    const [reads, deaf] = [await page(), await page()];
    deaf.socket.pause();
    const text = 'x'.repeat(4 << 20);
    const got = (): number => reads.heard.filter((m) => m.type === 'system').length;
    const clients = hub.clients;
    for (let i = 0; i < 40 && hub.clients === clients; i++) {
      hub.broadcast({ type: 'system', text } as never);
      await until('it', () => got() === i + 1);
    }
    await until('it to be gone', () => hub.clients === clients - 1);
    deaf.socket.terminate();
    reads.socket.close();
  });
});
