import { getRecord, type Document } from '../document/change.ts';
import type { Id, LitId } from '../ids.ts';
import { attributeInfo, splitAttributeKey } from '../attributes.ts';
import { areaIdOf, areaChain } from '../patch/areas.ts';
import { membersOf } from '../patch/groups.ts';
import { darkLevel, positionOf } from './play/clock.ts';
import { applyEffect } from './effect/draw.ts';
import { applyLayer, HAND_RANK, levelOf } from './play/layers.ts';
import { applyRow } from './play/merge.ts';
import { slotsOf } from './play/drawing.ts';
import { heldBy } from './guard/movement.ts';
import { beginFrame, finish, makeFrame, type Frame, type PreparedLive } from './play/render.ts';
import type { CompiledRig } from './rig/rig.ts';
import { moodOf, recordIdOf } from '../records/target.ts';
import { ROLE_WORDS, type Role } from '../records/variant.ts';
import { isAuto, songHeight } from './play/own-plays.ts';
import type { LiveState, Play } from './live/state.ts';

/** Why something on the stack counts or not. */
export type Verdict =
  /** It is what is sent. */
  | 'wins'
  /** It is on its way in or out: what is sent lies between it and what counts below. */
  | 'fading'
  /** Part of what is sent: what came later only fades over it, scales it or moves round it. */
  | 'counts'
  /** A level below another of the same rank: the highest takes precedence. */
  | 'lower'
  /** Something of the same rank began later. */
  | 'earlier'
  /** Something of a higher priority, of an area, a flash or the hand lies over it. */
  | 'covered'
  /** It has not faded in yet, or has faded out. */
  | 'silent'
  /** It failed and was taken out. */
  | 'failed';

export interface Influence {
  readonly what: 'rest' | 'scene' | 'chase' | 'effect' | 'mood' | 'area' | 'hand' | 'handEffect' | 'identify';
  readonly playId: string | null;
  readonly name: string;
  /** Rank, and of a play its priority and how far it has faded in, 0-1. */
  readonly rank: number;
  readonly priority: number | null;
  readonly level: number;
  /** The value after it was laid over those before, 0-1. */
  readonly after: number;
  readonly verdict: Verdict;
}

export interface Taken {
  readonly what: 'limit' | 'keepOut' | 'group' | 'kind' | 'solo' | 'area' | 'areaDark' | 'grand' | 'dark';
  readonly name: string;
  /** What it leaves, 0-1. */
  readonly leaves: number;
}

/** One attribute of one unit at one moment: everything that sets it, from the bottom up, and what is taken off after. */
export interface Explanation {
  readonly unitId: LitId;
  readonly attribute: string;
  readonly influences: readonly Influence[];
  readonly masters: readonly Taken[];
  /** What is sent, 0-1, before colour and 16 bit. */
  readonly sent: number;
}

export interface Explaining {
  readonly rig: CompiledRig;
  readonly document: Document;
  readonly state: LiveState;
  readonly live: PreparedLive;
  readonly nowMs: number;
}

/** What a play is called. */
export function playName(document: Document, play: Pick<Play, 'target' | 'spec'>): string {
  const record = document.get((recordIdOf(play.target) ?? '') as Id);
  if (record && 'name' in record) return record.kind === 'area' ? `${record.name} rests` : record.name;
  const mood = play.target && moodOf(play.target);
  return mood ? `Mood: ${mood}` : 'Effect by hand';
}

/** What runs by itself says so. */
function layerName(document: Document, play: Play): string {
  if (songHeight(play) !== null) return play.target ? `Song: ${playName(document, play)}` : 'Song';
  if (!isAuto(play)) return playName(document, play);
  const role = play.id.split(' ')[2] as Role;
  const name = ROLE_WORDS[role] ? `Auto, ${ROLE_WORDS[role]}` : 'Auto';
  return play.target ? `${name}: ${playName(document, play)}` : name;
}

/** Explains attributes of a unit (all it has where none is named). Costs a frame of the whole rig. */
export const explain = (
  asking: Explaining,
  unitId: LitId,
  attributes: readonly string[] | null = null,
): Explanation[] => explainAll(asking, [unitId], attributes);

