import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { writeWav } from '../../src/core/format/wav.ts';
import { hashOf, type SoundType } from '../../src/core/records/blob.ts';
import { make, type SongRecord } from '../../src/core/records/index.ts';
import { synthesise, type Note } from '../../src/sound/synth.ts';
import { App, until } from '../support/app.ts';

let app: App;
let showId: string;
before(async () => {
  app = await App.start();
  showId = (await app.openShow()).id;
});
after(() => app?.end());

/** Drums at a tempo. */
function drums(bpm: number, seconds: number, rate = 22_050): Float32Array {
  const notes: Note[] = [];
  for (let i = 0, at = 0.4; at < seconds - 0.4; i++, at += 60 / bpm) {
    notes.push({ at, as: i % 2 === 0 ? 'kick' : 'snare', loud: 1, hz: 60, long: 0.2 });
    if (i % 4 === 0) notes.push({ at, as: 'bass', loud: 0.8, hz: i % 8 === 0 ? 55 : 73, long: 1.4 });
  }
  return synthesise({ notes, seconds }, undefined, 1, rate).samples;
}
let next = 0;
async function put(bytes: Uint8Array, at: App = app): Promise<void> {
  const hash = hashOf(bytes);
  const { status } = await at.call('PUT', `/api/blobs/${hash}`, bytes, {
    'content-range': `bytes 0-${bytes.length - 1}/${bytes.length}`,
  });
  assert.equal(status, 200);
}
const recordOf = (bytes: Uint8Array, type: SoundType, fields: Partial<SongRecord> = {}): SongRecord => ({
  ...make('song', {
    id: `song:test${++next}`,
    number: 100 + next,
    name: `Test ${next}`,
    file: `Test ${next}.bin`,
    blob: hashOf(bytes),
    type,
    bytes: bytes.length,
  }),
  ...fields,
});
async function add(
  bytes: Uint8Array,
  type: SoundType = 'audio/wav',
  fields: Partial<SongRecord> = {},
): Promise<string> {
  await put(bytes);
  const record = recordOf(bytes, type, fields);
  assert.equal((await app.edit(showId, { put: [record] })).status, 200);
  return record.id;
}
const songNow = async (id: string, at: App = app): Promise<SongRecord> =>
  (await at.openShow()).records.find((r) => r.id === id) as SongRecord;
const heard = (id: string, at: App = app): Promise<SongRecord> =>
  until(
    `${id} heard`,
    async () => {
      const song = await songNow(id, at);
      return song.heard || song.fault ? song : null;
    },
    60,
  );

