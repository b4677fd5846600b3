import type { Document } from '../document/change.ts';
import { applyTest, LOCKED_BYTE, prepareTest, SHUTTER_BYTE, writeRaw, type PreparedTest } from '../signal/index.ts';
import { MAX_SLOTS } from '../units.ts';
import { beatAt, darkLevel, endedMsAgo, playLevel, type LiveState, type Play } from './live.ts';
import {
  chaseAt,
  compileValues,
  type ChasePoint,
  type ChaseProgram,
  type Program,
  type SlotList,
  type SlotValues,
  type TargetId,
} from './program.ts';
import { GAMMA_STEPS, type CompiledRig, type RigArrays } from './rig.ts';

/** A live state made ready for one rig: layers in the order they are merged, the hand and identify as slots. */
export interface PreparedLive {
  readonly layers: readonly { readonly play: Play; readonly program: Program }[];
  readonly hand: SlotValues;
  readonly identify: Uint32Array;
  /** Bytes laid over the frame from `offset` on, and how many; null mostly. */
  readonly probe: { readonly offset: number; readonly values: Uint8Array } | null;
  /** Raw slots by hand: byte offsets and values. */
  readonly rawAt: Uint32Array;
  readonly rawValues: Uint8Array;
  readonly test: PreparedTest | null;
  /** What each area (as numbered by the rig) leaves of a level, 0-1; null where all are at full. */
  readonly areas: Float32Array | null;
  /** What raw bytes may do, where areas are down; null where the rig's own holds. */
  readonly ceiling: Float32Array | null;
  readonly grand: number;
  readonly dark: LiveState['dark'];
  readonly tempo: LiveState['tempo'];
}

/** Above every priority a scene can have (0-200). */
const HAND_PRIORITY = 1000;

/**
 * Sorts what plays by priority, then by when it started: the later is merged later and so takes precedence.
 * `programOf` gives the compiled program of a target, or null for one that no longer exists. `document` is needed for
 * test signals alone.
 */
export function prepareLive(
  rig: CompiledRig,
  state: LiveState,
  programOf: (target: TargetId) => Program | null,
  document: Document = new Map(),
): PreparedLive {
  const layers: { play: Play; program: Program }[] = [];
  for (const play of state.playing) {
    const program = programOf(play.target);
    if (program) layers.push({ play, program });
  }
  layers.sort((a, b) => a.program.priority - b.program.priority || a.play.startedAt - b.play.startedAt);
  const identify: number[] = [];
  for (const id of state.identify) {
    const unit = rig.units.get(id);
    if (unit) for (const slot of unit.identify) identify.push(unit.base + slot);
  }
  const areas = areaLevels(rig, state.areas);
  return {
    layers,
    hand: compileValues(rig, state.hand),
    identify: Uint32Array.from(identify),
    probe: prepareProbe(rig, state.probe),
    ...prepareRaw(rig, state.raw),
    test: prepareTest(document, rig.arrays.universes, state.test),
    areas,
    ceiling: areas && laysRaw(state) ? ceilingUnder(rig.arrays, areas) : null,
    grand: state.grand,
    dark: state.dark,
    tempo: state.tempo,
  };
}

/** What each area leaves of a level: its own times those it lies in. Null where all are at full. */
function areaLevels({ areaChains }: CompiledRig, levels: LiveState['areas']): Float32Array | null {
  const factors = Float32Array.from(areaChains, (chain) => chain.reduce((left, id) => left * (levels[id] ?? 1), 1));
  return factors.every((f) => f === 1) ? null : factors;
}

/** Whether anything raw is laid over the frame: mostly not, and then nobody asks for a ceiling. */
const laysRaw = ({ probe, raw, test }: LiveState): boolean =>
  probe !== null || test !== null || Object.keys(raw).length > 0;

/** What raw bytes may do while areas are down. A shutter in an area at nothing stays as it is. */
function ceilingUnder({ ceiling, byteArea }: RigArrays, areas: Float32Array): Float32Array | null {
  return byteArea && ceiling.map((most, i) => underArea(most, areas[byteArea[i]!]!));
}

const underArea = (most: number, level: number): number =>
  most >= 0 ? most * level : most === SHUTTER_BYTE && level === 0 ? LOCKED_BYTE : most;

