import { getRecord, type Document } from '../document/change.ts';
import type { ChaseId, LitId, SceneId } from '../ids.ts';
import { attributeKey, splitAttributeKey } from '../profile/attributes.ts';
import { valueToFraction } from '../profile/layout.ts';
import { shuffledOrder } from '../random.ts';
import type { ChaseRecord, SceneRecord } from '../records/index.ts';
import type { UnitValues } from '../records/scene.ts';
import type { CompiledRig } from './rig.ts';

export type TargetId = SceneId | ChaseId;

/**
 * Attribute slots in the order the renderer takes them: first those that merge highest-takes-precedence (before
 * `htpEnd`), then those that jump (before `snapEnd`), then those that glide. Each part in ascending order.
 */
export interface SlotList {
  readonly slots: Uint32Array;
  readonly htpEnd: number;
  readonly snapEnd: number;
}

/** Values against one rig: `values[i]` (0-1) belongs to attribute slot `slots[i]`. */
export interface SlotValues extends SlotList {
  readonly values: Float32Array;
}

/** A scene against one rig. */
export interface SceneProgram extends SlotValues {
  readonly type: 'scene';
  readonly priority: number;
  readonly fadeInMs: number;
  readonly fadeOutMs: number;
}

/**
 * A chase against one rig. `table[step x slots.length + i]` is the value of `slots[i]` in that step, NaN where the
 * step's scene does not touch it; `complete[step]` is 1 where it touches all. `sequence` is one whole round of steps,
 * `starts` when each begins (in seconds or beats from the round's beginning), `fades` how long it fades in.
 */
export interface ChaseProgram extends SlotList {
  readonly type: 'chase';
  readonly priority: number;
  readonly fadeInMs: number;
  readonly fadeOutMs: number;
  readonly table: Float32Array;
  readonly complete: Uint8Array;
  readonly sequence: Int32Array;
  readonly starts: Float64Array;
  readonly fades: Float64Array;
  readonly total: number;
  readonly once: boolean;
  readonly beats: boolean;
}

export type Program = SceneProgram | ChaseProgram;

/**
 * Values by unit (or part) and attribute as slots and fractions. A value for a whole unit reaches all its cells; a value for
 * one cell is laid over it. Values with no home in this rig (another mode, a missing range) are passed over: they
 * stay in the record.
 */
export function compileValues(rig: CompiledRig, values: Readonly<Record<string, UnitValues>>): SlotValues {
  const found = new Map<number, number>();
  // What is said of a part is laid over what is said of its unit.
  const entries = Object.entries(values);
  const ordered = [...entries.filter(([id]) => !isPart(id)), ...entries.filter(([id]) => isPart(id))];
  for (const [id, attributes] of ordered) {
    const unit = rig.units.get(id as LitId);
    if (!unit) continue;
    const set = (key: string, value: UnitValues[string]): void => {
      const target = unit.slots.get(key);
      const fraction = target ? valueToFraction(target.channel, value) : null;
      if (target && fraction !== null) found.set(unit.base + target.slot, fraction);
    };
    for (const wholeUnit of [true, false]) {
      for (const [key, value] of Object.entries(attributes)) {
        const { attribute, cell } = splitAttributeKey(key);
        if ((cell === 0) !== wholeUnit) continue;
        if (cell === 0) {
          const cells = unit.cells.get(attribute) ?? 0;
          for (let i = 1; i <= cells; i++) set(attributeKey(attribute, i), value);
        }
        set(key, value);
      }
    }
  }
  const list = slotList(rig, found.keys());
  return { ...list, values: Float32Array.from(list.slots, (slot) => found.get(slot)!) };
}

const isPart = (id: string): boolean => id.startsWith('part:');

function slotList(rig: CompiledRig, slots: Iterable<number>): SlotList {
  const { htp, snap } = rig.arrays;
  const rank = (slot: number): number => (htp[slot] === 1 ? 0 : snap[slot] === 1 ? 1 : 2);
  const sorted = Uint32Array.from([...slots].sort((a, b) => rank(a) - rank(b) || a - b));
  const end = (below: number): number => {
    const at = sorted.findIndex((slot) => rank(slot) >= below);
    return at < 0 ? sorted.length : at;
  };
  return { slots: sorted, htpEnd: end(1), snapEnd: end(2) };
}

export function compileScene(rig: CompiledRig, scene: SceneRecord): SceneProgram {
  const { priority, fadeInMs, fadeOutMs } = scene;
  return { type: 'scene', priority, fadeInMs, fadeOutMs, ...compileValues(rig, scene.values) };
}

