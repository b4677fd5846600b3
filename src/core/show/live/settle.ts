import { axesOf } from '../../aim/axes.ts';
import { aimsOf } from '../../aim/solutions.ts';
import type { ChangeSet, Document } from '../../document/change.ts';
import type { AnyRecord } from '../../records/index.ts';
import { drawValues, makeFrame, type PreparedLive } from '../play/render.ts';
import type { CompiledRig } from '../rig/rig.ts';
import type { LiveState } from './state.ts';

/**
 * When a place, a room, a limit or an aim changes, heads that follow aims stand elsewhere from one frame to the next. What is
 * playing follows with a fade: how far pan and tilt are off is worked out once, at the edit, and goes down to nothing. So a
 * frame stays a function of live state and moment.
 */
export type Settling = NonNullable<LiveState['settling']>;

const AXES = ['Pan', 'Tilt'] as const;
/** A turn by the whole range settles in so long, a smaller one sooner. */
const LONGEST_MS = 1500;
const SHORTEST_MS = 60;
const BY_WHOLE_MS = 6000;
/** Nobody sees less than this, as a fraction of a range. */
const SEEN = 1e-5;

/** Whether a change can move heads that follow aims. */
export function movesHeads(before: Document, change: ChangeSet): boolean {
  if (aimsOf(before).length === 0) return false;
  const moves = (record: AnyRecord | undefined, next: AnyRecord | null): boolean => {
    if (!record || record === next) return false;
    if (record.kind === 'aim') return true;
    if (record.kind === 'thing' || record.kind === 'area') return aimsOf(before).some((a) => a.anchor === record.id);
    return record.kind === 'unit' && axesOf(before, record) !== null;
  };
  return (
    change.put.some((record) => moves(before.get(record.id), record)) ||
    change.remove.some((id) => moves(before.get(id), null))
  );
}

/** What is played against one rig. */
export interface Drawn {
  readonly rig: CompiledRig;
  readonly live: PreparedLive;
}

/** How far heads are off what they show after an edit, at that moment; null where nobody sees it. */
export function settlingOver(before: Drawn, after: Drawn, nowMs: number): Settling | null {
  const [was, is] = [before, after].map(({ rig, live }) => {
    const frame = makeFrame(rig.arrays, new Uint8Array(0));
    drawValues(rig.arrays, live, nowMs, frame);
    return frame.current;
  }) as [Float32Array, Float32Array];
  const off: Record<string, { Pan?: number; Tilt?: number }> = {};
  let most = 0;
  for (const [id, unit] of after.rig.units) {
    const old = before.rig.units.get(id);
    if (!old || id !== unit.unitId) continue;
    for (const axis of AXES) {
      const [a, b] = [old.slots.get(axis), unit.slots.get(axis)];
      if (!a || !b) continue;
      const by = was[old.base + a.slot]! - is[unit.base + b.slot]!;
      if (!(Math.abs(by) > SEEN)) continue;
      (off[id] ??= {})[axis] = Math.round(by * 1e6) / 1e6;
      most = Math.max(most, Math.abs(by));
    }
  }
  if (most === 0) return null;
  return {
    at: nowMs,
    ms: Math.min(LONGEST_MS, Math.max(SHORTEST_MS, most * BY_WHOLE_MS)),
    off: off as Settling['off'],
  };
}

/** What settles as slots: places and how far they are off. */
export interface PreparedSettling {
  readonly at: number;
  readonly ms: number;
  readonly slots: Uint32Array;
  readonly off: Float32Array;
}

export function prepareSettling(rig: CompiledRig, settling: LiveState['settling']): PreparedSettling | null {
  if (!settling) return null;
  const found = Object.entries(settling.off).flatMap(([id, axes]) => {
    const unit = rig.units.get(id as `unit:${string}`);
    return AXES.flatMap((axis) => {
      const slot = unit?.slots.get(axis);
      return slot && axes![axis] !== undefined ? [[unit!.base + slot.slot, axes![axis]] as const] : [];
    });
  });
  return {
    at: settling.at,
    ms: settling.ms,
    slots: Uint32Array.from(found, ([slot]) => slot),
    off: Float32Array.from(found, ([, by]) => by),
  };
}
