import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { actionSchema } from './action.ts';
import { addressSchema, nameSchema, notesSchema, universeSchema } from './common.ts';
import { ipv4Schema } from './output.ts';

/** One universe that comes in and which of ours it belongs to. */
const inputUniverseSchema = z.strictObject({
  /** sACN universe 1-63999, or Art-Net port-address 0-32767. */
  wireUniverse: z.int('must be a whole number').min(0, 'must be 0-63999').max(63_999, 'must be 0-63999'),
  universe: universeSchema,
});

/** What a slot of the other desk works here. */
export const slotControlSchema = z.strictObject({
  wireUniverse: z.int().min(0).max(63_999),
  address: addressSchema,
  does: actionSchema,
});
export type SlotControl = z.infer<typeof slotControlSchema>;

/** Another desk whose universes come in over the network. */
export const inputSchema = z.strictObject({
  kind: z.literal('input'),
  id: idSchema('input'),
  name: nameSchema,
  protocol: z.enum(['sacn', 'artnet']),
  enabled: z.boolean().default(true),
  /** Own interface it is listened on; null for all. */
  interfaceAddress: ipv4Schema.nullable().default(null),
  /** Only packets from this address; null for whoever sends. */
  from: ipv4Schema.nullable().default(null),
  /**
   * `show`: seen on the plot and the monitor, not sent on. `htp`: slot by slot the higher of ours and theirs goes out.
   * `takeover`: theirs goes out instead of ours while its priority is at least `priority`. `control`: only slots that
   * work something.
   */
  use: z.enum(['show', 'htp', 'takeover', 'control']).default('show'),
  /** Lowest sACN priority that takes over. Art-Net has none and counts as 100. */
  priority: z.int().min(0, 'must be 0-200').max(200, 'must be 0-200').default(100),
  universes: z.array(inputUniverseSchema).max(512).default([]),
  controls: z.array(slotControlSchema).max(512).default([]),
  notes: notesSchema.default(''),
});
export type InputRecord = z.infer<typeof inputSchema>;
