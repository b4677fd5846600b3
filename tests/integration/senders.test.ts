import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import dgram from 'node:dgram';
import { once } from 'node:events';
import { afterEach, describe, test } from 'node:test';
import { decodeArtNet } from '../../src/core/protocol/artnet.ts';
import { decodeSacnExtended } from '../../src/core/protocol/sacn-extended.ts';
import { decodeSacn, type SacnData } from '../../src/core/protocol/sacn.ts';
import { KEEP_ALIVE_MS, Senders } from '../../src/engine/senders.ts';
import type { WireRoute } from '../../src/engine/shared.ts';
import { until } from '../support/app.ts';

const closing: (() => void)[] = [];
afterEach(() => {
  for (const close of closing.splice(0)) close();
});

/** A socket of loopback that keeps what it gets. */
async function ear(): Promise<{ port: number; raw: Uint8Array[]; sacn(): SacnData[] }> {
  const socket = dgram.createSocket('udp4');
  closing.push(() => socket.close());
  const raw: Uint8Array[] = [];
  socket.on('message', (message) => raw.push(message));
  socket.bind(0, '127.0.0.1');
  await once(socket, 'listening');
  const sacn = (): SacnData[] =>
    raw.flatMap((p) => {
      const d = decodeSacn(p);
      return d.ok ? [d.value] : [];
    });
  return { port: socket.address().port, raw, sacn };
}

const route = (port: number, over: Partial<WireRoute> = {}): WireRoute => ({
  key: 'a',
  outputId: 'output:a',
  protocol: 'sacn',
  universe: 1,
  wireUniverse: 11,
  host: '127.0.0.1',
  syncHost: '',
  port,
  interfaceAddress: null,
  multicast: false,
  broadcast: false,
  preview: false,
  syncAddress: 0,
  artSync: false,
  sourceName: '',
  rateCap: 0,
  priority: 120,
  slots: 512,
  refresh: 'frames',
  ...over,
});
const source = { cid: new Uint8Array(16).fill(7), name: 'Test' };

async function sending(routes: WireRoute[], sequences: Record<string, number> = {}) {
  const senders = new Senders(source, sequences);
  closing.push(() => senders.close());
  senders.setRoutes(routes, Uint16Array.of(1, 2), 0);
  await until('its sockets', () => senders.localPorts().length > 0);
  const bytes = new Uint8Array(1024);
  const views = [bytes.subarray(0, 512), bytes.subarray(512)];
  const frame = (nowMs: number, value?: number): void => {
    if (value !== undefined) bytes.fill(value);
    senders.send(bytes, views, nowMs);
  };
  return { senders, frame };
}

