import {
  applyChange,
  documentOf,
  getRecord,
  recordsOf,
  type ChangeSet,
  type Document,
} from '../core/document/change.ts';
import { touchOf } from '../core/document/touch.ts';
import { describe, type AnyRecord, type OutputRecord } from '../core/records/index.ts';
import { madeOfAims } from '../core/aim/solutions.ts';
import { aimIn } from '../core/records/scene.ts';
import { isPacketProtocol } from '../core/records/output.ts';
import { ARTNET_PORT } from '../core/protocol/artnet.ts';
import { songPlays } from '../core/timeline/light.ts';
import { SACN_PORT, multicastGroup } from '../core/protocol/sacn.ts';
import {
  compileRig,
  partsOf,
  prepareLive,
  pruneLive,
  Programs,
  reanchor,
  type CompiledRig,
  type LiveState,
  type Play,
  type Program,
} from '../core/show/index.ts';
import { MAX_SLOTS } from '../core/units.ts';
import { HandCompiler } from '../core/show/rig/values.ts';
import { movesHeads, prepareSettling, settlingOver } from '../core/show/live/settle.ts';
import type { PreparedLive, PreparedValues } from '../core/show/play/render.ts';
import type { ToFrameThread, WireRoute, WireValues } from './shared.ts';

/** What an edit means: what the frame thread has to know, and whether ways out or in are others. */
interface Edited {
  readonly message: ToFrameThread;
  readonly ways: boolean;
}

/**
 * The show as the engine holds it: compiles what a change touched, off the frame path, and says what the frame thread
 * has to know.
 */
export class Player {
  #document: Document = new Map();
  /** The document with what was edited blind as it was before. */
  #played: Document = this.#document;
  #rig: CompiledRig = compileRig(new Map());
  #live: LiveState;
  readonly #programs = new Programs();
  /** Programs of what fades out. */
  readonly #fading = new Programs();
  readonly #hands = new HandCompiler();
  /** The show that the live state was pruned for: commands name only what is there. */
  #prunedFor: Document | null = null;
  /** Programs the frame thread has, with their numbers. */
  #sent = new Map<Program, number>();
  #nextRef = 1;
  #slots: ReadonlyMap<number, Uint8Array> = new Map();
  /** What plays as it was told last. */
  #prepared: PreparedLive | null = null;
  readonly #now: () => number;

  /** The clock tells which blocks of a song are near. */
  constructor(live: LiveState, now: () => number = () => performance.timeOrigin + performance.now()) {
    this.#live = live;
    this.#now = now;
  }

