import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { eq, sql } from 'drizzle-orm';
import { documentOf, getRecord, type Document } from '../../src/core/document/change.ts';
import { FaultError } from '../../src/core/faults.ts';
import { readArchive, writeArchive } from '../../src/core/format/archive.ts';
import { RECORD_KINDS, type Id } from '../../src/core/ids.ts';
import { KINDS, ownerOf, referencesOf, type AnyRecord } from '../../src/core/records/index.ts';
import { RECORDS_VERSION } from '../../src/core/records/versions.ts';
import { removalOf } from '../../src/core/rules/removal.ts';
import { initialLive, newPlay } from '../../src/core/show/index.ts';
import { loadPlaying, writeLive } from '../../src/db/playing.ts';
import * as t from '../../src/db/schema.ts';
import { changesSince, createShow, deleteShow, loadShow, upgradeShows } from '../../src/db/store.ts';
import { ShowService } from '../../src/lib/server/show-service.ts';
import { testDatabase } from '../support/database.ts';
import { everyKind, oneOfEach } from '../support/sample-records.ts';

const sorted = (list: Iterable<AnyRecord>): AnyRecord[] => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
let db: Awaited<ReturnType<typeof testDatabase>>;
before(async () => {
  db = await testDatabase();
});
after(() => db.end());

let count = 0;
async function fresh() {
  const id = `show:k${count++}` as const;
  const records = everyKind(id);
  await createShow(db.db, records);
  const service = new ShowService(db.db, () => undefined);
  const now = async (): Promise<Document> => documentOf((await loadShow(db.db, id)).records);
  const edit = async (put: AnyRecord[], remove: Id[] = [], base?: number) =>
    service.edit(id, {
      change: { put, remove },
      base: base ?? (await loadShow(db.db, id)).revision,
      author: 'me',
      label: 'Edit',
    });
  return { id, records, service, now, edit };
}
/** The same record with another name, or another of whatever it has. */
const renamed = (record: AnyRecord): AnyRecord =>
  'name' in record
    ? ({ ...record, name: 'Another' } as AnyRecord)
    : record.kind === 'profile'
      ? { ...record, model: 'Another' }
      : record.kind === 'route'
        ? { ...record, enabled: !record.enabled }
        : assert.fail(`say what another ${(record as AnyRecord).kind} is`);

describe('every record kind', () => {
  test('stands in the sample, and only there where its references say', () => {
    const each = oneOfEach(everyKind());
    const ids = new Set(everyKind().map((r) => r.id));
    for (const kind of RECORD_KINDS) assert.ok(each.get(kind), `no ${kind} in the sample`);
    // Whatever looks like the id of a record is a reference, and is found as one.
    for (const record of everyKind()) {
      const text = JSON.stringify({ ...record, id: undefined });
      const named = new Set([...text.matchAll(/"([a-z]+:[a-z0-9][a-z0-9-]{0,39})"/g)].map((m) => m[1] as Id));
      const known = new Set(Array.from(referencesOf(record), ([, id]) => id));
      if (record.kind === 'show') continue;
      for (const id of named) if (ids.has(id)) assert.ok(known.has(id), `${record.id} names ${id} unseen`);
      const owner = ownerOf(record);
      assert.ok(owner === null || known.has(owner), record.id);
    }
  });

  test('goes through the database and an archive as it is', async () => {
    const { records, now } = await fresh();
    assert.deepEqual(sorted((await now()).values()), sorted(records));
    const read = readArchive(writeArchive(records));
    assert.deepEqual(read.faults, []);
    assert.deepEqual(sorted(read.records), sorted(records));
  });

  test('is edited, undone and done again, and its history says so', async () => {
    const { id, records, service, now, edit } = await fresh();
    for (const [kind, record] of oneOfEach(records)) {
      const other = renamed(record);
      await edit([other]);
      assert.deepEqual((await now()).get(record.id), other, kind);
      await service.undo(id, { author: 'me' });
      assert.deepEqual((await now()).get(record.id), record, kind);
      await service.redo(id, { author: 'me' });
      assert.deepEqual((await now()).get(record.id), other, kind);
    }
    const history = await changesSince(db.db, id, 0);
    assert.equal(history.length, RECORD_KINDS.length * 3);
    assert.ok(history.every((entry) => entry.forward.put.length === 1 && entry.reverse.put.length === 1));
  });

  test('is merged where two change different things of it', async () => {
    const { id, records, now, edit } = await fresh();
    for (const [kind, record] of oneOfEach(records)) {
      const { revision } = await loadShow(db.db, id);
      await edit([renamed(record)]);
      const field = ['notes', 'colour', 'tag', 'universe', 'dx'].find((name) => name in record && kind !== 'route');
      if (field === undefined) continue;
      const value = field === 'colour' ? '#010203' : field === 'tag' ? 'other' : 'more';
      await edit([{ ...record, [field]: value } as AnyRecord], [], revision);
      assert.deepEqual((await now()).get(record.id), { ...renamed(record), [field]: value }, kind);
    }
  });

  test('goes with every mention of it, and comes back whole', async () => {
    const { id, records, service, now, edit } = await fresh();
    for (const [kind, record] of oneOfEach(records)) {
      if (kind === 'show') continue;
      const before = await now();
      const removal = removalOf(before, [record.id]);
      await edit([...removal.put], [...removal.remove]);
      const after = await now();
      assert.ok(!after.has(record.id), kind);
      for (const left of after.values())
        for (const [path, named] of referencesOf(left))
          assert.ok(after.has(named), `${left.id}.${path} names ${named}`);
      await service.undo(id, { author: 'me' });
      assert.deepEqual(sorted((await now()).values()), sorted(before.values()), kind);
    }
  });

  test('leaves no row behind when its show is deleted', async () => {
    const { id } = await fresh();
    await deleteShow(db.db, id);
    const tables = Object.values(t).filter((table) => 'showId' in table);
    for (const table of tables) {
      const rows = await db.db.execute(sql`select 1 from ${table} where show_id = ${id}`);
      assert.equal(rows.rows.length, 0);
    }
  });

  test('has words of its own', () => {
    const words = RECORD_KINDS.flatMap((kind) => [...KINDS[kind].words]);
    assert.equal(new Set(words).size, words.length);
  });
});