describe('songs are heard', () => {
  test('of any rate, depth and number of channels', async () => {
    const at = (rate: number): Float32Array => drums(120, 9, rate);
    const cases: [string, Uint8Array][] = [
      ['8 kHz, 8 bit', writeWav([at(8000)], 8000, 8)],
      ['192 kHz, 24 bit', writeWav([at(192_000)], 192_000, 24)],
      ['32 bit with a point', writeWav([at(44_100)], 44_100, 'float')],
      [
        'six channels',
        writeWav(
          Array.from({ length: 6 }, () => at(22_050)),
          22_050,
          16,
        ),
      ],
    ];
    for (const [what, bytes] of cases) {
      const song = await heard(await add(bytes));
      assert.equal(song.fault, null, `${what}: ${song.fault?.message}`);
      assert.ok(Math.abs(song.lengthS! - 10) < 0.2, `${what}: ${song.lengthS}`);
      assert.ok(
        [60, 120, 240].some((bpm) => Math.abs(song.heard!.bpm / bpm - 1) < 0.03),
        `${what}: ${song.heard!.bpm}`,
      );
    }
  });

  test('of every kind of file, whatever it is called', async () => {
    for (const [file, type] of [
      ['beat.flac', 'audio/flac'],
      ['beat.mp3', 'audio/mpeg'],
      ['beat.ogg', 'audio/ogg'],
      ['beat.opus', 'audio/ogg'],
    ] as const) {
      const song = await heard(await add(new Uint8Array(readFileSync(path.join('tests/samples/sound', file))), type));
      assert.equal(song.fault, null, `${file}: ${song.fault?.message}`);
    }
  });

  test('silence, a moment, a file that was cut: each says what it is, and what to do', async () => {
    const whole = writeWav([drums(120, 6)], 22_050);
    const cut = new Uint8Array(readFileSync('tests/samples/sound/beat.flac')).subarray(0, 60);
    for (const [bytes, type, code] of [
      [writeWav([new Float32Array(22_050 * 3)], 22_050), 'audio/wav', 'SOUND_SILENT'],
      [writeWav([drums(120, 6).subarray(0, 4000)], 22_050), 'audio/wav', 'SOUND_SHORT'],
      [whole.subarray(0, 44), 'audio/wav', 'SOUND_BROKEN'],
      [cut, 'audio/flac', 'SOUND_BROKEN'],
    ] as const) {
      const song = await heard(await add(bytes, type));
      assert.equal(song.fault?.code, code);
      assert.ok(song.fault.remedy.length > 10, song.fault.remedy);
    }
  });

  test('tags give title and artist, rubbish in them does not', async () => {
    const id3 = (frames: [string, Buffer][]): Buffer => {
      const body = Buffer.concat(
        frames.map(([name, text]) => {
          const head = Buffer.alloc(10);
          head.write(name, 0, 'latin1');
          head.writeUInt32BE(text.length, 4);
          return Buffer.concat([head, text]);
        }),
      );
      const size = body.length;
      return Buffer.concat([
        Buffer.from([0x49, 0x44, 0x33, 3, 0, 0, (size >> 21) & 127, (size >> 14) & 127, (size >> 7) & 127, size & 127]),
        body,
      ]);
    };
    const sound = readFileSync('tests/samples/sound/beat.mp3');
    const utf16 = (text: string): Buffer => Buffer.concat([Buffer.from([1, 0xff, 0xfe]), Buffer.from(text, 'utf16le')]);
    const tagged = Buffer.concat([
      id3([
        ['TIT2', utf16('Straße\u0007 nach\u0000 Süden')],
        ['TPE1', utf16('Die Übung')],
      ]),
      sound,
    ]);
    const song = await heard(await add(new Uint8Array(tagged), 'audio/mpeg', { name: 'tagged', file: 'tagged.mp3' }));
    assert.match(song.name, /^Straße/);
    // eslint-disable-next-line no-control-regex
    assert.ok(!/[\u0000-\u001f]/.test(song.name), JSON.stringify(song.name));
    assert.equal(song.artist, 'Die Übung');
    const rubbish = Buffer.concat([id3([['TIT2', Buffer.from([9, 255, 254, 0, 1, 2])]]), sound, Buffer.from([0])]);
    const plain = await heard(await add(new Uint8Array(rubbish), 'audio/mpeg', { name: 'plain', file: 'plain.mp3' }));
    assert.equal(plain.fault, null);
    assert.equal(plain.name.length > 0, true);
  });

  test('those that are not to be heard are not, until somebody says so', async () => {
    const id = await add(writeWav([drums(100, 8)], 22_050), 'audio/wav', { listen: false });
    const other = await add(writeWav([drums(101, 8)], 22_050));
    await heard(other);
    assert.equal((await songNow(id)).heard, null);
    await app.edit(showId, { put: [{ ...(await songNow(id)), listen: true }] });
    assert.ok((await heard(id)).heard);
  });

  test('a name that somebody gave stays; what was set right stays; undo of a script is its own', async () => {
    const mended = { stretches: [{ from: 1, to: 2, beats: [1.25, 1.75] }], bars: null, sections: null };
    const id = await add(writeWav([drums(90, 8)], 22_050), 'audio/wav', { name: 'Given', mended });
    const song = await heard(id);
    assert.deepEqual([song.name, song.mended], ['Given', mended]);
  });
});