/** A probe past the end of its universe is cut; one of a universe the rig does not have is nothing. */
function prepareProbe(rig: CompiledRig, probe: LiveState['probe']): PreparedLive['probe'] {
  const index = probe ? rig.arrays.universes.indexOf(probe.universe) : -1;
  if (!probe || index < 0) return null;
  const values = Uint8Array.from(probe.values.slice(0, MAX_SLOTS - probe.address + 1));
  return { offset: index * MAX_SLOTS + probe.address - 1, values };
}

/** Slots of universes that the rig does not have are left out. */
function prepareRaw(rig: CompiledRig, raw: LiveState['raw']): Pick<PreparedLive, 'rawAt' | 'rawValues'> {
  const indexOf = new Map(Array.from(rig.arrays.universes, (u, i) => [u, i]));
  const entries = Object.entries(raw).flatMap(([slot, value]) => {
    const [universe, address] = slot.split('.').map(Number) as [number, number];
    const index = indexOf.get(universe);
    return index === undefined || address > MAX_SLOTS ? [] : [[index * MAX_SLOTS + address - 1, value] as const];
  });
  return { rawAt: Uint32Array.from(entries, (e) => e[0]), rawValues: Uint8Array.from(entries, (e) => e[1]) };
}

/** Buffers of one renderer, made once for a rig. `bytes` holds 512 bytes for each universe of the rig. */
export interface Frame {
  readonly current: Float32Array;
  readonly base: Float32Array;
  readonly priority: Int16Array;
  readonly bytes: Uint8Array;
  readonly point: ChasePoint;
  /** Where raw bytes are laid over the frame, with the masters of this moment. */
  readonly raw: { readonly bytes: Uint8Array; ceiling: Float32Array; master: number };
}

/** `bytes` may be given so that it lies in shared memory: universes x 512. */
export function makeFrame(rig: RigArrays, bytes: Uint8Array = new Uint8Array(rig.universes.length * MAX_SLOTS)): Frame {
  return {
    current: new Float32Array(rig.slotCount),
    base: new Float32Array(rig.slotCount),
    priority: new Int16Array(rig.slotCount),
    bytes,
    point: { from: -1, to: -1, mix: 1 },
    raw: { bytes, ceiling: rig.ceiling, master: 1 },
  };
}

/**
 * One frame as a pure function of rig, live state and moment: layers in priority order, levels
 * highest-takes-precedence and the rest latest-takes-precedence, a higher priority over a lower, the hand over all,
 * identify over the hand; then limits, areas and masters; then colour to emitters; then bytes, and over them what is raw:
 * slots by hand, a test signal, a probe. Raw bytes do not pass masters and limits either. Allocates nothing.
 * Returns `frame.bytes`.
 */
export function render(rig: RigArrays, live: PreparedLive, nowMs: number, frame: Frame): Uint8Array {
  frame.current.set(rig.home);
  frame.priority.fill(-1);
  for (let i = 0; i < live.layers.length; i++) {
    const { play, program } = live.layers[i]!;
    const level = playLevel(play, program, nowMs, endedMsAgo(play, program, live.tempo, nowMs));
    if (level <= 0) continue;
    if (program.type === 'scene') applyRow(frame, program, program.values, 0, program.priority, level);
    else {
      const elapsed = program.beats ? beatAt(live.tempo, nowMs) - play.startedBeat : (nowMs - play.startedAt) / 1000;
      applyChase(frame, program, elapsed, level);
    }
  }
  applyRow(frame, live.hand, live.hand.values, 0, HAND_PRIORITY, 1);
  const { current } = frame;
  for (let i = 0; i < live.identify.length; i++) {
    const slot = live.identify[i]!;
    current[slot] = rig.highlight[slot]!;
  }
  const master = live.grand * darkLevel(live.dark, nowMs);
  applyMasters(rig, frame, live.areas, master);
  mixColours(rig, current);
  encode(rig, frame);
  frame.raw.ceiling = live.ceiling ?? rig.ceiling;
  applyRaw(live, frame, master, nowMs);
  return frame.bytes;
}

