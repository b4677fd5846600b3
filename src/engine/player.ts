import {
  applyChange,
  documentOf,
  getRecord,
  recordsOf,
  type ChangeSet,
  type Document,
} from '../core/document/change.ts';
import type { AnyRecord, OutputRecord } from '../core/records/index.ts';
import { isPacketProtocol } from '../core/records/output.ts';
import { ARTNET_PORT } from '../core/protocol/artnet.ts';
import { SACN_PORT, multicastGroup } from '../core/protocol/sacn.ts';
import {
  compileRig,
  compileTarget,
  prepareLive,
  pruneLive,
  type CompiledRig,
  type LiveState,
  type Program,
  type TargetId,
} from '../core/show/index.ts';
import { MAX_SLOTS } from '../core/units.ts';
import type { ToFrameThread, WireRoute } from './shared.ts';

/** Kinds whose change asks for a new rig. */
const RIG_KINDS = new Set(['profile', 'unit', 'part', 'area', 'output', 'route']);

/** Kinds of the records a change puts or removes. */
export const kindsOf = (change: ChangeSet): ReadonlySet<string> =>
  new Set([...change.put.map((r) => r.kind), ...change.remove.map((id) => id.slice(0, id.indexOf(':')))]);

interface CachedProgram {
  readonly rig: CompiledRig;
  readonly parts: readonly (AnyRecord | undefined)[];
  readonly program: Program | null;
}

/**
 * The show as the engine holds it: compiles what a change touched, off the frame path, and says what the frame thread
 * has to know.
 */
export class Player {
  #document: Document = new Map();
  #rig: CompiledRig = compileRig(new Map());
  #live: LiveState;
  readonly #programs = new Map<TargetId, CachedProgram>();
  #bytes = new SharedArrayBuffer(0);

  constructor(live: LiveState) {
    this.#live = live;
  }

  get document(): Document {
    return this.#document;
  }
  get live(): LiveState {
    return this.#live;
  }
  /** Every stream; `found` names the devices that answer to a port-address. */
  routes(found: FoundHosts): WireRoute[] {
    return wireRoutes(this.#document, found);
  }
  get universes(): number[] {
    return [...this.#rig.arrays.universes];
  }
  /** Shared frame bytes: 512 for each of `universes`. */
  get bytes(): SharedArrayBuffer {
    return this.#bytes;
  }
  get frameRate(): number {
    return recordsOf(this.#document, 'show')[0]?.frameRate ?? 40;
  }

  /** Another show, whole. */
  load(records: readonly AnyRecord[], live: LiveState): ToFrameThread {
    this.#document = documentOf(records);
    this.#live = live;
    this.#programs.clear();
    return this.#rigMessage();
  }

  /** An edit of the show that is loaded. */
  edit(change: ChangeSet): ToFrameThread {
    const touched = kindsOf(change);
    this.#document = applyChange(this.#document, change);
    const rigChanged = [...touched].some((kind) => RIG_KINDS.has(kind));
    const message = rigChanged ? this.#rigMessage() : this.#liveMessage();
    return touched.has('show') ? { ...message, frameRate: this.frameRate } : message;
  }

  setLive(live: LiveState): ToFrameThread {
    this.#live = live;
    return this.#liveMessage();
  }

  #rigMessage(): ToFrameThread {
    this.#rig = compileRig(this.#document);
    this.#bytes = new SharedArrayBuffer(this.#rig.arrays.universes.length * MAX_SLOTS);
    return {
      rig: this.#rig.arrays,
      bytes: this.#bytes,
      frameRate: this.frameRate,
      ...this.#liveMessage(),
    };
  }

  #liveMessage(): ToFrameThread {
    this.#live = pruneLive(this.#live, (id) => this.#document.has(id));
    return { live: prepareLive(this.#rig, this.#live, (target) => this.programOf(target), this.#document) };
  }

  /** The compiled program of a scene or chase; compiled again only when the rig or a record it is made of changed. */
  programOf(target: TargetId): Program | null {
    const parts = this.#partsOf(target);
    const cached = this.#programs.get(target);
    if (
      cached &&
      cached.rig === this.#rig &&
      cached.parts.length === parts.length &&
      cached.parts.every((p, i) => p === parts[i])
    )
      return cached.program;
    const program = compileTarget(this.#rig, this.#document, target);
    this.#programs.set(target, { rig: this.#rig, parts, program });
    return program;
  }

  #partsOf(target: TargetId): (AnyRecord | undefined)[] {
    const record = this.#document.get(target);
    if (record?.kind !== 'chase') return [record];
    return [record, ...record.steps.map((step) => this.#document.get(step.sceneId))];
  }
}

/** Addresses of Art-Net devices that were found and have a port-address. */
export type FoundHosts = (portAddress: number) => readonly string[];

/** Every stream the outputs and routes of a show ask for. */
export function wireRoutes(document: Document, found: FoundHosts = () => []): WireRoute[] {
  const routes: WireRoute[] = [];
  for (const route of recordsOf(document, 'route')) {
    const output = getRecord(document, 'output', route.outputId);
    if (!output?.enabled || !route.enabled || !isPacketProtocol(output.protocol)) continue;
    const sacn = output.protocol === 'sacn';
    if (sacn ? route.wireUniverse < 1 : route.wireUniverse > 0x7fff) continue;
    for (const host of hostsOf(output, route.wireUniverse, found)) {
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
      routes.push({ key: Object.values(wire).join('|'), ...wire });
    }
  }
  return routes;
}

function hostsOf(output: OutputRecord, wireUniverse: number, found: FoundHosts): readonly string[] {
  if (output.multicast) return [multicastGroup(wireUniverse)];
  if (output.protocol === 'sacn' || output.delivery === 'listed') return output.destinations;
  if (output.delivery === 'found') return found(wireUniverse);
  return [output.destinations[0] ?? '255.255.255.255'];
}