/**
 * Explains attributes of units by drawing layer after layer and looking what each one did. Costs a frame of the whole
 * rig, however many are asked of. Units that the rig does not have are left out.
 */
export function explainAll(
  { rig, document, state, live, nowMs }: Explaining,
  unitIds: readonly LitId[],
  attributes: readonly string[] | null = null,
): Explanation[] {
  const asked = unitIds.flatMap((id) => {
    const unit = rig.units.get(id);
    const keys = [...(unit?.slots.keys() ?? [])].filter((key) => !attributes || attributes.includes(key));
    return keys.map((key) => ({ unit: unit!, key, slot: unit!.base + unit!.slots.get(key)!.slot }));
  });
  if (asked.length === 0) return [];
  const slots = asked.map((a) => a.slot);
  const frame = makeFrame(rig.arrays);
  const time = beginFrame(rig.arrays, live, nowMs, frame);
  const stacks: Draft[][] = slots.map((slot) => [
    { ...REST, after: frame.current[slot]!, before: frame.current[slot]! },
  ]);
  const note = (touched: (slot: number) => boolean, what: Omit<Draft, 'before' | 'after'>, draw: () => void): void => {
    const before = slots.map((slot) => frame.current[slot]!);
    draw();
    slots.forEach((slot, i) => {
      if (touched(slot)) stacks[i]!.push({ ...what, before: before[i]!, after: frame.current[slot]! });
    });
  };
  for (const layer of live.layers) {
    const own = slotsOf(layer.program);
    const { play, rank, program } = layer;
    const what = play.target ? (moodOf(play.target) ? 'mood' : kindOfTarget(play)) : 'effect';
    const level = levelOf(layer, time);
    const draft = { what, playId: play.id, name: layerName(document, play), rank, priority: program.priority, level };
    note(
      (slot) => own.has(slot),
      { ...draft, failed: layer.failed !== null },
      () => {
        if (layer.failed === null) applyLayer(frame, layer, time);
      },
    );
  }
  const byHand = new Set(live.hand.slots);
  const hand = { playId: null, rank: HAND_RANK, priority: null, level: 1, failed: false };
  note(
    (slot) => byHand.has(slot),
    { ...hand, what: 'hand', name: 'By hand' },
    () => applyRow(frame, live.hand, live.hand.values, 0, HAND_RANK, 1),
  );
  for (const { play, program } of live.handEffects) {
    const own = slotsOf(program);
    note(
      (slot) => own.has(slot),
      { ...hand, what: 'handEffect', playId: play.id, name: 'Effect by hand' },
      () => applyEffect(frame, program, positionOf(play, program, time.ms, time.beat), HAND_RANK, 1),
    );
  }
  const lit = new Set(live.identify);
  note(
    (slot) => lit.has(slot),
    { ...hand, what: 'identify', name: 'Identify', rank: HAND_RANK + 1 },
    () => {
      for (const slot of live.identify) frame.current[slot] = rig.arrays.highlight[slot]!;
    },
  );
  finish(rig.arrays, live, nowMs, frame);
  const mastered = new Set(rig.arrays.mastered);
  return asked.map(({ unit, key }, i) => ({
    unitId: unit.id,
    attribute: key,
    influences: judged(stacks[i]!, splitAttributeKey(key).attribute),
    masters: mastered.has(slots[i]!)
      ? [...keptOutOf(rig, frame, unit.unitId), ...takenFrom(document, state, unit.unitId, nowMs)]
      : [],
    sent: frame.current[slots[i]!]!,
  }));
}

interface Draft extends Omit<Influence, 'verdict'> {
  readonly before: number;
  readonly failed: boolean;
}

const REST = {
  what: 'rest',
  playId: null,
  name: 'At rest',
  rank: -1,
  priority: null,
  level: 1,
  failed: false,
} as const;

const kindOfTarget = (play: Play): Influence['what'] =>
  play.target!.slice(0, play.target!.indexOf(':')) as 'scene' | 'chase' | 'effect' | 'area';

/**
 * Goes down from the top: the first that leaves nothing of what is below wins, what is under it is covered. While
 * something fades over it, it only counts; a level that fades in over nothing is what is sent itself.
 */
