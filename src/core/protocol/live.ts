import { z } from 'zod';
import type { ChangeSet } from '../document/change.ts';
import type { FieldDifference } from '../document/difference.ts';
import type { Fault } from '../faults.ts';
import { anyIdSchema, idSchema, litIdSchema, type UnitId } from '../ids.ts';
import { recordSchema, type AnyRecord } from '../records/index.ts';
import { liveCommandSchema, probeSchema, type LiveState } from '../show/index.ts';
import { testRequestSchema } from '../signal/index.ts';
import type { SongFault } from '../records/song.ts';
import { listeningSchema, type Listening } from '../music/listening.ts';
import { earSourceSchema } from '../show/live/ear.ts';
import type { EngineHealth } from './link.ts';
import { networkAskSchema, type NetworkAnswer } from './network.ts';
import type { NetworkDelta } from './network-diff.ts';
import type { StandinReport } from './standin.ts';

/** Most records in one edit. */
export const EDIT_LIMIT = 20_000;

export const changeSetSchema = z.strictObject({
  put: z.array(recordSchema).max(EDIT_LIMIT, `at most ${EDIT_LIMIT} records in one edit`).default([]),
  remove: z.array(anyIdSchema).max(EDIT_LIMIT).default([]),
});

const requestId = z
  .int()
  .min(0)
  .max(2 ** 31);
export const labelSchema = z.string().min(1).max(120);

/** Browser to server over `/live`. Every request has an id and gets one reply with the same id. */
export const clientMessageSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('edit'),
    id: requestId,
    base: z.int().min(0),
    label: labelSchema,
    change: changeSetSchema,
    /** What plays goes on as it was until it is taken live. */
    blind: z.boolean().optional(),
  }),
  /** Takes back this browser's own newest edit, or the one of a revision, whoever made it. */
  z.strictObject({
    type: z.literal('undo'),
    id: requestId,
    revision: z.int().min(1).optional(),
    blind: z.boolean().optional(),
  }),
  z.strictObject({ type: z.literal('redo'), id: requestId, blind: z.boolean().optional() }),
  z.strictObject({ type: z.literal('command'), id: requestId, command: liveCommandSchema }),
  /** Units this page holds alight; let go when the page goes away. */
  z.strictObject({ type: z.literal('identify'), id: requestId, units: z.array(litIdSchema).max(20_000) }),
  /** What this page tries a profile with; ends when the page goes away. */
  z.strictObject({ type: z.literal('probe'), id: requestId, probe: probeSchema.nullable() }),
  /** A test signal; ends when the page goes away, and within 5 s of the last `testAlive`. */
  z.strictObject({ type: z.literal('test'), id: requestId, test: testRequestSchema.nullable() }),
  z.strictObject({ type: z.literal('testAlive'), id: requestId }),
  /** Asks something of the network; the answer comes as `answer`. RDM identify ends when the page goes away. */
  z.strictObject({ type: z.literal('ask'), id: requestId, ask: networkAskSchema }),
  /** Who walks here and at which unit they stand; null ends the walk. Ends when the page goes away. */
  z.strictObject({
    type: z.literal('walk'),
    id: requestId,
    walk: z
      .strictObject({ name: z.string().max(60, 'at most 60 characters'), unitId: idSchema('unit').nullable() })
      .nullable(),
  }),
  z.strictObject({ type: z.literal('watch'), id: requestId, frames: z.boolean() }),
  /** The page that plays the sound is there, and its sound so far off the show, ms; null while nothing sounds. */
  z.strictObject({
    type: z.literal('sound'),
    id: requestId,
    key: z.string().min(1).max(60),
    offMs: z.number().min(-1e6).max(1e6).nullable(),
  }),
  /** What the ear of this page hears, for all other pages; null: it listens no more. */
  z.strictObject({
    type: z.literal('ear'),
    id: requestId,
    source: earSourceSchema,
    listening: listeningSchema.nullable(),
  }),
]);
export type ClientMessage = z.infer<typeof clientMessageSchema>;

/** What one browser can undo. */
export interface UndoInfo {
  /** What undo and redo would turn back, in words; null when there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
}

export interface SystemState {
  readonly engine: EngineHealth | null;
  readonly standins: StandinReport | null;
  readonly database: 'up' | 'down';
  /** Room on the disk of the data folder; null where the system does not say. */
  readonly disk: 'full' | 'low' | 'fine' | null;
}

/** Somebody on the address walk, and the unit they stand at. */
export interface Walker {
  readonly clientId: string;
  readonly name: string;
  readonly unitId: UnitId | null;
}

/** Server to browser. Frames come beside these as binary messages (`encodeFrame`). */
export type ServerMessage =
  | {
      readonly type: 'welcome';
      /** The build of the pages the server gives out; null in development. A page of another reloads itself. */
      readonly pages: string | null;
      readonly clientId: string;
      readonly show: {
        readonly showId: string;
        readonly revision: number;
        readonly records: readonly AnyRecord[];
      } | null;
      readonly history: UndoInfo;
      readonly live: LiveState | null;
      readonly liveSeq: number;
      readonly now: number;
      readonly universes: readonly number[];
      readonly system: SystemState;
      /** How far each song is that is heard now, 0-1. */
      readonly hearing: Readonly<Record<string, number>>;
    }
  | { readonly type: 'hearing'; readonly shares: Readonly<Record<string, number>> }
  /** The page that plays the sound is there. */
  | { readonly type: 'sound'; readonly key: string; readonly offMs: number | null; readonly trouble?: SongFault }
  /** What an ear hears that the tempo follows, or what is wrong with it. */
  | { readonly type: 'ear'; readonly source: string; readonly listening: Listening }
  | {
      readonly type: 'ear';
      readonly source: string;
      readonly trouble: { readonly message: string; readonly remedy: string };
    }
  | {
      readonly type: 'change';
      readonly revision: number;
      readonly change: ChangeSet;
      /** The browser (or script) it came from, and the page of it. `history` is what that one can undo now. */
      readonly author: string;
      readonly origin: string | null;
      readonly action: 'edit' | 'undo' | 'redo';
      readonly label: string;
      readonly history: UndoInfo;
    }
  | {
      readonly type: 'reply';
      readonly id: number;
      readonly faults: readonly Fault[] | null;
      readonly revision: number | null;
      readonly label: string | null;
    }
  | {
      readonly type: 'live';
      readonly live: LiveState | null;
      readonly now: number;
      readonly universes: readonly number[];
      /** Number of this state: each difference that follows has the next. */
      readonly seq: number;
    }
  /** What changed of the live state since the one before. A page that has missed one starts afresh. */
  | { readonly type: 'liveChange'; readonly difference: FieldDifference; readonly now: number; readonly seq: number }
  /** `now`: the clock of the show, as in all messages that say it. */
  | { readonly type: 'system'; readonly system: SystemState; readonly now: number }
  /** What changed of the network; `whole`: all there is. */
  | { readonly type: 'network'; readonly delta: NetworkDelta; readonly whole: boolean }
  | {
      readonly type: 'answer';
      readonly id: number;
      readonly answer: NetworkAnswer | null;
      readonly faults: readonly Fault[] | null;
    }
  | { readonly type: 'walkers'; readonly walkers: readonly Walker[] }
  /** Somebody else's later edit won over a field this page had changed. */
  | { readonly type: 'overwritten'; readonly label: string; readonly fields: readonly string[] }
  | { readonly type: 'fault'; readonly faults: readonly Fault[] };
