import { randomBytes } from 'node:crypto';
import { ARTNET_PORT } from '../core/protocol/artnet.ts';
import { multicastGroup, SACN_PORT } from '../core/protocol/sacn.ts';
import { make } from '../core/records/index.ts';
import { applyTest, prepareTest, testRequestSchema, type TestSignal } from '../core/signal/index.ts';
import { faultsFromZod, FaultError } from '../core/faults.ts';
import { makeClock } from '../engine/clock.ts';
import { SerialOutputs } from '../engine/network/serial.ts';
import { Senders } from '../engine/senders.ts';
import type { WireRoute } from '../engine/shared.ts';
import {
  addressOption,
  numberOption,
  oneWord,
  unusable,
  type Arguments,
  type Command,
  type CommandTable,
} from './command.ts';

const FRAME_MS = 25;
const USUAL_S = 10;
/** Time sockets need to open, and the last packets to leave. */
const SETTLE_MS = 100;

interface Target {
  readonly protocol: 'sacn' | 'artnet' | 'serial';
  readonly wireUniverse: number;
  readonly host: string | null;
  readonly path: string;
}

const OUTPUT_WORDS = 'sacn:UNIVERSE[@ADDRESS] | artnet:PORTADDRESS@ADDRESS | serial:PATH';

/** `sacn:1`, `sacn:1@192.168.1.20`, `artnet:0@192.168.1.20`, `serial:/dev/ttyUSB0`. Throws FaultError. */
export function readTarget(text: string): Target {
  const serial = /^serial:(.+)$/.exec(text);
  if (serial) return { protocol: 'serial', wireUniverse: 1, host: null, path: serial[1]! };
  const found = /^(sacn|artnet):(\d{1,5})(?:@(\d{1,3}(?:\.\d{1,3}){3}))?$/.exec(text);
  const protocol = found?.[1] as 'sacn' | 'artnet' | undefined;
  const wireUniverse = Number(found?.[2]);
  const host = found?.[3] ?? null;
  const [low, high] = protocol === 'artnet' ? [0, 32_767] : [1, 63_999];
  if (!protocol || !(wireUniverse >= low && wireUniverse <= high) || (protocol === 'artnet' && host === null))
    throw unusable(
      'OUTPUT',
      'OUTPUT',
      `“${text.slice(0, 60)}” is no output`,
      text.slice(0, 120),
      `Write ${OUTPUT_WORDS}.`,
    );
  return { protocol, wireUniverse, host, path: '' };
}

/** The one signal that is asked for; a sweep of 4 slots a second where none is. */
function readSignal(args: Arguments): TestSignal {
  const given = ['sweep', 'slot', 'all', 'ramp', 'every'].filter((name) => args.options[name] !== undefined);
  if (given.length > 1)
    throw unusable('OPTION_CLASH', `--${given[1]}`, 'one signal is sent at a time', given.join(' '), 'Choose one.');
  switch (given[0]) {
    case 'slot':
      return { kind: 'slot', index: numberOption(args, 'slot', 1, 512) - numberOption(args, 'from', 1, 512, 1) };
    case 'all':
      return { kind: 'all' };
    case 'ramp':
      return { kind: 'ramp', seconds: numberOption(args, 'ramp', 0.5, 60) };
    case 'every':
      return { kind: 'every', n: numberOption(args, 'every', 1, 512), offset: 0, perSecond: 0 };
    default:
      return { kind: 'sweep', perSecond: numberOption(args, 'sweep', 0.1, 25, 4) };
  }
}

