import assert from 'node:assert/strict';
import dgram from 'node:dgram';
import net from 'node:net';
import { after, before, describe, test } from 'node:test';
import WebSocket from 'ws';
import { z } from 'zod';
import { readArchive, writeArchive } from '../../src/core/format/archive.ts';
import { documentOf, getRecord } from '../../src/core/document/change.ts';
import { decodeFrame } from '../../src/core/protocol/framing.ts';
import type { ServerMessage } from '../../src/core/protocol/live.ts';
import { make, type AnyRecord, type UnitRecord } from '../../src/core/records/index.ts';
import { makeArtPollReply } from '../../src/core/protocol/artnet.ts';
import type { NetworkState } from '../../src/core/protocol/network.ts';
import { ENDPOINTS } from '../../src/lib/server/endpoints.ts';
import { App, until } from '../support/app.ts';
import { slotsAt } from '../support/rig.ts';
import { zeroBomb } from '../support/zip.ts';

/** Virtual machines stand still now and then: a good second is waited for this long. */
const STALLED_S = 60;
let app: App;
before(async () => {
  app = await App.start();
});
after(() => app?.end());

const code = (reply: { body: Record<string, unknown> }): unknown => reply.body['code'];
const same = (a: ArrayLike<number>, b: ArrayLike<number>): boolean =>
  a.length === b.length && Array.from(a).every((v, i) => v === b[i]);
const ready = async (): Promise<void> => {
  await app.command({ do: 'releaseAll' });
  await app.command({ do: 'letGo' });
  await app.command({ do: 'grand', level: 1 });
  await app.command({ do: 'dark', on: false });
  await until('everything faded out', async () => (await app.live()).playing.length === 0);
};

describe('the whole line', () => {
  test('health names every part and process, in the form it promises', async () => {
    const health = await until(
      'a full house',
      async () => {
        const h = await app.health();
        return h.ok && h.engine && h.engine.frameRateMeasured > 38 && h.standins ? h : null;
      },
      STALLED_S,
    );
    ENDPOINTS.health.answer.parse(health);
    const { web, engine, standins } = health.processes;
    assert.equal(new Set([web, engine, standins, app.pid]).size, 4);
    assert.equal(health.engine?.frameRateAsked, 40);
    assert.equal(health.engine?.universes, 3);
    assert.deepEqual(
      health.standins?.gateways.map((g) => g.ports.length),
      [4, 4, 16, 2, 0, 1, 0],
    );
  });

  test('a scene that plays arrives byte for byte at the gateways', async () => {
    await ready();
    const { records } = await app.openShow();
    const show = documentOf(records);
    const id = records.find((r) => r.kind === 'scene')!.id as `scene:${string}`;
    assert.equal((await app.command({ do: 'play', target: id })).status, 200);
    for (const [universe, gateway, wire] of [
      [1, 'gateway-sacn', 1],
      [2, 'gateway-sacn', 2],
      [3, 'gateway-artnet', 0],
    ] as const) {
      const wanted = slotsAt(show, { play: [id], at: 3_600_000, universe });
      await until(`universe ${universe} at ${gateway}`, async () => same(await app.received(gateway, wire), wanted));
      // The page hears of it on a way of its own, maybe a moment after the gateway.
      await until(`universe ${universe} on the page`, async () => same(await app.slots(universe), wanted));
    }
    const { standins } = await app.health();
    // A pseudo-serial port of a machine that stood still may lose the middle of a message; packets arrive whole.
    const refused = standins!.gateways.filter((g) => g.kind !== 'usb' && g.refused > 0);
    assert.deepEqual(refused, []);
    await ready();
  });

  test('a chase moves by itself and nothing is lost on the way', async () => {
    await ready();
    const { records } = await app.openShow();
    const chase = records.find((r) => r.kind === 'chase')!;
    await app.command({ do: 'play', target: chase.id });
    const seen = new Set<string>();
    await until('three different pictures', async () => {
      const all = await Promise.all([app.received('gateway-sacn', 1), app.received('gateway-sacn', 2)]);
      seen.add(Buffer.concat(all).toString('base64'));
      return seen.size >= 3;
    });
    const { standins } = await app.health();
    assert.equal(
      standins!.gateways.flatMap((g) => g.ports).reduce((sum, p) => sum + p.lost, 0),
      0,
    );
    await ready();
  });

  test('the hand, the grand master and Dark reach the gateway', async () => {
    await ready();
    const { records } = await app.openShow();
    const unit = getRecord(documentOf(records), 'unit', 'unit:hire')!;
    const slot = async (): Promise<number> => (await app.received('gateway-artnet', 0))[unit.patch!.address - 1]!;
    await app.command({ do: 'hand', set: { [unit.id]: { Dimmer: 1 } } });
    await until('full', async () => (await slot()) === 255);
    await app.command({ do: 'grand', level: 0.5 });
    await until('half', async () => (await slot()) === 128);
    await app.command({ do: 'dark', on: true });
    await until('dark', async () => (await slot()) === 0);
    await ready();
    await until('nothing by hand any more', async () => (await slot()) === 0);
  });

  test('an edit changes what is sent, and undo changes it back', async () => {
    await ready();
    const { id, records } = await app.openShow();
    const unit = getRecord(documentOf(records), 'unit', 'unit:hire')!;
    await app.command({ do: 'hand', set: { [unit.id]: { Dimmer: 1 } } });
    const at = async (address: number): Promise<number> => (await app.received('gateway-artnet', 0))[address - 1]!;
    await until('at its address', async () => (await at(1)) === 255);
    const moved: UnitRecord = { ...unit, patch: { universe: 3, address: 100 } };
    assert.equal((await app.edit(id, { put: [moved] })).status, 200);
    await until('at its new address', async () => (await at(100)) === 255 && (await at(1)) === 0);
    await app.call('POST', `/api/shows/${id}/undo`);
    await until('back again', async () => (await at(1)) === 255 && (await at(100)) === 0);
    await ready();
  });

  test('the frame rate is the show’s', async () => {
    const { id, records } = await app.openShow();
    const show = records.find((r) => r.kind === 'show')!;
    await app.edit(id, { put: [{ ...show, frameRate: 20 }] });
    await until(
      'twenty frames a second',
      async () => {
        const rate = (await app.health()).engine?.frameRateMeasured ?? 0;
        return rate > 18.5 && rate < 21.5;
      },
      STALLED_S,
    );
    await app.call('POST', `/api/shows/${id}/undo`);
    await until('forty again', async () => ((await app.health()).engine?.frameRateMeasured ?? 0) > 38, STALLED_S);
  });
});

