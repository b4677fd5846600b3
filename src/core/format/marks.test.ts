import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { songSchema, type Mark } from '../records/song.ts';
import { withMarks } from '../song/mend.ts';
import { readMarks, secondsIn, writeMarks } from './marks.ts';

const read = (text: string) => readMarks(new TextEncoder().encode(text));
const plain = ({ marks }: { marks: readonly Mark[] }) => marks.map(({ at, to, label }) => [at, to, label]);

describe('marks as text', () => {
  test('are written and read back the same', () => {
    const marks: Mark[] = [
      { at: 1.5, to: 1.5, label: 'Bells', words: false },
      { at: 2, to: 4.25, label: 'Verse, first; "quietly"', words: false },
    ];
    assert.deepEqual(read(writeMarks(marks)), { marks, faults: [] });
    assert.equal(writeMarks(marks).split('\n')[1], '2.0000\t4.2500\tVerse, first; "quietly"');
  });
  test('in the forms that others write: headings, two columns, minutes, commas, words, other encodings', () => {
    assert.deepEqual(plain(read('Start\tEnd\tName\n0,5\t2\tIntro\r\n1:02.5\t1:04\tVerse\n')), [
      [0.5, 2, 'Intro'],
      [62.5, 64, 'Verse'],
    ]);
    assert.deepEqual(plain(read('from;to;label\n1,5;2,5;Chorus\n3;;Moment\n')), [
      [1.5, 2.5, 'Chorus'],
      [3, 3, 'Moment'],
    ]);
    assert.deepEqual(plain(read('1.5,2.5,Bridge\n')), [[1.5, 2.5, 'Bridge']]);
    assert.deepEqual(plain(read('7\tDoor opens\n5\tLight\n')), [
      [5, 5, 'Light'],
      [7, 7, 'Door opens'],
    ]);
    assert.deepEqual(plain(read('0.5 2.5 Intro one\n')), [[0.5, 2.5, 'Intro one']]);
    assert.deepEqual(plain(read('"1.5"\t"2"\t"say ""hey"""\n')), [[1.5, 2, 'say "hey"']]);
    const words = read('[ti:Any]\n[00:01.50]Slow lanterns\n[00:04.00][00:09.00]over the water\n');
    assert.deepEqual(plain(words), [
      [1.5, 4, 'Slow lanterns'],
      [4, 9, 'over the water'],
      [9, 9, 'over the water'],
    ]);
    assert.ok(words.marks.every((mark) => mark.words));
    const utf16 = new Uint8Array([
      0xff,
      0xfe,
      ...[...'1\t2\tZoë'].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
    ]);
    assert.deepEqual(plain(readMarks(utf16)), [[1, 2, 'Zoë']]);
    assert.deepEqual(
      plain(readMarks(Uint8Array.from([...'1\t2\tFl'].map((c) => c.charCodeAt(0)).concat(0xf6, 0x74)))),
      [[1, 2, 'Flöt']],
    );
  });
  test('a line that is broken is named with its number and what stands there; the rest is read', () => {
    const { marks, faults } = read('1\t2\tGood\n3\t2\tBackwards\nnonsense\n99999\t99999\tLate\n4\t5\tGood too\n');
    assert.deepEqual(
      marks.map(({ label }) => label),
      ['Good', 'Good too'],
    );
    assert.deepEqual(
      faults.map(({ path }) => path),
      ['line 2', 'line 3', 'line 4'],
    );
    assert.match(faults[0]!.message, /ends \(2 s\) before it begins \(3 s\)/);
    assert.match(faults[1]!.message, /“nonsense” is no moment/);
    assert.ok(faults.every(({ remedy }) => remedy.length > 0));
  });
  test('more than are kept are said', () => {
    const { marks, faults } = read(Array.from({ length: 6000 }, (_, i) => `${i / 10}\t${i / 10}\tm\n`).join(''));
    assert.equal(marks.length, 5000);
    assert.match(faults[0]!.message, /there are 6000 marks/);
  });
  test('whatever comes, no mark is made that a song could not keep', () => {
    const random = seeded(11);
    const alphabet = '0123456789.,:;\t\n[]# "abé\u0000-';
    for (let i = 0; i < 400; i++) {
      const text = Array.from({ length: 120 }, () => alphabet[Math.floor(random() * alphabet.length)]).join('');
      const { marks } = read(text);
      const kept = songSchema.shape.marks.safeParse(marks);
      assert.ok(kept.success, `${JSON.stringify(text)}: ${kept.error?.message}`);
    }
  });
  test('moments', () => {
    assert.deepEqual(['12.5', '12,5', '1:02.5', '1:00:02', '', 'x', '-1', '1:2:3:4', '1e3'].map(secondsIn), [
      12.5,
      12.5,
      62.5,
      3602,
      null,
      null,
      null,
      null,
      null,
    ]);
  });
  test('put among others they stand in order, each once', () => {
    const a: Mark = { at: 2, to: 2, label: 'a', words: false };
    const b: Mark = { at: 1, to: 1, label: 'b', words: false };
    assert.deepEqual(withMarks([a], [b, { ...a }]), [b, a]);
  });
});