describe('what an earlier version wrote', () => {
  test('is brought to this version once, show by show; what cannot be read stays and is named', async () => {
    const [one, two] = [await fresh(), await fresh()];
    for (const { id } of [one, two]) await db.db.update(t.show).set({ records: 2 }).where(eq(t.show.id, id));
    // A field that version 2 did not have, and in the second show something nobody can read.
    await db.db.execute(sql`update unit set data = data - 'levelLimit' where show_id = ${one.id}`);
    await db.db.execute(sql`update scene set data = '{"fadeInMs": "soon"}' where show_id = ${two.id}`);
    const left = await upgradeShows(db.db);
    assert.deepEqual(
      left.map(({ showId }) => showId),
      [two.id],
    );
    assert.ok(left[0]!.faults.some((f) => f.path.startsWith('scene:') && f.path.endsWith('.fadeInMs')));
    const document = await one.now();
    for (const record of one.records)
      if (record.kind === 'unit') assert.equal(getRecord(document, 'unit', record.id)!.levelLimit, 1);
    const [row] = await db.db.select().from(t.show).where(eq(t.show.id, one.id));
    assert.equal(row!.records, RECORDS_VERSION);
    await assert.rejects(() => loadShow(db.db, two.id), FaultError);
    await deleteShow(db.db, two.id);
    assert.deepEqual(await upgradeShows(db.db), []);
  });
  test('in history is read, or refused with its name and never put into the show', async () => {
    const { id, edit, records } = await fresh();
    await edit([renamed(oneOfEach(records).get('unit')!)]);
    await db.db.update(t.change).set({ records: 1 }).where(eq(t.change.showId, id));
    assert.equal((await changesSince(db.db, id, 0)).length, 1);
    await db.db.execute(
      sql`update change set reverse = jsonb_set(reverse, '{put,0,number}', '"seven"') where show_id = ${id}`,
    );
    await assert.rejects(
      () => new ShowService(db.db, () => undefined).undo(id, { author: 'me' }),
      (error: unknown) => error instanceof FaultError && error.faults[0]!.path.endsWith('.number'),
    );
  });
  test('of a newer version nothing is read, and it says so', async () => {
    const { id } = await fresh();
    await db.db
      .update(t.show)
      .set({ records: RECORDS_VERSION + 1 })
      .where(eq(t.show.id, id));
    await assert.rejects(
      () => loadShow(db.db, id),
      (error: unknown) => error instanceof FaultError && error.faults[0]!.code === 'RECORDS_VERSION',
    );
  });
  test('of what played is read as far as it can be, and the rest is said', async () => {
    const { id } = await fresh();
    const state = {
      ...initialLive(0),
      grand: 0.3,
      playing: [newPlay({ id: 'p', target: 'scene:doors', startedAt: 1 })],
    };
    await writeLive(db.db, id, { state, revision: 0 }, 5000);
    assert.deepEqual((await loadPlaying(db.db, id)).liveFaults, []);
    await db.db.execute(
      sql`update live set data = jsonb_set(data, '{playing,0,speed}', '"fast"') where show_id = ${id}`,
    );
    const { live, liveFaults } = await loadPlaying(db.db, id);
    assert.deepEqual([live!.grand, live!.playing], [0.3, []]);
    assert.deepEqual(
      liveFaults.map((f) => f.path),
      ['live.playing.0'],
    );
  });
});
