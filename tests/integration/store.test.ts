import assert from 'node:assert/strict';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import os from 'node:os';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { documentOf, type Document } from '../../src/core/document/change.ts';
import { FaultError } from '../../src/core/faults.ts';
import type { ShowId } from '../../src/core/ids.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import type { BlobFile } from '../../src/core/records/blob.ts';
import { make, type AnyRecord, type UnitRecord } from '../../src/core/records/index.ts';
import { applyLive, initialLive } from '../../src/core/show/index.ts';
import { readArchive, writeArchive } from '../../src/core/format/archive.ts';
import { connect, listen } from '../../src/db/connect.ts';
import { migrateDatabase } from '../../src/db/migrate.ts';
import { copperlineRink } from '../../src/db/seed/copperline.ts';
import { millpondWalk } from '../../src/db/seed/millpond.ts';
import {
  CHANNEL_OPEN,
  createShow,
  deleteShow,
  listShows,
  loadShow,
  openShowId,
  setOpenShow,
} from '../../src/db/shows.ts';
import { CHANNEL_CHANGE, changesSince, commitChange, recentHistory } from '../../src/db/history.ts';
import { upgradeShows } from '../../src/db/upgrade.ts';
import { loadPlaying, readLive, writeLive } from '../../src/db/playing.ts';
import { ShowService, type Applied } from '../../src/lib/server/show-service.ts';
import { standinAddresses } from '../../src/addresses.ts';
import { until } from '../support/app.ts';
import { MIGRATIONS, testDatabase } from '../support/database.ts';
import { scene } from '../support/rig.ts';
import { bringIn } from '../support/sample-records.ts';

const records = copperlineRink(builtInProfiles(), standinAddresses('/tests'));
const sorted = (list: Iterable<AnyRecord>): AnyRecord[] => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
const codes = (error: unknown): string[] =>
  error instanceof FaultError ? error.faults.map((f) => f.code) : [String(error)];

let db: Awaited<ReturnType<typeof testDatabase>>;
before(async () => {
  db = await testDatabase();
  await bringIn(db.db);
});
after(() => db.end());

let count = 0;
/** A fresh copy of the demo show, and a service that edits it. */
async function freshShow() {
  const id: ShowId = `show:t${count++}`;
  await createShow(
    db.db,
    records.map((r) => (r.kind === 'show' ? { ...r, id } : r)),
  );
  const told: Applied[] = [];
  const service = new ShowService(db.db, (_, applied) => told.push(applied));
  const edit = (put: AnyRecord[], over: { base?: number; author?: string; remove?: AnyRecord['id'][] } = {}) =>
    service.edit(id, {
      change: { put, remove: over.remove ?? [] },
      label: 'Edit',
      author: over.author ?? 'me',
      base: over.base,
    });
  const unit = async (slug: string): Promise<UnitRecord> =>
    (await service.get(id)).document.get(`unit:${slug}`) as UnitRecord;
  const stored = async (): Promise<Document> => documentOf((await loadShow(db.db, id)).records);
  return { id, service, told, edit, unit, stored };
}

