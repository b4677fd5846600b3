import { applyTest, writeRaw } from '../signal/apply.ts';
import type { PreparedTest } from '../signal/prepare.ts';
import { MAX_SLOTS } from '../units.ts';
import { beatAt, darkLevel, positionOf } from './clock.ts';
import { applyEffect } from './effect/draw.ts';
import type { EffectProgram } from './effect/compile.ts';
import { encode, mixColours } from './encode.ts';
import { applyLayer, HAND_RANK, type Layer, type LayerTime } from './layers.ts';
import { applyHaze, applyMasters, areasAt, type Masters } from './masters.ts';
import { applyRow, type Merging } from './merge.ts';
import type { RigArrays } from './rig.ts';
import type { FlashGuard } from './safety.ts';
import type { LiveState, Play } from './state.ts';
import type { SlotValues } from './values.ts';

/** A live state made ready for one rig: layers in the order they are merged, the hand and identify as slots. */
export interface PreparedLive {
  readonly layers: readonly Layer[];
  readonly hand: SlotValues;
  readonly handEffects: readonly { readonly play: Play; readonly program: EffectProgram }[];
  readonly identify: Uint32Array;
  /** Bytes laid over the frame from `offset` on, and how many; null mostly. */
  readonly probe: { readonly offset: number; readonly values: Uint8Array } | null;
  /** Raw slots by hand: byte offsets and values. */
  readonly rawAt: Uint32Array;
  readonly rawValues: Uint8Array;
  readonly test: PreparedTest | null;
  readonly masters: Masters;
  /** What raw bytes may do, where something is down; null where the rig's own holds. */
  readonly ceiling: Float32Array | null;
  readonly grand: number;
  readonly dark: LiveState['dark'];
  readonly darkHaze: boolean;
  readonly frozen: LiveState['frozen'];
  readonly tempo: LiveState['tempo'];
}

/** Buffers of one renderer, made once for a rig. `bytes` holds 512 bytes for each universe of the rig. */
export interface Frame extends Merging {
  readonly bytes: Uint8Array;
  readonly time: LayerTime;
  /** Where raw bytes are laid over the frame, with the masters of this moment. */
  readonly raw: { readonly bytes: Uint8Array; ceiling: Float32Array; master: number };
}

/** `bytes` may be given so that it lies in shared memory: universes x 512. */
export function makeFrame(rig: RigArrays, bytes: Uint8Array = new Uint8Array(rig.universes.length * MAX_SLOTS)): Frame {
  return {
    current: new Float32Array(rig.slotCount),
    base: new Float32Array(rig.slotCount),
    rank: new Int32Array(rig.slotCount),
    bytes,
    time: { ms: 0, beat: 0, tempo: { bpm: 120, anchorMs: 0, anchorBeat: 0 } },
    raw: { bytes, ceiling: rig.ceiling, master: 1 },
  };
}

/**
 * One frame as a pure function of rig, live state and moment: layers by rank, levels highest-takes-precedence and the
 * rest latest-takes-precedence, a higher rank over a lower, the hand over all, identify over the hand; then limits,
 * areas and masters; then colour to emitters; then bytes, and over them what is raw: slots by hand, a test signal, a
 * probe. Raw bytes do not pass masters and limits either. Allocates nothing. With a `guard` (which remembers what it
 * saw) flashes that are not safe are held back, last of all. Returns `frame.bytes`.
 */
export function render(
  rig: RigArrays,
  live: PreparedLive,
  nowMs: number,
  frame: Frame,
  guard: FlashGuard | null = null,
): Uint8Array {
  drawLayers(rig, live, nowMs, frame);
  return finish(rig, live, nowMs, frame, guard);
}

/** A frame at rest, and the moment its layers are drawn at. */
export function beginFrame(rig: RigArrays, live: PreparedLive, nowMs: number, frame: Frame): LayerTime {
  frame.current.set(rig.home);
  frame.rank.fill(-1);
  const { time } = frame;
  time.ms = live.frozen?.at ?? nowMs;
  time.beat = live.frozen?.beat ?? beatAt(live.tempo, nowMs);
  time.tempo = live.tempo;
  return time;
}

/** The first half of a frame: attribute values of everything that plays and is by hand. */
export function drawLayers(rig: RigArrays, live: PreparedLive, nowMs: number, frame: Frame): void {
  const time = beginFrame(rig, live, nowMs, frame);
  for (let i = 0; i < live.layers.length; i++) {
    const layer = live.layers[i]!;
    if (layer.failed !== null) continue;
    try {
      applyLayer(frame, layer, time);
    } catch (error) {
      // One that fails is taken out and told; the rest goes on.
      layer.failed = String((error as Error).stack ?? error);
    }
  }
  applyRow(frame, live.hand, live.hand.values, 0, HAND_RANK, 1);
  for (let i = 0; i < live.handEffects.length; i++) {
    const { play, program } = live.handEffects[i]!;
    applyEffect(frame, program, positionOf(play, program, time.ms, time.beat), HAND_RANK, 1);
  }
}

/** Between two live states: attribute values of one fade into those of the other, what jumps is that of the second. */
export function mixFrames(rig: RigArrays, from: Frame, into: Frame, mix: number): void {
  const { snap } = rig;
  for (let slot = 0; slot < into.current.length; slot++) {
    if (snap[slot] === 1) continue;
    const before = from.current[slot]!;
    into.current[slot] = before + (into.current[slot]! - before) * mix;
  }
}

/** The second half of a frame: from attribute values to bytes. */
export function finish(
  rig: RigArrays,
  live: PreparedLive,
  nowMs: number,
  frame: Frame,
  guard: FlashGuard | null = null,
): Uint8Array {
  const { current } = frame;
  for (let i = 0; i < live.identify.length; i++) {
    const slot = live.identify[i]!;
    current[slot] = rig.highlight[slot]!;
  }
  const dark = darkLevel(live.dark, nowMs);
  const master = live.grand * dark;
  applyMasters(rig, current, live.masters, areasAt(live.masters, nowMs), master);
  if (live.darkHaze && dark < 1) applyHaze(rig, current, dark);
  guard?.apply(current, nowMs, master);
  mixColours(rig, current);
  encode(rig, current, frame.bytes);
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
