import { fork, type ChildProcess } from 'node:child_process';
import dgram from 'node:dgram';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { pino } from 'pino';
import WebSocket from 'ws';
import { wait } from '../scripts/lib.mjs';
import { writeArchive } from '../src/core/format/archive.ts';
import { SACN_PORT, SACN_SLOTS_AT } from '../src/core/protocol/sacn.ts';
import { make } from '../src/core/records/index.ts';
import { makeClock } from '../src/engine/clock.ts';
import { Network } from '../src/engine/network/network.ts';
import { Gateway } from '../src/standins/gateway.ts';
import { StandinHost } from '../src/standins/host.ts';
import { App, until } from '../tests/support/app.ts';
import { bareTimer, quantileOf, report } from './measure.ts';
import { lampShow, pixelShow } from './shows.ts';

/**
 * The way out: packets, CPU and lateness for 100, 300 and 1,000 universes; what a monitor costs; from a browser's
 * message to the packet; the time to find 40 devices.
 */
const SECONDS = 21;
const ADDRESS = '127.202.1.10';
const EAR = '127.202.1.11';
const BARE = '127.202.1.12';
const CLOCK_TICKS = 100;

/** Seconds of CPU a process has used. */
function cpuOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) / CLOCK_TICKS;
}

async function ask(gateway: ChildProcess): Promise<{ packets: number; lost: number }> {
  const answer = once(gateway, 'message');
  gateway.send('report');
  return (await answer)[0] as { packets: number; lost: number };
}

async function open(app: App, universes: number, showOf: typeof pixelShow | typeof lampShow): Promise<void> {
  const { document, targets } = showOf(universes);
  const records = [
    ...document.values(),
    make('output', { id: 'output:bench', name: 'Bench', protocol: 'sacn', destinations: [ADDRESS] }),
    ...Array.from({ length: universes }, (_, i) =>
      make('route', { id: `route:r${i + 1}`, universe: i + 1, outputId: 'output:bench', wireUniverse: i + 1 }),
    ),
    make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] }),
    make('route', { id: 'route:ear', universe: 1, outputId: 'output:ear', wireUniverse: 1 }),
  ];
  const { body } = await app.call<{ id: string }>('POST', '/api/shows/import', writeArchive(records));
  await app.call('POST', `/api/shows/${body.id}/open`);
  await until('the engine to have it', async () => (await app.health()).engine?.universes === universes, 60);
  for (const target of targets) await app.command({ do: 'play', target });
}

async function load(app: App, universes: number, what: string, showOf: Parameters<typeof open>[2]): Promise<void> {
  const gateway = fork('bench/gateway.ts', [ADDRESS, String(universes)], { execArgv: ['--import', 'tsx'] });
  await once(gateway, 'message');
  await open(app, universes, showOf);
  // A large show takes the engine's main thread a while to compile; frames go on meanwhile.
  const calm = await until('the engine to be calm', async () => (await app.health()).engine, 60);
  await wait(3000);
  const { pid } = calm;
  const timer = bareTimer();
  const [from, cpu, before] = [performance.now(), cpuOf(pid), await ask(gateway)];
  await wait(SECONDS * 1000);
  const seconds = (performance.now() - from) / 1000;
  const [used, after] = [cpuOf(pid) - cpu, await ask(gateway)];
  const engine = await until('health', async () => (await app.health()).engine, 30);
  const bare = timer.stop();
  const name = `${universes} universes ${what}`;
  report(`${name}: packets at the stand-in`, (after.packets - before.packets) / seconds, 'a second');
  report(`${name}: packets lost`, after.lost - before.lost, `of ${after.packets - before.packets}`);
  report(`${name}: CPU of the engine`, (used / seconds) * 100, '% of a core');
  report(`${name}: lateness p99`, engine.latenessP99Ms, 'ms');
  report(`${name}: a bare timer in the same seconds, p99`, quantileOf(bare, 0.99), 'ms');
  report(`${name}: frame rate`, engine.frameRateMeasured, 'Hz');
  await monitor(app, name, pid, used / seconds);
  gateway.disconnect();
  const load = await bareSender(universes);
  report(`${name}: CPU of a bare loop that sends as many packets`, load * 100, '% of a core');
  report(`${name}: CPU of the engine by that of the bare loop`, used / seconds / load, 'ratio');
}

