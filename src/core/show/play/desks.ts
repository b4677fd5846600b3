import { MAX_SLOTS } from '../../units.ts';

/** A universe of another desk and how it is merged with ours: the higher of each slot, or theirs whole. */
export interface MergedInput {
  /** Ours that it is merged with. */
  readonly universe: number;
  readonly use: 'htp' | 'takeover';
}

/** What comes in, for each merged input by place. */
export interface Incoming {
  /** The 512 slots, or null while nothing that counts comes in. */
  read(entry: number): Uint8Array | null;
  /** 1 for each slot that counts; null where all do. */
  marks(entry: number): Uint8Array | null;
}

/** Universes of other desks that are merged into a frame. */
export interface Desks {
  readonly entries: readonly MergedInput[];
  readonly incoming: Incoming;
}

/**
 * Lays the universes of other desks over a frame of ours (512 bytes for each of `universes`), last of all: they are
 * another desk's light, and our masters and limits don't touch them. Those of universes we do not have are left out.
 * Allocates nothing.
 */
export function layDesks(universes: Uint16Array, bytes: Uint8Array, { entries, incoming }: Desks): void {
  for (let entry = 0; entry < entries.length; entry++) {
    const theirs = incoming.read(entry);
    if (!theirs) continue;
    const { universe, use } = entries[entry]!;
    const index = universes.indexOf(universe);
    if (index < 0) continue;
    const marks = incoming.marks(entry);
    const at = index * MAX_SLOTS;
    const whole = use === 'takeover';
    for (let i = 0; i < MAX_SLOTS; i++) {
      if (marks && marks[i] !== 1) continue;
      const value = theirs[i]!;
      if (whole || value > bytes[at + i]!) bytes[at + i] = value;
    }
  }
}
