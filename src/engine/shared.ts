import type { Layer } from '../core/show/play/layers.ts';
import type { PreparedValues } from '../core/show/play/render.ts';
import type { Incoming, MergedInput, PreparedLive, Program, RigArrays, Safety } from '../core/show/index.ts';

/** One of our universes on its way to one address. `key` stays the same as long as receivers see the same stream. */
export interface WireRoute {
  readonly key: string;
  readonly outputId: string;
  readonly protocol: 'sacn' | 'artnet';
  readonly universe: number;
  readonly wireUniverse: number;
  readonly host: string;
  /** Art-Net: the broadcast address of the network it is on, for ArtSync; empty where none is known. */
  readonly syncHost: string;
  readonly port: number;
  readonly interfaceAddress: string | null;
  readonly multicast: boolean;
  readonly broadcast: boolean;
  readonly priority: number;
  readonly preview: boolean;
  /** sACN universe whose sync packets follow each frame; 0 for none. */
  readonly syncAddress: number;
  /** True where an ArtSync follows each frame. */
  readonly artSync: boolean;
  /** Empty for the name of the program. */
  readonly sourceName: string;
  /** Most frames a second; 0 for the rate of the show. */
  readonly rateCap: number;
  readonly slots: number;
  readonly refresh: 'frames' | 'changes';
}

/** A layer on its way to the frame thread: programs are large, sent once, and named by number. */
export type WireLayer = Omit<Layer, 'program' | 'failed'> & { readonly ref: number };
/** What plays, on its way to the frame thread. */
export type WireValues = Omit<PreparedValues, 'layers'> & { readonly layers: readonly WireLayer[] };
/** A prepared live state on its way to the frame thread. */
export type WireLive = Omit<PreparedLive, 'layers' | 'fading'> &
  WireValues & {
    readonly fading: (Omit<NonNullable<PreparedLive['fading']>, 'from'> & { readonly from: WireValues }) | null;
  };

/** The numbers of all programs that a live state names. */
export const refsOf = ({ layers, fading }: WireLive): Set<number> =>
  new Set([...layers, ...(fading?.from.layers ?? [])].map(({ ref }) => ref));

/** A live state as it is drawn, from what came over. `failed` says of a program why it was taken out. */
export function unwired(
  wire: WireLive,
  programOf: (ref: number) => Program,
  failed: (program: Program) => string | null = () => null,
): PreparedLive {
  const layersOf = (list: readonly WireLayer[]): Layer[] =>
    list.map(({ ref, ...laid }) => {
      const program = programOf(ref);
      return { ...laid, program, failed: failed(program) };
    });
  const { fading } = wire;
  return {
    ...wire,
    layers: layersOf(wire.layers),
    fading: fading && { ...fading, from: { ...fading.from, layers: layersOf(fading.from.layers) } },
  };
}

/** Main thread to frame thread. What is absent stays as it is; everything in one message takes effect in one frame. */
export interface ToFrameThread {
  readonly rig?: RigArrays;
  /** Shared memory for the frame: universes x 512 bytes. Comes with every rig. */
  readonly bytes?: SharedArrayBuffer;
  readonly live?: WireLive;
  /** Programs that layers of `live` name and that were not sent before. Those no longer named are forgotten. */
  readonly programs?: readonly (readonly [ref: number, program: Program])[];
  readonly safety?: Safety;
  readonly routes?: readonly WireRoute[];
  /** Universes of other desks that are merged into ours; the memory is an `InputMemory`. */
  readonly inputs?: { readonly memory: SharedArrayBuffer; readonly entries: readonly MergedInput[] };
  readonly frameRate?: number;
  /** Ways that packets do not leave by, with the reason. */
  readonly blocked?: Readonly<Record<string, string>>;
  /** The machine's own network is another: sockets are opened anew. */
  readonly reopen?: boolean;
  readonly stop?: boolean;
}

/**
 * Slots of other desks in memory that both threads see: for each entry a flag (0 nothing, 1 whole, 2 only the slots
 * that are marked), 512 slots and 512 marks.
 */
export class InputMemory implements Incoming {
  static bytesFor(entries: number): number {
    return entries * (4 + 1024);
  }
  readonly #flags: Int32Array;
  readonly #slots: readonly Uint8Array[];
  readonly #marks: readonly Uint8Array[];