/** Seconds of CPU a second that a bare loop takes to send as many packets as often, to a gateway like the engine's. */
async function bareSender(universes: number): Promise<number> {
  const gateway = fork('bench/gateway.ts', [BARE, String(universes)], { execArgv: ['--import', 'tsx'] });
  await once(gateway, 'message');
  const sender = fork('bench/bare-sender.ts', [BARE, String(universes)], { execArgv: ['--import', 'tsx'] });
  await once(sender, 'message');
  await wait(2000);
  const [from, cpu, before] = [performance.now(), cpuOf(sender.pid!), await ask(gateway)];
  await wait(10_000);
  const seconds = (performance.now() - from) / 1000;
  const [used, after] = [cpuOf(sender.pid!) - cpu, await ask(gateway)];
  const name = `${universes} universes, a bare loop`;
  report(`${name}: packets at the stand-in`, (after.packets - before.packets) / seconds, 'a second');
  report(`${name}: packets lost`, after.lost - before.lost, `of ${after.packets - before.packets}`);
  sender.disconnect();
  gateway.disconnect();
  return used / seconds;
}

/** What one page that watches everything costs the engine, beside none. */
async function monitor(app: App, name: string, pid: number, alone: number): Promise<void> {
  const page = new WebSocket(`ws://127.0.0.1:${app.port}/live`);
  let messages = 0;
  page.on('message', (_, binary) => (messages += binary ? 1 : 0));
  await once(page, 'open');
  page.send(JSON.stringify({ type: 'watch', id: 1, frames: true }));
  await wait(1000);
  const [from, cpu, count] = [performance.now(), cpuOf(pid), messages];
  await wait(10_000);
  const seconds = (performance.now() - from) / 1000;
  report(`${name}: frames a second at a page that watches`, (messages - count) / seconds, 'Hz');
  report(
    `${name}: CPU of the engine with the page, less without`,
    ((cpuOf(pid) - cpu) / seconds - alone) * 100,
    '% of a core',
  );
  page.terminate();
}

/** From the message of a page to the packet that carries it, over and over. */
async function action(app: App): Promise<void> {
  await open(app, 10, pixelShow);
  const ear = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  ear.bind(SACN_PORT, EAR);
  await once(ear, 'listening');
  let waiting: { value: number; done: () => void } | null = null;
  ear.on('message', (packet) => {
    if (waiting && packet[SACN_SLOTS_AT + 511] === waiting.value) waiting.done();
  });
  const page = new WebSocket(`ws://127.0.0.1:${app.port}/live`);
  await once(page, 'open');
  const times: number[] = [];
  for (let i = 0; i < 200; i++) {
    const value = 1 + (i % 250);
    const from = performance.now();
    const arrived = new Promise<void>((done) => (waiting = { value, done }));
    page.send(JSON.stringify({ type: 'command', id: i, command: { do: 'raw', set: { '1.512': value } } }));
    await arrived;
    times.push(performance.now() - from);
    await wait(13 + (i % 17));
  }
  report('from a page to the packet, p50', quantileOf(times, 0.5), 'ms');
  report('from a page to the packet, p95', quantileOf(times, 0.95), 'ms');
  page.terminate();
  ear.close();
}

async function find(): Promise<void> {
  const now = makeClock();
  const net = '127.202.2';
  const devices = Array.from(
    { length: 40 },
    (_, i) =>
      new Gateway(
        {
          id: `g${i}`,
          kind: 'artnet',
          name: `Node ${i}`,
          address: `${net}.${20 + i}`,
          wireUniverses: [0, 1, 2, 3],
          random: () => 0.5,
        },
        now,
      ),
  );
  const host = new StandinHost(devices, now);
  await host.start(0, `${net}.255`);
  const network = new Network({
    now,
    source: { cid: new Uint8Array(16), name: 'Bench' },
    simulated: { own: `${net}.1`, broadcast: `${net}.255`, serialPaths: [], devices: [] },
    hubKeys: {},
    saveHubKeys: async () => undefined,
    act: () => undefined,
    slotsOf: () => null,
    onHosts: () => undefined,
    onNetwork: () => undefined,
    log: pino({ enabled: false }),
  });
  network.setDocument(new Map());
  await wait(200);
  const from = performance.now();
  await network.ask({ ask: 'scan' });
  while (network.state().nodes.length < 40) await wait(1);
  report('time to find 40 Art-Net devices', performance.now() - from, 'ms');
  network.close();
  host.close();
}

await find();
const app = await App.start();
try {
  await action(app);
  for (const universes of (process.env['AMBER_BENCH_UNIVERSES'] ?? '100,300,1000').split(',')) {
    // What sending costs, and what sending and the light of 170 pixels in each cost.
    await load(app, Number(universes), 'of a moving lamp', lampShow);
    await load(app, Number(universes), 'of pixels in four chases', pixelShow);
  }
} finally {
  await app.end();
}
