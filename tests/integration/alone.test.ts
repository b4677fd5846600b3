import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { WebSocket } from 'ws';
import { make, type AnyRecord, type UnitRecord } from '../../src/core/records/index.ts';
import type { ServerMessage } from '../../src/core/protocol/live.ts';
import { App, hearSacn, temporaryFolder, until, type Heard } from '../support/app.ts';
import { watchStalls } from '../support/stalls.ts';
import { flashRates } from '../support/flash-meter.ts';

/** The lights go on whatever else fails: database, disk, web, stand-ins, the engine itself. Measured at the receiver. */
const EAR = `127.207.${process.pid & 255}.${1 + (Math.floor(process.pid / 256) & 127)}`;
const FRAME_MS = 25;

interface Rig {
  readonly app: App;
  readonly ear: { readonly packets: Heard[]; close(): void };
}

async function start(dataDir?: string): Promise<Rig> {
  const app = await App.start(dataDir ? { dataDir } : {});
  const ear = await hearSacn(EAR, 5568);
  const { id, records } = await app.openShow();
  const output = records.find((r) => r.kind === 'output' && r.protocol === 'sacn' && !r.multicast)!;
  assert.ok(output.kind === 'output');
  await app.edit(id, { put: [{ ...output, destinations: [...output.destinations, EAR] }] });
  await until('packets', () => ear.packets.length > 20);
  return { app, ear };
}
const of = (ear: Rig['ear'], universe = 1): Heard[] => ear.packets.filter((p) => p.universe === universe);

/** Waits for so many packets more of the first universe. */
async function more(ear: Rig['ear'], count: number): Promise<void> {
  const now = of(ear).length;
  await until(`${count} packets more`, () => of(ear).length >= now + count);
}