describe('shows as files', () => {
  const download = async (id: string): Promise<Uint8Array> => {
    const response = await fetch(`${app.url}/api/shows/${id}/archive`);
    assert.match(response.headers.get('content-disposition') ?? '', /attachment; filename/);
    return new Uint8Array(await response.arrayBuffer());
  };

  test('are exported, imported as a copy, opened, and exported the same', async () => {
    const { id, records } = await app.openShow();
    const file = await download(id);
    const sorted = (list: readonly AnyRecord[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
    assert.deepEqual(sorted(readArchive(file).records), sorted(records));
    const { status, body } = await app.call('POST', '/api/shows/import', file);
    assert.deepEqual([status, body['copy']], [201, true]);
    const copy = readArchive(await download(String(body['id'])));
    const back = copy.records.map((r) => (r.kind === 'show' ? records.find((x) => x.kind === 'show')! : r));
    // The songs are in it: millions of bytes are compared as bytes, not one by one.
    assert.equal(Buffer.compare(writeArchive(back, copy.blobs), file), 0);
    assert.equal((await app.call('POST', `/api/shows/${String(body['id'])}/open`)).status, 200);
    await until('the engine to play it', async () => (await app.health()).engine?.showId === body['id']);
    assert.equal(code(await app.call('DELETE', `/api/shows/${String(body['id'])}`)), 'SHOW_OPEN');
    await app.call('POST', `/api/shows/${id}/open`);
    await until('the first again', async () => (await app.health()).engine?.showId === id);
    assert.equal((await app.call('DELETE', `/api/shows/${String(body['id'])}`)).status, 200);
  });

  test('hostile ones are refused with a code, and the shows stay as they are', async () => {
    const before = await app.call('GET', '/api/shows');
    const { id } = await app.openShow();
    const file = await download(id);
    const cases: [title: string, body: Uint8Array | string, expected: string][] = [
      ['nothing', '', 'NOT_AN_ARCHIVE'],
      ['text', 'hello', 'NOT_AN_ARCHIVE'],
      ['cut off', file.subarray(0, file.length / 2), 'ARCHIVE_TRUNCATED'],
      ['a bomb', zeroBomb(['records/show.json', 'records/unit.json'], 512 * 1024 * 1024), 'ARCHIVE_BOMB'],
      ['a path out', zeroBomb(['../../etc/cron.d/x'], 10), 'MEMBER_NAME'],
    ];
    for (const [title, body, expected] of cases) {
      const reply = await app.call('POST', '/api/shows/import', body);
      assert.deepEqual([reply.status, code(reply)], [400, expected], title);
    }
    assert.deepEqual(await app.call('GET', '/api/shows'), before);
  });
});

describe('requests that make no sense', () => {
  const cases: [title: string, method: string, route: string, body: unknown, status: number, expected: string][] = [
    ['an unknown route', 'GET', '/api/nothing', undefined, 404, 'NO_SUCH_ROUTE'],
    ['another method', 'DELETE', '/api/health', undefined, 405, 'WRONG_METHOD'],
    ['an id of another kind', 'GET', '/api/shows/unit:a', undefined, 400, 'BAD_VALUE'],
    ['an unknown show', 'GET', '/api/shows/show:none', undefined, 404, 'NO_SUCH_SHOW'],
    ['a body that is not JSON', 'POST', '/api/shows', '{', 400, 'NOT_JSON'],
    ['a name that is a number', 'POST', '/api/shows', { name: 5 }, 400, 'BAD_VALUE'],
    ['a key too many', 'POST', '/api/shows', { name: 'A', evil: 1 }, 400, 'UNKNOWN_KEY'],
    ['universe 0', 'GET', '/api/universes/0', undefined, 404, 'NO_SUCH_UNIVERSE'],
    ['universe text', 'GET', '/api/universes/one', undefined, 400, 'BAD_VALUE'],
    ['a master above full', 'POST', '/api/live', { do: 'grand', level: 2 }, 400, 'BAD_VALUE'],
    ['an unknown command', 'POST', '/api/live', { do: 'explode' }, 400, 'BAD_VALUE'],
    [
      'something that the show does not have',
      'POST',
      '/api/live',
      { do: 'play', target: 'scene:ghost' },
      400,
      'UNKNOWN_ID',
    ],
  ];
  for (const [title, method, route, body, status, expected] of cases)
    test(title, async () => {
      const reply = await app.call(method, route, body);
      assert.deepEqual([reply.status, code(reply)], [status, expected]);
      for (const key of ['message', 'path', 'remedy']) assert.equal(typeof reply.body[key], 'string', key);
    });

  test('edits against the rules name the place, and nothing is changed', async () => {
    const { id, revision, records } = await app.openShow();
    const unit = records.find((r) => r.kind === 'unit')!;
    assert.ok(unit.kind === 'unit');
    const refused: [Record<string, unknown>, string, string][] = [
      [{ put: [{ ...unit, patch: { universe: 1, address: 513 } }] }, 'BAD_VALUE', 'body.put.0.patch.address'],
      [{ put: [{ ...unit, number: 'one' }] }, 'BAD_VALUE', 'body.put.0.number'],
      [{ put: [{ ...unit, profileId: 'profile:none' }] }, 'UNKNOWN_ID', `${unit.id}.profileId`],
      [{ remove: ['show:copperline'] }, 'ONE_SHOW', 'show'],
      [{ put: [unit], base: 1e6 }, 'REVISION_AHEAD', 'base'],
    ];
    for (const [body, expected, path] of refused) {
      const reply = await app.call('POST', `/api/shows/${id}/changes`, body);
      assert.deepEqual([code(reply), reply.body['path']], [expected, path]);
    }
    assert.equal((await app.openShow()).revision, revision);
  });

  test('pages of another origin and other hosts are refused', async () => {
    const reply = await app.call('POST', '/api/live', { do: 'grand', level: 0 }, { origin: 'http://evil.test' });
    assert.deepEqual([reply.status, code(reply)], [403, 'FOREIGN_ORIGIN']);
    assert.equal((await app.live()).grand, 1);
    const foreign = await raw(`GET /api/shows HTTP/1.1\r\nHost: evil.test\r\nConnection: close\r\n\r\n`);
    assert.match(foreign, /^HTTP\/1\.1 4\d\d/);
    assert.ok(!foreign.includes('copperline'));
  });

  test('a body that never ends is cut off', async () => {
    const reply = await app.call('POST', '/api/shows', ' '.repeat(17 * 1024 * 1024));
    assert.equal(reply.status, 413);
    const { ok } = await app.health();
    assert.ok(ok);
  });

  test('the description covers every route and is what OpenAPI says', async () => {
    const { body } = await app.call<{ openapi: string; paths: Record<string, Record<string, unknown>> }>(
      'GET',
      '/api/openapi.json',
    );
    assert.match(body.openapi, /^3\.1/);
    for (const { path, method } of Object.values(ENDPOINTS))
      assert.ok(body.paths[path]?.[method.toLowerCase()], `${method} ${path}`);
    z.object({ paths: z.record(z.string(), z.record(z.string(), z.object({ summary: z.string() }).loose())) }).parse(
      body,
    );
  });
});

/** Sends bytes to the web port as they are and gives what comes back. */
function raw(text: string): Promise<string> {
  return new Promise((resolve, reject) => {
    const socket = net.connect(app.port, '127.0.0.1', () => socket.write(text));
    let got = '';
    socket.on('data', (data) => (got += data.toString()));
    socket.on('close', () => resolve(got));
    socket.on('error', reject);
  });
}

/** A page's WebSocket. */
async function page(): Promise<{
  socket: WebSocket;
  messages: ServerMessage[];
  frames: Buffer[];
  send(message: unknown): void;
}> {
  const socket = new WebSocket(`ws://127.0.0.1:${app.port}/live`);
  const messages: ServerMessage[] = [];
  const frames: Buffer[] = [];
  socket.on('message', (data, binary) => {
    if (binary) frames.push(data as Buffer);
    else messages.push(JSON.parse((data as Buffer).toString()) as ServerMessage);
  });
  await until('the welcome', () => messages.some((m) => m.type === 'welcome'));
  return {
    socket,
    messages,
    frames,
    send: (message) =>
      socket.send(typeof message === 'string' || Buffer.isBuffer(message) ? message : JSON.stringify(message)),
  };
}

describe('the WebSocket', () => {
  test('tells every page of an edit, and its author gets a reply', async () => {
    const [one, two] = [await page(), await page()];
    const { revision } = await app.openShow();
    const group = make('group', { id: 'group:socket', number: 900, name: 'By socket', unitIds: [] });
    one.send({ type: 'edit', id: 1, base: revision, label: 'Group', change: { put: [group], remove: [] } });
    const reply = await until('the reply', () => one.messages.find((m) => m.type === 'reply'));
    assert.ok(reply.type === 'reply' && reply.faults === null && reply.revision === revision + 1);
    const change = await until('the change', () => two.messages.find((m) => m.type === 'change'));
    assert.ok(change.type === 'change');
    assert.deepEqual([change.change.put, change.history.undo], [[group], 'Group']);
    two.send({ type: 'undo', id: 2 });
    const none = await until('a refusal', () => two.messages.find((m) => m.type === 'reply' && m.id === 2));
    assert.ok(none.type === 'reply' && none.faults?.[0]?.code === 'NOTHING_TO_UNDO', 'it is not theirs');
    one.send({ type: 'undo', id: 3 });
    await until('the undo', () => two.messages.some((m) => m.type === 'change' && m.action === 'undo'));
    one.socket.close();
    two.socket.close();
  });

  test('sends frames to those who watch', async () => {
    const { socket, frames, send } = await page();
    await app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: 1 } } });
    send({ type: 'watch', id: 1, frames: true });
    await until('a frame of universe 3', () =>
      frames.some((f) => decodeFrame(f)?.universes.some(([u, slots]) => u === 3 && slots[0] === 255)),
    );
    await ready();
    socket.close();
  });

  test('answers nonsense with faults, cuts off who sends nothing else, and stays up', async () => {
    const { socket, messages, send } = await page();
    for (const nonsense of [
      '{',
      'null',
      '[]',
      '{"type":"x"}',
      '{"type":"edit","id":3}',
      '{"type":"command","id":4,"command":{"do":"grand","level":9}}',
      Buffer.alloc(100),
    ])
      send(nonsense);
    await until(
      'seven faults',
      () => messages.filter((m) => m.type === 'fault' || (m.type === 'reply' && m.faults)).length === 7,
    );
    for (let i = 0; i < 60; i++) send('{');
    await until('the end of it', () => socket.readyState === WebSocket.CLOSED);
    const big = await page();
    big.send(' '.repeat(17 * 1024 * 1024));
    await until('the end of the big one', () => big.socket.readyState === WebSocket.CLOSED);
    assert.ok((await app.health()).ok);
  });

  test('is not for pages of another origin', async () => {
    const socket = new WebSocket(`ws://127.0.0.1:${app.port}/live`, { origin: 'http://evil.test' });
    const error = await new Promise<Error>((resolve) => socket.on('error', resolve));
    assert.match(error.message, /403/);
  });

  test('a unit that a page holds alight goes dark when the page is gone', async () => {
    const { socket, send } = await page();
    send({ type: 'identify', id: 1, units: ['unit:hire'] });
    await until('alight', async () => (await app.slots(3))[0] === 255);
    socket.terminate();
    await until('dark', async () => (await app.slots(3))[0] === 0);
  });
});

