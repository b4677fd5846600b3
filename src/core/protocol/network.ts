import { z } from 'zod';
import { deviceAddressSchema, ipv4Schema } from '../records/output.ts';
import type { ArtNode } from './artnet.ts';
import type { RdmDeviceInfo, RdmPersonality, RdmSensor } from './rdm-device.ts';
import { isUid, type Uid } from './rdm.ts';

/** What the engine knows of the network and the ports of the machine, as pages see it. Times are ms of its clock. */

export type Presence = 'found' | 'lost';

/** One own address that packets can be sent from. */
export interface OwnInterface {
  readonly name: string;
  readonly address: string;
  readonly netmask: string;
  readonly internal: boolean;
}

/** An Art-Net device: one ArtPollReply, that is up to four ports. */
export interface FoundNode extends Omit<ArtNode, 'shortName' | 'style'> {
  readonly name: string;
  readonly state: Presence;
  readonly lastSeenMs: number;
}

/** Another source of sACN or Art-Net on the network. */
export interface FoundSource {
  readonly protocol: 'sacn' | 'artnet';
  /** Component id (sACN) or address (Art-Net). */
  readonly id: string;
  readonly name: string;
  readonly ip: string;
  /** Highest priority it sends with; null for Art-Net, and where it only announces itself. */
  readonly priority: number | null;
  /** Universes whose data was heard, or that it says it sends. */
  readonly universes: readonly number[];
  readonly packetsPerSecond: number;
  readonly lost: number;
  readonly state: Presence;
  readonly lastSeenMs: number;
}

export interface FoundPort {
  readonly path: string;
  readonly maker: string;
  readonly serialNumber: string;
  /** True for a simulated one. */
  readonly standin: boolean;
}

export interface FoundRdm {
  readonly uid: Uid;
  readonly gatewayIp: string;
  readonly portAddress: number;
  readonly state: 'reading' | 'ready' | 'faulty' | 'lost';
  /** What is wrong with it, in words. */
  readonly fault: string | null;
  readonly info: RdmDeviceInfo | null;
  readonly maker: string;
  readonly model: string;
  readonly label: string;
  readonly software: string;
  readonly personalities: readonly RdmPersonality[];
  readonly sensors: readonly RdmSensor[];
  readonly identifying: boolean;
  readonly lastSeenMs: number;
}

/** A device with an HTTP face: a hub of smart lamps or a string that knows where its cells are. */
export interface FoundDevice {
  readonly address: string;
  readonly kind: 'lamp-hub' | 'mapped-string';
  readonly name: string;
  readonly paired: boolean;
  /** Lamps of a hub, cells of a string. */
  readonly count: number;
  readonly state: Presence;
  readonly lastSeenMs: number;
}

/** One universe of an input and how it comes in. */
export interface InputHealth {
  readonly inputId: string;
  readonly universe: number;
  readonly wireUniverse: number;
  readonly packetsPerSecond: number;
  readonly lost: number;
  readonly lastSeenMs: number | null;
  readonly sources: readonly { readonly name: string; readonly priority: number }[];
  /** True while it changes what goes out. */
  readonly merged: boolean;
}

export interface NetworkState {
  readonly now: number;
  readonly interfaces: readonly OwnInterface[];
  readonly nodes: readonly FoundNode[];
  readonly sources: readonly FoundSource[];
  readonly ports: readonly FoundPort[];
  readonly rdm: readonly FoundRdm[];
  readonly devices: readonly FoundDevice[];
  /** Addresses of devices that the operator has typed or said to be theirs: nothing is sent to any other. */
  readonly trusted: readonly string[];
  readonly inputs: readonly InputHealth[];
  /** While devices are looked for: until when. */
  readonly scanUntil: number | null;
  /** Packets that were not sound, and devices beyond what is kept. */
  readonly refused: number;
  readonly ignored: number;
  /** What keeps us from hearing, in words (a port another program holds). */
  readonly troubles: readonly string[];
}