describe('streams on the wire', () => {
  test('a packet for every frame, in sequence, under the universe’s number out there', async () => {
    const { port, sacn } = await ear();
    const { frame } = await sending([route(port)]);
    for (let i = 0; i < 10; i++) frame(i * 25, i);
    await until('ten packets', () => sacn().length === 10);
    const got = sacn();
    assert.deepEqual(
      got.map((p) => p.sequence),
      [1, 2, 3, 4, 5, 6, 7, 8, 9, 10],
    );
    assert.deepEqual(
      got.map((p) => p.slots[511]),
      [0, 1, 2, 3, 4, 5, 6, 7, 8, 9],
    );
    assert.deepEqual([got[0]!.universe, got[0]!.priority, got[0]!.sourceName], [11, 120, 'Test']);
  });

  test('on changes only: three repeats, then a keep-alive, and a change at once', async () => {
    const { port, sacn } = await ear();
    const { frame } = await sending([route(port, { refresh: 'changes' })]);
    let now = 0;
    for (; now < 3000; now += 25) frame(now, 9);
    // The change is the last packet that was sent: once it is here all before it are.
    frame(now, 10);
    await until('the change', () => sacn().at(-1)?.slots[0] === 10);
    const still = sacn().filter((p) => p.slots[0] === 9).length;
    const keepAlives = Math.floor((3000 - 4 * 25) / KEEP_ALIVE_MS);
    assert.ok(Math.abs(still - (4 + keepAlives)) <= 1, `${still} packets`);
    assert.equal(sacn().length, still + 1);
  });

  test('a route taken away ends its stream three times over; the other is not touched', async () => {
    const { port, sacn } = await ear();
    const [a, b] = [route(port), route(port, { key: 'b', universe: 2, wireUniverse: 12 })];
    const { senders, frame } = await sending([a, b]);
    for (let i = 0; i < 3; i++) frame(i * 25, 1);
    senders.setRoutes([b], Uint16Array.of(1, 2), 100);
    frame(125);
    await until('all', () => sacn().length === 3 + 3 + 3 + 1);
    const of = (universe: number) => sacn().filter((p) => p.universe === universe);
    assert.deepEqual(
      of(11).map((p) => p.terminated),
      [false, false, false, true, true, true],
    );
    assert.deepEqual(
      of(12).map((p) => p.sequence),
      [1, 2, 3, 4],
    );
  });

  test('kept sequence numbers go on', async () => {
    const { port, sacn } = await ear();
    const { senders, frame } = await sending([route(port)], { a: 254 });
    for (let i = 0; i < 3; i++) frame(i * 25);
    await until('three', () => sacn().length === 3);
    assert.deepEqual(
      sacn().map((p) => p.sequence),
      [255, 0, 1],
    );
    assert.deepEqual(senders.sequences(), { a: 1 });
  });

  test('Art-Net goes out as ArtDmx with its own numbers', async () => {
    const { port, raw } = await ear();
    const { frame } = await sending([route(port, { protocol: 'artnet', wireUniverse: 0x123 })]);
    frame(0, 77);
    frame(25, 78);
    await until('two', () => raw.length === 2);
    const decoded = raw.map((p) => decodeArtNet(p));
    assert.ok(decoded.every((d) => d.ok && d.value.op === 'dmx' && d.value.portAddress === 0x123));
    assert.deepEqual(
      raw.map((p) => [p[12], p[18]]),
      [
        [1, 77],
        [2, 78],
      ],
    );
  });

  test('Art-Net counts through 255 without a number twice, also from where it was kept', async () => {
    const { port, raw } = await ear();
    const { frame } = await sending([route(port, { protocol: 'artnet' })], { a: 250 });
    for (let i = 0; i < 12; i++) {
      frame(i * 25);
      await until('it', () => raw.length === i + 1);
    }
    assert.deepEqual(
      raw.map((p) => p[12]),
      [251, 252, 253, 254, 255, 1, 2, 3, 4, 5, 6, 7],
    );
  });

  test('nobody at the other end is said in words, and sending goes on when somebody is', async () => {
    const socket = dgram.createSocket('udp4');
    socket.bind(0, '127.0.0.1');
    await once(socket, 'listening');
    const { port } = socket.address();
    socket.close();
    const { senders, frame } = await sending([route(port)]);
    let now = 0;
    const stats = await until('the error', () => {
      frame((now += 25));
      const [found] = senders.stats(now);
      return found!.errors > 0 && found!.lastError !== null && found;
    });
    assert.match(stats.lastError ?? '', new RegExp(`nobody listens at 127.0.0.1:${port}`));
    const later = dgram.createSocket('udp4');
    closing.push(() => later.close());
    let got = 0;
    later.on('message', () => got++);
    later.bind(port, '127.0.0.1');
    await once(later, 'listening');
    await until('packets after all', () => {
      frame(10_000);
      return got > 0;
    });
    // An answer to a packet of before may still have come in meanwhile: what is old is not told for ever.
    frame(20_000);
    assert.equal(senders.stats(20_000)[0]!.lastError, null);
  });

  test('an output that takes fewer frames gets them evenly, the other all of them', async () => {
    const { port, sacn } = await ear();
    const { frame } = await sending([
      route(port, { rateCap: 10 }),
      route(port, { key: 'b', universe: 2, wireUniverse: 12, rateCap: 44 }),
    ]);
    for (let now = 0; now < 4000; now += 25) {
      frame(now, (now / 25) & 255);
      // No more under way than a socket of any machine holds.
      if (now % 500 === 0)
        await until('those before', () => sacn().filter((p) => p.universe === 12).length >= now / 25);
    }
    await until('them', () => sacn().filter((p) => p.universe === 12).length >= 159);
    const few = sacn().filter((p) => p.universe === 11);
    assert.ok(Math.abs(few.length - 40) <= 1, `${few.length} packets in 4 s`);
    const steps = few.slice(1).map((p, i) => (p.slots[0]! - few[i]!.slots[0]! + 256) & 255);
    assert.ok(
      steps.every((s) => s === 4),
      steps.join(' '),
    );
  });

  test('sync packets follow the data of each frame, and only frames that had data', async () => {
    const { port, raw } = await ear();
    const { frame } = await sending([
      route(port, { syncAddress: 7000 }),
      route(port, { key: 'b', universe: 2, wireUniverse: 12, syncAddress: 7000 }),
    ]);
    for (let i = 0; i < 3; i++) frame(i * 25, i);
    await until('nine', () => raw.length === 9);
    assert.deepEqual(
      raw.map((p) => {
        const extended = decodeSacnExtended(p);
        return extended.ok && extended.value.type === 'sync' ? `sync ${extended.value.sequence}` : 'data';
      }),
      ['data', 'data', 'sync 1', 'data', 'data', 'sync 2', 'data', 'data', 'sync 3'],
    );
    const art = await ear();
    const second = await sending([route(art.port, { protocol: 'artnet', artSync: true, refresh: 'changes' })]);
    for (let now = 0; now < 400; now += 25) second.frame(now, 5);
    // A change comes last: whatever would have been sent before it is here by then.
    second.frame(400, 6);
    await until('the change', () => art.raw.length >= 10);
    const ops = art.raw.map((p) => decodeArtNet(p)).map((d) => d.ok && d.value.op);
    assert.deepEqual(ops, Array.from({ length: 5 }, () => ['dmx', 'sync']).flat());
  });

  test('a stream says its own name, and that it is for pictures only', async () => {
    const { port, sacn } = await ear();
    const { frame } = await sending([route(port, { sourceName: 'Beams', preview: true })]);
    frame(0, 1);
    await until('it', () => sacn().length === 1);
    assert.deepEqual([sacn()[0]!.sourceName, sacn()[0]!.preview], ['Beams', true]);
  });
});

