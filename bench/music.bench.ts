import { analyse } from '../src/core/music/analyse.ts';
import { Follower } from '../src/core/music/follow.ts';
import { beatMeasures, COUNTED_FROM_S, fMeasure } from '../src/core/music/measures.ts';
import { report } from './measure.ts';
import { compose } from './music/compose.ts';
import { judge, pieces, summary } from './music/judge.ts';
import { DRY, synthesise } from '../src/sound/synth.ts';

/** The ear: how well it hears the half that is kept for judging (made-up music with its truth), and how fast. */
const ROUNDS = 4;

{
  const judged = pieces('judge', ROUNDS).map(judge);
  for (const [name, value] of Object.entries(summary(judged))) report(`songs, judging half: ${name}`, value, '');
  const even = judged.filter(({ piece }) => piece.metre === 4);
  for (const [name, value] of Object.entries(summary(even))) report(`songs in four, judging half: ${name}`, value, '');
}
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
  report('a song of 3 minutes, warm: times real time', Math.round(180_000 / (performance.now() - again)), 'x');
}
