/** The stand-ins' process: two gateways on loopback, and a small HTTP face that tells what they receive. */
import http from 'node:http';
import { pino } from 'pino';
import type { StandinReport } from '../core/protocol/standin.ts';
import { makeClock } from '../engine/clock.ts';
import { required, stopsWithParent } from '../process.ts';
import { standinAddresses } from './addresses.ts';
import { Gateway } from './gateway.ts';

const log = pino({ name: 'standins', level: process.env['AMBER_LOG'] ?? 'info' });
const now = makeClock();
const addresses = standinAddresses(required('AMBER_DATA_DIR'));
const gateways = [
  new Gateway(
    {
      id: 'gateway-sacn',
      name: 'Beam gateway',
      protocol: 'sacn',
      address: addresses.sacn,
      wireUniverses: [1, 2, 3, 4],
    },
    now,
  ),
  new Gateway(
    {
      id: 'gateway-artnet',
      name: 'Bar gateway',
      protocol: 'artnet',
      address: addresses.artnet,
      wireUniverses: [0, 1, 2, 3],
    },
    now,
  ),
];

const report = (): StandinReport => ({ pid: process.pid, now: now(), gateways: gateways.map((g) => g.report()) });

const server = http.createServer((request, response) => {
  const known = request.url === '/report' && request.method === 'GET';
  response.writeHead(known ? 200 : 404, { 'content-type': 'application/json' });
  response.end(JSON.stringify(known ? report() : { code: 'NOT_FOUND' }));
});

stopsWithParent(async () => {
  for (const gateway of gateways) gateway.close();
  server.close();
  server.closeAllConnections();
});
for (const gateway of gateways) {
  await gateway.start().catch((error: unknown) => {
    log.error({ err: error }, 'a stand-in gateway could not start');
    throw error;
  });
}
server.listen(Number(required('AMBER_STANDIN_PORT')), '127.0.0.1', () => process.send?.('ready'));
