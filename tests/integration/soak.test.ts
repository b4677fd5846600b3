import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { after, before, test } from 'node:test';
import { recordsOf } from '../../src/core/document/change.ts';
import { make } from '../../src/core/records/index.ts';
import { seeded } from '../../src/core/random.ts';
import { App, hearSacn, until } from '../support/app.ts';
import { Page, something } from '../support/page.ts';

/**
 * An evening in short: rounds in which pages come, do things at once and go, while scenes and effects play. Nothing may
 * pile up from round to round, and at the receiver no stream misses a packet.
 */
const ROUNDS = 12;
/** The first rounds fill caches and let the machine compile. */
const SETTLED = 4;
const PAGES = 3;
const THINGS = 60;
/** Connections to the database come and go; memory is given back late. */
const MORE = { files: 8, threads: 1, memoryMb: 96 };
const EAR = '127.204.1.9';

let app: App;
let ear: Awaited<ReturnType<typeof hearSacn>>;
let owner: Page;
before(async () => {
  app = await App.start();
  ear = await hearSacn(EAR, 5568);
  owner = await new Page(app, 'soak-owner').welcomed();
});
after(async () => {
  ear?.close();
  owner?.close();
  await app?.end();
});

interface Held {
  readonly files: number;
  readonly threads: number;
  readonly memoryMb: number;
}
/** What a process holds: open files and sockets, threads, memory. */
function held(pid: number): Held {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  const number = (name: string): number => Number(new RegExp(`^${name}:\\s+(\\d+)`, 'm').exec(status)![1]);
  return {
    files: readdirSync(`/proc/${pid}/fd`).length,
    threads: number('Threads'),
    memoryMb: number('VmRSS') / 1024,
  };
}

test('an evening in short leaves nothing behind, and no stream misses a packet', async () => {
  await owner.edit('Way out', {
    put: [
      make('output', { id: 'output:soak', name: 'Soak', protocol: 'sacn', destinations: [EAR] }),
      make('route', { id: 'route:soak', universe: 1, outputId: 'output:soak', wireUniverse: 1 }),
    ],
    remove: [],
  });
  await until('the first packet', () => ear.packets.length > 0);
  const measured: Held[][] = [];
  for (let round = 0; round < ROUNDS; round++) {
    for (const effect of recordsOf(owner.document, 'effect').slice(0, 3))
      await owner.ask({ type: 'command', command: { do: 'play', target: effect.id } });
    await Promise.all(
      Array.from({ length: PAGES }, async (_, i) => {
        const page = await new Page(app, `soak-${round}-${i}`).welcomed();
        const chance = seeded(1000 * round + i);
        for (let n = 0; n < THINGS; n++) await something(page, chance, `soak${i}`);
        page.close();
      }),
    );
    await owner.ask({ type: 'command', command: { do: 'releaseAll', fadeOutMs: 0 } });
    await owner.ask({ type: 'command', command: { do: 'letGo' } });
    const { pages, processes } = await until('the pages to be gone', async () => {
      const health = await app.health();
      return health.pages === 1 && health.engine ? health : null;
    });
    assert.equal(pages, 1);
    measured.push([held(processes.web), held(processes.engine!)]);
  }
  const gaps = ear.packets.filter(
    (packet, i) => i > 0 && packet.sequence !== ((ear.packets[i - 1]!.sequence + 1) & 255),
  );
  assert.deepEqual(gaps.length, 0, `${ear.packets.length} packets`);
  for (const [process, name] of ['web', 'engine'].entries()) {
    const [then, now] = [measured[SETTLED]![process]!, measured.at(-1)![process]!];
    const said = `${name}: ${JSON.stringify(measured.map((m) => m[process]))}`;
    for (const what of ['files', 'threads', 'memoryMb'] as const) assert.ok(now[what] <= then[what] + MORE[what], said);
  }
});
