import assert from 'node:assert/strict';
import { mkdtempSync, readdirSync, rmSync, utimesSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { after, beforeEach, describe, test } from 'node:test';
import { FaultError } from '../core/faults.ts';
import { HEAD_BYTES, MOST_BLOB_BYTES } from '../core/format/blob-type.ts';
import { BLOB_LIMITS, hashOf, type BlobHash } from '../core/records/blob.ts';
import { BlobFolder } from './blob-folder.ts';
import { drawPng } from './seed/png.ts';

const made: string[] = [];
let folder: string;
let blobs: BlobFolder;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'amber-blobs-'));
  made.push(folder);
  blobs = new BlobFolder(folder);
});
after(() => made.forEach((name) => rmSync(name, { recursive: true })));

const bytes = Uint8Array.from(drawPng(120, 90, (x, y) => [x * y, x, y]));
const hash = hashOf(bytes);
const total = bytes.length;
/** Bytes as they come from a link, a few at a time; `broken` breaks it after them. */
async function* coming(data: Uint8Array, broken = false): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < data.length; at += 1000) yield data.subarray(at, at + 1000);
  await Promise.resolve();
  if (broken) throw new Error('the link broke');
}
const code = (wanted: string) => (error: unknown) => error instanceof FaultError && error.faults[0]!.code === wanted;
const inFolder = (): string[] =>
  (readdirSync(folder, { recursive: true, withFileTypes: true }) as { name: string; isFile(): boolean }[])
    .filter((entry) => entry.isFile())
    .map((entry) => entry.name);

describe('a folder of blobs', () => {
  test('gives back what was put, whole and in part; the same twice is one file', async () => {
    assert.equal(await blobs.put({ hash, bytes }), 'image/png');
    await blobs.put({ hash, bytes });
    assert.deepEqual(inFolder(), [hash]);
    assert.deepEqual(new Uint8Array(await blobs.read(hash)), bytes);
    const part = new Uint8Array(await new Response(blobs.stream(hash, 5, 104)).arrayBuffer());
    assert.deepEqual(part, bytes.slice(5, 105));
    await assert.rejects(blobs.read('0'.repeat(64)), code('BLOB_LOST'));
  });
  test('takes a file in stretches, goes on where a link broke, and shows nothing before it is whole', async () => {
    const first = await blobs.take(hash, { from: 0, total }, coming(bytes.slice(0, 3000)));
    assert.deepEqual(first, { received: 3000, whole: false });
    await assert.rejects(blobs.take(hash, { from: 3000, total }, coming(bytes.slice(3000, 5000), true)), /link broke/);
    assert.deepEqual([await blobs.received(hash), await blobs.size(hash)], [{ received: 5000, whole: false }, null]);
    await assert.rejects(blobs.take(hash, { from: 3000, total }, coming(bytes.slice(3000))), code('BLOB_OFFSET'));
    // Another process that starts finds what has come.
    const again = new BlobFolder(folder);
    assert.deepEqual(await again.take(hash, { from: 5000, total }, coming(bytes.slice(5000))), {
      received: total,
      whole: true,
    });
    assert.deepEqual([inFolder(), new Uint8Array(await again.read(hash))], [[hash], bytes]);
    assert.equal((await again.take(hash, { from: 0, total }, coming(bytes))).whole, true);
  });
  test('refuses what is not what it was said to be, and keeps nothing of it', async () => {
    const other = drawPng(3, 3, () => [1, 2, 3]);
    await assert.rejects(blobs.put({ hash, bytes: other }), code('BLOB_MIXED_UP'));
    await assert.rejects(blobs.take(hash, { from: 0, total: other.length }, coming(other)), code('BLOB_MIXED_UP'));
    const text = new TextEncoder().encode('<svg onload="hurt()">'.repeat(400));
    await assert.rejects(blobs.take(hashOf(text), { from: 0, total: text.length }, coming(text)), code('BLOB_TYPE'));
    const most = BLOB_LIMITS['image/png'];
    // What it is is seen by its first bytes, and how much of that is taken.
    const begins = new Uint8Array(HEAD_BYTES);
    begins.set(bytes);
    await assert.rejects(blobs.take(hash, { from: 0, total: most + 1 }, coming(begins)), code('BLOB_TOO_LARGE'));
    const over = { from: 0, total: MOST_BLOB_BYTES + 1 };
    await assert.rejects(blobs.take(hash, over, coming(bytes)), code('BLOB_TOO_LARGE'));
    await assert.rejects(blobs.take(hash, { from: 0, total: total - 10 }, coming(bytes)), code('BLOB_TOO_LARGE'));
    await assert.rejects(blobs.take('../../etc' as BlobHash, { from: 0, total }, coming(bytes)));
    assert.deepEqual(inFolder(), []);
  });
  test('takes one file from one sender at a time', async () => {
    const [one, two] = await Promise.allSettled([
      blobs.take(hash, { from: 0, total }, coming(bytes)),
      blobs.take(hash, { from: 0, total }, coming(bytes)),
    ]);
    assert.equal(one.status, 'fulfilled');
    assert.ok(two.status === 'rejected' && code('BLOB_BUSY')(two.reason));
  });
  test('takes no more unfinished files than it can do with', async () => {
    for (let i = 0; i < 64; i++)
      await blobs.take(hashOf(Uint8Array.of(i)), { from: 0, total }, coming(bytes.slice(0, 10)));
    await assert.rejects(blobs.take(hash, { from: 0, total }, coming(bytes)), code('TOO_MANY_UPLOADS'));
  });
  test('is swept of what was never sent to its end and of what nobody knows, late', async () => {
    await blobs.put({ hash, bytes });
    const stray = drawPng(2, 2, () => [0, 0, 0]);
    await blobs.put({ hash: hashOf(stray), bytes: stray });
    await blobs.take(hashOf(Uint8Array.of(1)), { from: 0, total }, coming(bytes.slice(0, 10)));
    const known = (name: BlobHash): Promise<boolean> => Promise.resolve(name === hash);
    await blobs.sweep(known, Date.now());
    assert.equal(inFolder().length, 3);
    const old = new Date(Date.now() - 48 * 3600 * 1000);
    for (const entry of readdirSync(folder, { recursive: true }) as string[])
      utimesSync(path.join(folder, entry), old, old);
    await blobs.sweep(known, Date.now());
    assert.deepEqual(inFolder(), [hash]);
  });
});