/** The longest time from one packet to the next, ms. */
function longestGap(packets: readonly Heard[]): number {
  return Math.max(0, ...packets.slice(1).map((p, i) => p.at - packets[i]!.at));
}
/** The process of PostgreSQL of a data folder. */
function databaseOf(dataDir: string): number {
  return Number(readFileSync(path.join(dataDir, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
}
/** A page's WebSocket, with what it was told. */
async function page(app: App): Promise<{
  ask(body: Record<string, unknown>): Promise<Extract<ServerMessage, { type: 'reply' }>>;
  close(): void;
}> {
  const socket = new WebSocket(`${app.url.replace('http', 'ws')}/live?browser=abcdefgh`);
  const replies = new Map<number, Extract<ServerMessage, { type: 'reply' }>>();
  let welcomed = false;
  socket.on('message', (data, binary) => {
    if (binary) return;
    const message = JSON.parse((data as Buffer).toString()) as ServerMessage;
    if (message.type === 'welcome') welcomed = true;
    if (message.type === 'reply') replies.set(message.id, message);
  });
  await until('a welcome', () => welcomed);
  let next = 1;
  return {
    ask(body) {
      const id = next++;
      socket.send(JSON.stringify({ id, ...body }));
      return until('a reply', () => replies.get(id));
    },
    close: () => socket.close(),
  };
}
const wash = async (app: App): Promise<UnitRecord> =>
  (await app.openShow()).records.find((r) => r.id === 'unit:wash1') as UnitRecord;

describe('when the database dies', () => {
  let rig: Rig;
  before(async () => {
    rig = await start();
  });
  after(async () => {
    rig?.ear.close();
    await rig?.app.end();
  });

  test('the light goes on without a gap, edits are refused for later in words, and all is well by itself', async () => {
    const { app, ear } = rig;
    await app.command({ do: 'hand', set: { 'unit:wash1': { Dimmer: 0.4 } } });
    await until('by hand', () => of(ear).at(-1)!.slots[80] === 102);
    const unit = await wash(app);
    const hands = await page(app);
    const { processes } = await app.health();
    const stalled = watchStalls();
    const from = of(ear).length;
    process.kill(databaseOf(app.dataDir), 'SIGKILL');
    const base = (await app.openShow().catch(() => null))?.revision ?? 1;
    const edit = { type: 'edit', base, label: 'Name', change: { put: [{ ...unit, name: 'While away' }] } };
    const first = await hands.ask(edit);
    // Masters and the hand need no database.
    assert.equal((await hands.ask({ type: 'command', command: { do: 'grand', level: 0.5 } })).faults, null);
    await until('half', () => of(ear).at(-1)!.slots[80] === 51);
    if (first.faults) assert.equal(first.faults[0]!.code, 'DATABASE_AWAY');
    const saved = first.faults
      ? await until('saved at last', async () => {
          const again = await hands.ask(edit);
          return again.faults ? null : again;
        })
      : first;
    assert.equal(saved.faults, null);
    assert.equal((await wash(app)).name, 'While away');
    await until('all is well', async () => (await app.health()).ok);
    const packets = of(ear).slice(from - 1);
    const now = await app.health();
    assert.equal(now.processes.engine, processes.engine, 'the same engine');
    assert.ok(!packets.some((p) => p.terminated), 'no stream was ended');
    const stall = await stalled();
    assert.ok(longestGap(packets) <= 4 * FRAME_MS + stall, `${longestGap(packets)} ms; the machine: ${stall} ms`);
    hands.close();
  });

  test('an engine that is killed meanwhile comes back with what it played', async () => {
    const { app, ear } = rig;
    await app.command({ do: 'grand', level: 1 });
    await app.command({ do: 'hand', set: { 'unit:wash1': { Dimmer: 0.8 } } });
    await until('0.8', () => of(ear).at(-1)!.slots[80] === 204);
    const database = databaseOf(app.dataDir);
    // It stands still: no new connection, no answer, as on a machine that is out of memory.
    process.kill(database, 'SIGSTOP');
    try {
      await app.command({ do: 'hand', set: { 'unit:wash1': { Dimmer: 0.6 } } });
      await until('0.6', () => of(ear).at(-1)!.slots[80] === 153);
      // Frames are kept half a second after a change.
      await more(ear, 40);
      const { engine } = (await app.health()).processes;
      const killedAt = performance.timeOrigin + performance.now();
      process.kill(engine!, 'SIGKILL');
      const again = await until('packets again', () => of(ear).find((p) => p.at > killedAt + 100));
      assert.ok(again.at - killedAt < 1500, `after ${Math.round(again.at - killedAt)} ms`);
      assert.equal(again.slots[80], 153, 'at once what it sent before');
      await until('another engine', async () => {
        const next = (await app.health()).processes.engine;
        return next !== null && next !== engine;
      });
      assert.equal((await app.command({ do: 'hand', set: { 'unit:wash1': { Dimmer: 0.2 } } })).status, 200);
      await until('0.2', () => of(ear).at(-1)!.slots[80] === 51);
    } finally {
      process.kill(database, 'SIGCONT');
    }
    await until('all is well', async () => (await app.health()).ok, 30);
    assert.equal(of(ear).at(-1)!.slots[80], 51);
    assert.equal(((await app.live()).hand['unit:wash1'] as Record<string, number>)['Dimmer'], 0.2);
  });

  test('what was done meanwhile is what the next start plays', async () => {
    const { app, ear } = rig;
    await app.stop();
    rig = { app: await App.start({ dataDir: app.dataDir }), ear };
    await until('0.2', () => of(ear).at(-1)!.slots[80] === 51);
  });
});

describe('when others keep ending', () => {
  let rig: Rig;
  before(async () => {
    rig = await start();
  });
  after(async () => {
    rig?.ear.close();
    await rig?.app.end();
  });
  test('web and stand-ins in a crash loop leave the engine alone, and come back', async () => {
    const { app, ear } = rig;
    const { processes } = await app.health();
    const from = of(ear).length;
    for (let i = 0; i < 12; i++) {
      const victims = childrenOf(app.pid).filter((pid) => /server\.js|standins\.js/.test(commandOf(pid)));
      for (const pid of victims) process.kill(pid, 'SIGKILL');
      await until('others', () =>
        childrenOf(app.pid).some((pid) => /server\.js/.test(commandOf(pid)) && !victims.includes(pid)),
      );
    }
    const health = await until(
      'well again',
      async () => {
        const now = await app.health();
        return now.ok && now.standins ? now : null;
      },
      30,
    );
    assert.equal(health.processes.engine, processes.engine);
    assert.ok(
      !of(ear)
        .slice(from)
        .some((p) => p.terminated),
    );
  });
  test('flashing is held over an engine that is killed while it flashes, and by edits', async () => {
    const { app, ear } = rig;
    const { id, records } = await app.openShow();
    const on = records.flatMap((r) => (r.kind === 'unit' ? [r.id] : []));
    const strobe = make('effect', {
      id: 'effect:eight',
      number: 99,
      name: 'Eight a second',
      on,
      rate: 8,
      fadeInMs: 0,
      light: 1,
      parts: [{ does: 'level', wave: 'square', width: 0.5 }],
    });
    await app.edit(id, { put: [strobe] });
    await app.command({ do: 'letGo' });
    const from = performance.timeOrigin + performance.now();
    await app.command({ do: 'play', target: strobe.id });
    await until('held', async () => (await app.health()).engine?.flashesHeld === true);
    const unit = await wash(app);
    for (let i = 0; i < 9; i++) {
      await app.edit(id, { put: [{ ...unit, name: `Renamed ${i}` } as AnyRecord] });
      await more(ear, 12);
    }
    for (let kill = 0; kill < 2; kill++) {
      const { engine } = (await app.health()).processes;
      process.kill(engine!, 'SIGKILL');
      await until('another engine', async () => {
        const next = (await app.health()).processes.engine;
        return next !== null && next !== engine;
      });
      await more(ear, 60);
    }
    // Washes at addresses 81 and following: level, red, green, blue, white.
    const lights = of(ear)
      .filter((p) => p.at > from)
      .map((p) => ({ at: p.at, light: p.slots[80]! / 255 }));
    assert.ok(lights.length > 200);
    // By the clock of arrivals, since packets are missing while the engine is away.
    const grid: [number, number, number][] = [];
    let at = 0;
    for (let ms = lights[0]!.at; ms < lights.at(-1)!.at; ms += FRAME_MS) {
      while (at + 1 < lights.length && lights[at + 1]!.at <= ms) at++;
      const { light } = lights[at]!;
      grid.push([light, light, light]);
    }
    const { general } = flashRates(grid);
    assert.ok(general <= 3, `${general} flashes within a second`);
  });
});

describe('when the disk is full', () => {
  const folder = temporaryFolder();
  const disk = path.join(folder, 'disk');
  let rig: Rig | null = null;
  let mounted = false;
  before(async () => {
    mkdirSync(disk);
    mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=260m,mode=711', 'tmpfs', disk]).status === 0;
    if (mounted) rig = await start(path.join(disk, 'data'));
  });
  after(async () => {
    rig?.ear.close();
    await rig?.app.end().catch(() => undefined);
    if (mounted) spawnSync('umount', ['-l', disk]);
    rmSync(folder, { recursive: true, force: true });
  });
  test('light and hand go on, also over a killed engine; people are told; it heals when there is room', async (t) => {
    if (!rig) return t.skip('no file system may be mounted here');
    const { app, ear } = rig;
    await app.command({ do: 'hand', set: { 'unit:wash1': { Dimmer: 0.4 } } });
    await until('by hand', () => of(ear).at(-1)!.slots[80] === 102);
    const filler = path.join(disk, 'filler');
    spawnSync('dd', ['if=/dev/zero', `of=${filler}`, 'bs=64k']);
    await until('told', async () => (await app.health()).disk === 'full');
    assert.equal((await app.health()).ok, false);
    const logged = app.log.length;
    const hands = await page(app);
    const unit = await wash(app);
    const units = (await app.openShow()).records.filter((r) => r.kind === 'unit');
    let code: string | undefined;
    for (let i = 0; i < 2000 && !code; i++) {
      const put = units.map((u) => ({ ...u, notes: `${i} `.padEnd(1500, 'x') }));
      const reply = await hands.ask({ type: 'edit', base: i === 0 ? 1 : 0, label: 'Notes', change: { put } });
      code = reply.faults?.[0]?.code === 'STALE_REVISION' ? undefined : reply.faults?.[0]?.code;
    }
    assert.ok(code === 'DISK_FULL' || code === 'DATABASE_AWAY', `an edit that cannot be kept is refused: ${code}`);
    // Thousands of commands of the hand, each of them done.
    for (let i = 0; i < 1500; i++) {
      const reply = await hands.ask({
        type: 'command',
        command: { do: 'hand', set: { 'unit:wash1': { Dimmer: i / 1500 } } },
      });
      assert.equal(reply.faults, null);
    }
    await hands.ask({ type: 'command', command: { do: 'hand', set: { 'unit:wash1': { Dimmer: 0.6 } } } });
    await until('0.6', () => of(ear).at(-1)!.slots[80] === 153);
    await more(ear, 40);
    const { engine } = (await app.health()).processes;
    const killedAt = performance.timeOrigin + performance.now();
    process.kill(engine!, 'SIGKILL');
    const again = await until('packets again', () => of(ear).find((p) => p.at > killedAt + 100));
    assert.equal(again.slots[80], 153);
    await until('another engine', async () => {
      const next = (await app.health()).processes.engine;
      return next !== null && next !== engine;
    });
    assert.ok(app.log.length - logged < 200_000, `the log grew by ${app.log.length - logged} characters`);
    rmSync(filler);
    await until('well again', async () => (await app.health()).ok, 40);
    const saved = await until(
      'saved',
      async () => {
        const reply = await app.edit((await app.openShow()).id, { put: [{ ...unit, notes: 'room again' }] });
        return reply.status === 200;
      },
      30,
    );
    assert.ok(saved);
    assert.equal(of(ear).at(-1)!.slots[80], 153);
    hands.close();
  });
});

test('npm start that is ended from outside takes the program along', async () => {
  const folder = temporaryFolder();
  const { spawn } = await import('node:child_process');
  const npm = spawn('npm', ['start'], {
    env: {
      ...process.env,
      AMBER_DATA_DIR: folder,
      AMBER_PORT: String(20_000 + (process.pid % 20_000)),
      NODE_OPTIONS: '',
    },
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  let out = '';
  npm.stdout.on('data', (text: Buffer) => (out += text.toString()));
  await until('ready', () => out.includes('is ready at'), 90);
  npm.kill('SIGTERM');
  await until(
    'nothing is left',
    () => !readdirSync('/proc').some((pid) => /^\d+$/.test(pid) && usesFolder(pid, folder)),
  );
  assert.ok(statSync(folder).isDirectory());
  rmSync(folder, { recursive: true, force: true });
});

function usesFolder(pid: string, folder: string): boolean {
  try {
    return (
      Number(pid) !== process.pid &&
      (readFileSync(`/proc/${pid}/environ`, 'utf8') + readFileSync(`/proc/${pid}/cmdline`, 'utf8')).includes(folder)
    );
  } catch {
    return false;
  }
}
function childrenOf(pid: number): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((child) => {
      try {
        return readFileSync(`/proc/${child}/stat`, 'utf8').split(') ')[1]!.split(' ')[1] === String(pid);
      } catch {
        return false;
      }
    });
}
function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}