/** Rounds of a shuffled chase that are laid out before it repeats; fewer for very long ones. */
const SHUFFLED_ROUNDS = 16;
const SHUFFLED_STEPS = 4096;

/** One round of step indices in playing order. */
export function sequenceOf(chase: ChaseRecord): number[] {
  const count = chase.steps.length;
  const forward = Array.from({ length: count }, (_, i) => i);
  const straight = chase.direction === 'forward' ? forward : [...forward].reverse();
  switch (chase.order) {
    case 'repeat':
    case 'once':
      return straight;
    case 'thereAndBack':
      return count < 3 ? straight : [...straight, ...straight.slice(1, -1).reverse()];
    case 'shuffled': {
      const rounds = Math.max(1, Math.min(SHUFFLED_ROUNDS, Math.floor(SHUFFLED_STEPS / Math.max(1, count))));
      return Array.from({ length: rounds }, (_, i) => shuffledOrder(count, chase.seed + i)).flat();
    }
  }
}

export function compileChase(rig: CompiledRig, document: Document, chase: ChaseRecord): ChaseProgram {
  const scenes = new Map<SceneId, SlotValues>();
  for (const { sceneId } of chase.steps)
    if (!scenes.has(sceneId))
      scenes.set(sceneId, compileValues(rig, getRecord(document, 'scene', sceneId)?.values ?? {}));
  const list = slotList(rig, new Set([...scenes.values()].flatMap(({ slots }) => [...slots])));
  const columns = new Map(Array.from(list.slots, (slot, column) => [slot, column]));
  const width = list.slots.length;
  const table = new Float32Array(width * chase.steps.length).fill(NaN);
  const complete = new Uint8Array(chase.steps.length);
  chase.steps.forEach((step, row) => {
    const { slots, values } = scenes.get(step.sceneId)!;
    complete[row] = slots.length === width ? 1 : 0;
    for (let i = 0; i < slots.length; i++) table[row * width + columns.get(slots[i]!)!] = values[i]!;
  });
  const sequence = sequenceOf(chase);
  const starts = new Float64Array(sequence.length);
  const fades = new Float64Array(sequence.length);
  let total = 0;
  sequence.forEach((stepIndex, i) => {
    const step = chase.steps[stepIndex]!;
    starts[i] = total;
    fades[i] = step.fade ?? chase.fade;
    total += fades[i]! + (step.hold ?? chase.hold);
  });
  const { priority, fadeInMs, fadeOutMs } = chase;
  return {
    type: 'chase',
    priority,
    fadeInMs,
    fadeOutMs,
    ...list,
    table,
    complete,
    sequence: Int32Array.from(sequence),
    starts,
    fades,
    total,
    once: chase.order === 'once',
    beats: chase.timeUnit === 'beats',
  };
}

/** Compiles whatever can be played; null when the id is unknown. */
export function compileTarget(rig: CompiledRig, document: Document, target: TargetId): Program | null {
  const record = document.get(target);
  if (record?.kind === 'scene') return compileScene(rig, record);
  if (record?.kind === 'chase') return compileChase(rig, document, record);
  return null;
}

/** Where a chase is: fading from step `from` (-1: from nothing) to step `to`, `mix` 0-1 of the way. */
export interface ChasePoint {
  from: number;
  to: number;
  mix: number;
}

/**
 * The steps of a chase at `elapsed` (seconds or beats, as the chase counts) since its start; fills and returns `into`.
 * Before the start and for a chase without steps `to` is -1. A chase whose times are all 0 stays on its first step.
 * O(log steps).
 */
export function chaseAt(program: ChaseProgram, elapsed: number, into: ChasePoint): ChasePoint {
  const count = program.sequence.length;
  into.from = -1;
  into.to = -1;
  into.mix = 1;
  if (count === 0 || elapsed < 0) return into;
  if (program.total <= 0) {
    into.to = program.sequence[0]!;
    return into;
  }
  const round = program.once ? 0 : Math.floor(elapsed / program.total);
  const within = program.once ? Math.min(elapsed, program.total) : elapsed - round * program.total;
  let low = 0;
  let high = count - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (program.starts[middle]! <= within) low = middle;
    else high = middle - 1;
  }
  into.to = program.sequence[low]!;
  const fade = program.fades[low]!;
  into.mix = fade <= 0 ? 1 : Math.min(1, (within - program.starts[low]!) / fade);
  if (into.mix < 1) into.from = low > 0 ? program.sequence[low - 1]! : round > 0 ? program.sequence[count - 1]! : -1;
  return into;
}
