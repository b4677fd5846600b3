/** From a step of a fader to what the frame thread and the pages get, with a large hand; beside a bare loop. */
import { MessageChannel, receiveMessageOnPort } from 'node:worker_threads';
import { valueDifference, onlyForward } from '../src/core/document/difference.ts';
import { applyLive, asMany, initialLive, liveCommandSchema, type LiveState } from '../src/core/show/index.ts';
import { Player } from '../src/engine/player.ts';
import { bodiesShow } from './plot-shows.ts';
import { quantileOf, report, timed } from './measure.ts';

const UNITS = 20_000;
const { port1, port2 } = new MessageChannel();
const records = [...bodiesShow(UNITS).values()];
// Seven slots each.
const ids = records.flatMap((r) => (r.kind === 'unit' ? [r.id] : []));
// As pages say it (`hand-queue.ts`).
const all = (level: number) => ({ do: 'hand', set: {}, alike: [{ on: asMany(ids), set: { Dimmer: level } }] });
const player = new Player(initialLive(0));
player.load(records, initialLive(0));
player.setLive(applyLive(player.live, liveCommandSchema.parse(all(0.5)), 0, 'x', player.document));

const STEPS = {
  'the grand master': (i: number) => ({ do: 'grand', level: (i % 100) / 100 }),
  'one unit': (i: number) => ({ do: 'hand', set: { [ids[i % ids.length]!]: { Dimmer: (i % 100) / 100 } } }),
  'all of them': (i: number) => all((i % 100) / 100),
} as const;

for (const [name, step] of Object.entries(STEPS)) {
  const messages = Array.from({ length: 30 }, (_, i) => JSON.stringify(step(i + 1)));
  const read: number[] = [];
  let bytes = 0;
  const begun: number[] = [];
  const told: number[] = [];
  const times = timed(30, (i) => {
    const start = performance.now();
    begun.push(start);
    const command = liveCommandSchema.parse(JSON.parse(messages[i]!));
    read.push(performance.now() - start);
    const before: LiveState = player.live;
    const live = applyLive(before, command, i, 'x', player.document);
    port1.postMessage(player.setLive(live));
    told.push(performance.now());
    const difference = valueDifference(before, player.live)!;
    receiveMessageOnPort(port2);
    bytes = Math.max(bytes, JSON.stringify(onlyForward(difference)).length);
  });
  report(`${UNITS} units by hand, a step of ${name}: the message read, median`, quantileOf(read, 0.5), 'ms');
  report(
    `${UNITS} units by hand, a step of ${name}: read, and to the frame thread, median`,
    quantileOf(
      told.map((ms, i) => ms - begun[i]!),
      0.5,
    ),
    'ms',
  );
  report(
    `${UNITS} units by hand, a step of ${name}: with the difference for pages, median`,
    quantileOf(times, 0.5),
    'ms',
  );
  report(`${UNITS} units by hand, a step of ${name}: to each page`, bytes, 'bytes');
}
// The same work without a show: a number for each unit is set, copied, and written as text.
const bare = timed(30, (i) => {
  const levels = new Float32Array(UNITS).fill((i % 100) / 100);
  structuredClone(levels);
  JSON.stringify({ level: i });
});
report(`${UNITS} units by hand: a bare loop that sets and copies as many levels, median`, quantileOf(bare, 0.5), 'ms');
port1.close();
