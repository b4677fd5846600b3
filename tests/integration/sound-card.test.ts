import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, test } from 'node:test';
import { writeWav } from '../../src/core/format/wav.ts';
import { hashOf } from '../../src/core/records/blob.ts';
import { make } from '../../src/core/records/index.ts';
import { App, temporaryFolder, until } from '../support/app.ts';

/** Songs on a sound card of the machine: a card that is 1.5 thousandths fast stands in for it (tests/support/sound-card). */
const log = path.join(temporaryFolder(), 'card.log');
let app: App;
let showId: string;
const RATE = 44_100;
const SONG = 'song:clicks';
/** A tone of 30 ms at every whole second. */
const clicks = (seconds: number): Uint8Array =>
  writeWav(
    [Float32Array.from({ length: seconds * RATE }, (_, i) => (i % RATE < RATE * 0.03 ? 0.6 * Math.sin(i * 0.3) : 0))],
    RATE,
  );
before(async () => {
  writeFileSync(log, '');
  app = await App.start({
    env: {
      PATH: `${path.resolve('tests/support/sound-card')}:${process.env['PATH']}`,
      TEST_CARD_LOG: log,
      TEST_CARD_PPM: '1500',
    },
  });
  showId = (await app.openShow()).id;
  const bytes = clicks(90);
  const hash = hashOf(bytes);
  await app.call('PUT', `/api/blobs/${hash}`, bytes, {
    'content-range': `bytes 0-${bytes.length - 1}/${bytes.length}`,
  });
  const song = { id: SONG, number: 90, name: 'Clicks', blob: hash, type: 'audio/wav', bytes: bytes.length } as const;
  assert.equal((await app.edit(showId, { put: [make('song', { ...song, lengthS: 90, listen: false })] })).status, 200);
});
after(() => app?.end());

/** Moments at which something began to sound since the log was looked at, ms. */
let read = 0;
function sounded(): number[] {
  const lines = readFileSync(log, 'utf8').split('\n').slice(read, -1);
  return lines.map(Number);
}
/**
 * Those since the card last ran out of sound, which it notes as no number and which happens when the machine stands still; the
 * first two after that are on their way back.
 */
function settled(): number[] {
  const all = sounded();
  const at = all.findLastIndex(Number.isNaN);
  return at < 0 ? all : all.slice(at + 3);
}
const forget = (): void => void (read = readFileSync(log, 'utf8').split('\n').length - 1);
const player = (card = {}, device = 'plughw:0,0') => ({
  do: 'soundPlayer',
  player: { key: `card:${device}`, name: 'Test card', card: { delayMs: 0, level: 1, clicks: false, ...card } },
});
/** How late what sounded is, ms, of a song that began at a moment: less half a second at most. */
const lateness = (moments: readonly number[], begins: number): number[] =>
  moments.map((ms) => ((((ms - begins) % 1000) + 1500) % 1000) - 500);

test('cards that can play are listed', async () => {
  const { body } = await app.call<{ players: unknown }>('GET', '/api/sound-cards');
  assert.deepEqual(body.players, [{ device: 'plughw:0,0', name: 'Test card, Out' }]);
});

test('a song sounds on the card, together with the show, and stays there', async () => {
  await app.command(player());
  await app.command({ do: 'song', songId: SONG });
  const song = await until('it is on', async () => (await app.live()).song);
  await until('it sounds', () => sounded().length >= 14 && settled().length >= 4, 60);
  // A machine may stand still once or twice; a card that runs dry more often is not fed well.
  assert.ok(sounded().filter(Number.isNaN).length <= 2, 'the card ran dry again and again');
  const late = lateness(settled(), song.ms);
  // Left alone it would be 1.5 ms a second earlier.
  const end = late.slice(-4);
  assert.ok(Math.max(...end) - Math.min(...end) < 3, `it drifts: ${late.map((x) => x.toFixed(1)).join(' ')}`);
  assert.ok(
    end.every((ms) => Math.abs(ms) < 20),
    `it is off: ${late.map((x) => x.toFixed(1)).join(' ')}`,
  );
});

test('goes along to another place; quiet when it is held', async () => {
  await app.command({ do: 'songAt', at: 40 });
  const song = await until('it is there', async () => {
    const { song } = await app.live();
    return song && song.at >= 40 && song;
  });
  forget();
  await until('it sounds there', () => settled().length >= 4, 20);
  const late = lateness(settled().slice(1), song.ms);
  assert.ok(
    late.every((ms) => Math.abs(ms) < 20),
    `it is off: ${late.join(' ')}`,
  );
  await app.command({ do: 'songPlay', on: false });
  // What is in the pipe still sounds; then nothing, for longer than two clicks are apart.
  await until('held', async () => (await app.live()).song?.playing === false);
  const held = performance.now();
  await until('the pipe is empty', () => performance.now() - held > 700, 5);
  const heard = (): number => sounded().filter(Number.isFinite).length;
  const before = heard();
  await until('two more clicks would have sounded', () => performance.now() - held > 3000, 5);
  assert.equal(heard(), before);
});

test('a click at every whole second, to be trimmed by; earlier where the sound is late', async () => {
  await app.command({ do: 'songOff' });
  await app.command(player({ clicks: true, delayMs: 200 }));
  await until('the song is over', async () => (await app.live()).song === null);
  const begun = performance.now();
  await until('the pipe is empty', () => performance.now() - begun > 1000, 5);
  forget();
  await until('it clicks', () => settled().length >= 3, 20);
  const late = lateness(settled(), 0);
  assert.ok(
    late.every((ms) => Math.abs(ms + 200) < 25),
    `clicks: ${late.join(' ')}`,
  );
});

test('a card that is away is tried again until somebody chooses otherwise', async () => {
  const web = (await app.health()).processes.web;
  const players = (): string[] =>
    execFileSync('pgrep', ['-P', String(web), '-f', 'play.js'], { encoding: 'utf8' })
      .trim()
      .split('\n');
  await app.command(player({}, 'plughw:9,0'));
  const first = await until('it tries', () => players()[0], 10);
  await until('it tries again', () => players().some((pid) => pid !== first), 15);
  await app.command({ do: 'soundPlayer', player: null });
  await until('it plays no more', () => !existsSync(`/proc/${first}`) && !running(web), 15);
});

const running = (web: number): boolean => {
  try {
    return execFileSync('pgrep', ['-P', String(web), '-f', 'play.js'], { encoding: 'utf8' }) !== '';
  } catch {
    return false;
  }
};
