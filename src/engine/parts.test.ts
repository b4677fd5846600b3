import assert from 'node:assert/strict';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, test } from 'node:test';
import { make, type OutputRecord } from '../core/records/index.ts';
import { showWith } from '../../tests/support/rig.ts';
import { broadcastOf } from './network/ways.ts';
import { wireRoutes } from './player.ts';
import { Rates } from './rates.ts';
import { Repeat } from './repeat.ts';
import { readKeptShow } from './kept-show.ts';
import { encoded, KeptState } from './kept-state.ts';
import { RECORDS_VERSION } from '../core/records/versions.ts';
import { initialLive } from '../core/show/index.ts';
import { limited } from '../log.ts';
import { pino } from 'pino';
import { until } from '../../tests/support/app.ts';
import { InputMemory } from './shared.ts';

describe('streams of a show', () => {
  const output = (over: Partial<Parameters<typeof make<'output'>>[1]>): OutputRecord =>
    make('output', { id: 'output:o', name: 'O', protocol: 'sacn', destinations: ['10.0.0.2', '10.0.0.3'], ...over });
  const routes = (over: Partial<Parameters<typeof make<'output'>>[1]>, wireUniverse = 5, sourceName = '') =>
    wireRoutes(
      showWith(
        output(over),
        make('route', { id: 'route:r', universe: 1, outputId: 'output:o', wireUniverse, sourceName }),
      ),
      { hostsOf: (portAddress) => [`10.9.0.${portAddress}`], broadcastFor: () => '10.9.255.255' },
    );
  test('one for each address, or the group of the universe', () => {
    assert.deepEqual(
      routes({}).map((r) => [r.host, r.port, r.wireUniverse, r.multicast]),
      [
        ['10.0.0.2', 5568, 5, false],
        ['10.0.0.3', 5568, 5, false],
      ],
    );
    assert.deepEqual(
      routes({ multicast: true }, 0x102).map((r) => r.host),
      ['239.255.1.2'],
    );
  });
  test('Art-Net to what is listed, what is found, or everybody when it is asked for', () => {
    const art = { protocol: 'artnet' as const };
    assert.deepEqual(
      routes(art).map((r) => [r.host, r.port, r.broadcast]),
      [
        ['10.0.0.2', 6454, false],
        ['10.0.0.3', 6454, false],
      ],
    );
    assert.deepEqual(
      routes({ ...art, delivery: 'found' }).map((r) => r.host),
      ['10.9.0.5'],
    );
    assert.deepEqual(
      routes({ ...art, delivery: 'broadcast', destinations: [] }).map((r) => [r.host, r.broadcast]),
      [['255.255.255.255', true]],
    );
  });
  test('carry priority, preview, sync, names and caps; what does not belong to a protocol is left out', () => {
    const given = { preview: true, syncUniverse: 7, artSync: true, frameRateCap: 20, priority: 150 };
    const [sacn] = routes(given, 5, 'Beams');
    assert.deepEqual(
      [sacn!.priority, sacn!.preview, sacn!.syncAddress, sacn!.artSync, sacn!.rateCap, sacn!.sourceName],
      [150, true, 7, false, 20, 'Beams'],
    );
    const [art] = routes({ ...given, protocol: 'artnet' }, 5, 'Beams');
    assert.deepEqual([art!.preview, art!.syncAddress, art!.artSync, art!.sourceName], [false, 0, true, '']);
  });
  test('none for outputs that are off or send no packets, and for numbers a protocol does not have', () => {
    assert.deepEqual(routes({ enabled: false }), []);
    assert.deepEqual(routes({ protocol: 'serial', serialPath: '/dev/x' }), []);
    assert.deepEqual(routes({}, 0), []);
    assert.deepEqual(routes({ protocol: 'artnet' }, 40_000), []);
  });
  test('the same stream has the same key, whatever else of the output changes', () => {
    assert.equal(routes({ notes: 'a' })[0]!.key, routes({ notes: 'b', name: 'P' })[0]!.key);
    assert.notEqual(routes({})[0]!.key, routes({ priority: 90 })[0]!.key);
  });
});

test('rates are told over a second, and never fall below nothing after a restart', () => {
  const rates = new Rates();
  assert.equal(rates.rateOf('a', 100, 0), 0);
  assert.equal(rates.rateOf('a', 120, 500), 0);
  assert.equal(rates.rateOf('a', 140, 1000), 40);
  assert.equal(rates.rateOf('a', 150, 1400), 40);
  assert.equal(rates.rateOf('a', 3, 2500), 0);
  assert.equal(rates.rateOf('b', 3, 2500), 0);
  rates.forget('a');
  assert.equal(rates.rateOf('a', 900, 9000), 0);
});

