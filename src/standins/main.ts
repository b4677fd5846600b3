/** The stand-ins' process: simulated devices on loopback, and a small HTTP face that tells what they receive. */
import { pino } from 'pino';
import { standinAddresses } from '../addresses.ts';
import { makeClock } from '../engine/clock.ts';
import { required, stopsWithParent } from '../process.ts';
import { demoStandins } from './demo.ts';
import { StandinHost } from './host.ts';

const log = pino({ name: 'standins', level: process.env['AMBER_LOG'] ?? 'info' });
const now = makeClock();
const addresses = standinAddresses(required('AMBER_DATA_DIR'));
const host = new StandinHost(demoStandins(addresses, now, Math.random), now);

stopsWithParent(async () => host.close());
await host.start(Number(required('AMBER_STANDIN_PORT')), addresses.broadcast).catch((error: unknown) => {
  log.error({ err: error }, 'a stand-in could not start');
  throw error;
});
process.send?.('ready');