describe('a song whose file is elsewhere', () => {
  test('may be in a show, waits, and is heard when its file comes', async () => {
    const bytes = writeWav([drums(110, 8)], 22_050);
    const record = recordOf(bytes, 'audio/wav');
    assert.equal((await app.edit(showId, { put: [record] })).status, 200);
    const after = await add(writeWav([drums(111, 8)], 22_050));
    await heard(after);
    assert.equal((await songNow(record.id)).heard, null);
    await put(bytes);
    assert.ok((await heard(record.id)).heard);
  });

  test('an archive has the songs or leaves them out, and either comes in', async () => {
    const archive = async (how: string): Promise<Uint8Array> =>
      new Uint8Array(await (await fetch(`${app.url}/api/shows/${showId}/archive${how}`)).arrayBuffer());
    const [whole, light] = [await archive(''), await archive('?songs=no')];
    assert.ok(whole.length > light.length + 10_000_000, `${whole.length} and ${light.length}`);
    const other = await App.start({ env: { AMBER_DEMO: '0' } });
    try {
      const { body } = await other.call<{ id: string }>('POST', '/api/shows/import', light);
      await other.call('POST', `/api/shows/${body.id}/open`);
      const waltz = await songNow('song:lantern-waltz', other);
      assert.ok(waltz.heard, 'what was heard came with it');
      assert.equal((await other.call('GET', `/api/blobs/${waltz.blob}`)).status, 404);
      assert.equal((await other.call('GET', `/api/songs/${waltz.blob}/picture`)).status, 404);
      await put(new Uint8Array(readFileSync('build/songs/lantern-waltz.wav')), other);
      await until(
        'its picture',
        async () => (await other.call('GET', `/api/songs/${waltz.blob}/picture`)).status === 200,
        60,
      );
      assert.deepEqual((await songNow(waltz.id, other)).heard, waltz.heard, 'heard for its picture alone');
      const again = await other.call<{ copy: boolean }>('POST', '/api/shows/import', whole);
      assert.deepEqual([again.status, again.body.copy], [201, true]);
    } finally {
      await other.end();
    }
  });
});

describe('the process that hears', () => {
  const ears = (parent: number): number[] =>
    execFileSync('pgrep', ['-P', String(parent)], { encoding: 'utf8' })
      .split('\n')
      .filter(Boolean)
      .map(Number)
      .filter((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('ear.js'));
  const web = async (): Promise<number> => (await app.health()).processes.web;

  test('is one for one song after the other', async () => {
    await heard(await add(writeWav([drums(121, 5)], 22_050)));
    const [first] = ears(await web());
    await heard(await add(writeWav([drums(119, 5)], 22_050)));
    assert.deepEqual(ears(await web()), [first]);
  });

  test('dies: the song is heard again', async () => {
    const id = await add(writeWav([drums(123, 150)], 22_050));
    const pid = await until('it hears', async () => ears(await web())[0]);
    assert.equal(execFileSync('ps', ['-o', 'ni=', '-p', String(pid)], { encoding: 'utf8' }).trim(), '19');
    process.kill(pid, 'SIGKILL');
    assert.ok((await heard(id)).heard);
  });

  test('dies with the web process: the next goes on with what is not heard yet', async () => {
    const id = await add(writeWav([drums(117, 150)], 22_050));
    await until('it hears', async () => ears(await web())[0]);
    const pid = await web();
    process.kill(pid, 'SIGKILL');
    await until('a new one', async () => (await web()) !== pid);
    assert.ok((await heard(id)).heard);
  });
});

test('what cannot be: commands for songs that are not there, places outside, ears that are none', async () => {
  const refused = async (command: Record<string, unknown>): Promise<string> =>
    String((await app.command(command)).body['code']);
  assert.equal(await refused({ do: 'song', songId: 'song:nobody' }), 'UNKNOWN_ID');
  assert.equal(await refused({ do: 'songAt', at: -1 }), 'BAD_VALUE');
  assert.equal(await refused({ do: 'songLoop', loop: { from: 5, to: 5 } }), 'BAD_VALUE');
  assert.equal(await refused({ do: 'ear', source: 'server:; rm -rf /' }), 'BAD_VALUE');
  assert.equal(
    await refused({ do: 'heardBeat', source: 'standin', at: 'now', beat: 1, bpm: 1, confidence: 2 }),
    'BAD_VALUE',
  );
});
