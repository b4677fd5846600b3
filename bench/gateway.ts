/** A process of its own that takes sACN like a gateway with many ports and tells its parent what it got. */
import { Gateway } from '../src/standins/gateway.ts';

const [address, universes] = [process.argv[2]!, Number(process.argv[3])];
const gateway = new Gateway(
  {
    id: 'bench',
    name: 'Bench',
    kind: 'sacn',
    random: () => 0.5,
    address,
    wireUniverses: Array.from({ length: universes }, (_, i) => i + 1),
  },
  () => performance.timeOrigin + performance.now(),
);
await gateway.start();
process.on('message', () => {
  const { ports, refused } = gateway.report();
  process.send!({
    packets: ports.reduce((sum, p) => sum + p.packets, 0),
    lost: ports.reduce((sum, p) => sum + p.lost, 0),
    heard: ports.filter((p) => p.packets > 0).length,
    refused,
  });
});
process.on('disconnect', () => process.exit(0));
process.send!('ready');
