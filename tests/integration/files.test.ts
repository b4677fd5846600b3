import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { sql } from 'drizzle-orm';
import { documentOf } from '../../src/core/document/change.ts';
import { FaultError } from '../../src/core/faults.ts';
import { readArchive } from '../../src/core/format/archive.ts';
import { hashOf, type BlobHash } from '../../src/core/records/blob.ts';
import { make, type AnyRecord, type RecordOf } from '../../src/core/records/index.ts';
import { addBlob, dropUnused, findBlob } from '../../src/db/blobs.ts';
import { changesSince, HistoryGone, historySize, KEPT_LINES, KEPT_MS, thinHistory } from '../../src/db/history.ts';
import { drawPng } from '../../src/db/seed/png.ts';
import { createShow, deleteShow } from '../../src/db/shows.ts';
import { ShowService } from '../../src/lib/server/show-service.ts';
import { App, until } from '../support/app.ts';
import { testDatabase } from '../support/database.ts';

const png = (seed: number): Uint8Array => drawPng(90, 70, (x, y) => [x * seed, y * seed, x ^ y]);
const picture = (id: string, bytes: Uint8Array): RecordOf['picture'] =>
  make('picture', {
    id: `picture:${id}`,
    name: id,
    widthPx: 90,
    heightPx: 70,
    type: 'image/png',
    bytes: bytes.length,
    blob: hashOf(bytes),
  });

