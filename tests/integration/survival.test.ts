import assert from 'node:assert/strict';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { freePort, wait } from '../../scripts/lib.mjs';
import { make, type AnyRecord } from '../../src/core/records/index.ts';
import { App, hearSacn, temporaryFolder, until } from '../support/app.ts';
import { watchStalls } from '../support/stalls.ts';

/** Processes of this machine that belong to a data folder (from their environment). */
function processesOf(dataDir: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        const about = readFileSync(`/proc/${pid}/environ`, 'utf8') + readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        return Number(pid) !== process.pid && about.includes(dataDir);
      } catch {
        return false;
      }
    })
    .map(Number);
}

/** An address of loopback that nobody else uses. */
const EAR = `127.201.${process.pid & 255}.${1 + (Math.floor(process.pid / 256) & 127)}`;

describe('when a process is killed', () => {
  let app: App;
  let ear: Awaited<ReturnType<typeof hearSacn>>;
  let chase: AnyRecord;
  before(async () => {
    app = await App.start();
    ear = await hearSacn(EAR, 5568);
    const { id, records } = await app.openShow();
    const output = records.find((r) => r.kind === 'output' && r.protocol === 'sacn' && !r.multicast)!;
    assert.ok(output.kind === 'output');
    await app.edit(id, { put: [{ ...output, destinations: [...output.destinations, EAR] }] });
    chase = records.find((r) => r.kind === 'chase')!;
    await app.command({ do: 'play', target: chase.id });
    await until('packets', () => ear.packets.length > 20);
  });
  after(async () => {
    ear?.close();
    await app?.end();
  });

  const mine = () => ear.packets.filter((p) => p.universe === 1);

  test('the web process: the packets go on without a gap of more than three frames', async () => {
    const { web } = (await app.health()).processes;
    const stalled = watchStalls();
    const more = async (count: number): Promise<void> => {
      const now = mine().length;
      await until(`${count} packets more`, () => mine().length >= now + count);
    };
    await more(20);
    const from = mine().length;
    process.kill(web, 'SIGKILL');
    await more(20);
    await until('the web process to be back', async () => {
      const health = await app.health();
      return health.ok && health.processes.web !== web;
    });
    const arrivals = mine()
      .slice(from - 1)
      .map((p) => p.at);
    const gaps = arrivals.slice(1).map((at, i) => at - arrivals[i]!);
    const stall = await stalled();
    assert.ok(arrivals.length > 20);
    assert.ok(Math.max(...gaps) <= 4 * 25 + stall, `a gap of ${Math.max(...gaps)} ms; the machine: ${stall} ms`);
    const sequence = mine()
      .slice(from - 1)
      .map((p) => p.sequence);
    for (let i = 1; i < sequence.length; i++)
      assert.equal((sequence[i]! - sequence[i - 1]! + 256) % 256, 1, 'none is lost');
    assert.equal((await app.live()).playing[0]?.target, chase.id);
  });

  test('the engine: it is back soon, plays the same thing at the right moment, and receivers take its packets', async () => {
    const before = await app.live();
    const { engine } = (await app.health()).processes;
    const killedAt = performance.timeOrigin + performance.now();
    process.kill(engine!, 'SIGKILL');
    const first = await until('packets again', () => mine().find((p) => p.at > killedAt + 60));
    assert.ok(first.at - killedAt < 1500, `it took ${Math.round(first.at - killedAt)} ms`);
    await until('another engine', async () => {
      const { processes } = await app.health();
      return processes.engine !== null && processes.engine !== engine;
    });
    const now = await app.live();
    assert.deepEqual(now.playing, before.playing);
    assert.deepEqual(now.tempo, before.tempo);
    const last = mine()
      .filter((p) => p.at <= killedAt)
      .at(-1)!;
    const step = (first.sequence - last.sequence + 256) % 256;
    assert.ok(
      step > 0 && step < 128,
      `sequence went from ${last.sequence} to ${first.sequence}: a receiver would drop it`,
    );
    assert.equal(first.cid, last.cid, 'the same source as before');
  });

  test('the stand-ins: they come back and hear again', async () => {
    const { standins } = (await app.health()).processes;
    process.kill(standins!, 'SIGKILL');
    await until('others that receive', async () => {
      const health = await app.health();
      return health.processes.standins !== standins && health.standins?.gateways[0]?.ports[0]?.packetsPerSecond;
    });
  });

  test('all of it: what was playing goes on at the next start, and streams were ended properly', async () => {
    const before = await app.live();
    assert.equal(await app.stop(), 0);
    assert.deepEqual(processesOf(app.dataDir), []);
    assert.equal(existsSync(path.join(app.dataDir, 'running.json')), false);
    const lastOnes = mine().slice(-3);
    assert.deepEqual(
      lastOnes.map((p) => p.terminated),
      [true, true, true],
    );
    app = await App.start({ dataDir: app.dataDir });
    assert.deepEqual((await app.live()).playing, before.playing);
    await until('packets again', () => mine().at(-1)!.terminated === false);
  });

  test('the start command itself, without a chance to tidy up: nothing stays, and the next start works', async () => {
    await app.stop('SIGKILL');
    await until('its children to end', () => processesOf(app.dataDir).filter((pid) => !isDatabase(pid)).length === 0);
    app = await App.start({ dataDir: app.dataDir });
    assert.ok((await app.health()).ok, 'it is not well');
  });
});

const isDatabase = (pid: number): boolean => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres');
  } catch {
    return false;
  }
};

