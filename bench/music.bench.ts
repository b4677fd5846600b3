import { analyse } from '../src/core/music/analyse.ts';
import { FPS, LONG, SHORT } from '../src/core/music/features.ts';
import { Follower } from '../src/core/music/follow.ts';
import { beatMeasures, COUNTED_FROM_S, fMeasure } from '../src/core/music/measures.ts';
import { Spectrum } from '../src/core/music/spectrum.ts';
import { hashOf } from '../src/core/records/blob.ts';
import { make } from '../src/core/records/index.ts';
import { writeWav } from '../src/core/format/wav.ts';
import { wait } from '../scripts/lib.mjs';
import { App } from '../tests/support/app.ts';
import { report } from './measure.ts';
import { compose } from './music/compose.ts';
import { bandIsHere } from './music/band/render.ts';
import { band, judge, pieces, recordingOf, summary } from './music/judge.ts';
import { DRY, synthesise } from '../src/sound/synth.ts';

/** The ear: how well it hears the half that is kept for judging (made-up music with its truth), and how fast. */
const ROUNDS = 4;

{
  const judged = pieces('judge', ROUNDS).map((piece) => judge(piece, recordingOf(piece)));
  for (const [name, value] of Object.entries(summary(judged))) report(`songs, judging half: ${name}`, value, '');
  const even = judged.filter(({ piece }) => piece.metre === 4);
  for (const [name, value] of Object.entries(summary(even))) report(`songs in four, judging half: ${name}`, value, '');
  const odd = judged.filter(({ piece }) => piece.metre === 5 || piece.metre === 7);
  report('songs in five and seven, judging half: metre', summary(odd)['metre']!, '');
}
if (bandIsHere()) {
  const judged = [...band('judge', 2)].map(([score, sound]) => judge(score, sound));
  for (const [name, value] of Object.entries(summary(judged))) report(`sampled band, judging half: ${name}`, value, '');
  const odd = judged.filter(({ piece }) => piece.metre === 5 || piece.metre === 7);
  report('sampled band in five and seven, judging half: metre', summary(odd)['metre']!, '');
} else
  console.error('The sampled band is left out: install fluidsynth and the soundfonts that tools/ear/README.md names.');
for (const room of [false, true]) {
  let [f, bars, count] = [0, 0, 0];
  const lags: number[] = [];
  let [busyMs, seconds] = [0, 0];
  for (const piece of pieces('judge', 2)) {
    const { samples, rate } = synthesise(piece, { ...DRY, room, noise: room ? 0.004 : 0 }, 1, 44_100);
    const ear = new Follower(rate);
    const begun = performance.now();
    const said = [];
    for (let i = 0; i < samples.length; i += 1024) said.push(...ear.feed(samples.subarray(i, i + 1024)));
    busyMs += performance.now() - begun;
    seconds += samples.length / rate;
    f += beatMeasures(
      said.map((a) => a.at),
      piece.beats,
    ).f;
    const late = (times: readonly number[]): number[] => times.filter((t) => t >= COUNTED_FROM_S);
    bars += fMeasure(late(said.filter((a) => a.beat === 1).map((a) => a.at)), late(piece.downbeats));
    for (const a of said) lags.push((a.emittedAt - a.at) * 1000);
    count++;
  }
  lags.sort((a, b) => a - b);
  const where = room ? 'live in a room' : 'live, dry';
  report(`${where}: F of announcements`, Math.round((f / count) * 1000) / 1000, '');
  report(`${where}: F of first beats`, Math.round((bars / count) * 1000) / 1000, '');
  report(`${where}: said after the beat, median (below 0 is ahead)`, Math.round(lags[lags.length >> 1]!), 'ms');
  report(`${where}: share of a core`, Math.round((busyMs / 10 / seconds) * 10) / 10, '%');
}
{
  const long = synthesise(compose(3, 'pop', 'drift', 180), DRY, 1, 44_100);
  const first = performance.now();
  analyse(long);
  report('a song of 3 minutes, first pass: times real time', Math.round(180_000 / (performance.now() - first)), 'x');
  const again = performance.now();
  analyse(long);
  const warmMs = performance.now() - again;
  report('a song of 3 minutes, warm: times real time', Math.round(180_000 / warmMs), 'x');
  // What the machine gives at this hour: the bare transforms of the same song.
  const bare = performance.now();
  for (const [size, hop] of [
    [SHORT, long.rate / FPS],
    [LONG, (2 * long.rate) / FPS],
  ] as const) {
    const spectrum = new Spectrum(size);
    for (let at = 0; at < long.samples.length; at += hop) spectrum.at(long.samples, at);
  }
  report(
    'a song of 3 minutes, warm: by its bare transforms',
    Math.round((warmMs / (performance.now() - bare)) * 10) / 10,
    '',
  );
}
{
  const { samples, rate } = synthesise(compose(5, 'rock', 'drift', 600), DRY, 1, 44_100);
  const before = process.memoryUsage().rss;
  const begun = performance.now();
  let most = before;
  analyse({ samples, rate }, () => (most = Math.max(most, process.memoryUsage().rss)));
  report('a song of 10 minutes', Math.round((performance.now() - begun) / 100) / 10, 's');
  report('a song of 10 minutes, memory above what was there', Math.round((most - before) / 2 ** 20), 'MiB');
}
{
  const songs = Array.from({ length: 5 }, (_, i) => {
    const bytes = writeWav([synthesise(compose(20 + i, 'pop', 'steady', 180), DRY, i).samples], 22_050);
    return { bytes, hash: hashOf(bytes) };
  });
  const app = await App.start({ playing: true });
  const lateness = async (): Promise<number> => (await app.health()).engine!.latenessP99Ms;
  // What the start takes is over by then.
  await wait(30_000);
  report('engine, no song heard: lateness p99', await lateness(), 'ms');
  const skipped = (await app.health()).engine!.framesSkipped;
  for (const { bytes, hash } of songs)
    await app.call('PUT', `/api/blobs/${hash}`, bytes, {
      'content-range': `bytes 0-${bytes.length - 1}/${bytes.length}`,
    });
  const { id } = await app.openShow();
  const put = songs.map(({ bytes, hash }, i) =>
    make('song', {
      id: `song:bench${i}`,
      number: 50 + i,
      name: `Bench ${i}`,
      blob: hash,
      type: 'audio/wav',
      bytes: bytes.length,
    }),
  );
  await app.edit(id, { put });
  const late: number[] = [];
  const heard = async (): Promise<number> =>
    (await app.openShow()).records.filter((r) => r.kind === 'song' && r.id.startsWith('song:bench') && r.heard).length;
  // Asked seldom: reading the whole show is work too.
  for (let looks = 0; (await heard()) < 5; looks++) {
    if (looks > 100) throw new Error('five songs are not heard in five minutes');
    await wait(3000);
    late.push(await lateness());
  }
  report('engine, five songs heard beside it: highest lateness p99', Math.max(...late), 'ms');
  report(
    'engine, five songs heard beside it: frames left out',
    (await app.health()).engine!.framesSkipped - skipped,
    '',
  );
  await app.end();
}
