import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, notesSchema, prioritySchema } from './common.ts';

export const ipv4Schema = z
  .string()
  .regex(
    /^(25[0-5]|2[0-4]\d|1?\d?\d)(\.(25[0-5]|2[0-4]\d|1?\d?\d)){3}$/,
    'must be an IPv4 address such as 192.168.1.20',
  );

/** `host:port` of a device with an HTTP face on the local network. */
export const deviceAddressSchema = z
  .string()
  .regex(/^[A-Za-z0-9.-]{1,100}:\d{1,5}$/, 'must be an address with its port such as 192.168.1.30:80');

export const PROTOCOLS = ['sacn', 'artnet', 'serial', 'hub'] as const;
export type Protocol = (typeof PROTOCOLS)[number];
/** Protocols that go out packet by packet from the frame thread. */
export type PacketProtocol = 'sacn' | 'artnet';
export const isPacketProtocol = (protocol: Protocol): protocol is PacketProtocol =>
  protocol === 'sacn' || protocol === 'artnet';

/** A smart lamp of a hub and the unit whose colour it shows. */
export const lampSchema = z.strictObject({
  lampId: z.string().min(1).max(64),
  name: z.string().max(100),
  unitId: idSchema('unit').nullable().default(null),
});

/** A way out of the machine: a protocol, where to, and how. */
export const outputSchema = z
  .strictObject({
    kind: z.literal('output'),
    id: idSchema('output'),
    name: nameSchema,
    protocol: z.enum(PROTOCOLS),
    enabled: z.boolean().default(true),
    /** sACN only: a multicast group for each universe (ANSI E1.31 9.3.1). Otherwise to each destination. */
    multicast: z.boolean().default(false),
    destinations: z.array(ipv4Schema).max(64).default([]),
    /**
     * Art-Net only. `listed`: to the destinations. `found`: to whatever device answers the poll and has the
     * port-address. `broadcast`: to everybody on the network of the interface, only when asked for.
     */
    delivery: z.enum(['listed', 'found', 'broadcast']).default('listed'),
    /** Address of the own network interface to send from; null lets the system choose. */
    interfaceAddress: ipv4Schema.nullable().default(null),
    /** sACN priority 0-200 (ANSI E1.31 6.2.3). */
    priority: prioritySchema.default(100),
    /** sACN: marked as not for the stage (ANSI E1.31 6.2.6). */
    preview: z.boolean().default(false),
    /** sACN: universe whose sync packets follow each frame (ANSI E1.31 6.3); null for none. */
    syncUniverse: z.int().min(1, 'must be 1-63999').max(63_999, 'must be 1-63999').nullable().default(null),
    /** Art-Net: an ArtSync after each frame. */
    artSync: z.boolean().default(false),
    /** Usable slots in a universe of the devices behind this output: 512, or 510 for whole RGB pixels. */
    slotsPerUniverse: z.union([z.literal(512), z.literal(510)]).default(512),
    /** `frames`: a packet for every frame. `changes`: three repeats after a change, then a keep-alive every 0.9 s. */
    refresh: z.enum(['frames', 'changes']).default('frames'),
    /** Most frames a second for devices that cannot take more; null for the frame rate of the show. */
    frameRateCap: z.number().min(1, 'must be 1-44').max(44, 'must be 1-44').nullable().default(null),
    /** Serial: path of the port, such as /dev/ttyUSB0 or COM3. */
    serialPath: z.string().max(200, 'at most 200 characters').default(''),
    /** Serial, framed: what frames for its second port are labelled, as its manual says; null where it has one port. */
    serialLabel2: z.int().min(1, 'must be 1-255').max(255, 'must be 1-255').nullable().default(null),
    /** Serial: an interface that is given whole frames, or a bare line on which we make break and mark ourselves. */
    serialKind: z.enum(['framed', 'raw']).default('framed'),
    /** Hub of smart lamps: its address, and which lamp is which unit. */
    hubAddress: deviceAddressSchema.nullable().default(null),
    lamps: z.array(lampSchema).max(500).default([]),
    notes: notesSchema.default(''),
  })
  .refine((o) => !(o.multicast && o.protocol !== 'sacn'), {
    path: ['multicast'],
    message: 'multicast is only possible with sACN; give Art-Net destinations',
  });
export type OutputRecord = z.infer<typeof outputSchema>;