describe('starting', () => {
  const folders: string[] = [];
  const folder = (): string => {
    const made = temporaryFolder();
    folders.push(made);
    return made;
  };
  after(() => folders.forEach((f) => rmSync(f, { recursive: true, force: true })));

  test('a second time on the same folder says so and leaves the first alone; another folder runs beside it', async () => {
    const first = await App.start({ dataDir: folder() });
    try {
      const second = await App.spawn({ dataDir: first.dataDir });
      assert.equal(await second.exit(), 1);
      assert.match(second.log, /already running/);
      assert.ok(second.log.includes(first.dataDir) && second.log.includes(first.url));
      assert.equal(second.out, '');
      const third = await App.spawn({ dataDir: folder(), port: first.port });
      assert.equal(await third.exit(), 1);
      assert.match(third.log, /Port \d+ .* is taken.*AMBER_PORT/s);
      const beside = await App.start({ dataDir: folder() });
      await until('both to receive', async () => {
        const all = [await first.health(), await beside.health()];
        return all.every(
          (h) =>
            h.ok &&
            h
              .standins!.gateways.filter((g) => g.id.startsWith('gateway-'))
              .every((g) => g.ports[0]!.packetsPerSecond > 20),
        );
      });
      await beside.end();
      assert.ok((await first.health()).ok);
    } finally {
      await first.end();
    }
  });

  test('stops on the way when it is told to, and leaves nothing', async () => {
    for (const delay of [50, 700, 1200, 1500, 1800, 2400]) {
      const app = await App.spawn({ dataDir: folder() });
      await wait(delay);
      await app.stop('SIGINT');
      await until('nothing left', () => processesOf(app.dataDir).length === 0);
    }
  });

  test('without demo data: no show, no stand-ins, and a start page that makes a show', async () => {
    const app = await App.start({ dataDir: folder(), env: { AMBER_DEMO: '0' } });
    try {
      const health = await app.health();
      assert.deepEqual([health.standins, health.processes.standins, health.engine?.showId], [null, null, null]);
      assert.deepEqual((await app.call('GET', '/api/shows')).body, { shows: [] });
      assert.equal((await app.command({ do: 'play', target: 'scene:a' })).status, 400);
      const made = await app.call('POST', '/api/shows', { name: 'Mine' });
      assert.equal(made.status, 201);
      await app.call('POST', `/api/shows/${String(made.body['id'])}/open`);
      await until('the engine to have it', async () => (await app.health()).engine?.showId === made.body['id']);
    } finally {
      await app.end();
    }
  });

  test('an engine that owns some universes sends those alone, at its own priority', async () => {
    const EAR = '127.204.0.9';
    const env = { AMBER_DEMO: '0', AMBER_ENGINE_UNIVERSES: '2-3', AMBER_ENGINE_PRIORITY: '77' };
    const app = await App.start({ dataDir: folder(), env });
    const ear = await hearSacn(EAR, 5568);
    try {
      const made = await app.call('POST', '/api/shows', { name: 'Shared' });
      const id = String(made.body['id']);
      await app.call('POST', `/api/shows/${id}/open`);
      const put = [
        make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR], priority: 120 }),
        ...[1, 2, 3, 4].map((universe) =>
          make('route', { id: `route:r${universe}`, universe, outputId: 'output:ear', wireUniverse: universe }),
        ),
      ];
      assert.equal((await app.edit(id, { put })).status, 200);
      await until('both universes', () =>
        Promise.resolve([2, 3].every((u) => ear.packets.some((p) => p.universe === u))),
      );
      const since = ear.packets.length;
      await until('two more seconds of packets', () => Promise.resolve(ear.packets.length > since + 150));
      assert.deepEqual(
        new Set(ear.packets.map((p) => `${p.universe} at ${p.priority}`)),
        new Set(['2 at 77', '3 at 77']),
      );
    } finally {
      ear.close();
      await app.end();
    }
  });

  test('settings that cannot be are named with what to do', async () => {
    const file = path.join(folder(), 'file');
    writeFileSync(file, '');
    const cases: [env: Record<string, string>, said: RegExp][] = [
      [{ AMBER_PORT: 'five' }, /AMBER_PORT is "five".*1 to 65535/],
      [{ AMBER_PORT: '70000' }, /AMBER_PORT is "70000"/],
      [{ AMBER_HOST: '192.0.2.1' }, /no address 192\.0\.2\.1.*AMBER_HOST/],
      [{ AMBER_ENGINE_PRIORITY: 'high' }, /AMBER_ENGINE_PRIORITY is "high".*0 to 200/],
      [{ AMBER_ENGINE_UNIVERSES: 'all' }, /AMBER_ENGINE_UNIVERSES is "all".*1-64/],
      [{ AMBER_DATA_DIR: file }, /data folder .* cannot be used.*AMBER_DATA_DIR/],
    ];
    for (const [env, said] of cases) {
      const app = await App.spawn({ dataDir: folder(), env });
      assert.equal(await app.exit(), 1);
      assert.match(app.log, said);
    }
  });

  test('works in a folder that only its owner may enter', async () => {
    const secret = path.join(folder(), 'private');
    mkdirSync(secret, { mode: 0o700 });
    const app = await App.start({ dataDir: path.join(secret, 'data'), port: await freePort() });
    assert.ok((await app.health()).ok, 'it is not well');
    const kept = path.join(app.dataDir, 'cluster-is-in.txt');
    const outside = existsSync(kept) ? readFileSync(kept, 'utf8').trim() : null;
    await app.end();
    if (outside) rmSync(path.dirname(outside), { recursive: true, force: true });
  });
});