const own = '10.213.77.1';
const ip = (what: 'add' | 'del'): boolean => spawnSync('ip', ['addr', what, `${own}/32`, 'dev', 'lo']).status === 0;
const mayChange = ip('add') && ip('del');

describe('an own network interface', { skip: !mayChange && 'no right to change interfaces here' }, () => {
  afterEach(() => void ip('del'));
  test('that is not there yet is waited for, goes and comes back; the other output never stops', async () => {
    const { port, sacn } = await ear();
    const { senders, frame } = await sending([
      route(port, { interfaceAddress: own }),
      route(port, { key: 'b', outputId: 'output:b', universe: 2, wireUniverse: 12 }),
    ]);
    const of = (universe: number): number => sacn().filter((p) => p.universe === universe).length;
    let now = 0;
    const run = async (what: string, look: () => boolean): Promise<void> => {
      await until(what, () => {
        frame((now += 25), 1);
        return look();
      });
    };
    const stats = (id: string) => senders.stats(now).find((s) => s.outputId === id)!;
    await run('the other', () => of(12) > 5);
    assert.equal(of(11), 0);
    assert.match(stats('output:a').lastError ?? '', /no network interface 10\.213\.77\.1/);
    ip('add');
    await run('packets once it is there', () => of(11) > 3);
    await run('no complaint', () => stats('output:a').lastError === null);
    ip('del');
    const before = of(12);
    await run('the other to go on', () => of(12) > before + 5);
    assert.equal(stats('output:b').errors, 0);
    ip('add');
    const gone = of(11);
    await run('packets again', () => of(11) > gone + 3);
    await run('no complaint', () => stats('output:a').lastError === null);
  });
});