describe('the database', () => {
  test('gives back every record of the demo show exactly', async () => {
    const { id } = await freshShow();
    const { revision, records: back } = await loadShow(db.db, id);
    assert.equal(revision, 0);
    assert.deepEqual(sorted(back), sorted(records.map((r) => (r.kind === 'show' ? { ...r, id } : r))));
  });
  test('gives back the lantern walk exactly: props, parts, areas, a picture', async () => {
    const walk = millpondWalk(builtInProfiles(), standinAddresses('/tests'));
    await createShow(db.db, walk);
    assert.deepEqual(sorted((await loadShow(db.db, 'show:millpond')).records), sorted(walk));
    await assert.rejects(
      db.pool.query(`delete from unit where show_id = 'show:millpond' and id = 'unit:kite1'`),
      /foreign key/,
    );
  });
  test('a show with parts, areas, pictures and all else is deleted whole, and only that one', async () => {
    const walk = millpondWalk(builtInProfiles(), standinAddresses('/tests'));
    const id: ShowId = 'show:gone';
    await createShow(
      db.db,
      walk.map((r) => (r.kind === 'show' ? { ...r, id } : r)),
    );
    const rows = async (): Promise<number> => {
      const { rows: tables } = await db.pool.query<{ t: string }>(
        `select table_name as t from information_schema.columns where column_name = 'show_id'`,
      );
      let sum = 0;
      for (const { t } of tables) {
        const found = await db.pool.query<{ n: string }>(`select count(*) as n from "${t}" where show_id = '${id}'`);
        sum += Number(found.rows[0]!.n);
      }
      return sum;
    };
    assert.ok((await rows()) > 100);
    await deleteShow(db.db, id);
    assert.equal(await rows(), 0);
    assert.ok((await listShows(db.db)).every((s) => s.id !== id));
    assert.ok((await listShows(db.db)).some((s) => s.id === 'show:millpond'));
  });
  test('keeps two shows of the same record ids apart', async () => {
    const [one, two] = [await freshShow(), await freshShow()];
    await one.edit([{ ...(await one.unit('wash1')), name: 'Changed' }]);
    assert.notEqual((await two.unit('wash1')).name, 'Changed');
    assert.equal(((await two.stored()).get('unit:wash1') as UnitRecord).name, 'Wash north 1');
  });
  test('refuses a show that is here already, unsound records and unknown shows', async () => {
    const { id } = await freshShow();
    const again = records.map((r) => (r.kind === 'show' ? { ...r, id } : r));
    await assert.rejects(createShow(db.db, again), (e) => codes(e)[0] === 'SHOW_EXISTS');
    await assert.rejects(
      createShow(db.db, records.slice(0, 1).concat(scene('x', { ghost: { Dimmer: 1 } }))),
      (e) => codes(e)[0] === 'UNKNOWN_ID',
    );
    await assert.rejects(loadShow(db.db, 'show:none'), (e) => codes(e)[0] === 'NO_SUCH_SHOW');
  });
  test('deletes a show whole and leaves the others', async () => {
    const [one, two] = [await freshShow(), await freshShow()];
    await one.edit([{ ...(await one.unit('wash1')), name: 'Changed' }]);
    await deleteShow(db.db, one.id);
    const left = (await listShows(db.db)).map((s) => s.id);
    assert.ok(!left.includes(one.id) && left.includes(two.id));
    const { rows } = await db.pool.query('select count(*)::int as n from unit where show_id = $1', [one.id]);
    assert.equal((rows[0] as { n: number }).n, 0);
  });
  test('has foreign keys: a unit cannot stand without its profile', async () => {
    const { id } = await freshShow();
    await assert.rejects(db.pool.query('delete from profile where show_id = $1', [id]), /foreign key/);
  });
  test('keeps what is playing, but not what was only held', async () => {
    const { id } = await freshShow();
    const live = applyLive(initialLive(1000), { do: 'play', target: 'scene:any' }, 1000.5, 'p1');
    await writeLive(db.db, id, { state: { ...live, identify: ['unit:wash1'] }, revision: 7 }, 1);
    assert.deepEqual(await readLive(db.db, id), { state: live, revision: 7, faults: [] });
    await db.pool.query(`update live set data = '{"playing": 5}' where show_id = $1`, [id]);
    const unreadable = await readLive(db.db, id);
    assert.deepEqual(unreadable!.state.playing, []);
    assert.equal(unreadable!.faults[0]!.path, 'live.playing');
  });
  test('gives what was playing with the show of that moment', async () => {
    const { id, edit, unit, stored } = await freshShow();
    const never = await loadPlaying(db.db, id);
    assert.deepEqual([never.revision, never.live, never.behind], [0, null, false]);
    const wash = await unit('wash1');
    await edit([{ ...wash, name: 'Before' }]);
    const live = initialLive(1000);
    await writeLive(db.db, id, { state: live, revision: 1 }, 1);
    assert.equal((await loadPlaying(db.db, id)).behind, false);
    const then = await stored();
    await edit([{ ...wash, name: 'After' }]);
    await edit([], { remove: ['scene:doors'] });
    const playing = await loadPlaying(db.db, id);
    assert.deepEqual([playing.revision, playing.live, playing.behind], [1, live, true]);
    assert.deepEqual(sorted(playing.records), sorted(then.values()));
  });
  test('tells listeners of changes and of another show', async () => {
    const { id, edit, unit } = await freshShow();
    const heard: string[] = [];
    let gaps = 0;
    const listener = listen(
      db.url,
      [CHANNEL_CHANGE, CHANNEL_OPEN],
      (channel, payload) => heard.push(`${channel} ${payload}`),
      () => gaps++,
    );
    try {
      await until('the listener', () => gaps > 0);
      await edit([{ ...(await unit('wash1')), notes: 'x' }]);
      await setOpenShow(db.db, id);
      await until('both messages', () => heard.length >= 2);
      assert.deepEqual(heard, [`amber_change {"showId":"${id}","revision":1}`, `amber_open ${id}`]);
      assert.equal(await openShowId(db.db), id);
      await db.pool.query(`select pg_terminate_backend(pid) from pg_stat_activity where query like 'LISTEN%'`);
      await until('the listener to come back', () => gaps > 1);
    } finally {
      await listener.close();
    }
  });
});