function applyRaw(live: PreparedLive, frame: Frame, master: number, nowMs: number): void {
  const { raw } = frame;
  raw.master = master;
  for (let i = 0; i < live.rawAt.length; i++) writeRaw(raw, live.rawAt[i]!, live.rawValues[i]!);
  if (live.test) applyTest(live.test, raw, nowMs);
  if (!live.probe) return;
  const { offset, values } = live.probe;
  for (let i = 0; i < values.length; i++) writeRaw(raw, offset + i, values[i]!);
}

/** One row of values that touches every slot of the list, at a level above 0. `at` is where the row begins. */
function applyRow(
  frame: Frame,
  list: SlotList,
  values: Float32Array,
  at: number,
  priority: number,
  level: number,
): void {
  const { current } = frame;
  const { slots, htpEnd, snapEnd } = list;
  for (let i = 0; i < htpEnd; i++) applyLevel(frame, slots[i]!, values[at + i]!, priority, level);
  const jumpEnd = level >= 1 ? slots.length : snapEnd;
  for (let i = htpEnd; i < jumpEnd; i++) current[slots[i]!] = values[at + i]!;
  for (let i = jumpEnd; i < slots.length; i++) {
    const slot = slots[i]!;
    const below = current[slot]!;
    current[slot] = below + (values[at + i]! - below) * level;
  }
}

/** Highest takes precedence inside a priority; the first of a higher priority fades over what is below. */
function applyLevel(frame: Frame, slot: number, value: number, priority: number, level: number): void {
  const { current, base } = frame;
  if (frame.priority[slot] !== priority) {
    frame.priority[slot] = priority;
    base[slot] = current[slot]!;
    current[slot] = base[slot]! + (value - base[slot]!) * level;
    return;
  }
  const candidate = base[slot]! + (value - base[slot]!) * level;
  if (candidate > current[slot]!) current[slot] = candidate;
}

function applyChase(frame: Frame, program: ChaseProgram, elapsed: number, level: number): void {
  const { from, to, mix } = chaseAt(program, elapsed, frame.point);
  if (to < 0) return;
  const { table, complete, priority } = program;
  const width = program.slots.length;
  const whole = complete[to] === 1;
  if (whole && (from < 0 || mix >= 1)) {
    const weight = level * mix;
    if (weight > 0) applyRow(frame, program, table, to * width, priority, weight);
    else applyJumps(frame, program, to * width);
  } else if (whole && complete[from] === 1) applyBetween(frame, program, from * width, to * width, mix, level);
  else applyPartly(frame, program, from < 0 ? -1 : from * width, to * width, mix, level);
}

/** At the very start of a fade from nothing only what jumps is there. */
function applyJumps(frame: Frame, { slots, table, htpEnd, snapEnd }: ChaseProgram, at: number): void {
  for (let i = htpEnd; i < snapEnd; i++) frame.current[slots[i]!] = table[at + i]!;
}

/** Between two steps that both touch every slot. */
function applyBetween(frame: Frame, program: ChaseProgram, from: number, to: number, mix: number, level: number): void {
  const { slots, table, htpEnd, snapEnd, priority } = program;
  const { current } = frame;
  for (let i = 0; i < htpEnd; i++) {
    const before = table[from + i]!;
    applyLevel(frame, slots[i]!, before + (table[to + i]! - before) * mix, priority, level);
  }
  applyJumps(frame, program, to);
  if (level >= 1) {
    for (let i = snapEnd; i < slots.length; i++) {
      const before = table[from + i]!;
      current[slots[i]!] = before + (table[to + i]! - before) * mix;
    }
    return;
  }
  for (let i = snapEnd; i < slots.length; i++) {
    const slot = slots[i]!;
    const before = table[from + i]!;
    const below = current[slot]!;
    current[slot] = below + (before + (table[to + i]! - before) * mix - below) * level;
  }
}

