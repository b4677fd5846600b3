import type { StandinAddresses } from '../addresses.ts';
import type { Uid } from '../core/protocol/rdm.ts';
import { Console } from './console.ts';
import type { StandinDevice } from './device.ts';
import { Gateway } from './gateway.ts';
import { LampHub } from './lamp-hub.ts';
import { MappedStringDevice } from './mapped-string.ts';
import { RdmResponder, type ResponderOptions } from './rdm-responder.ts';
import { UsbInterface } from './usb.ts';

const HERON = [
  { name: '16 channels', footprint: 16 },
  { name: '11 channels', footprint: 11 },
];
const FLITTER = [{ name: '6 channels', footprint: 6 }];
const BRAMBLE = [
  { name: '4 channels', footprint: 4 },
  { name: '8 channels', footprint: 8 },
];
type Given = Pick<ResponderOptions, 'startAddress' | 'personality' | 'label'> & Partial<ResponderOptions>;
const device = (uid: Uid, maker: string, model: string, given: Given & Pick<ResponderOptions, 'personalities'>) =>
  new RdmResponder({ uid, maker, model, temperature: null, ...given });

/**
 * Ten devices on the beam run: most are set as the rig of Copperline Rink says, one stands at the address of another,
 * one is in the wrong mode, one is not in the rig, and one answers rubbish.
 */
export const demoResponders = (): RdmResponder[] => [
  device('7ff1:0000a101', 'Quillon', 'Heron', {
    personalities: HERON,
    personality: 1,
    startAddress: 1,
    label: 'Beam 1',
    temperature: 41.5,
  }),
  device('7ff1:0000a102', 'Quillon', 'Heron', {
    personalities: HERON,
    personality: 1,
    startAddress: 17,
    label: 'Beam 2',
    temperature: 43,
  }),
  device('7ff1:0000a103', 'Quillon', 'Heron', {
    personalities: HERON,
    personality: 1,
    startAddress: 1,
    label: '',
    temperature: 39.5,
  }),
  device('7ff1:0000a104', 'Quillon', 'Heron', {
    personalities: HERON,
    personality: 2,
    startAddress: 49,
    label: 'Beam 4',
    temperature: 40,
  }),
  device('7ff5:00000b01', 'Tansy Works', 'Flitter', {
    personalities: FLITTER,
    personality: 1,
    startAddress: 65,
    label: 'Scanner L',
  }),
  device('7ff5:00000b02', 'Tansy Works', 'Flitter', {
    personalities: FLITTER,
    personality: 1,
    startAddress: 71,
    label: 'Scanner R',
  }),
  device('7ff3:00031001', 'Fernlight', 'Bramble Q', {
    personalities: BRAMBLE,
    personality: 2,
    startAddress: 81,
    label: 'North 1',
  }),
  device('7ff3:00031002', 'Fernlight', 'Bramble Q', {
    personalities: BRAMBLE,
    personality: 2,
    startAddress: 89,
    label: 'North 2',
  }),
  device('7ff2:00000777', 'Low Harbour Electric', 'Drizzle', {
    personalities: [{ name: '2 channels', footprint: 2 }],
    personality: 1,
    startAddress: 300,
    label: 'borrowed',
  }),
  device('7ff4:00000013', 'Marrow & Tine', 'Whirligig', {
    personalities: [{ name: '7 channels', footprint: 7 }],
    personality: 1,
    startAddress: 161,
    label: '',
    faulty: true,
  }),
];

const hostAndPort = (address: string): { host: string; port: number } => {
  const [host, port] = address.split(':') as [string, string];
  return { host, port: Number(port) };
};

/** Every stand-in that ships, at its address. */
export function demoStandins(at: StandinAddresses, now: () => number, random: () => number): StandinDevice[] {
  return [
    new Gateway(
      { id: 'gateway-sacn', kind: 'sacn', name: 'Beam gateway', address: at.sacn, wireUniverses: [1, 2, 3, 4], random },
      now,
    ),
    new Gateway(
      {
        id: 'gateway-artnet',
        kind: 'artnet',
        name: 'Bar gateway',
        address: at.artnet,
        wireUniverses: [0, 1, 2, 3],
        rdm: { 1: demoResponders() },
        random,
      },
      now,
    ),
    new Gateway(
      {
        id: 'pixels',
        kind: 'pixels',
        name: 'Pixel controller',
        address: at.pixels,
        wireUniverses: Array.from({ length: 16 }, (_, i) => i + 1),
        random,
      },
      now,
    ),
    new UsbInterface({ id: 'usb', name: 'USB interface', path: at.usb, random }, now),
    new LampHub(
      {
        id: 'hub',
        name: 'Ticket hut hub',
        ...hostAndPort(at.hub),
        lamps: ['Hut door', 'Hut counter', 'Hut window'],
        random,
      },
      now,
    ),
    new MappedStringDevice(
      { id: 'string', name: 'Counter tree', ...hostAndPort(at.string), cells: 100, universe: 8, random },
      now,
    ),
    new Console(
      { id: 'console', name: 'Visiting desk', address: at.console, destinations: [at.engine, at.sacn], random },
      now,
    ),
  ];
}
