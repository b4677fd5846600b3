import { MessageChannel, receiveMessageOnPort } from 'node:worker_threads';
import type { ChangeSet } from '../src/core/document/change.ts';
import type { AnyRecord } from '../src/core/records/index.ts';
import { initialLive, newPlay } from '../src/core/show/index.ts';
import { Player } from '../src/engine/player.ts';
import { quantileOf, report, timed } from './measure.ts';
import { wallShow } from './wall-show.ts';

/**
 * What an edit costs the engine's main thread while four effects play: working out what it means, and handing it to the
 * frame thread. A rename changes nothing that is sent; a new address another rig.
 */
for (const cells of [9_000, 50_000, 170_000]) {
  const document = wallShow(cells, true);
  const state = {
    ...initialLive(0),
    playing: [1, 2, 3, 4].map((n) => newPlay({ id: `p${n}`, target: `effect:e${n}`, startedAt: n })),
  };
  const player = new Player(state);
  const { port1, port2 } = new MessageChannel();
  port1.postMessage(player.load([...document.values()], state));
  receiveMessageOnPort(port2);
  let round = 0;
  const edit = (fields: () => object): void => {
    const unit = player.document.get('unit:w7')!;
    const change: ChangeSet = { put: [{ ...unit, ...fields() } as AnyRecord], remove: [] };
    port1.postMessage(player.edit(change, 1000).message);
  };
  const measure = (name: string, rounds: number, fields: () => object): void => {
    const times = timed(rounds, () => edit(fields)).map((ms) => {
      receiveMessageOnPort(port2);
      return ms;
    });
    report(
      `${cells.toLocaleString('en')} cells, 4 effects: ${name}, main thread, median`,
      quantileOf(times, 0.5),
      'ms',
    );
    report(`${cells.toLocaleString('en')} cells, 4 effects: ${name}, main thread, max`, quantileOf(times, 1), 'ms');
  };
  measure('a rename', 60, () => ({ name: `Wall ${round++}` }));
  measure('another address', cells > 100_000 ? 5 : 12, () => ({
    patch: { universe: 5000 + (round++ % 9) * 3, address: 1 },
  }));
  port1.close();
}
