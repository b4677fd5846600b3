import { seeded } from '../core/random.ts';
import { STANDIN_KINDS, misbehaviourSchema, type StandinKind } from '../core/protocol/standin.ts';
import { uidOfNumber } from '../core/protocol/rdm.ts';
import { makeClock } from '../engine/clock.ts';
import { Console } from '../standins/console.ts';
import type { StandinDevice } from '../standins/device.ts';
import { Gateway } from '../standins/gateway.ts';
import { StandinHost } from '../standins/host.ts';
import { LampHub } from '../standins/lamp-hub.ts';
import { MappedStringDevice } from '../standins/mapped-string.ts';
import { RdmResponder } from '../standins/rdm-responder.ts';
import { UsbInterface } from '../standins/usb.ts';
import {
  addressOption,
  numberOption,
  oneWord,
  unusable,
  type Arguments,
  type Command,
  type CommandTable,
} from './command.ts';
import { numbersOf } from './ranges.ts';

const MOST_RDM = 500;
const HTTP_PORT = 8430;

const standin: Command = {
  usage: `standin ${STANDIN_KINDS.join('|')} [--address ADDRESS] [--universes 1-4] [--rdm N] [--path PATH] [--to ADDRESS] [--priority N] [--seconds N] [--loss PERCENT] [--delay MS] [--jitter MS] [--reorder PERCENT] [--duplicate PERCENT] [--rubbish PERCENT]`,
  summary: 'Starts a single simulated device, until Ctrl-C or for some seconds, and says what it got.',
  run: async (args) => {
    const kind = oneWord(args, 'KIND', standin.usage) as StandinKind;
    if (!STANDIN_KINDS.includes(kind))
      throw unusable(
        'STANDIN_KIND',
        'KIND',
        `there is no stand-in “${String(kind).slice(0, 40)}”`,
        kind,
        `Kinds: ${STANDIN_KINDS.join(', ')}.`,
      );
    const misbehave = misbehaviourSchema.parse({
      lossPercent: numberOption(args, 'loss', 0, 100, 0),
      delayMs: numberOption(args, 'delay', 0, 5000, 0),
      jitterMs: numberOption(args, 'jitter', 0, 5000, 0),
      reorderPercent: numberOption(args, 'reorder', 0, 100, 0),
      duplicatePercent: numberOption(args, 'duplicate', 0, 100, 0),
      rubbishPercent: numberOption(args, 'rubbish', 0, 100, 0),
    });
    const seconds = numberOption(args, 'seconds', 0.1, 86_400, 86_400);
    const now = makeClock();
    const device = deviceOf(kind, args, now);
    device.order({ id: device.id, misbehave });
    const host = new StandinHost([device], now);
    await host.start(0, null).catch((error: unknown) => {
      host.close();
      throw unusable(
        'STANDIN_START',
        '--address',
        `the stand-in cannot start: ${(error as Error).message}`,
        args.options['address'] ?? null,
        'Give an address of this machine (all of 127.0.0.0/8 is), and end what holds the port.',
      );
    });
    const start = now();
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, seconds * 1000);
      const stop = (): void => {
        clearTimeout(timer);
        resolve();
      };
      process.once('SIGINT', stop);
      process.once('SIGTERM', stop);
    });
    const [report] = host.report().gateways;
    host.close();
    const ports = report!.ports.map(({ slots: _, ...port }) => port);
    return { output: { ...report, ports, seconds: Math.round(now() - start) / 1000 } };
  },
};

function deviceOf(kind: StandinKind, args: Arguments, now: () => number): StandinDevice {
  const random = seeded(1);
  const address = addressOption(args, 'address') ?? '127.0.0.1';
  const artnet = kind === 'artnet';
  const usual = artnet ? '0-3' : '1-4';
  const wireUniverses = numbersOf(
    args.options['universes'] ?? usual,
    'universes',
    artnet ? 0 : 1,
    artnet ? 32_767 : 63_999,
  );
  const common = { id: kind, name: `Stand-in ${kind}`, random };
  switch (kind) {
    case 'sacn':
    case 'pixels':
      return new Gateway({ ...common, kind, address, wireUniverses }, now);
    case 'artnet': {
      const count = numberOption(args, 'rdm', 0, MOST_RDM, 0);
      const responders = Array.from({ length: count }, (_, i) => responder(i));
      return new Gateway({ ...common, kind, address, wireUniverses, rdm: { [wireUniverses[0]!]: responders } }, now);
    }
    case 'usb':
      return new UsbInterface({ ...common, path: args.options['path'] ?? 'usb-port' }, now);
    case 'hub':
      return new LampHub({ ...common, host: address, port: HTTP_PORT, lamps: ['Lamp 1', 'Lamp 2', 'Lamp 3'] }, now);
    case 'string':
      return new MappedStringDevice(
        { ...common, host: address, port: HTTP_PORT, cells: 100, universe: wireUniverses[0]! },
        now,
      );
    case 'console': {
      const desk = new Console({ ...common, address, destinations: [addressOption(args, 'to') ?? '127.0.0.1'] }, now);
      const priority = numberOption(args, 'priority', 0, 200, 100);
      desk.order({ id: kind, sends: { on: true, universe: wireUniverses[0]!, priority, level: 0.6 } });
      return desk;
    }
  }
}

/** Devices spread over the range of UIDs, at successive addresses. */
const responder = (i: number): RdmResponder =>
  new RdmResponder({
    uid: uidOfNumber(0x7ff0_0000_0000 + ((i * 2_654_435_761) % 2 ** 32)),
    maker: 'Stand-in',
    model: 'Responder',
    label: `Responder ${i + 1}`,
    startAddress: (i % 512) + 1,
    personalities: [{ name: '1 channel', footprint: 1 }],
    personality: 1,
    temperature: null,
  });

export const STANDIN: CommandTable = {
  standin: {
    command: standin,
    options: [
      'address',
      'universes',
      'rdm',
      'path',
      'to',
      'priority',
      'seconds',
      'loss',
      'delay',
      'jitter',
      'reorder',
      'duplicate',
      'rubbish',
    ],
  },
};
