/** The process that listens: to this machine's sound card through `arecord`, or to the stand-in, which plays songs. */
import { listenToCard } from './card.ts';
import { listenToStandin } from './standin.ts';
import { Hearer } from './hearer.ts';
import type { ListenOrder, ListenSaid } from './messages.ts';

const say = (said: ListenSaid): void => void process.send?.(said);
let stop: () => void = () => undefined;

process.on('message', (order: ListenOrder) => {
  stop();
  const hearer = new Hearer(say);
  const begun = order.from === 'standin' ? listenToStandin(order.songs, hearer) : listenToCard(order.device, hearer);
  stop = () => {
    begun();
    hearer.end();
  };
});
process.on('disconnect', () => process.exit(0));