  get document(): Document {
    return this.#document;
  }
  /** The document as it plays: what was edited blind is as it was before. */
  get played(): Document {
    return this.#played;
  }
  get live(): LiveState {
    return this.#live;
  }
  get universes(): number[] {
    return [...this.#rig.arrays.universes];
  }
  /** The slots of each universe, in order, in the memory that the frame thread writes; the same list until there is another rig. */
  get slots(): ReadonlyMap<number, Uint8Array> {
    return this.#slots;
  }
  get frameRate(): number {
    return recordsOf(this.#document, 'show')[0]?.frameRate ?? 40;
  }

  /** Another show, whole. */
  load(records: readonly AnyRecord[], live: LiveState): ToFrameThread {
    this.#document = documentOf(records);
    this.#live = live;
    this.#programs.clear();
    this.#fading.clear();
    return { ...this.#rigMessage(), ...this.#settings() };
  }

  /** An edit of the show that is loaded. One made blind does not reach what plays until that is taken live. */
  edit(change: ChangeSet, nowMs: number, blind = false): Edited {
    const touch = touchOf(this.#document, change);
    const before = this.#played;
    const drawn = this.#prepared && !blind && movesHeads(before, change) && { rig: this.#rig, live: this.#prepared };
    this.#hold(change, blind);
    this.#document = applyChange(this.#document, change);
    this.#played = this.#overlaid();
    this.#live = reanchor(this.#live, before, this.#played, nowMs);
    if (drawn) this.#live = { ...this.#live, settling: null };
    let message = touch.rig ? this.#rigMessage() : touch.programs ? this.liveMessage() : {};
    if (drawn && message.live) {
      const settling = settlingOver(drawn, { rig: this.#rig, live: this.#prepared! }, nowMs);
      if (settling) {
        const prepared = prepareSettling(this.#rig, settling);
        this.#live = { ...this.#live, settling };
        this.#prepared = { ...this.#prepared!, settling: prepared };
        message = { ...message, live: { ...message.live, settling: prepared } };
      }
    }
    return { message: touch.ways ? { ...message, ...this.#settings() } : message, ways: touch.rig || touch.ways };
  }

  /** What plays from now on; `liveMessage` says it to the frame thread. */
  take(live: LiveState): void {
    this.#live = live;
  }
  setLive(live: LiveState): ToFrameThread {
    this.take(live);
    return this.liveMessage();
  }

  #settings(): Pick<ToFrameThread, 'frameRate' | 'safety'> {
    const safety = recordsOf(this.#document, 'show')[0]?.safety;
    return { frameRate: this.frameRate, ...(safety ? { safety } : {}) };
  }

  /** Keeps what plays as it was before a blind edit; an edit that is not blind counts at once. */
  #hold(change: ChangeSet, blind: boolean): void {
    const ids = [...change.put.map((r) => r.id), ...change.remove];
    const kept = this.#live.held.filter((record) => blind || !ids.includes(record.id));
    if (blind) {
      const used = this.#used();
      for (const id of ids) {
        const record = this.#played.get(id);
        if (record && describe(record.kind).madeOf === 'program' && used.has(record) && !kept.some((k) => k.id === id))
          kept.push(record);
      }
    }
    if (kept.length !== this.#live.held.length) this.#live = { ...this.#live, held: kept };
  }

  /** Records that anything that plays is made of. */
  #used(): ReadonlySet<AnyRecord | undefined> {
    const { playing, handEffects, hand } = this.#live;
    const used = [...playing, ...handEffects].flatMap((p) => partsOf(this.#played, p.target, p.spec));
    const aims = Object.values(hand).some((own) => aimIn(own) !== null);
    return new Set([...used, ...(aims ? madeOfAims(this.#played) : [])]);
  }

  #overlaid(): Document {
    return withHeld(this.#document, this.#live.held);
  }

  #rigMessage(): ToFrameThread {
    this.#rig = compileRig(this.#document);
    const universes = [...this.#rig.arrays.universes];
    const bytes = new SharedArrayBuffer(universes.length * MAX_SLOTS);
    this.#slots = new Map(universes.map((u, i) => [u, new Uint8Array(bytes, i * MAX_SLOTS, MAX_SLOTS)]));
    return {
      rig: this.#rig.arrays,
      bytes,
      ...this.liveMessage(),
    };
  }

  /** What plays, ready for the frame thread: several commands may be told in one. */
  liveMessage(): ToFrameThread {
    this.#played = this.#overlaid();
    if (this.#prunedFor !== this.#played) this.#live = pruneLive(this.#live, (id) => this.#played.has(id));
    this.#prunedFor = this.#played;
    this.#letHeldGo();
    const { fading: out } = this.#live;
    const before = out && withHeld(this.#document, out.held);
    const light = songPlays(this.#played, this.#live, this.#now());
    const prepared = prepareLive(this.#rig, this.#live, (play) => this.programOf(play), this.#played, {
      light,
      before: before && { document: before, programOf: (play) => this.#fading.of(this.#rig, before, play) },
      hands: this.#hands,
    });
    const programs: [number, Program][] = [];
    const sent = new Map<Program, number>();
    const wired = ({ layers, hand, handEffects }: PreparedValues): WireValues => ({
      hand,
      handEffects,
      layers: layers.map(({ program, failed: _, ...laid }) => {
        let ref = this.#sent.get(program) ?? sent.get(program);
        if (ref === undefined) programs.push([(ref = this.#nextRef++), program]);
        sent.set(program, ref);
        return { ...laid, ref };
      }),
    });
    this.#prepared = prepared;
    const fading = prepared.fading && { ...prepared.fading, from: wired(prepared.fading.from) };
    const live = { ...prepared, ...wired(prepared), fading };
    this.#sent = sent;
    this.#programs.keepOnly([...this.#live.playing, ...(this.#live.auto?.plays ?? []), ...light]);
    this.#fading.keepOnly(out?.playing ?? []);
    return { live, programs };
  }

  /** The compiled program of a play. */
  programOf(play: Play): Program | null {
    return this.#programs.of(this.#rig, this.#played, play);
  }

  /** What nothing plays any more need not be held. */
  #letHeldGo(): void {
    if (this.#live.held.length === 0) return;
    const used = this.#used();
    const held = this.#live.held.filter((record) => used.has(record));
    if (held.length === this.#live.held.length) return;
    this.#live = { ...this.#live, held };
    this.#played = this.#overlaid();
  }
}

/** A show with records as they were before they were edited blind. */
function withHeld(document: Document, held: readonly AnyRecord[]): Document {
  if (held.length === 0) return document;
  const played = new Map(document);
  for (const record of held) played.set(record.id, record);
  return played;
}

/** What streams need to know of the network. */
export interface Surroundings {
  /** Addresses of Art-Net devices that were found and have a port-address. */
  readonly hostsOf: (portAddress: number) => readonly string[];
  /** The broadcast address of the network that packets to a device leave to; null where none is known. */
  readonly broadcastFor: (host: string, interfaceAddress: string | null) => string | null;
}
const ALONE: Surroundings = { hostsOf: () => [], broadcastFor: () => null };

/** Every stream the outputs and routes of a show ask for. */
export function wireRoutes(document: Document, around: Surroundings = ALONE): WireRoute[] {
  const routes: WireRoute[] = [];
  for (const route of recordsOf(document, 'route')) {
    const output = getRecord(document, 'output', route.outputId);
    if (!output?.enabled || !route.enabled || !isPacketProtocol(output.protocol)) continue;
    const sacn = output.protocol === 'sacn';
    if (sacn ? route.wireUniverse < 1 : route.wireUniverse > 0x7fff) continue;
    for (const host of hostsOf(output, route.wireUniverse, around)) {
      const wire = {
        outputId: output.id,
        protocol: output.protocol,
        universe: route.universe,
        wireUniverse: route.wireUniverse,
        host,
        port: sacn ? SACN_PORT : ARTNET_PORT,
        interfaceAddress: output.interfaceAddress,
        multicast: output.multicast,
        broadcast: !sacn && output.delivery === 'broadcast',
        priority: output.priority,
        preview: sacn && output.preview,
        syncAddress: sacn ? (output.syncUniverse ?? 0) : 0,
        artSync: !sacn && output.artSync,
        sourceName: sacn ? route.sourceName : '',
        rateCap: output.frameRateCap ?? 0,
        slots: output.slotsPerUniverse,
        refresh: output.refresh,
      };
      // Another network is no other stream: its receivers stay the same.
      const syncHost = wire.artSync ? (around.broadcastFor(host, output.interfaceAddress) ?? '') : '';
      routes.push({ key: Object.values(wire).join('|'), ...wire, syncHost });
    }
  }
  return routes;
}

function hostsOf(output: OutputRecord, wireUniverse: number, around: Surroundings): readonly string[] {
  if (output.multicast) return [multicastGroup(wireUniverse)];
  if (output.protocol === 'sacn' || output.delivery === 'listed') return output.destinations;
  if (output.delivery === 'found') return around.hostsOf(wireUniverse);
  return [output.destinations[0] ?? '255.255.255.255'];
}