/** Between steps that touch different slots: what only one of them touches fades in from or out to what is below. */
function applyPartly(frame: Frame, program: ChaseProgram, from: number, to: number, mix: number, level: number): void {
  const { slots, table, htpEnd, snapEnd, priority } = program;
  const { current } = frame;
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]!;
    const before = from < 0 || mix >= 1 ? NaN : table[from + i]!;
    const after = table[to + i]!;
    const hasBefore = before === before;
    const hasAfter = after === after;
    const snaps = i >= htpEnd && i < snapEnd;
    if (snaps) {
      if (hasAfter) current[slot] = after;
      continue;
    }
    if (!hasBefore && !hasAfter) continue;
    const value = hasBefore && hasAfter ? before + (after - before) * mix : hasAfter ? after : before;
    const weight = (hasBefore && hasAfter ? 1 : hasAfter ? mix : 1 - mix) * level;
    if (weight <= 0) continue;
    if (i < htpEnd) applyLevel(frame, slot, value, priority, weight);
    else if (weight >= 1) current[slot] = value;
    else current[slot] = current[slot]! + (value - current[slot]!) * weight;
  }
}

function applyMasters(rig: RigArrays, frame: Frame, areas: Float32Array | null, master: number): void {
  const { current } = frame;
  for (let i = 0; i < rig.limited.length; i++) {
    const slot = rig.limited[i]!;
    current[slot] = current[slot]! * rig.limits[i]!;
  }
  if (areas) applyAreas(rig, current, areas);
  if (master >= 1) return;
  const { mastered } = rig;
  for (let i = 0; i < mastered.length; i++) {
    const slot = mastered[i]!;
    current[slot] = current[slot]! * master;
  }
  if (master > 0) return;
  for (let i = 0; i < rig.shutters.length; i++) current[rig.shutters[i]!] = rig.shutAt[i]!;
}

function applyAreas(rig: RigArrays, current: Float32Array, areas: Float32Array): void {
  const { mastered, masteredArea, shutters, shutterArea } = rig;
  for (let i = 0; i < mastered.length; i++) {
    const slot = mastered[i]!;
    current[slot] = current[slot]! * areas[masteredArea[i]!]!;
  }
  for (let i = 0; i < shutters.length; i++) if (areas[shutterArea[i]!] === 0) current[shutters[i]!] = rig.shutAt[i]!;
}

function mixColours(rig: RigArrays, current: Float32Array): void {
  const { input, own, output } = rig.mixers;
  for (let i = 0; i < input.length; i++) {
    const from = input[i]!;
    const to = output[i]!;
    const red = current[from]!;
    const green = current[from + 1]!;
    const blue = current[from + 2]!;
    const white = Math.min(red, green, blue);
    const ownWhite = own[i]! < 0 ? 0 : current[own[i]!]!;
    current[to] = red - white;
    current[to + 1] = green - white;
    current[to + 2] = blue - white;
    current[to + 3] = ownWhite > white ? ownWhite : white;
  }
}

/** What a level leaves of the light, through the gamma table given (from 1; 0 for none). */
const curved = (rig: RigArrays, level: number, gamma: number): number =>
  gamma === 0 ? level : rig.gammaTables[(gamma - 1) * GAMMA_STEPS + ((level * (GAMMA_STEPS - 1) + 0.5) | 0)]!;

function encode(rig: RigArrays, frame: Frame): void {
  const { current, bytes } = frame;
  bytes.fill(0);
  const narrow = rig.bytes8;
  for (let i = 0; i < narrow.slot.length; i++) {
    let value = current[narrow.slot[i]!]!;
    if (narrow.flip[i] === 1) value = 1 - value;
    const scale = narrow.scale[i]!;
    if (scale >= 0) value *= curved(rig, current[scale]!, narrow.gamma[i]!);
    bytes[narrow.offset[i]!] = (value * 255 + 0.5) | 0;
  }
  const wide = rig.bytes16;
  for (let i = 0; i < wide.slot.length; i++) {
    let value = current[wide.slot[i]!]!;
    if (wide.flip[i] === 1) value = 1 - value;
    const scale = wide.scale[i]!;
    if (scale >= 0) value *= curved(rig, current[scale]!, wide.gamma[i]!);
    const third = wide.offset2[i]!;
    // Whole numbers on both ways, so that no number object is made.
    const raw = third >= 0 ? (value * 0xffffff + 0.5) | 0 : ((value * 0xffff + 0.5) | 0) << 8;
    bytes[wide.offset[i]!] = raw >>> 16;
    const second = wide.offset1[i]!;
    if (second >= 0) bytes[second] = (raw >>> 8) & 0xff;
    if (third >= 0) bytes[third] = raw & 0xff;
  }
}