describe('files of a show, over the network', () => {
  let app: App;
  let showId: string;
  before(async () => {
    app = await App.start();
    showId = (await app.openShow()).id;
  });
  after(() => app?.end());

  const put = (hash: BlobHash, bytes: Uint8Array, from: number, total: number) =>
    app.call<{ received: number; whole: boolean; code?: string }>('PUT', `/api/blobs/${hash}`, bytes, {
      'content-range': `bytes ${from}-${from + bytes.length - 1}/${total}`,
    });
  const received = async (hash: BlobHash) =>
    (await app.call<{ received: number; whole: boolean }>('GET', `/api/blobs/${hash}/received`)).body;

  test('come in stretches, and are named by records only when they are here', async () => {
    const bytes = drawPng(300, 200, (x, y) => [(x * y) % 255, x % 251, y]);
    const record = { ...picture('stretched', bytes), widthPx: 300, heightPx: 200 };
    const { hash, total } = { hash: record.blob, total: bytes.length };
    const early = await app.edit(showId, { put: [record] });
    assert.deepEqual([early.status, early.body['code']], [400, 'NO_SUCH_BLOB']);
    assert.deepEqual((await put(hash, bytes.subarray(0, 4000), 0, total)).body, { received: 4000, whole: false });
    const wrong = await put(hash, bytes.subarray(9000), 9000, total);
    assert.deepEqual([wrong.status, wrong.body.code], [409, 'BLOB_OFFSET']);
    assert.deepEqual(await received(hash), { received: 4000, whole: false });
    assert.deepEqual((await put(hash, bytes.subarray(4000), 4000, total)).body, { received: total, whole: true });
    assert.equal((await app.edit(showId, { put: [record] })).status, 200);
  });

  test('go on where a link was cut in the middle of a stretch', async () => {
    const bytes = drawPng(400, 300, (x, y) => [x * y, (x * x) % 251, (y * 7) % 253]);
    const hash = hashOf(bytes);
    const request = http.request(`${app.url}/api/blobs/${hash}`, {
      method: 'PUT',
      headers: {
        'content-type': 'application/octet-stream',
        'content-range': `bytes 0-${bytes.length - 1}/${bytes.length}`,
        'content-length': bytes.length,
      },
    });
    request.on('error', () => undefined);
    request.write(bytes.subarray(0, bytes.length / 2));
    await until('something to be there', async () => (await received(hash)).received > 0);
    const closed = new Promise((resolve) => request.once('close', resolve));
    request.destroy();
    await closed;
    const at = await until('the cut to be seen', async () => {
      const reply = await put(
        hash,
        bytes.subarray((await received(hash)).received),
        (await received(hash)).received,
        bytes.length,
      );
      return reply.status === 200 ? reply.body : null;
    });
    assert.deepEqual(at, { received: bytes.length, whole: true });
    const back = await fetch(`${app.url}/api/blobs/${hash}`);
    assert.deepEqual(new Uint8Array(await back.arrayBuffer()), Uint8Array.from(bytes));
  });

  test('are served with ranges, are kept for good by whoever has them, and do nothing', async () => {
    const bytes = png(5);
    const hash = hashOf(bytes);
    await put(hash, bytes, 0, bytes.length);
    const get = (headers: Record<string, string> = {}) => fetch(`${app.url}/api/blobs/${hash}`, { headers });
    const whole = await get();
    assert.equal(
      createHash('sha256')
        .update(Buffer.from(await whole.arrayBuffer()))
        .digest('hex'),
      hash,
    );
    for (const [name, value] of [
      ['content-type', 'image/png'],
      ['etag', `"${hash}"`],
      ['accept-ranges', 'bytes'],
      ['content-length', String(bytes.length)],
      ['x-content-type-options', 'nosniff'],
    ] as const)
      assert.equal(whole.headers.get(name), value, name);
    assert.match(whole.headers.get('cache-control')!, /immutable/);
    assert.match(whole.headers.get('content-security-policy')!, /default-src 'none'.*sandbox|sandbox/);
    const part = await get({ range: 'bytes=10-19' });
    assert.deepEqual([part.status, part.headers.get('content-range')], [206, `bytes 10-19/${bytes.length}`]);
    assert.deepEqual(new Uint8Array(await part.arrayBuffer()), Uint8Array.from(bytes.subarray(10, 20)));
    const beyond = await get({ range: `bytes=${bytes.length}-` });
    assert.deepEqual([beyond.status, beyond.headers.get('content-range')], [416, `bytes */${bytes.length}`]);
    assert.equal((await get({ 'if-none-match': `"${hash}"` })).status, 304);
    assert.equal((await get({ range: 'bytes=10-19', 'if-range': '"other"' })).status, 200);
    assert.equal((await app.call('GET', `/api/blobs/${'0'.repeat(64)}`)).body['code'], 'NO_SUCH_FILE');
    assert.equal((await app.call('GET', '/api/blobs/..%2F..%2Fpasswd')).status, 400);
    const foreign = await app.call('PUT', `/api/blobs/${hash}`, bytes, { origin: 'http://elsewhere.test' });
    assert.equal(foreign.body['code'], 'FOREIGN_ORIGIN');
  });

  test('leave greetings and records small, and stand in an archive once', async () => {
    const bytes = png(7);
    const records = ['one', 'two'].map((id) => picture(id, bytes));
    await put(records[0]!.blob, bytes, 0, bytes.length);
    assert.equal((await app.edit(showId, { put: records })).status, 200);
    const read = await fetch(`${app.url}/api/shows/${showId}`);
    assert.ok(!(await read.text()).includes(';base64,iVBOR'));
    const archive = readArchive(
      new Uint8Array(await (await fetch(`${app.url}/api/shows/${showId}/archive`)).arrayBuffer()),
    );
    assert.deepEqual(archive.faults, []);
    assert.deepEqual(archive.blobs.get(records[0]!.blob), Uint8Array.from(bytes));
    // Where the file is lost, an export says whose it was, and a new upload brings it back.
    const file = path.join(app.dataDir, 'blobs', records[0]!.blob.slice(0, 2), records[0]!.blob);
    assert.ok(existsSync(file));
    rmSync(file);
    const lost = await app.call('GET', `/api/shows/${showId}/archive`);
    assert.deepEqual([lost.body['code'], lost.body['path']], ['BLOB_LOST', 'picture:one.blob']);
    assert.deepEqual(await received(records[0]!.blob), { received: 0, whole: false });
    await put(records[0]!.blob, bytes, 0, bytes.length);
    assert.deepEqual(new Uint8Array(readFileSync(file)), Uint8Array.from(bytes));
    assert.equal((await fetch(`${app.url}/api/shows/${showId}/archive`)).status, 200);
  });
});

