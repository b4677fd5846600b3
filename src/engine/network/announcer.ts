import dgram from 'node:dgram';
import { recordsOf, type Document } from '../../core/document/change.ts';
import { DISCOVERY_UNIVERSE, makeSacnDiscovery } from '../../core/protocol/sacn-extended.ts';
import { multicastGroup, SACN_PORT, type SacnSource } from '../../core/protocol/sacn.ts';
import type { OutputRecord } from '../../core/records/index.ts';
import { closeQuietly } from './sockets.ts';

/** Tells the network which universes we send (ANSI E1.31 8), where we send them: one socket an own address. */
export class Announcer {
  readonly #source: SacnSource;
  readonly #sockets = new Map<string, dgram.Socket>();

  constructor(source: SacnSource) {
    this.#source = source;
  }

  announce(document: Document, outputs: readonly OutputRecord[]): void {
    const byWay = new Map<string, number[]>();
    for (const route of recordsOf(document, 'route')) {
      const output = outputs.find((o) => o.id === route.outputId);
      if (!output?.enabled || !route.enabled || output.protocol !== 'sacn') continue;
      const hosts = output.multicast ? [multicastGroup(DISCOVERY_UNIVERSE)] : output.destinations;
      for (const host of hosts) {
        const way = `${output.interfaceAddress ?? ''}>${output.multicast ? 'm' : 'u'}>${host}`;
        const list = byWay.get(way);
        if (list) list.push(route.wireUniverse);
        else byWay.set(way, [route.wireUniverse]);
      }
    }
    for (const [way, universes] of byWay) {
      const [own, kind, host] = way.split('>') as [string, string, string];
      const packets = makeSacnDiscovery(this.#source, universes);
      this.#with(own, kind === 'm', (socket) => {
        for (const packet of packets) socket.send(packet, SACN_PORT, host, () => undefined);
      });
    }
  }

  /** Hands an open socket of an own address (empty: the system chooses) to a job; nothing where it cannot be opened. */
  #with(own: string, multicast: boolean, job: (socket: dgram.Socket) => void): void {
    const key = `${own} ${multicast ? 'm' : ''}`;
    const known = this.#sockets.get(key);
    if (known) return job(known);
    const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
    // An address that cannot be reached is no reason to end: the next announcement tries again.
    socket.on('error', () => {
      if (this.#sockets.get(key) === socket) this.#sockets.delete(key);
      closeQuietly(socket);
    });
    socket.bind(0, own === '' ? '0.0.0.0' : own, () => {
      try {
        if (multicast && own !== '') socket.setMulticastInterface(own);
        this.#sockets.set(key, socket);
        job(socket);
      } catch {
        closeQuietly(socket);
      }
    });
  }

  /** The machine's own network is another. */
  renew(): void {
    for (const socket of this.#sockets.values()) closeQuietly(socket);
    this.#sockets.clear();
  }

  close(): void {
    this.renew();
  }
}