test('a flood of made-up devices and answers leaves the frames alone', async () => {
  const { engine, processes } = await app.health();
  const { interfaces } = (await app.call<{ network: NetworkState }>('GET', '/api/network')).body.network;
  const own = interfaces.find((i) => i.name === 'stand-ins')!.address;
  const udp = dgram.createSocket('udp4');
  for (let i = 0; i < 65_000; i++) {
    const packet = makeArtPollReply({
      ip: `10.1.${i >> 8}.${i & 255}`,
      bindIndex: i & 255,
      shortName: `Fake ${i}`,
      longName: 'x',
      firmware: 1,
      style: 0,
      mac: '00:00:00:00:00:00',
      rdm: true,
      report: '',
      inputs: [],
      outputs: [{ portAddress: i & 0x7fff, transmitting: false, merging: false }],
    });
    await new Promise<void>((resolve) => udp.send(packet, 6454, own, () => resolve()));
  }
  udp.close();
  const after = (await app.health()).engine!;
  // At most a few frames are left out: a frame thread of its own does not wait for whoever hears the network.
  assert.ok(
    after.framesSkipped - engine!.framesSkipped < 40,
    `${after.framesSkipped - engine!.framesSkipped} left out`,
  );
  const { network } = (await app.call<{ network: NetworkState }>('GET', '/api/network')).body;
  assert.ok(network.nodes.length <= 1000);
  assert.deepEqual((await app.health()).processes, processes);
  await until('the real gateway to be known all the same', async () => {
    const outputs = (await app.health()).engine?.outputs ?? [];
    return outputs.some((o) => o.gateways?.some((g) => g.name === 'Bar gateway' && g.state === 'found'));
  });
});

test('garbage to every port leaves everything running', async () => {
  const { standins, processes } = await app.health();
  const udp = dgram.createSocket('udp4');
  const send = (bytes: Buffer, port: number, host: string): Promise<void> =>
    new Promise((resolve) => udp.send(bytes, port, host, () => resolve()));
  for (let i = 0; i < 300; i++) {
    const bytes = Buffer.from(Array.from({ length: (i * 37) % 700 }, (_, k) => (k * 31 + i * 17) & 255));
    for (const gateway of standins!.gateways.filter((g) => g.id.startsWith('gateway-')))
      await send(bytes, gateway.kind === 'sacn' ? 5568 : 6454, gateway.address);
  }
  udp.close();
  assert.match(await raw('\u0000\u0001garbage\r\n\r\n'), /^HTTP\/1\.1 400/);
  await until('the garbage to be counted', async () => {
    const gateways = (await app.health()).standins!.gateways.filter((g) => g.id.startsWith('gateway-'));
    return gateways.every((g) => g.refused >= 290);
  });
  assert.deepEqual((await app.health()).processes, processes);
});