describe('migrations', () => {
  test('run again change nothing', async () => {
    const run = async () => (await db.pool.query('select hash from drizzle.__drizzle_migrations order by id')).rows;
    const [hashes, shows] = [await run(), await listShows(db.db)];
    await migrateDatabase(db.db, MIGRATIONS);
    assert.ok(hashes.length > 0);
    assert.deepEqual(await run(), hashes);
    assert.deepEqual(await listShows(db.db), shows);
  });
  /** Databases as versions of this program left them, each with the demo show of its day. */
  const STORED = readdirSync('tests/samples').filter((name) => /^database-\d+\.sql\.gz$/.test(name));
  test('there is a stored database for every migration', () => {
    const files = readdirSync(MIGRATIONS).filter((name) => name.endsWith('.sql'));
    assert.deepEqual(
      STORED.map((name) => Number(/\d+/.exec(name)![0])).sort((a, b) => a - b),
      files.map((name) => Number(name.slice(0, 4))).sort((a, b) => a - b),
    );
  });
  for (const name of STORED)
    test(`${name} is migrated, and its shows are read, edited and deleted`, async () => {
      const own = name.replace(/\W/g, '_');
      await db.pool.query(`create database ${own}`);
      const url = new URL(db.url);
      url.pathname = `/${own}`;
      const old = connect(url.href, () => undefined);
      try {
        await old.pool.query(gunzipSync(readFileSync(path.join('tests/samples', name))).toString());
        await old.pool.query('set search_path to public');
      } finally {
        await old.close();
      }
      const now = connect(url.href, () => undefined);
      try {
        await migrateDatabase(now.db, MIGRATIONS);
        // Those that stood in records come out of them; those that did not any more stand beside the databases.
        const files = new Map<string, Uint8Array>(
          readdirSync('tests/samples/blobs').map((file) => [
            path.parse(file).name,
            new Uint8Array(readFileSync(path.join('tests/samples/blobs', file))),
          ]),
        );
        const put = ({ hash, bytes }: BlobFile): Promise<string> => {
          files.set(hash, bytes);
          return Promise.resolve('image/png');
        };
        assert.deepEqual(await upgradeShows(now.db, put), []);
        assert.deepEqual(await upgradeShows(now.db, () => assert.fail('it was done already')), []);
        const shows = await listShows(now.db);
        assert.ok(shows.length > 0);
        for (const { id, revision } of shows) {
          const { records } = await loadShow(now.db, id);
          assert.ok(records.filter((r) => r.kind === 'unit').length > 20, `units of ${id}`);
          // Every record is whole by the rules of today: read back through an archive it is the same.
          assert.deepEqual(readArchive(writeArchive(records, files)).faults, []);
          const history = await changesSince(now.db, id, 0);
          assert.equal(history.length, revision);
          const show = records.find((r) => r.kind === 'show')!;
          const put = [{ ...show, name: 'Renamed' } as AnyRecord];
          const change = { put, remove: [] };
          const by = { author: 't', action: 'edit', target: null, label: 'Rename' } as const;
          await commitChange(now.db, { showId: id, document: documentOf(records), revision, change, ...by });
          await deleteShow(now.db, id);
        }
        assert.deepEqual(await listShows(now.db), []);
      } finally {
        await now.close();
      }
    });
  test('a file that was changed after it ran is noticed and named', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-migrations-'));
    try {
      cpSync(MIGRATIONS, folder, { recursive: true });
      const journal = JSON.parse(readFileSync(path.join(folder, 'meta/_journal.json'), 'utf8')) as {
        entries: { tag: string }[];
      };
      const file = path.join(folder, `${journal.entries[0]!.tag}.sql`);
      writeFileSync(file, `${readFileSync(file, 'utf8')}\n-- changed`);
      await assert.rejects(migrateDatabase(db.db, folder), new RegExp(journal.entries[0]!.tag));
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe('edits', () => {
  test('are written with their history, undone and done again, over a restart of the service', async () => {
    const { id, edit, unit, service, stored } = await freshShow();
    const before = await stored();
    await edit([{ ...(await unit('wash1')), name: 'First' }]);
    await edit([{ ...(await unit('wash2')), name: 'Second' }], { remove: [] });
    const both = await stored();
    const me = { author: 'me' };
    await service.undo(id, me);
    const fresh = new ShowService(db.db, () => undefined);
    await fresh.undo(id, me);
    assert.deepEqual(sorted((await stored()).values()), sorted(before.values()));
    await fresh.redo(id, me);
    await fresh.redo(id, me);
    assert.deepEqual(sorted((await stored()).values()), sorted(both.values()));
    await assert.rejects(fresh.redo(id, me), (e) => codes(e)[0] === 'NOTHING_TO_REDO');
    const lines = await recentHistory(db.db, id, 10);
    assert.deepEqual(
      lines.map((l) => l.action),
      ['redo', 'redo', 'undo', 'undo', 'edit', 'edit'],
    );
  });
  test('everybody takes back their own; somebody’s later edit of the same field is refused in words', async () => {
    const { id, edit, unit, service, stored } = await freshShow();
    const [anna, ben] = [{ author: 'anna' }, { author: 'ben' }];
    await edit([{ ...(await unit('wash1')), name: 'Anna’s' }], anna);
    await edit([{ ...(await unit('wash1')), notes: 'Ben’s' }], ben);
    assert.equal((await service.get(id, 'anna')).history.undo, 'Edit');
    assert.equal((await service.get(id, 'carl')).history.undo, null);
    await assert.rejects(service.undo(id, { author: 'carl' }), (e) => codes(e)[0] === 'NOTHING_TO_UNDO');
    await service.undo(id, anna);
    const left = (await stored()).get('unit:wash1') as UnitRecord;
    assert.deepEqual([left.name, left.notes], ['Wash north 1', 'Ben’s']);
    await service.redo(id, anna);
    await edit([{ ...(await unit('wash1')), name: 'Ben’s too' }], ben);
    await assert.rejects(service.undo(id, anna), (e) => {
      assert.deepEqual(codes(e), ['CHANGED_SINCE']);
      assert.match((e as FaultError).faults[0]!.message, /name of “Ben’s too” was changed since/);
      return true;
    });
    assert.equal((await unit('wash1')).name, 'Ben’s too');
    // From the history Anna may take Ben’s edit back, and then her own.
    await service.takeBack(id, anna, 5);
    assert.equal((await service.get(id, 'ben')).history.undo, 'Edit', 'his first is still his to undo');
    await service.undo(id, ben);
    assert.equal((await unit('wash1')).notes, (records.find((r) => r.id === 'unit:wash1') as UnitRecord).notes);
    await service.undo(id, anna);
    assert.equal((await unit('wash1')).name, 'Wash north 1');
  });
  test('made on an older revision are merged field by field, and the loser is told', async () => {
    const { edit, unit, told } = await freshShow();
    const old = await unit('wash1');
    await edit([{ ...old, name: 'Anna’s', notes: 'hers' }], { author: 'anna' });
    const applied = await edit([{ ...old, name: 'Ben’s', position: { ...old.position, x: 1 } }], {
      author: 'ben',
      base: 0,
    });
    const now = await unit('wash1');
    assert.deepEqual([now.name, now.notes, now.position.x], ['Ben’s', 'hers', 1]);
    assert.deepEqual(applied?.overwrote, [{ field: 'unit:wash1.name', author: 'anna' }]);
    assert.equal(told.length, 2);
  });
  test('that change nothing leave no trace', async () => {
    const { edit, unit, told } = await freshShow();
    assert.equal(await edit([await unit('wash1')]), null);
    assert.equal(told.length, 0);
  });
  test('from the future, from too long ago, or against the rules are refused and nothing changes', async () => {
    const { id, edit, unit, stored } = await freshShow();
    const before = sorted((await stored()).values());
    const wash = await unit('wash1');
    await assert.rejects(edit([wash], { base: 7 }), (e) => codes(e)[0] === 'REVISION_AHEAD');
    await assert.rejects(edit([{ ...wash, mode: '99ch' }]), (e) => codes(e)[0] === 'UNKNOWN_MODE');
    await assert.rejects(edit([], { remove: ['unit:wash1'] }), (e) => codes(e)[0] === 'STILL_USED');
    assert.deepEqual(sorted((await stored()).values()), before);
    assert.equal((await recentHistory(db.db, id, 10)).length, 0);
  });
  test('of two services on one show both arrive', async () => {
    const { id, edit, unit, service } = await freshShow();
    const other = new ShowService(db.db, () => undefined);
    const wash2 = (await other.get(id)).document.get('unit:wash2') as UnitRecord;
    await edit([{ ...(await unit('wash1')), name: 'One' }]);
    await other.edit(id, { change: { put: [{ ...wash2, name: 'Two' }], remove: [] }, label: 'Edit', author: 'other' });
    service.forget(id);
    const { document, revision } = await service.get(id);
    assert.deepEqual(
      [(document.get('unit:wash1') as UnitRecord).name, (document.get('unit:wash2') as UnitRecord).name, revision],
      ['One', 'Two', 2],
    );
  });
  test('fifty at once are all written, in some order', async () => {
    const { id, service, unit } = await freshShow();
    const wash = await unit('wash1');
    await Promise.all(
      Array.from({ length: 50 }, (_, i) =>
        service.edit(id, {
          change: {
            put: [make('group', { id: `group:g${i}`, number: 100 + i, name: `G${i}`, unitIds: [wash.id] })],
            remove: [],
          },
          label: `G${i}`,
          author: 'me',
        }),
      ),
    );
    assert.equal((await service.get(id)).revision, 50);
  });
});

test('every foreign key has an index of its own, so that removals need not look through whole tables', async () => {
  const { rows } = await db.pool.query(`
    select c.conrelid::regclass::text as table_name, c.conname as name from pg_constraint c
    where c.contype = 'f' and not exists (
      select 1 from pg_index i where i.indrelid = c.conrelid
      and (i.indkey::int2[])[0:array_length(c.conkey, 1) - 1] @> c.conkey
      and c.conkey @> (i.indkey::int2[])[0:array_length(c.conkey, 1) - 1])`);
  assert.deepEqual(rows, []);
});
