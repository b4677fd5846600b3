import dgram from 'node:dgram';
import { once } from 'node:events';
import { setImmediate as turn } from 'node:timers/promises';
import { makeSacnPacket, fillSacn, SACN_PORT } from '../src/core/protocol/sacn.ts';

/**
 * The bare loop beside the engine: as many sACN packets as often, on one socket, in which every slot changes with the
 * frame, and nothing else. Run as `bare-sender.ts ADDRESS UNIVERSES`.
 */
const [host, universes] = [process.argv[2]!, Number(process.argv[3])];
const PERIOD_MS = 25;
const socket = dgram.createSocket('udp4');
socket.bind(0);
await once(socket, 'listening');
socket.setSendBufferSize(1 << 20);
socket.connect(SACN_PORT, host);
await once(socket, 'connect');
const source = { cid: new Uint8Array(16), name: 'Bare' };
const packets = Array.from({ length: universes }, (_, i) => makeSacnPacket(source, i + 1, 100, 512));
const slots = new Uint8Array(512);
const sleeper = new Int32Array(new SharedArrayBuffer(4));
process.send!('sending');
process.on('disconnect', () => process.exit());
let next = performance.now();
for (let frame = 0; ; frame++) {
  slots.fill(frame & 0xff);
  for (const packet of packets) {
    fillSacn(packet, frame & 0xff, slots);
    socket.send(packet);
  }
  next += PERIOD_MS;
  const left = next - performance.now();
  if (left > 0) Atomics.wait(sleeper, 0, 0, left);
  await turn();
}