describe('what nobody needs any more', () => {
  let db: Awaited<ReturnType<typeof testDatabase>>;
  before(async () => {
    db = await testDatabase();
  });
  after(() => db?.end());
  const show = (id: string, more: AnyRecord[] = []): AnyRecord[] => [
    make('show', { id: `show:${id}`, name: id }) as AnyRecord,
    ...more,
  ];
  const age = (what: string, days: number) =>
    db.db.execute(sql.raw(`update ${what} = now() - interval '${days} days'`));

  test('is collected late: not while a record names it, not while history holds it', async () => {
    const [used, undone, unused] = [11, 12, 13].map((seed) => picture(`p${seed}`, png(seed)));
    for (const { blob: hash, bytes } of [used!, undone!, unused!])
      await addBlob(db.db, { hash, type: 'image/png', bytes });
    const id = await createShow(db.db, show('late', [used!]));
    const service = new ShowService(db.db, () => undefined);
    const edit = (put: AnyRecord[], remove: AnyRecord['id'][] = []) =>
      service.edit(id, { change: { put, remove }, author: 'me', label: 'Edit' });
    await edit([undone!]);
    await edit([], [undone!.id]);
    assert.deepEqual(await dropUnused(db.db), [], 'all of it is young');
    await age('blob set touched_at', 30);
    assert.deepEqual(await dropUnused(db.db), [unused!.blob]);
    // The picture that history holds comes back with an undo.
    await service.undo(id, { author: 'me' });
    assert.ok((await service.get(id)).document.has(undone!.id));
    await service.redo(id, { author: 'me' });
    await age('blob set touched_at', 30);
    await age('change set at', 200);
    assert.equal(await thinHistory(db.db, KEPT_MS, 0), 4);
    assert.deepEqual(await dropUnused(db.db), [undone!.blob]);
    await deleteShow(db.db, id);
    await age('blob set touched_at', 30);
    assert.deepEqual(await dropUnused(db.db), [used!.blob]);
    assert.equal(await findBlob(db.db, used!.blob), null);
  });

  test('of history is let go of by age, never of the newest, never of what the engine has yet to follow', async () => {
    const id = await createShow(db.db, show('thin'));
    const service = new ShowService(db.db, () => undefined);
    for (let i = 1; i <= 6; i++)
      await service.edit(id, {
        change: { put: [make('area', { id: 'area:a', number: 1, name: `A${i}` })], remove: [] },
        author: 'me',
        label: `Edit ${i}`,
      });
    assert.equal(await thinHistory(db.db), 0, 'all of it is young');
    await age('change set at', 200);
    assert.equal(await thinHistory(db.db), 0, `there are not ${KEPT_LINES} yet`);
    await db.db.execute(sql`insert into live (show_id, data, revision, saved_at) values (${id}, '{}', 2, 0)`);
    assert.equal(await thinHistory(db.db, KEPT_MS, 1), 2);
    assert.deepEqual({ ...(await historySize(db.db, id)), bytes: 0 }, { lines: 6, kept: 4, bytes: 0 });
    assert.ok((await historySize(db.db, id)).bytes > 200);
    await assert.rejects(changesSince(db.db, id, 0), HistoryGone);
    assert.equal((await changesSince(db.db, id, 2)).length, 4);
    const later = new ShowService(db.db, () => undefined);
    for (let i = 0; i < 4; i++) await later.undo(id, { author: 'me' });
    assert.equal((documentOf((await later.get(id)).document.values()).get('area:a') as { name: string }).name, 'A2');
    const refused = (code: string) => (error: unknown) => error instanceof FaultError && error.faults[0]!.code === code;
    await assert.rejects(later.undo(id, { author: 'me' }), refused('NOTHING_TO_UNDO'));
    await assert.rejects(later.takeBack(id, { author: 'me' }, 1), refused('NOTHING_TO_UNDO'));
    await assert.rejects(
      later.edit(id, {
        change: { put: [make('area', { id: 'area:a', number: 1, name: 'Late' })], remove: [] },
        base: 0,
        author: 'you',
        label: 'Edit',
      }),
      refused('HISTORY_GONE'),
    );
  });
});
