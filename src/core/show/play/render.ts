import { applyTest, writeRaw } from '../../signal/apply.ts';
import type { PreparedTest } from '../../signal/prepare.ts';
import { clamp01, ease, MAX_SLOTS } from '../../units.ts';
import { beatAt, steady } from './beat-map.ts';
import { darkLevel, positionOf } from './clock.ts';
import type { LayerTime } from './drawing.ts';
import { layDesks, type Desks } from './desks.ts';
import { applyEffect } from '../effect/draw.ts';
import type { EffectProgram } from '../effect/compile.ts';
import { encodeCells, encodeRest, mixColours } from '../rig/encode.ts';
import { applyLayer, HAND_RANK, isCovered, isStill, type Layer } from './layers.ts';
import { applyHaze, applyMasters, areasAt, type Masters } from './masters.ts';
import { applyRow, type Merging } from './merge.ts';
import type { RigArrays } from '../rig/rig.ts';
import { endMotion, holdMovement, holdRaw, makeMotion, type Motion } from '../guard/movement.ts';
import type { FlashGuard } from '../guard/safety.ts';
import type { PreparedSettling } from '../live/settle.ts';
import type { LiveState, Play } from '../live/state.ts';
import type { SlotValues } from '../rig/values.ts';

/** What plays and is by hand, made ready for one rig: layers in the order they are merged, the hand as slots. */
export interface PreparedValues {
  readonly layers: readonly Layer[];
  readonly hand: SlotValues;
  readonly handEffects: readonly { readonly play: Play; readonly program: EffectProgram }[];
}

/** A live state made ready for one rig. */
export interface PreparedLive extends PreparedValues {
  /** What fades out under it, since `at` in `ms`; null mostly. */
  readonly fading: { readonly from: PreparedValues; readonly at: number; readonly ms: number } | null;
  /** Heads on their way after an edit; null mostly. */
  readonly settling: PreparedSettling | null;
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
  /** What the lowest layers come to while they stand still, so that they are not drawn again and again. */
  readonly still: { live: PreparedValues | null; count: number; values: Merging | null };
  /** Where what fades out is drawn; made when something first does. */
  fading: Frame | null;
  /** Where heads were sent last. */
  motion: Motion;
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
    still: { live: null, count: 0, values: null },
    time: { ms: 0, beat: 0, tempo: steady(120, 0, 0) },
    fading: null,
    motion: makeMotion(rig.movers),
    raw: { bytes, ceiling: rig.ceiling, master: 1 },
  };
}

/**
 * One frame as a pure function of rig, live state and moment: layers by rank, levels highest-takes-precedence and the
 * rest latest-takes-precedence, a higher rank over a lower, the hand over all, identify over the hand; then limits of
 * movement and what beams keep out of, limits,
 * areas and masters; then colour to emitters; then bytes, and over them what is raw: slots by hand, a test signal, a
 * probe. Raw bytes do not pass masters and limits either. Allocates nothing. With a `guard` (which remembers what it
 * saw) flashes that are not safe are held back, last of all of what is ours; `desks` are laid over it. Returns
 * `frame.bytes`.
 */
export function render(
  rig: RigArrays,
  live: PreparedLive,
  nowMs: number,
  frame: Frame,
  guard: FlashGuard | null = null,
  desks: Desks | null = null,
): Uint8Array {
  drawValues(rig, live, nowMs, frame);
  finish(rig, live, nowMs, frame, guard);
  if (desks) layDesks(rig.universes, frame.bytes, desks);
  return frame.bytes;
}

/** A frame at rest, and the moment its layers are drawn at. */
export function beginFrame(rig: RigArrays, live: PreparedLive, nowMs: number, frame: Frame): LayerTime {
  clearFrame(rig, frame);
  return timeOf(live, nowMs, frame);
}

function clearFrame(rig: RigArrays, { current, rank }: Frame): void {
  current.set(rig.home);
  rank.fill(-1);
}

function timeOf(live: PreparedLive, nowMs: number, { time }: Frame): LayerTime {
  time.ms = live.frozen?.at ?? nowMs;
  time.beat = live.frozen?.beat ?? beatAt(live.tempo, nowMs);
  time.tempo = live.tempo;
  return time;
}

