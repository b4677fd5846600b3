import dgram from 'node:dgram';
import { networkInterfaces } from 'node:os';
import { ARTNET_PORT, decodeArtNet } from '../core/protocol/artnet.ts';
import { decodeSacn, multicastGroup, SACN_PORT, sequenceStep } from '../core/protocol/sacn.ts';
import { numberOption, unusable, type Command } from './command.ts';

interface Heard {
  readonly protocol: 'sacn' | 'artnet';
  name: string;
  readonly universe: number;
  priority: number | null;
  packets: number;
  lost: number;
  sequence: number;
}

/** Linux lets one socket join about 20 groups. */
const GROUPS_A_SOCKET = 16;
const MOST_SOURCES = 2000;

function universesOf(text: string): number[] {
  const found = new Set<number>();
  for (const part of text.split(',')) {
    const range = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(part);
    const from = Number(range?.[1]);
    const to = Number(range?.[2] ?? range?.[1]);
    if (!range || from < 1 || to > 63_999 || to < from || to - from > 4000)
      throw unusable(
        'OPTION_RANGE',
        '--universes',
        '--universes is not a list of universes',
        text,
        'Write for example 1-16 or 1,2,7 (1-63999).',
      );
    for (let u = from; u <= to; u++) found.add(u);
  }
  return [...found];
}

const ownAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).filter((i) => i.family === 'IPv4').map((i) => i.address),
  );

function open(port: number, onPacket: (packet: Uint8Array, from: string) => void): Promise<dgram.Socket> {
  const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  socket.on('message', (packet, from) => onPacket(packet, from.address));
  return new Promise((resolve, reject) => {
    socket.once('error', (error) =>
      reject(
        unusable(
          'PORT_TAKEN',
          `udp/${port}`,
          `cannot listen on UDP port ${port}: ${error.message}`,
          port,
          'End the program that holds the port, or run with the rights to use it.',
        ),
      ),
    );
    socket.bind(port, '0.0.0.0', () => {
      try {
        socket.setRecvBufferSize(4 << 20);
      } catch {
        // The system may allow less.
      }
      resolve(socket);
    });
  });
}

/** Joins the multicast groups on every own interface; interfaces that cannot multicast are passed over. */
async function joinAll(
  universes: readonly number[],
  onPacket: (packet: Uint8Array, from: string) => void,
  sockets: dgram.Socket[],
): Promise<void> {
  for (const own of ownAddresses()) {
    for (let i = 0; i < universes.length; i += GROUPS_A_SOCKET) {
      const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
      await new Promise<void>((resolve) => {
        socket.once('error', () => resolve());
        socket.bind(SACN_PORT, '0.0.0.0', () => resolve());
      });
      for (const universe of universes.slice(i, i + GROUPS_A_SOCKET)) {
        try {
          socket.addMembership(multicastGroup(universe), own);
        } catch {
          // No multicast on this interface.
        }
      }
      socket.on('message', (packet, from) => onPacket(packet, from.address));
      sockets.push(socket);
    }
  }
}

export const listenFor: Command = {
  usage: 'listen --seconds N [--universes 1-64]',
  summary: 'Hears sACN (unicast and multicast) and Art-Net on this machine and says who sends what.',
  run: async (args) => {
    const seconds = numberOption(args, 'seconds', 0.1, 3600);
    const universes = universesOf(args.options['universes'] ?? '1-64');
    const heard = new Map<string, Heard>();
    const seen = new Set<string>();
    let refused = 0;
    const note = (key: string, first: Omit<Heard, 'packets' | 'lost'>, sequence: number): void => {
      let source = heard.get(key);
      if (!source) {
        if (heard.size >= MOST_SOURCES) return;
        heard.set(key, (source = { ...first, packets: 0, lost: 0 }));
      } else if (!(first.protocol === 'artnet' && (sequence === 0 || source.sequence === 0))) {
        const step =
          first.protocol === 'sacn'
            ? sequenceStep(source.sequence, sequence)
            : (sequence - source.sequence + 255) % 255;
        if (step > 1 && step < 128) source.lost += step - 1;
      }
      source.sequence = sequence;
      source.name = first.name;
      source.priority = first.priority;
      source.packets++;
    };
    const takeSacn = (packet: Uint8Array): void => {
      const decoded = decodeSacn(packet);
      if (!decoded.ok) {
        refused++;
        return;
      }
      const { cid, sourceName, universe, priority, sequence, startCode } = decoded.value;
      if (startCode !== 0) return;
      note(`sacn/${cid}/${universe}`, { protocol: 'sacn', name: sourceName, universe, priority, sequence }, sequence);
    };
    const takeArtNet = (packet: Uint8Array, from: string): void => {
      const decoded = decodeArtNet(packet);
      if (!decoded.ok) refused++;
      else if (decoded.value.op === 'dmx') {
        const { portAddress, sequence } = decoded.value;
        note(
          `artnet/${from}/${portAddress}`,
          { protocol: 'artnet', name: from, universe: portAddress, priority: null, sequence },
          sequence,
        );
      }
    };
    const once = onceEach(takeSacn, seen);
    const sockets: dgram.Socket[] = [];
    try {
      await joinAll(universes, once, sockets);
      sockets.push(await open(SACN_PORT, once), await open(ARTNET_PORT, takeArtNet));
      await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
    } finally {
      for (const socket of sockets) socket.close();
    }
    const sources = [...heard.values()]
      .map(({ protocol, name, universe, priority, packets, lost }) => ({
        protocol,
        name,
        universe,
        priority,
        packets,
        rate: Math.round((packets / seconds) * 10) / 10,
        lost,
      }))
      .sort((a, b) => a.protocol.localeCompare(b.protocol) || a.universe - b.universe || a.name.localeCompare(b.name));
    return { output: { sources, refused } };
  },
};

/**
 * A multicast packet reaches every socket bound to the port that is a member on this machine: the same packet
 * (source, universe, sequence) within a short while is counted once.
 */
function onceEach(take: (packet: Uint8Array) => void, seen: Set<string>): (packet: Uint8Array, from: string) => void {
  let order: string[] = [];
  return (packet, from) => {
    if (packet.length >= 126) {
      const key = `${from}/${Buffer.from(packet.subarray(22, 38)).toString('base64')}/${packet[113]}.${packet[114]}/${packet[111]}`;
      if (seen.has(key)) return;
      seen.add(key);
      order.push(key);
      if (order.length > 4096) {
        for (const old of order.slice(0, 2048)) seen.delete(old);
        order = order.slice(2048);
      }
    }
    take(packet);
  };
}
