import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import type { ShowId } from '../core/ids.ts';
import type { AnyRecord } from '../core/records/index.ts';
import type { LiveState } from '../core/show/index.ts';
import { KeptFile } from './kept-file.ts';
import type { ToFrameThread } from './shared.ts';

/** What frames are made of, ready to be sent again before anything is loaded or compiled. */
export interface KeptFrames {
  /** The program that made them (`Frames`): another one's are laid out otherwise, perhaps. */
  readonly program: number;
  readonly atMs: number;
  /** Universes of the rig: so many times 512 bytes are a frame. */
  readonly universes: number;
  readonly message: Omit<ToFrameThread, 'bytes' | 'inputs'>;
}

export interface KeptLive {
  /** The version of all records in it; what was kept before it stood there is of version 6. */
  readonly version?: number;
  readonly showId: ShowId | null;
  readonly revision: number;
  readonly live: LiveState;
  readonly atMs: number;
}

/** The show that plays, to go on without a database. */
export interface KeptShow extends KeptLive {
  /** When its revision was made: tells it from another show of the same name and number. */
  readonly stamp: string | null;
  readonly records: readonly AnyRecord[];
  readonly hubKeys: Readonly<Record<string, string>>;
}

/** A restarted engine goes on this far ahead in its sequence numbers, past what it may have sent since they were kept. */
const SEQUENCE_LEAP = 64;
/** An engine that wrote its numbers this short a time ago died; it was not stopped. */
const CRASHED_MS = 3000;
/** A wall clock that was set by more than this was not right before: a restart takes what it says now. */
const MOST_AHEAD_MS = 3_600_000;

/**
 * The engine's own folder: what it needs to go on after a restart with nothing but itself, also when the disk is full
 * or the database is gone.
 */
export class KeptState {
  readonly frames: KeptFile;
  readonly show: KeptFile;
  readonly live: KeptFile;
  readonly sequences: KeptFile;
  readonly clock: KeptFile;
  readonly #folder: string;

  constructor(dataDir: string) {
    this.#folder = join(dataDir, 'engine');
    mkdirSync(this.#folder, { recursive: true });
    const file = (name: string): KeptFile => new KeptFile(join(this.#folder, name));
    this.frames = file('frames');
    this.show = file('show');
    this.live = file('live');
    this.sequences = file('sequences');
    this.clock = file('clock');
    // Where earlier versions kept the numbers.
    rmSync(join(dataDir, 'engine-sequences.json'), { force: true });
  }

  /**
   * The identifier receivers know this engine by (ANSI E1.31 5.6), 16 bytes; made once. `earlier` is one that was kept
   * elsewhere before.
   */
  cid(earlier: string | null = null): Uint8Array {
    const path = join(this.#folder, 'cid');
    const known = read(() => readFileSync(path, 'utf8').trim());
    if (known && /^[0-9a-f]{32}$/.test(known)) return Buffer.from(known, 'hex');
    const made = earlier && /^[0-9a-f]{32}$/.test(earlier) ? earlier : uuid();
    writeFileSync(path, `${made}\n`);
    return Buffer.from(made, 'hex');
  }
  get hasCid(): boolean {
    return read(() => readFileSync(join(this.#folder, 'cid'))) !== null;
  }

  /** How far the clock of the show was ahead of the wall clock, ms; 0 where that is not known, or too far to be meant. */
  readAhead(): number {
    const ahead = decoded<{ ahead: unknown }>(this.clock)?.ahead;
    return typeof ahead === 'number' && Math.abs(ahead) <= MOST_AHEAD_MS ? ahead : 0;
  }

  /** Null where another program made them. */
  readFrames(program: number): KeptFrames | null {
    const kept = decoded<KeptFrames>(this.frames);
    return kept?.program === program ? kept : null;
  }
  /** What is in the files of the show and of what plays; null where nothing sound is. */
  readShowFiles(): { readonly show: KeptShow | null; readonly live: KeptLive | null } {
    return { show: decoded<KeptShow>(this.show), live: decoded<KeptLive>(this.live) };
  }

  /** Sequence numbers to go on from, by route, and whether whoever sent them died a moment ago. */
  readSequences(nowMs: number): { numbers: Record<string, number>; crashed: boolean } {
    const kept = decoded<{ atMs: number; ended: boolean; numbers: Record<string, number> }>(this.sequences);
    if (!kept) return { numbers: {}, crashed: false };
    return {
      numbers: Object.fromEntries(
        Object.entries(kept.numbers).map(([key, value]) => [key, (value + SEQUENCE_LEAP) & 0xff]),
      ),
      crashed: !kept.ended && Math.abs(nowMs - kept.atMs) < CRASHED_MS,
    };
  }
}

export const encoded = (value: KeptFrames | KeptShow | KeptLive | object): Uint8Array => serialize(value);

function decoded<T>(file: KeptFile): T | null {
  const bytes = file.read();
  return bytes && read(() => deserialize(bytes) as T);
}

/** Null where it cannot be read: it is as if nothing had been kept. */
function read<T>(job: () => T): T | null {
  try {
    return job();
  } catch {
    return null;
  }
}

/** A random identifier as RFC 4122 has it (version 4), in hexadecimal without dashes. */
function uuid(): string {
  const bytes = randomBytes(16);
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  return bytes.toString('hex');
}
