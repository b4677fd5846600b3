import { z } from 'zod';

/** How a stand-in misbehaves, to see what the program makes of it. All 0 and false: not at all. */
export const misbehaviourSchema = z.strictObject({
  /** Packets in a hundred that are lost, both ways. */
  lossPercent: z.number().min(0, 'must be 0-100').max(100, 'must be 0-100').default(0),
  delayMs: z.number().min(0).max(5000, 'at most 5000 ms').default(0),
  /** Up to so much more, at random. */
  jitterMs: z.number().min(0).max(5000, 'at most 5000 ms').default(0),
  /** Packets in a hundred that arrive after the next one. */
  reorderPercent: z.number().min(0).max(100).default(0),
  duplicatePercent: z.number().min(0).max(100).default(0),
  /** Answers in a hundred that are rubbish. */
  rubbishPercent: z.number().min(0).max(100).default(0),
  /** Neither hears nor answers: unplugged. */
  vanished: z.boolean().default(false),
});
export type Misbehaviour = z.infer<typeof misbehaviourSchema>;
export const WELL_BEHAVED: Misbehaviour = misbehaviourSchema.parse({});
export const behavesWell = (m: Misbehaviour): boolean => !m.vanished && Object.values(m).every((v) => !v);

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
  /** How many sources it hears there. */
  sources: z.int(),
  slots: z.string(),
  /** RDM devices behind the port. */
  rdm: z.int(),
});
export const STANDIN_KINDS = ['sacn', 'artnet', 'pixels', 'usb', 'hub', 'string', 'console'] as const;
export type StandinKind = (typeof STANDIN_KINDS)[number];
export const standinSchema = z.strictObject({
  id: z.string(),
  kind: z.enum(STANDIN_KINDS),
  name: z.string(),
  /** IP address, `host:port`, or path of a serial port. */
  address: z.string(),
  misbehaviour: misbehaviourSchema,
  /** Packets that were not sound, and packets for universes it has no port for. */
  refused: z.int(),
  elsewhere: z.int(),
  polls: z.int(),
  syncs: z.int(),
  ports: z.array(standinPortSchema),
  /** A hub's lamps and their colour (`#rrggbb`). */
  lamps: z.array(z.strictObject({ id: z.string(), name: z.string(), colour: z.string(), updates: z.int() })),
  /** Until when the button of a hub counts as pressed. */
  buttonUntilMs: z.number().nullable(),
  /** What a console sends; null for everything else. */
  sends: z.strictObject({ on: z.boolean(), universe: z.int(), priority: z.int(), level: z.number() }).nullable(),
});
export const standinReportSchema = z.strictObject({
  pid: z.int(),
  now: z.number(),
  gateways: z.array(standinSchema),
});
export type StandinPort = z.infer<typeof standinPortSchema>;
export type Standin = z.infer<typeof standinSchema>;
export type StandinReport = z.infer<typeof standinReportSchema>;

/** What people and tests do to a stand-in. */
export const standinOrderSchema = z.strictObject({
  id: z.string().min(1).max(64),
  misbehave: misbehaviourSchema.optional(),
  /** Presses the button of a hub. */
  press: z.literal(true).optional(),
  sends: z
    .strictObject({
      on: z.boolean(),
      universe: z.int().min(1, 'must be 1-63999').max(63_999, 'must be 1-63999'),
      priority: z.int().min(0, 'must be 0-200').max(200, 'must be 0-200'),
      level: z.number().min(0, 'must be 0-1').max(1, 'must be 0-1'),
    })
    .optional(),
});
export type StandinOrder = z.infer<typeof standinOrderSchema>;
