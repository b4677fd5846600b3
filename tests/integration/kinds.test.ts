import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { eq, sql } from 'drizzle-orm';
import { documentOf, getRecord, type Document } from '../../src/core/document/change.ts';
import { toBase64 } from '../../src/core/base64.ts';
import { FaultError } from '../../src/core/faults.ts';
import type { BlobFile } from '../../src/core/records/blob.ts';
import { readArchive, writeArchive } from '../../src/core/format/archive.ts';
import { RECORD_KINDS, type Id } from '../../src/core/ids.ts';
import { KINDS, ownerOf, referencesOf, type AnyRecord } from '../../src/core/records/index.ts';
import { RECORDS_VERSION } from '../../src/core/records/versions.ts';
import { removalOf } from '../../src/core/rules/removal.ts';
import { initialLive, newPlay } from '../../src/core/show/index.ts';
import { loadPlaying, writeLive } from '../../src/db/playing.ts';
import * as t from '../../src/db/schema.ts';
import { changesSince } from '../../src/db/history.ts';
import { createShow, deleteShow, loadShow } from '../../src/db/shows.ts';
import { upgradeShows } from '../../src/db/upgrade.ts';
import { ShowService } from '../../src/lib/server/show-service.ts';
import { testDatabase } from '../support/database.ts';
import { bringIn, everyKind, oneOfEach, sampleBlobs, sampleFiles } from '../support/sample-records.ts';

const sorted = (list: Iterable<AnyRecord>): AnyRecord[] => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
let db: Awaited<ReturnType<typeof testDatabase>>;
before(async () => {
  db = await testDatabase();
  await bringIn(db.db);
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
        : record.kind === 'lane'
          ? { ...record, muted: !record.muted }
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
    const read = readArchive(writeArchive(records, sampleBlobs()));
    assert.deepEqual(read.faults, []);
    assert.deepEqual([...read.blobs.keys()].sort(), [...sampleBlobs().keys()].sort());
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
    // Of each edit only what changed is kept.
    assert.ok(history.every(({ difference }) => difference.length === 1 && JSON.stringify(difference).length < 200));
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

/** Takes no file: there are none in these records. */
const put = (): Promise<string> => Promise.reject(new Error('a file stood in a record'));

describe('what an earlier version wrote', () => {
  test('is brought to this version once, show by show; what cannot be read stays and is named', async () => {
    const [one, two] = [await fresh(), await fresh()];
    for (const { id } of [one, two]) await db.db.update(t.show).set({ records: 2 }).where(eq(t.show.id, id));
    // A field that version 2 did not have, and in the second show something nobody can read.
    await db.db.execute(sql`update unit set data = data - 'levelLimit' where show_id = ${one.id}`);
    await db.db.execute(sql`update scene set data = '{"fadeInMs": "soon"}' where show_id = ${two.id}`);
    const left = await upgradeShows(db.db, put);
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
    assert.deepEqual(await upgradeShows(db.db, put), []);
  });
  test('in history is refused with its name where it cannot be read, and never put into the show', async () => {
    const { id, edit, records } = await fresh();
    const unit = oneOfEach(records).get('unit')!;
    await edit([{ ...unit, number: 9000 } as AnyRecord]);
    assert.equal((await changesSince(db.db, id, 0)).length, 1);
    await db.db.execute(
      sql`update change set difference = ${JSON.stringify([{ id: unit.id, changed: { fields: { number: { was: 'seven', is: 9000 } } } }])}::jsonb where show_id = ${id}`,
    );
    await assert.rejects(
      () => new ShowService(db.db, () => undefined).undo(id, { author: 'me' }),
      (error: unknown) => error instanceof FaultError && error.faults[0]!.path.endsWith('.number'),
    );
  });
  test('in history as differences is gone back through and compared anew', async () => {
    const { id, edit, service, now, records } = await fresh();
    const picture = records.find((r) => r.id === 'picture:every')!;
    assert.ok(picture.kind === 'picture');
    await edit([{ ...picture, name: 'Second' }]);
    await edit([{ ...picture, id: 'picture:more', name: 'More' }]);
    await edit([{ ...picture, name: 'Third' }]);
    // The same as the version before wrote it: with the file in the record.
    const [{ bytes }] = sampleFiles() as [BlobFile, ...BlobFile[]];
    const data = `data:image/png;base64,${toBase64(bytes)}`;
    const { type: _t, bytes: _b, blob: _h, ...old } = { ...picture, id: 'picture:more' as const, name: 'More' };
    await db.db.execute(
      sql`update picture set data = ${data}, type = null, bytes = null, blob = null where show_id = ${id}`,
    );
    const made = JSON.stringify([{ id: 'picture:more', made: { ...old, data } }]);
    await db.db.execute(sql`update change set difference = ${made}::jsonb where show_id = ${id} and revision = 2`);
    await db.db.update(t.change).set({ records: 6 }).where(eq(t.change.showId, id));
    await db.db.update(t.show).set({ records: 6 }).where(eq(t.show.id, id));
    const kept: string[] = [];
    const left = await upgradeShows(db.db, ({ hash }) => {
      kept.push(hash);
      return Promise.resolve('image/png');
    });
    assert.deepEqual([left, kept], [[], [picture.blob]]);
    assert.deepEqual((await now()).get('picture:more'), { ...picture, id: 'picture:more', name: 'More' });
    const by = { author: 'me' };
    for (let i = 0; i < 3; i++) await service.undo(id, by);
    assert.deepEqual((await now()).get('picture:every'), picture);
    assert.ok(!(await now()).has('picture:more'));
    for (let i = 0; i < 3; i++) await service.redo(id, by);
    assert.deepEqual((await now()).get('picture:more'), { ...picture, id: 'picture:more', name: 'More' });
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
