import { z } from 'zod';
import { idSchema } from '../../core/ids.ts';
import { changeSetSchema, labelSchema } from '../../core/protocol/live.ts';
import { networkAskSchema } from '../../core/protocol/network.ts';
import { standinOrderSchema, standinReportSchema } from '../../core/protocol/standin.ts';
import { actionSchema } from '../../core/records/action.ts';
import { blobHashSchema } from '../../core/records/blob.ts';
import { levelSchema, nameSchema } from '../../core/records/common.ts';
import { PROTOCOLS } from '../../core/records/output.ts';
import { recordSchema } from '../../core/records/index.ts';
import { liveCommandSchema, liveStateSchema } from '../../core/show/index.ts';
import { faultSchema, type Endpoint } from './api.ts';

/** Every server route: what it takes and what it gives. `/api/openapi.json` is made from this list. */
const showId = { id: idSchema('show') };
const blobHash = { hash: blobHashSchema };
const receivedAnswer = z.object({ received: z.int(), whole: z.boolean() });
const showLine = z.object({
  id: z.string(),
  name: z.string(),
  revision: z.int(),
  changedAt: z.string(),
  open: z.boolean(),
});
const applied = z.object({ revision: z.int(), changed: z.boolean(), overwrote: z.array(z.string()) });
const processSchema = z.object({ web: z.int(), engine: z.int().nullable(), standins: z.int().nullable() });
const gatewayHealth = z.object({
  ip: z.string(),
  name: z.string().nullable(),
  lastSeenMs: z.number().nullable(),
  state: z.enum(['found', 'lost', 'silent']),
  outputs: z.array(z.object({ portAddress: z.int(), transmitting: z.boolean(), merging: z.boolean() })),
});
const outputHealth = z.object({
  id: z.string(),
  name: z.string(),
  protocol: z.enum(PROTOCOLS),
  enabled: z.boolean(),
  universes: z.int(),
  packetsPerSecond: z.number(),
  packets: z.int(),
  errors: z.int(),
  lastError: z.string().nullable(),
  says: z.string().nullable(),
  gateways: z.array(gatewayHealth).nullable(),
});
const engineHealth = z.object({
  pid: z.int(),
  now: z.number(),
  uptimeS: z.number(),
  showId: z.string().nullable(),
  revision: z.int(),
  showFaults: z.array(faultSchema),
  database: z.boolean(),
  frameRateAsked: z.number(),
  frameRateMeasured: z.number(),
  latenessP50Ms: z.number(),
  latenessP99Ms: z.number(),
  latenessMaxMs: z.number(),
  frames: z.int(),
  framesLate: z.int(),
  framesSkipped: z.int(),
  renderMs: z.number(),
  universes: z.int(),
  realtime: z.boolean(),
  flashesHeld: z.boolean(),
  failedPlays: z.record(z.string(), z.string()),
  outputs: z.array(outputHealth),
});

const soundCard = z.object({ device: z.string(), name: z.string() });

