import { z } from 'zod';

/** What the stand-in gateways say they receive. Slots are base64 of 512 bytes. */
export const standinPortSchema = z.strictObject({
  port: z.int(),
  /** sACN universe, or Art-Net port-address. */
  wireUniverse: z.int(),
  lastSeenMs: z.number().nullable(),
  packetsPerSecond: z.number(),
  packets: z.int(),
  lost: z.int(),
  source: z.string().nullable(),
  slots: z.string(),
});
export const standinGatewaySchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  protocol: z.enum(['sacn', 'artnet']),
  address: z.string(),
  /** Packets that were not sound, and packets for universes it has no port for. */
  refused: z.int(),
  elsewhere: z.int(),
  polls: z.int(),
  ports: z.array(standinPortSchema),
});
export const standinReportSchema = z.strictObject({
  pid: z.int(),
  now: z.number(),
  gateways: z.array(standinGatewaySchema),
});
export type StandinPort = z.infer<typeof standinPortSchema>;
export type StandinGateway = z.infer<typeof standinGatewaySchema>;
export type StandinReport = z.infer<typeof standinReportSchema>;
