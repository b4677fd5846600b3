import { randomBytes } from 'node:crypto';
import { pino } from 'pino';
import { Network, type Simulated } from '../engine/network/network.ts';
import { makeClock } from '../engine/clock.ts';
import { addressOption, numberOption, type Command, type CommandTable } from './command.ts';

const LEAST_S = 1;
const USUAL_S = 6;

const discover: Command = {
  usage: 'discover [--seconds N] [--own ADDRESS --broadcast ADDRESS] [--devices HOST:PORT,HOST:PORT]',
  summary: 'Looks for Art-Net devices, sACN sources, serial ports, RDM devices, hubs and mapped strings.',
  run: async (args) => {
    const seconds = numberOption(args, 'seconds', LEAST_S, 120, USUAL_S);
    const own = addressOption(args, 'own');
    const broadcast = addressOption(args, 'broadcast');
    const devices = (args.options['devices'] ?? '').split(',').filter(Boolean);
    const simulated: Simulated | null =
      own || broadcast || devices.length > 0
        ? { own: own ?? '0.0.0.0', broadcast: broadcast ?? '255.255.255.255', serialPaths: [], devices }
        : null;
    const network = new Network({
      now: makeClock(),
      source: { cid: randomBytes(16), name: 'Amber Kite' },
      simulated,
      hubKeys: {},
      saveHubKeys: async () => undefined,
      act: () => undefined,
      slotsOf: () => null,
      onHosts: () => undefined,
      onNetwork: () => undefined,
      log: pino({ enabled: false }),
    });
    try {
      network.setDocument(new Map());
      // Sockets open within a moment; what is asked before is lost.
      await new Promise((resolve) => setTimeout(resolve, 200));
      await network.ask({ ask: 'scan' });
      await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
      const { nodes, sources, ports, rdm, devices: found, interfaces, refused, ignored, troubles } = network.state();
      return { output: { interfaces, nodes, sources, ports, rdm, devices: found, refused, ignored, troubles } };
    } finally {
      network.close();
    }
  },
};

export const DISCOVER: CommandTable = {
  discover: { command: discover, options: ['seconds', 'own', 'broadcast', 'devices'] },
};