  constructor(memory: SharedArrayBuffer) {
    const entries = memory.byteLength / (4 + 1024);
    this.#flags = new Int32Array(memory, 0, entries);
    const view = (entry: number, part: number): Uint8Array =>
      new Uint8Array(memory, entries * 4 + entry * 1024 + part * 512, 512);
    this.#slots = Array.from({ length: entries }, (_, i) => view(i, 0));
    this.#marks = Array.from({ length: entries }, (_, i) => view(i, 1));
  }

  /** `marks`: 1 for each slot that counts; null where all do. */
  write(entry: number, slots: Uint8Array | null, marks: Uint8Array | null = null): void {
    if (slots) this.#slots[entry]!.set(slots);
    if (marks) this.#marks[entry]!.set(marks);
    this.#flags[entry] = slots ? (marks ? 2 : 1) : 0;
  }
  /** The slots, or null while nothing that counts comes in. */
  read(entry: number): Uint8Array | null {
    return this.#flags[entry]! > 0 ? this.#slots[entry]! : null;
  }
  /** Which slots count; null where all do. */
  marks(entry: number): Uint8Array | null {
    return this.#flags[entry] === 2 ? this.#marks[entry]! : null;
  }
}

export interface FrameThreadStart {
  readonly stats: SharedArrayBuffer;
  /** The clock of the show (`ClockMemory`). */
  readonly clock: SharedArrayBuffer;
  readonly cid: Uint8Array;
  readonly sourceName: string;
  /** Sequence numbers to go on from, by route key. */
  readonly sequences: Readonly<Record<string, number>>;
  /** What was playing, to be sent at once; null where nothing was kept. */
  readonly first: ToFrameThread | null;
  /** True where whoever sent before died a moment ago: see `FlashGuard.suspect`. */
  readonly suspect: boolean;
}

export interface RouteStats {
  readonly outputId: string;
  readonly packets: number;
  readonly errors: number;
  readonly lastError: string | null;
}

export type FromFrameThread =
  | {
      readonly type: 'routes';
      readonly stats: readonly RouteStats[];
      readonly sequences: Readonly<Record<string, number>>;
      /** UDP ports that frames are sent from. */
      readonly ports: readonly number[];
    }
  | { readonly type: 'fault'; readonly message: string }
  /** Layers that were taken out, and whether flashes are held back. */
  | { readonly type: 'layers'; readonly failed: Readonly<Record<string, string>>; readonly flashesHeld: boolean }
  | { readonly type: 'stopped' };

const RING = 4096;
const COUNTERS = 8;

/** Counters and a ring of latenesses in memory that both threads see; written only by the frame thread. */
export class FrameStats {
  static readonly bytes = COUNTERS * 8 + RING * 4;
  readonly #counters: Float64Array;
  readonly #ring: Float32Array;

  constructor(memory: SharedArrayBuffer) {
    this.#counters = new Float64Array(memory, 0, COUNTERS);
    this.#ring = new Float32Array(memory, COUNTERS * 8, RING);
  }

  get frames(): number {
    return this.#counters[0]!;
  }
  get late(): number {
    return this.#counters[1]!;
  }
  get skipped(): number {
    return this.#counters[2]!;
  }
  /** Show-clock time of the newest frame. */
  get lastFrameMs(): number {
    return this.#counters[3]!;
  }
  /** Time the newest frame took to render and send. */
  get workMs(): number {
    return this.#counters[4]!;
  }

  record(frameMs: number, latenessMs: number, lateBeyondMs: number, workMs: number): void {
    const frames = this.#counters[0]!;
    this.#ring[frames % RING] = latenessMs;
    if (latenessMs > lateBeyondMs) this.#counters[1]!++;
    this.#counters[3] = frameMs;
    this.#counters[4] = workMs;
    this.#counters[0] = frames + 1;
  }

  skip(count: number): void {
    this.#counters[2]! += count;
  }

  /** Latenesses of the newest frames (at most `count`, at most 4,096), ascending, in ms. */
  latenesses(count: number): Float32Array {
    const known = Math.min(RING, this.frames, count);
    const found = new Float32Array(known);
    for (let i = 0; i < known; i++) found[i] = this.#ring[(this.frames - 1 - i) % RING]!;
    return found.sort();
  }
}

/** Value below which the given share of an ascending list lies; 0 for an empty one. */
export const quantile = (ascending: ArrayLike<number>, share: number): number =>
  ascending.length === 0 ? 0 : ascending[Math.min(ascending.length - 1, Math.floor(share * ascending.length))]!;