export const ENDPOINTS = {
  health: {
    method: 'GET',
    right: 'see',
    path: '/api/health',
    summary: 'State of every part: database, engine, outputs, stand-ins, and the process ids.',
    answer: z.object({
      ok: z.boolean(),
      version: z.string(),
      database: z.enum(['up', 'down']),
      disk: z.enum(['full', 'low', 'fine']).nullable(),
      engine: engineHealth.nullable(),
      outputs: z.array(outputHealth),
      standins: standinReportSchema.nullable(),
      processes: processSchema,
      pages: z.int(),
    }),
  },
  listShows: {
    method: 'GET',
    right: 'see',
    path: '/api/shows',
    summary: 'The shows on this machine.',
    answer: z.object({ shows: z.array(showLine) }),
  },
  createShow: {
    method: 'POST',
    right: 'shows',
    path: '/api/shows',
    summary: 'Makes a new, empty show.',
    body: z.strictObject({ name: nameSchema }),
    answer: z.object({ id: z.string() }),
    status: 201,
  },
  importShow: {
    method: 'POST',
    right: 'shows',
    path: '/api/shows/import',
    summary: 'Imports a show archive. A show that is here already comes in as a copy.',
    file: 'body',
    answer: z.object({ id: z.string(), copy: z.boolean() }),
    status: 201,
  },
  readShow: {
    method: 'GET',
    right: 'see',
    path: '/api/shows/{id}',
    summary: 'A show whole, with its revision.',
    params: showId,
    answer: z.object({ revision: z.int(), records: z.array(recordSchema) }),
  },
  deleteShow: {
    method: 'DELETE',
    right: 'shows',
    path: '/api/shows/{id}',
    summary: 'Deletes a show that is not open, for good.',
    params: showId,
    answer: z.object({ deleted: z.string() }),
  },
  openShow: {
    method: 'POST',
    right: 'shows',
    path: '/api/shows/{id}/open',
    summary: 'Opens a show: the engine plays it, every page shows it.',
    params: showId,
    answer: z.object({ open: z.string() }),
  },
  exportShow: {
    method: 'GET',
    right: 'see',
    path: '/api/shows/{id}/archive',
    summary: 'The show as an archive file; without the files of its songs where `songs` is "no".',
    params: showId,
    query: { songs: z.enum(['yes', 'no']).default('yes') },
    file: 'answer',
    answer: z.unknown(),
  },
  history: {
    method: 'GET',
    right: 'see',
    path: '/api/shows/{id}/history',
    summary: 'The newest 100 lines of a show’s history, newest first, and how much there is of it.',
    params: showId,
    answer: z.object({
      lines: z.array(
        z.object({
          revision: z.int(),
          at: z.string(),
          author: z.string(),
          action: z.enum(['edit', 'undo', 'redo']),
          target: z.int().nullable(),
          label: z.string(),
          kept: z.boolean(),
        }),
      ),
      size: z.object({ lines: z.int(), kept: z.int(), bytes: z.int() }),
    }),
  },
  change: {
    method: 'POST',
    right: 'edit',
    path: '/api/shows/{id}/changes',
    summary:
      'Applies a change set. `base` is the revision it was made on; what others changed since is merged field by field.',
    params: showId,
    body: changeSetSchema.extend({
      base: z.int().min(0).optional(),
      label: labelSchema.default('Edit from a script'),
      author: z.string().min(1).max(60).default('script'),
    }),
    answer: applied,
  },
  undo: {
    method: 'POST',
    right: 'edit',
    path: '/api/shows/{id}/undo',
    summary: 'Takes the newest edit of scripts back; refused where somebody has changed the same since.',
    params: showId,
    answer: applied.extend({ label: z.string() }),
  },
  redo: {
    method: 'POST',
    right: 'edit',
    path: '/api/shows/{id}/redo',
    summary: 'Does again what scripts took back last.',
    params: showId,
    answer: applied.extend({ label: z.string() }),
  },
  readBlob: {
    method: 'GET',
    right: 'see',
    path: '/api/blobs/{hash}',
    summary: 'A file that records name by its SHA-256. It never changes; ranges (RFC 9110) are served.',
    params: blobHash,
    file: 'answer',
    answer: z.unknown(),
  },
  soundCards: {
    method: 'GET',
    right: 'see',
    path: '/api/sound-cards',
    summary:
      'Sound cards of this machine: those that can be listened to, those that can play; none without alsa-utils.',
    answer: z.object({ cards: z.array(soundCard), players: z.array(soundCard) }),
  },
  songPicture: {
    method: 'GET',
    right: 'see',
    path: '/api/songs/{hash}/picture',
    summary:
      'The wave of a song and where something begins in it, as the ear drew it; it is heard first where it was not.',
    params: blobHash,
    file: 'answer',
    answer: z.unknown(),
  },
  receivedBlob: {
    method: 'GET',
    right: 'see',
    path: '/api/blobs/{hash}/received',
    summary: 'How many bytes of a file are here: its sender goes on from there.',
    params: blobHash,
    answer: receivedAnswer,
  },
  putBlob: {
    method: 'PUT',
    right: 'edit',
    path: '/api/blobs/{hash}',
    summary:
      'Brings a file in, whole or in stretches (Content-Range). What has come stays when the sender breaks off; it counts once its SHA-256 is right.',
    params: blobHash,
    file: 'body',
    answer: receivedAnswer,
  },
  live: {
    method: 'GET',
    right: 'see',
    path: '/api/live',
    summary: 'What is playing, by hand, masters, tempo.',
    answer: z.object({ live: liveStateSchema.nullable(), now: z.number() }),
  },
  command: {
    method: 'POST',
    right: 'command',
    path: '/api/live',
    summary: 'A live command to the engine: play, release, grand master, Dark, tempo, hand.',
    body: liveCommandSchema,
    answer: z.object({ done: z.literal(true) }),
  },
  act: {
    method: 'POST',
    right: 'act',
    path: '/api/actions',
    summary:
      'Does what an action says, as a key, a slot of another desk or a cue would: pressed, held (`on`) or moved to a value (0-1).',
    body: z.strictObject({ action: actionSchema, on: z.boolean().optional(), value: levelSchema.optional() }),
    answer: z.object({ done: z.literal(true) }),
  },
  universe: {
    method: 'GET',
    right: 'see',
    path: '/api/universes/{universe}',
    summary: 'The 512 slots of a universe as they are sent now.',
    params: { universe: z.string().regex(/^\d{1,5}$/, 'must be a universe number') },
    answer: z.object({ universe: z.int(), slots: z.array(z.int()) }),
  },
  network: {
    method: 'GET',
    right: 'see',
    path: '/api/network',
    summary: 'What was found: Art-Net devices, sACN sources, serial ports, RDM devices, hubs; what comes in.',
    answer: z.object({ network: z.unknown() }),
  },
  askNetwork: {
    method: 'POST',
    right: 'network',
    path: '/api/network',
    summary: 'Looks for devices, reads and sets RDM devices, pairs with hubs, reads mapped strings.',
    body: networkAskSchema,
    answer: z.object({ answer: z.unknown() }),
  },
  orderStandin: {
    method: 'POST',
    right: 'network',
    path: '/api/standins',
    summary: 'Tells a stand-in to misbehave, presses the button of a hub, or says what the second desk sends.',
    body: standinOrderSchema,
    answer: standinReportSchema,
  },
  addresses: {
    method: 'GET',
    right: 'see',
    path: '/api/addresses',
    summary: 'Where other devices on the network reach this program; none while it listens on this machine alone.',
    answer: z.object({ addresses: z.array(z.string()) }),
  },
  openapi: {
    method: 'GET',
    right: 'see',
    path: '/api/openapi.json',
    summary: 'This description.',
    answer: z.unknown(),
  },
} as const satisfies Record<string, Endpoint<z.ZodType, z.ZodType>>;