const testSignal: Command = {
  usage: `test OUTPUT [--sweep SLOTS_A_SECOND | --slot N | --all | --ramp SECONDS | --every N] [--level PERCENT] [--from N] [--to N] [--seconds N] [--priority N] [--interface ADDRESS]`,
  summary: `Sends a test signal without a show. OUTPUT: ${OUTPUT_WORDS}.`,
  run: async (args) => {
    const target = readTarget(oneWord(args, 'OUTPUT', testSignal.usage));
    const request = testRequestSchema.safeParse({
      scope: { universe: 1, from: numberOption(args, 'from', 1, 512, 1), to: numberOption(args, 'to', 1, 512, 512) },
      signal: readSignal(args),
      level: numberOption(args, 'level', 0, 100, 100) / 100,
    });
    if (!request.success) throw new FaultError(faultsFromZod(request.error, args.options, 'test'));
    const seconds = numberOption(args, 'seconds', 0.1, 3600, USUAL_S);
    const priority = numberOption(args, 'priority', 0, 200, 100);
    const own = addressOption(args, 'interface');
    const now = makeClock();
    const bytes = new Uint8Array(512);
    const raw = { bytes, ceiling: new Float32Array(512).fill(1), master: 1 };
    const startedAt = now();
    const prepared = prepareTest(new Map(), [1], { ...request.data, startedAt, until: startedAt + seconds * 1000 });
    if (!prepared)
      throw unusable('NOTHING', '--from', 'there is no slot from --from to --to', args.options, 'Give from 1 to 512.');
    const sender = target.protocol === 'serial' ? serialSender(target) : packetSender(target, priority, own, now);
    await new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
    await new Promise<void>((resolve) => {
      const timer = setInterval(() => {
        const at = now();
        bytes.fill(0);
        applyTest(prepared, raw, at);
        sender.send(bytes, at);
        if (at < startedAt + seconds * 1000) return;
        clearInterval(timer);
        resolve();
      }, FRAME_MS);
    });
    await sender.end(bytes.fill(0), now());
    const { packets, errors, lastError } = sender.counts();
    const output = { output: args.words[0], signal: request.data.signal, seconds, packets, errors, lastError };
    const silent = packets === 0;
    return {
      output,
      faults:
        silent || lastError
          ? [
              {
                code: 'NOT_SENT',
                path: 'OUTPUT',
                message: lastError ?? 'nothing was sent',
                received: args.words[0],
                remedy: 'Check address, interface and cable.',
              },
            ]
          : [],
    };
  },
};

interface TestSender {
  send(bytes: Uint8Array, now: number): void;
  end(dark: Uint8Array, now: number): Promise<void>;
  counts(): { packets: number; errors: number; lastError: string | null };
}

function packetSender(target: Target, priority: number, own: string | null, now: () => number): TestSender {
  const sacn = target.protocol === 'sacn';
  const route: WireRoute = {
    key: 'test',
    outputId: 'output:test',
    protocol: sacn ? 'sacn' : 'artnet',
    universe: 1,
    wireUniverse: target.wireUniverse,
    host: target.host ?? multicastGroup(target.wireUniverse),
    syncHost: '',
    port: sacn ? SACN_PORT : ARTNET_PORT,
    interfaceAddress: own,
    multicast: sacn && target.host === null,
    broadcast: !sacn && target.host!.endsWith('.255'),
    priority,
    preview: false,
    syncAddress: 0,
    artSync: false,
    sourceName: '',
    rateCap: 0,
    slots: 512,
    refresh: 'frames',
  };
  const senders = new Senders({ cid: randomBytes(16), name: 'Amber Kite test' }, {});
  senders.setRoutes([route], Uint16Array.of(1), now());
  return {
    send: (bytes, at) => senders.send(bytes, [bytes], at),
    end: async (dark, at) => {
      senders.send(dark, [dark], at);
      senders.terminateAll(at);
      await new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
      senders.close();
    },
    counts: () => senders.stats(now())[0] ?? { packets: 0, errors: 0, lastError: null },
  };
}

function serialSender(target: Target): TestSender {
  const serial = new SerialOutputs([]);
  const output = make('output', {
    id: 'output:test',
    name: 'Test',
    protocol: 'serial',
    serialPath: target.path,
  });
  serial.setOutputs([output]);
  let counts = { packets: 0, errors: 0, lastError: null as string | null };
  return {
    send: (bytes, at) => serial.send((_, port) => (port === 1 ? bytes : null), at),
    end: async (dark, at) => {
      await new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
      serial.send((_, port) => (port === 1 ? dark : null), at + SETTLE_MS);
      await new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
      counts = serial.healthOf(output.id) ?? counts;
      serial.close();
    },
    counts: () => counts,
  };
}

export const TEST_SIGNAL: CommandTable = {
  test: {
    command: testSignal,
    options: ['sweep', 'slot', 'all!', 'ramp', 'every', 'level', 'from', 'to', 'seconds', 'priority', 'interface'],
  },
};
