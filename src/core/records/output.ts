import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { nameSchema, notesSchema, prioritySchema } from './common.ts';

export const ipv4Schema = z
  .string()
  .regex(
    /^(25[0-5]|2[0-4]\d|1?\d?\d)(\.(25[0-5]|2[0-4]\d|1?\d?\d)){3}$/,
    'must be an IPv4 address such as 192.168.1.20',
  );

/** A way out of the machine: a protocol, where to, and how. */
export const outputSchema = z
  .strictObject({
    kind: z.literal('output'),
    id: idSchema('output'),
    name: nameSchema,
    protocol: z.enum(['sacn', 'artnet']),
    enabled: z.boolean().default(true),
    /** sACN only: a multicast group for each universe (ANSI E1.31 9.3.1). Otherwise to each destination. */
    multicast: z.boolean().default(false),
    destinations: z.array(ipv4Schema).max(64).default([]),
    /** Address of the own network interface to send from; null lets the system choose. */
    interfaceAddress: ipv4Schema.nullable().default(null),
    /** sACN priority 0-200 (ANSI E1.31 6.2.3). */
    priority: prioritySchema.default(100),
    /** Usable slots in a universe of the devices behind this output: 512, or 510 for whole RGB pixels. */
    slotsPerUniverse: z.union([z.literal(512), z.literal(510)]).default(512),
    /** `frames`: a packet for every frame. `changes`: three repeats after a change, then a keep-alive every 0.9 s. */
    refresh: z.enum(['frames', 'changes']).default('frames'),
    notes: notesSchema.default(''),
  })
  .refine((o) => !(o.multicast && o.protocol === 'artnet'), {
    path: ['multicast'],
    message: 'multicast is only possible with sACN; give Art-Net destinations',
  });
export type OutputRecord = z.infer<typeof outputSchema>;
