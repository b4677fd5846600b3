import { spawn, spawnSync, type ChildProcess } from 'node:child_process';

/**
 * Another machine at the end of a real cable: a network namespace with one end of a veth pair. Ours is `name` with
 * 10.77.N.1, its own `far` with 10.77.N.2. Needs the rights to make one: `NetnsHost.make` gives null without.
 */
const sh = (command: string): boolean => spawnSync('sh', ['-c', command], { stdio: 'ignore' }).status === 0;

/** Prints each sACN packet as `universe sequence level-of-slot-1 time`, joined to the groups of universes 1-3. */
const LISTENER = `
const dgram = require('node:dgram');
for (const group of process.argv[2].split(',')) {
  const socket = dgram.createSocket({ type: 'udp4', reuseAddr: true });
  socket.on('message', (p) => {
    if (p.length < 127) return;
    process.stdout.write(p.readUInt16BE(113) + ' ' + p[111] + ' ' + p[126] + ' ' + (performance.timeOrigin + performance.now()) + ' ' + (group === '' ? 'u' : 'm') + '\\n');
  });
  socket.bind(5568, group || process.argv[1], () => {
    if (group) socket.addMembership(group, process.argv[1]);
  });
}
`;

export interface FarPacket {
  readonly universe: number;
  readonly sequence: number;
  readonly level: number;
  readonly at: number;
  readonly multicast: boolean;
}

let count = 0;

export class NetnsHost {
  readonly name: string;
  readonly space: string;
  readonly net: string;
  readonly packets: FarPacket[] = [];
  #listener: ChildProcess | null = null;

  private constructor(number: number) {
    this.name = `ak${process.pid % 10_000}x${number}`;
    this.space = `amber-${process.pid}-${number}`;
    this.net = `10.77.${(process.pid + number) & 255}`;
  }

  static make(): NetnsHost | null {
    const host = new NetnsHost(count++);
    if (!sh(`ip netns add ${host.space}`)) return null;
    if (host.plugIn()) return host;
    sh(`ip netns del ${host.space}`);
    return null;
  }

  get own(): string {
    return `${this.net}.1`;
  }
  get far(): string {
    return `${this.net}.2`;
  }

  /** The card is put in, with its cable. */
  plugIn(): boolean {
    const { name, space, net } = this;
    const there = sh(
      [
        `ip link add ${name} type veth peer name far netns ${space}`,
        `ip addr add ${net}.1/24 dev ${name}`,
        `ip link set ${name} up`,
        `ip netns exec ${space} ip addr add ${net}.2/24 dev far`,
        `ip netns exec ${space} ip link set far up`,
        `ip netns exec ${space} ip link set lo up`,
        `ip netns exec ${space} ip route add 239.0.0.0/8 dev far`,
      ].join(' && '),
    );
    if (there) this.#listen();
    return there;
  }
  /** The card is pulled out. */
  pullOut(): void {
    this.#listener?.kill('SIGKILL');
    sh(`ip link del ${this.name}`);
  }
  cable(state: 'in' | 'out'): void {
    sh(`ip netns exec ${this.space} ip link set far ${state === 'in' ? 'up' : 'down'}`);
    if (state === 'in') sh(`ip netns exec ${this.space} ip route replace 239.0.0.0/8 dev far`);
  }
  /** Another address in place of one, as a lease that changes. */
  address(before: string, after: string): void {
    sh(`ip addr add ${after}/24 dev ${this.name} && ip addr del ${before}/24 dev ${this.name}`);
    // Where secondary addresses go with the first one, it is there again.
    sh(`ip addr add ${after}/24 dev ${this.name}`);
  }

  #listen(): void {
    const groups = ['', ...[1, 2, 3].map((u) => `239.255.0.${u}`)].join(',');
    const child = spawn('ip', ['netns', 'exec', this.space, process.execPath, '-e', LISTENER, this.far, groups], {
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    this.#listener = child;
    let rest = '';
    child.stdout.on('data', (text: Buffer) => {
      const lines = (rest + text.toString()).split('\n');
      rest = lines.pop()!;
      for (const line of lines) {
        const [universe, sequence, level, at, kind] = line.split(' ');
        this.packets.push({
          universe: Number(universe),
          sequence: Number(sequence),
          level: Number(level),
          at: Number(at),
          multicast: kind === 'm',
        });
      }
    });
  }

  end(): void {
    this.#listener?.kill('SIGKILL');
    sh(`ip link del ${this.name}`);
    sh(`ip netns del ${this.space}`);
  }
}