export const EMPTY_NETWORK: NetworkState = {
  now: 0,
  interfaces: [],
  nodes: [],
  sources: [],
  ports: [],
  rdm: [],
  devices: [],
  trusted: [],
  inputs: [],
  scanUntil: null,
  refused: 0,
  ignored: 0,
  troubles: [],
};

const uidSchema = z.custom<Uid>((v) => typeof v === 'string' && isUid(v), 'must be a UID such as "7ff1:00000a01"');

/** What pages ask of the network. */
export const networkAskSchema = z.discriminatedUnion('ask', [
  /** Looks for everything for a while: polls are broadcast, ports listed, devices asked. */
  z.strictObject({ ask: z.literal('scan') }),
  /** Looks for RDM devices anew, behind one gateway or all. */
  z.strictObject({ ask: z.literal('rdmFind'), gatewayIp: ipv4Schema.nullable().default(null) }),
  z.strictObject({ ask: z.literal('rdmRead'), uid: uidSchema }),
  z.strictObject({ ask: z.literal('rdmIdentify'), uid: uidSchema, on: z.boolean() }),
  z.strictObject({
    ask: z.literal('rdmSet'),
    uid: uidSchema,
    startAddress: z.int().min(1, 'must be 1-512').max(512, 'must be 1-512').optional(),
    personality: z.int().min(1, 'must be 1-255').max(255, 'must be 1-255').optional(),
    label: z.string().max(32, 'at most 32 characters').optional(),
  }),
  /** The operator has typed an address, or says that it is theirs. */
  z.strictObject({ ask: z.literal('trustHost'), address: deviceAddressSchema }),
  /** Pairs with a hub whose button was pressed within the last 30 s. */
  z.strictObject({ ask: z.literal('hubPair'), address: deviceAddressSchema }),
  z.strictObject({ ask: z.literal('hubLamps'), address: deviceAddressSchema }),
  z.strictObject({ ask: z.literal('stringCells'), address: deviceAddressSchema }),
]);
export type NetworkAsk = z.infer<typeof networkAskSchema>;

/** What comes back: only `hubLamps` and `stringCells` bring more than that it was done. */
export type NetworkAnswer =
  | { readonly kind: 'done' }
  | { readonly kind: 'lamps'; readonly lamps: readonly HubLamp[] }
  | { readonly kind: 'string'; readonly string: MappedString };

/** The HTTP face of a hub of smart lamps; docs/formats.md describes it. */
export const deviceHelloSchema = z.object({
  kind: z.enum(['lamp-hub', 'mapped-string']),
  name: z.string().min(1).max(100),
  count: z.int().min(0).max(100_000),
});
export const hubLampSchema = z.object({
  id: z.string().min(1).max(64),
  name: z.string().max(100),
  colour: z.boolean(),
});
export type HubLamp = z.infer<typeof hubLampSchema>;
export const hubLampsSchema = z.object({ lamps: z.array(hubLampSchema).max(500) });
export const hubPairedSchema = z.object({ key: z.string().min(8).max(200) });

const unitFraction = z.number().min(0).max(1);
/** A string that knows where its cells are: places 0-1 in x, y and z, in wiring order. */
export const mappedStringSchema = z.object({
  name: z.string().min(1).max(100),
  cells: z
    .array(z.tuple([unitFraction, unitFraction, unitFraction]))
    .min(1)
    .max(20_000),
  /** Width, depth and height the fractions stand for, in metres. */
  sizeM: z.tuple([z.number().min(0.01).max(500), z.number().min(0).max(500), z.number().min(0).max(500)]),
  /** First cell (from 0) of each string, and where it listens. */
  strings: z
    .array(
      z.object({
        first: z.int().min(0),
        count: z.int().min(1),
        universe: z.int().min(1).max(63_999),
        address: z.int().min(1).max(512),
      }),
    )
    .max(64),
});
export type MappedString = z.infer<typeof mappedStringSchema>;
