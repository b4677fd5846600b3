/** The web process: one HTTP server with the pages, the routes and the WebSocket `/live`. */
import http from 'node:http';
import { setTimeout } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { join } from 'node:path';
import { pino } from 'pino';
import { limited } from '../../log.ts';
import { required, stopsWithParent } from '../../process.ts';
import { knownHost } from './origin.ts';
import { Services, setServices } from './services.ts';
import { serviceOptions } from './options.ts';

const ENGINE_WITHIN_MS = 5000;
const log = pino({ name: 'web', level: process.env['AMBER_LOG'] ?? 'info', hooks: limited() });
const host = process.env['AMBER_HOST'] ?? '127.0.0.1';
const port = Number(required('AMBER_PORT'));
const services = new Services(serviceOptions(log));
setServices(services);

// adapter-node refuses form posts over plain HTTP unless it knows the protocol of the origin.
process.env['PROTOCOL_HEADER'] = 'x-forwarded-proto';
process.env['BODY_SIZE_LIMIT'] = String(520 * 1024 * 1024);
const handlerPath = pathToFileURL(join(required('AMBER_WEB_BUILD'), 'handler.js')).href;
const { handler } = (await import(handlerPath)) as { handler: http.RequestListener };

const server = http.createServer((request, response) => {
  if (!knownHost(request.headers.host, host)) {
    response.writeHead(421, { 'content-type': 'application/json' });
    response.end(
      JSON.stringify({
        code: 'UNKNOWN_HOST',
        message: 'this address does not belong to Amber Kite',
        path: 'host',
        received: request.headers.host,
        remedy: 'Use the address that npm start printed.',
      }),
    );
    return;
  }
  request.headers['x-forwarded-proto'] = 'http';
  handler(request, response);
});
server.on('upgrade', (request, socket, head) => {
  socket.on('error', () => socket.destroy());
  if (request.url?.split('?')[0] === '/live' && knownHost(request.headers.host, host))
    services.hub.upgrade(request, socket, head);
  else socket.end('HTTP/1.1 404 Not Found\r\nConnection: close\r\n\r\n');
});
server.requestTimeout = 60_000;
server.headersTimeout = 15_000;

stopsWithParent(async () => {
  server.close();
  server.closeAllConnections();
  await services.close();
});
server.on('error', (error) => {
  log.fatal({ err: error }, 'the web server cannot listen');
  process.exit(1);
});
server.listen(port, host, () => void ready());

/** The engine is begun beside this process: whoever is told that all is ready finds it there. */
async function ready(): Promise<void> {
  const since = performance.now();
  while (!services.system().engine?.database && performance.now() - since < ENGINE_WITHIN_MS) await setTimeout(20);
  process.send?.('ready');
}
