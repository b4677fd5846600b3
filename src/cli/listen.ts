import dgram from 'node:dgram';
import { networkInterfaces } from 'node:os';
import { ARTNET_PORT, decodeArtNet } from '../core/protocol/artnet.ts';
import { decodeArtRdm, isArtRdm } from '../core/protocol/artnet-rdm.ts';
import { decodeRdm } from '../core/protocol/rdm.ts';
import { isHeard, lossOf, UniverseReceiver } from '../core/protocol/receiver.ts';
import { decodeSacn, multicastGroup, SACN_PORT } from '../core/protocol/sacn.ts';
import { numberOption, unusable, type Command, type CommandTable } from './command.ts';
import { numbersOf } from './ranges.ts';

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
const MOST_UNIVERSES = 2000;
const MOST_RDM = 2000;
/** Time to read what lies in the sockets when the listening is over. */
const READ_UP_MS = 20;

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

const listenFor: Command = {
  usage: 'listen --seconds N [--universes 1-64]',
  summary: 'Hears sACN (unicast and multicast), Art-Net and RDM on this machine; says who sends what and who wins.',
  run: async (args) => {
    const seconds = numberOption(args, 'seconds', 0.1, 3600);
    const universes = numbersOf(args.options['universes'] ?? '1-64', 'universes', 1, 63_999);
    const heard = new Map<string, Heard>();
    const seen = new Set<string>();
    let refused = 0;
    const arbiter = new Arbiter();
    const rdm = new RdmListener();
    const note = (key: string, first: Omit<Heard, 'packets' | 'lost'>, sequence: number): void => {
      let source = heard.get(key);
      if (!source) {
        if (heard.size >= MOST_SOURCES) return;
        heard.set(key, (source = { ...first, packets: 0, lost: 0 }));
      } else source.lost += lossOf(first.protocol, source.sequence, sequence);
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
      const { cid, sourceName, universe, priority, sequence, startCode, slots, terminated } = decoded.value;
      if (!isHeard(startCode)) return;
      arbiter.take('sacn', universe, { startCode, sourceId: cid, sourceName, priority, sequence, slots, terminated });
      note(`sacn/${cid}/${universe}`, { protocol: 'sacn', name: sourceName, universe, priority, sequence }, sequence);
    };
    const takeArtNet = (packet: Uint8Array, from: string): void => {
      if (isArtRdm(packet)) {
        if (!rdm.take(packet, from)) refused++;
        return;
      }
      const decoded = decodeArtNet(packet);
      if (!decoded.ok) refused++;
      else if (decoded.value.op === 'dmx') {
        const { portAddress, sequence, slots } = decoded.value;
        arbiter.take('artnet', portAddress, { sourceId: from, sourceName: from, priority: 100, sequence, slots });
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
      // On a busy machine the time is over before what has arrived in it was read.
      await new Promise((resolve) => setTimeout(resolve, READ_UP_MS));
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
    return { output: { sources, universes: arbiter.universes(), rdm: rdm.heard(), refused } };
  },
};

const milliseconds = (): number => performance.timeOrigin + performance.now();

/** Which sources win in each universe, as a receiver decides (ANSI E1.31 6.2.3). */
class Arbiter {
  readonly #receivers = new Map<string, UniverseReceiver>();

  take(protocol: 'sacn' | 'artnet', universe: number, packet: Parameters<UniverseReceiver['receive']>[0]): void {
    const key = `${protocol} ${universe}`;
    let receiver = this.#receivers.get(key);
    if (!receiver) {
      if (this.#receivers.size >= MOST_UNIVERSES) return;
      this.#receivers.set(key, (receiver = new UniverseReceiver(protocol)));
    }
    receiver.receive(packet, milliseconds());
  }

  universes(): object[] {
    const now = milliseconds();
    return [...this.#receivers].map(([key, receiver]) => {
      const [protocol, universe] = key.split(' ') as [string, string];
      const sources = receiver.sources(now);
      const top = receiver.priority(now);
      const winners = sources.filter((s) => s.priority === top).map((s) => s.name);
      const slotsUp = receiver.slots.reduce((count, v) => count + (v > 0 ? 1 : 0), 0);
      return {
        protocol,
        universe: Number(universe),
        winners,
        merged: winners.length > 1,
        others: sources.length - winners.length,
        slotsUp,
      };
    });
  }
}

/** RDM that passes over Art-Net: tables of devices and single messages. */
class RdmListener {
  readonly #heard = new Map<
    string,
    { from: string; portAddress: number; what: string; uid: string | null; count: number }
  >();

  /** False when the packet was not sound. */
  take(packet: Uint8Array, from: string): boolean {
    const decoded = decodeArtRdm(packet);
    if (!decoded.ok) return false;
    const { value } = decoded;
    if (value.op === 'todRequest')
      for (const port of value.portAddresses) this.#note(from, port, 'asks for devices', null);
    else if (value.op === 'todControl') this.#note(from, value.portAddress, 'asks to find devices anew', null);
    else if (value.op === 'todData')
      for (const uid of value.uids) this.#note(from, value.portAddress, 'has device', uid);
    else {
      const message = decodeRdm(value.message);
      if (!message.ok) return false;
      const { commandClass, pid, from: uid } = message.value;
      this.#note(
        from,
        value.portAddress,
        `command ${commandClass.toString(16)} parameter ${pid.toString(16).padStart(4, '0')}`,
        uid,
      );
    }
    return true;
  }

  #note(from: string, portAddress: number, what: string, uid: string | null): void {
    const key = `${from} ${portAddress} ${what} ${uid}`;
    const known = this.#heard.get(key);
    if (known) known.count++;
    else if (this.#heard.size < MOST_RDM) this.#heard.set(key, { from, portAddress, what, uid, count: 1 });
  }

  heard(): object[] {
    return [...this.#heard.values()];
  }
}

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

export const LISTEN: CommandTable = {
  listen: { command: listenFor, options: ['seconds', 'universes'] },
};
