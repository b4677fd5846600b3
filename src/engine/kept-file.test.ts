import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { after, describe, test } from 'node:test';
import fc from 'fast-check';
import { KeptFile } from './kept-file.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-kept-'));
after(() => rmSync(folder, { recursive: true }));
let count = 0;
const fresh = (): string => path.join(folder, `file${count++}`);
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const read = (file: string): string | null => new KeptFile(file).read()?.toString() ?? null;

describe('a file that is kept', () => {
  test('gives back what was written last, after a restart too', async () => {
    const file = fresh();
    assert.equal(read(file), null);
    const kept = new KeptFile(file);
    for (const text of ['one', 'two', 'a longer three', '']) {
      await kept.write(bytes(text));
      assert.equal(read(file), text);
    }
    const again = new KeptFile(file);
    again.read();
    await again.write(bytes('after a restart'));
    assert.equal(read(file), 'after a restart');
  });
  test('takes its room beforehand: what is written next needs none', async () => {
    const file = fresh();
    const kept = new KeptFile(file);
    await kept.write(bytes('x'.repeat(1000)));
    await kept.write(bytes('x'.repeat(1000)));
    const sizes = [`${file}.a`, `${file}.b`].map((f) => statSync(f).size);
    for (let i = 0; i < 20; i++) await kept.write(bytes('y'.repeat(1000 + i * 1000)));
    assert.deepEqual(
      [`${file}.a`, `${file}.b`].map((f) => statSync(f).size),
      sizes,
    );
  });
  test('cut or damaged anywhere, it gives the one before, and never rubbish', async () => {
    const file = fresh();
    const kept = new KeptFile(file);
    await kept.write(bytes('the one before'));
    await kept.write(bytes('the newest of them'));
    const whole = readFileSync(`${file}.b`);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 33 }), fc.integer({ min: 1, max: 255 }), (at, by) => {
        const damaged = Buffer.from(whole);
        damaged[at] = damaged[at]! ^ by;
        writeFileSync(`${file}.b`, damaged);
        const found = read(file);
        // A sequence number that was damaged upwards or not still belongs to whole bytes.
        assert.ok(found === 'the one before' || (at >= 4 && at < 8 && found === 'the newest of them'), `${found}`);
        writeFileSync(`${file}.b`, whole.subarray(0, at));
        assert.equal(read(file), 'the one before');
      }),
    );
  });
});