function judged(stack: readonly Draft[], attribute: string): Influence[] {
  const highest = attributeInfo(attribute)?.merge === 'htp';
  const found: Influence[] = [];
  let over: Draft | null = null;
  for (let i = stack.length - 1; i >= 0; i--) {
    const { before: _, failed, ...draft } = stack[i]!;
    const entry = stack[i]!;
    let verdict: Verdict;
    if (failed) verdict = 'failed';
    else if (entry.level <= 0) verdict = 'silent';
    else if (over && over.rank === entry.rank) verdict = highest ? 'lower' : 'earlier';
    else if (over) verdict = 'covered';
    // A level of the same rank that changed nothing was not the highest.
    else if (
      highest &&
      entry.after === entry.before &&
      stack.slice(0, i).some((d) => d.rank === entry.rank && d.level > 0)
    )
      verdict = 'lower';
    else if (covers(entry)) {
      over = entry;
      verdict = found.some((f) => f.verdict === 'fading') ? 'counts' : 'wins';
    } else verdict = isFade(entry) ? 'fading' : 'counts';
    found.push({ ...draft, verdict });
  }
  return (highest && over?.after === 0 ? overNothing(found) : found).reverse();
}

/** Levels that fade over nothing, from the top down: the uppermost is what is sent, those below it are lower. */
function overNothing(found: readonly Influence[]): Influence[] {
  const top = found.findIndex((f) => f.verdict === 'fading');
  if (top < 0) return [...found];
  return found.map((f, i) => {
    if (f.verdict === 'fading') return { ...f, verdict: i === top ? 'wins' : 'lower' };
    return f.verdict === 'counts' && f.after === 0 ? { ...f, verdict: 'covered' } : f;
  });
}

/** A scene, chase or the like on its way in or out. */
const isFade = ({ what, level }: Draft): boolean => level < 1 && what !== 'effect' && what !== 'handEffect';

/** Whether nothing of what is below is seen through it. Effects may scale or move; what fades lets through. */
const covers = ({ what, level }: Draft): boolean =>
  what === 'rest' ||
  what === 'hand' ||
  what === 'identify' ||
  (level >= 1 && what !== 'effect' && what !== 'handEffect');

/** What a beam keeps out of at this moment, and what that leaves of its level. */
function keptOutOf({ arrays: { movers } }: CompiledRig, { motion, current }: Frame, unitId: string): Taken[] {
  const at = movers.findIndex((mover) => mover.unitId === unitId);
  const held = at < 0 ? [] : heldBy(movers[at]!, motion.pan[at]!, motion.tilt[at]!, current);
  return held.map(({ name, left }) => ({ what: 'keepOut', name, leaves: left }));
}

function takenFrom(document: Document, state: LiveState, unitId: string, nowMs: number): Taken[] {
  const unit = getRecord(document, 'unit', unitId);
  if (!unit) return [];
  const found: Taken[] = [];
  const take = (what: Taken['what'], name: string, leaves: number): void => {
    if (leaves < 1) found.push({ what, name, leaves });
  };
  take('limit', 'Limit of the unit', unit.levelLimit);
  for (const record of document.values()) {
    if (record.kind !== 'group' || (record.levelLimit >= 1 && state.groups[record.id] === undefined)) continue;
    if (!membersOf(document, record).includes(unit.id)) continue;
    take('limit', `Limit of ${record.name}`, record.levelLimit);
    take('group', record.name, state.groups[record.id] ?? 1);
  }
  const kind = getRecord(document, 'profile', unit.profileId)?.fixtureKind;
  if (kind) take('kind', kind, state.kinds[kind] ?? 1);
  if (state.solo.length > 0 && !state.solo.includes(unit.id)) take('solo', 'Others are alone', 0);
  for (const id of areaChain(document, areaIdOf(document, unit))) {
    const name = getRecord(document, 'area', id)?.name ?? id;
    take('area', name, state.areas[id] ?? 1);
    const dark = state.areasDark[id];
    if (dark) take('areaDark', name, darkLevel(dark, nowMs));
  }
  take('grand', 'Grand master', state.grand);
  take('dark', 'Dark', darkLevel(state.dark, nowMs));
  return found;
}