/** The first half of a frame: attribute values of all that plays and is by hand, or on the way to it from what was. */
export function drawValues(rig: RigArrays, live: PreparedLive, nowMs: number, frame: Frame): void {
  drawLayers(rig, live, live, nowMs, frame);
  const { fading } = live;
  if (fading && nowMs < fading.at + fading.ms) {
    frame.fading ??= makeFrame(rig, NO_BYTES);
    drawLayers(rig, live, fading.from, nowMs, frame.fading);
    mixFrames(rig, frame.fading, frame, clamp01((nowMs - fading.at) / fading.ms));
  }
  if (live.settling) settle(live.settling, frame.current, nowMs);
}

/** Heads that were elsewhere before an edit come over from there. */
function settle({ at, ms, slots, off }: PreparedSettling, current: Float32Array, nowMs: number): void {
  const t = clamp01((nowMs - at) / ms);
  if (t >= 1) return;
  const left = 1 - ease(t);
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]!;
    current[slot] = clamp01(current[slot]! + off[i]! * left);
  }
}

const NO_BYTES = new Uint8Array(0);

function drawLayers(rig: RigArrays, live: PreparedLive, values: PreparedValues, nowMs: number, frame: Frame): void {
  const time = timeOf(live, nowMs, frame);
  const { layers } = values;
  let still = 0;
  while (still < layers.length && (layers[still]!.failed !== null || isStill(layers[still]!, time))) still++;
  beginStill(rig, values, frame, still);
  for (let i = still; i < layers.length; i++) {
    const layer = layers[i]!;
    if (isCovered(layers, layer.coveredBy, time)) continue;
    layer.levelsOnly = isCovered(layers, layer.restCoveredBy, time);
    drawLayer(frame, layer);
  }
  applyRow(frame, values.hand, values.hand.values, 0, HAND_RANK, 1);
  for (let i = 0; i < values.handEffects.length; i++) {
    const { play, program } = values.handEffects[i]!;
    applyEffect(frame, program, positionOf(play, program, time.ms, time.beat), HAND_RANK, 1);
  }
}

function drawLayer(frame: Frame, layer: Layer): void {
  if (layer.failed !== null) return;
  try {
    applyLayer(frame, layer, frame.time);
  } catch (error) {
    // One that fails is taken out and told; the rest goes on.
    layer.failed = String((error as Error).stack ?? error);
  }
}

/** A frame with the first `count` layers, which stand still: they are drawn once and kept. */
function beginStill(rig: RigArrays, values: PreparedValues, frame: Frame, count: number): void {
  const { still, current, base, rank } = frame;
  if (count > 0 && still.live === values && still.count === count && still.values) {
    current.set(still.values.current);
    base.set(still.values.base);
    rank.set(still.values.rank);
    return;
  }
  clearFrame(rig, frame);
  for (let i = 0; i < count; i++) {
    values.layers[i]!.levelsOnly = false;
    drawLayer(frame, values.layers[i]!);
  }
  if (count === 0) return;
  still.values ??= {
    current: new Float32Array(current.length),
    base: new Float32Array(base.length),
    rank: new Int32Array(rank.length),
  };
  still.values.current.set(current);
  still.values.base.set(base);
  still.values.rank.set(rank);
  still.live = values;
  still.count = count;
}

/** Between two live states: attribute values of one fade into those of the other, what jumps is that of the second. */
function mixFrames(rig: RigArrays, from: Frame, into: Frame, mix: number): void {
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
  if (rig.movers.length > 0) holdMovement(rig.movers, current, frame.motion, nowMs);
  const dark = darkLevel(live.dark, nowMs);
  const master = live.grand * dark;
  applyMasters(rig, current, live.masters, areasAt(live.masters, nowMs), master);
  if (live.darkHaze && dark < 1) applyHaze(rig, current, dark);
  frame.bytes.fill(0);
  const written = guard?.apply(current, nowMs, master, frame.bytes) ?? false;
  if (!written) encodeCells(rig, current, frame.bytes);
  mixColours(rig, current);
  encodeRest(rig, current, frame.bytes);
  frame.raw.ceiling = live.ceiling ?? rig.ceiling;
  applyRaw(live, frame, master, nowMs);
  const raw = live.test !== null || live.probe !== null || live.rawAt.length > 0;
  if (rig.movers.length > 0) {
    if (raw) holdRaw(rig.movers, current, frame.motion, frame.bytes, nowMs);
    endMotion(frame.motion, nowMs);
  }
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
