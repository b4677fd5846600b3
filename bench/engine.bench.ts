import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import WebSocket from 'ws';
import { wait } from '../scripts/lib.mjs';
import { writeArchive } from '../src/core/format/archive.ts';
import { make } from '../src/core/records/index.ts';
import { App, until } from '../tests/support/app.ts';
import { bareTimer, quantileOf, report } from './measure.ts';
import { pixelShow } from './shows.ts';

/** The whole program under load: how late frames are while the web process is busy, and what arrives of 100 universes. */
const UNIVERSES = 100;
const SECONDS = 20;
const ADDRESS = '127.202.0.10';

interface Got {
  readonly packets: number;
  readonly lost: number;
  readonly heard: number;
  readonly refused: number;
}
async function ask(gateway: ChildProcess): Promise<Got> {
  const answer = once(gateway, 'message');
  gateway.send('report');
  return (await answer)[0] as Got;
}

const { document, targets } = pixelShow(UNIVERSES);
const records = [
  ...document.values(),
  make('output', { id: 'output:bench', name: 'Bench', protocol: 'sacn', destinations: [ADDRESS] }),
  ...Array.from({ length: UNIVERSES }, (_, i) =>
    make('route', { id: `route:r${i + 1}`, universe: i + 1, outputId: 'output:bench', wireUniverse: i + 1 }),
  ),
];

const gateway = fork('bench/gateway.ts', [ADDRESS, String(UNIVERSES)], { execArgv: ['--import', 'tsx'] });
const app = await App.start();
try {
  await once(gateway, 'message');
  const { body } = await app.call<{ id: string }>('POST', '/api/shows/import', writeArchive(records));
  await app.call('POST', `/api/shows/${body.id}/open`);
  await until('the engine to have it', async () => (await app.health()).engine?.universes === UNIVERSES);
  for (const target of targets) await app.command({ do: 'play', target });
  // Four pages that take every frame, and a script that asks without pause, keep the web process busy.
  const pages = Array.from({ length: 4 }, () => new WebSocket(`ws://127.0.0.1:${app.port}/live`));
  for (const page of pages) page.on('open', () => page.send(JSON.stringify({ type: 'watch', id: 1, frames: true })));
  let asking = true;
  let answers = 0;
  const asker = (async () => {
    while (asking) {
      await app.call('GET', `/api/shows/${body.id}`);
      answers++;
    }
  })();
  await wait(3000);
  const timer = bareTimer();
  const [from, before] = [performance.now(), await ask(gateway)];
  await wait(SECONDS * 1000);
  const [seconds, after] = [(performance.now() - from) / 1000, await ask(gateway)];
  const engine = (await app.health()).engine!;
  const bare = timer.stop();
  asking = false;
  await asker;
  for (const page of pages) page.terminate();
  report('whole shows read from the web process meanwhile', answers / seconds, 'a second');
  report('frame rate asked', engine.frameRateAsked, 'Hz');
  report('frame rate measured', engine.frameRateMeasured, 'Hz');
  report(`lateness over ${SECONDS} s, p50`, engine.latenessP50Ms, 'ms');
  report(`lateness over ${SECONDS} s, p99`, engine.latenessP99Ms, 'ms');
  report(`lateness over ${SECONDS} s, max`, engine.latenessMaxMs, 'ms');
  report('a bare timer in the same seconds, p50', quantileOf(bare, 0.5), 'ms');
  report('a bare timer in the same seconds, p99', quantileOf(bare, 0.99), 'ms');
  report('p99 of the engine by p99 of a bare timer', engine.latenessP99Ms / quantileOf(bare, 0.99), 'ratio');
  report('frames left out since the start', engine.framesSkipped, 'frames');
  report('real-time priority', engine.realtime ? 1 : 0, 'yes=1');
  report('render and send of 100 universes, one frame', engine.renderMs, 'ms');
  report('universes heard at the stand-in', after.heard, 'universes');
  report('packets at the stand-in', (after.packets - before.packets) / seconds, 'a second');
  report('packets lost at the stand-in', after.lost - before.lost, `of ${after.packets - before.packets}`);
} finally {
  gateway.disconnect();
  await app.end();
}