describe('what the engine keeps of its own', () => {
  const folder = (): string => mkdtempSync(path.join(os.tmpdir(), 'amber-kept-'));
  test('sequence numbers go on ahead of what was kept, through 255; an engine that just died is told', async () => {
    const where = folder();
    const kept = new KeptState(where);
    assert.deepEqual(kept.readSequences(0), { numbers: {}, crashed: false });
    const keep = (ended: boolean): Promise<void> =>
      kept.sequences.write(encoded({ atMs: 1000, ended, numbers: { a: 1, b: 250 } }));
    await keep(false);
    assert.deepEqual(new KeptState(where).readSequences(2500), { numbers: { a: 65, b: 58 }, crashed: true });
    assert.equal(new KeptState(where).readSequences(60_000).crashed, false);
    await keep(true);
    assert.equal(new KeptState(where).readSequences(1500).crashed, false);
    writeFileSync(path.join(where, 'engine', 'sequences.a'), 'spoilt');
    writeFileSync(path.join(where, 'engine', 'sequences.b'), 'spoilt');
    assert.deepEqual(new KeptState(where).readSequences(0).numbers, {});
  });
  test('its identifier is made once, or taken over from where it was before', () => {
    const [one, two] = [folder(), folder()];
    const cid = new KeptState(one).cid();
    assert.equal(cid.length, 16);
    assert.deepEqual(new KeptState(one).cid('ab'.repeat(16)), cid);
    assert.deepEqual([...new KeptState(two).cid('ab'.repeat(16))], Array(16).fill(0xab));
  });
  test('a live state is taken only with a show that is not newer', async () => {
    const where = folder();
    const kept = new KeptState(where);
    const live = (grand: number) => ({ ...initialLive(0), grand });
    const at = (revision: number, grand: number) => ({ showId: 'show:a', revision, live: live(grand), atMs: 1 });
    await kept.show.write(encoded({ ...at(5, 0.1), stamp: null, records: [], hubKeys: {} }));
    assert.equal(readKeptShow(kept, (faults) => assert.deepEqual(faults, []))!.live.grand, 0.1);
    await kept.live.write(encoded(at(4, 0.2)));
    assert.equal(readKeptShow(kept, (faults) => assert.deepEqual(faults, []))!.live.grand, 0.1);
    await kept.live.write(encoded(at(5, 0.3)));
    assert.equal(readKeptShow(kept, (faults) => assert.deepEqual(faults, []))!.live.grand, 0.3);
  });
  test('a show of an earlier version is brought to this one; of one that cannot be read nothing is taken, and it is said', async () => {
    const kept = new KeptState(folder());
    const show = { kind: 'show', id: 'show:a', name: 'A' };
    const keep = (version: number, records: unknown[]) =>
      kept.show.write(
        encoded({
          version,
          showId: 'show:a',
          revision: 1,
          live: initialLive(0),
          atMs: 1,
          stamp: null,
          records,
          hubKeys: {},
        }),
      );
    const read = () => {
      const said: string[] = [];
      const found = readKeptShow(kept, (faults) => said.push(...faults.map((f) => f.code)));
      return { records: found?.records.length ?? null, said };
    };
    await keep(1, [show]);
    assert.deepEqual(read(), { records: 1, said: [] });
    assert.equal((readKeptShow(kept, () => undefined)!.records[0] as { frameRate: number }).frameRate, 40);
    await keep(1, [show, { kind: 'unit', id: 'unit:a' }]);
    const { records, said } = read();
    assert.equal(records, null);
    assert.ok(said.length > 0);
    await keep(RECORDS_VERSION + 1, [show]);
    assert.deepEqual(read(), { records: null, said: ['RECORDS_VERSION'] });
  });
});

test('slots of other desks are seen by both threads, and let go', () => {
  const memory = new SharedArrayBuffer(InputMemory.bytesFor(3));
  const [here, there] = [new InputMemory(memory), new InputMemory(memory)];
  assert.equal(there.read(2), null);
  here.write(2, new Uint8Array(512).fill(9));
  assert.equal(there.read(2)![511], 9);
  assert.equal(there.read(1), null);
  here.write(2, null);
  assert.equal(there.read(2), null);
});

test('broadcast addresses of networks of any size', () => {
  assert.equal(broadcastOf('192.168.1.20', '255.255.255.0'), '192.168.1.255');
  assert.equal(broadcastOf('10.1.2.3', '255.0.0.0'), '10.255.255.255');
  assert.equal(broadcastOf('172.16.5.130', '255.255.255.192'), '172.16.5.191');
});

test('a job that is asked for often runs once at a time, and once more for all that asked meanwhile', async () => {
  const runs: (() => void)[] = [];
  const repeat = new Repeat(() => new Promise((resolve) => runs.push(resolve)));
  for (let i = 0; i < 5; i++) repeat.ask();
  assert.equal(runs.length, 1);
  const all = repeat.end();
  runs[0]!();
  await until('the second', () => runs.length === 2);
  runs[1]!();
  await all;
  assert.equal(runs.length, 2);
  await repeat.end();
  assert.equal(runs.length, 2, 'nothing was asked for');
});
test('a job that costs is done less often, and once more at the end', async () => {
  let runs = 0;
  const repeat = new Repeat(() => {
    runs++;
    return Promise.resolve();
  }, 3_600_000);
  repeat.ask();
  await repeat.end();
  repeat.ask();
  assert.equal(runs, 1, 'not within the hour');
  await repeat.end();
  assert.equal(runs, 2);
});
test('the same message again and again is held back, and counted', () => {
  const lines: string[] = [];
  let now = 0;
  const log = pino({ level: 'info', hooks: limited(() => now) }, { write: (text: string) => void lines.push(text) });
  for (let i = 0; i < 1000; i++) log.warn({ err: 'x' }, 'the disk is full');
  log.warn('something else');
  assert.equal(lines.length, 6);
  now = 61_000;
  log.warn({ err: 'x' }, 'the disk is full');
  assert.match(lines.at(-1)!, /"heldBack":995/);
});
