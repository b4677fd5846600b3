import { recordsOf, type Document } from '../../document/change.ts';
import { kindOf, type ChaseId, type Id, type LitId } from '../../ids.ts';
import { splitAttributeKey } from '../../attributes.ts';
import { madeOfAims } from '../../aim/solutions.ts';
import { moodsOf } from '../../profile/moods.ts';
import { shownBy, type ChaseStep } from '../../records/chase.ts';
import { followedIn } from '../../records/effect.ts';
import {
  describe,
  referencesOf,
  type AnyRecord,
  type ChaseRecord,
  type EffectRecord,
  type RecordOf,
  type SceneRecord,
} from '../../records/index.ts';
import { MOODS, type Mood } from '../../records/profile.ts';
import type { UnitValues } from '../../records/scene.ts';
import { assembleChase, type ChaseProgram, type StepShown } from './chase.ts';
import { reached, unitsIn } from '../../patch/groups.ts';
import { compileEffect, type EffectProgram } from '../effect/compile.ts';
import { slotsOf } from './drawing.ts';
import type { CompiledRig } from '../rig/rig.ts';
import { travellersOf } from './travel.ts';
import { ENDLESS, type Span } from './span.ts';
import { moodOf, recordIdOf } from '../../records/target.ts';
import type { Play } from '../live/state.ts';
import {
  compileValues,
  layFractions,
  noFractions,
  NO_VALUES,
  slotValues,
  type Fractions,
  type Reach,
  type SlotValues,
} from '../rig/values.ts';

/** Own times of attributes of a scene, by place in its slots, in ms. */
export interface SlotTimes {
  readonly delayMs: Float64Array;
  readonly fadeInMs: Float64Array;
  readonly fadeOutMs: Float64Array;
  /** 1 where it jumps. */
  readonly snap: Uint8Array;
}

/** A scene against one rig. */
export interface SceneProgram extends SlotValues, Span {
  readonly type: 'scene';
  /** null where every attribute goes with the scene. */
  readonly times: SlotTimes | null;
}

/** What can play: each has a span (`span.ts`) and says how it is drawn and what it touches (`drawing.ts`). */
export type Program = SceneProgram | ChaseProgram | EffectProgram;

/** Below every scene that does not say otherwise: what a scene says of a special channel wins over the mood. */
export const MOOD_PRIORITY = 50;
const MOOD_FADE_MS = 1000;
const REST_FADE_MS = 1000;
/** Steps within steps within steps: deeper is shown as nothing. */
export const DEEPEST = 4;

/** The units a record or play is held to; null for all. Within an area are also areas that lie in it. */
export function reachOf(document: Document, ...limits: readonly (Reach | Id<'area'> | null)[]): Reach {
  let reach: Set<string> | null = null;
  for (const limit of limits) {
    const own: Reach = typeof limit === 'string' ? new Set<string>(unitsIn(document, limit)) : limit;
    if (!own) continue;
    reach = new Set([...(reach ?? own)].filter((id) => own.has(id)));
  }
  return reach;
}

export function compileScene(
  rig: CompiledRig,
  document: Document,
  scene: SceneRecord,
  reach: Reach = null,
): SceneProgram {
  const { priority, fadeInMs, fadeOutMs, delayMs } = scene;
  const within = reachOf(document, reach, scene.areaId);
  const mood = scene.mood ? moodFractions(rig, document, scene.mood, within) : noFractions(rig);
  const values = slotValues(rig, layFractions(rig, document, scene.values, within, mood));
  const times = timesOf(rig, scene, values);
  const longestOutMs = times?.fadeOutMs.reduce((most, ms) => Math.max(most, ms), 0) ?? 0;
  return { ...ENDLESS, type: 'scene', priority, fadeInMs, fadeOutMs, delayMs, longestOutMs, times, ...values };
}

function timesOf(rig: CompiledRig, scene: SceneRecord, { slots }: SlotValues): SlotTimes | null {
  if (Object.keys(scene.times).length === 0) return null;
  const attributes = new Map<number, string>();
  for (const { base, slots: own } of rig.units.values())
    for (const [key, { slot }] of own) {
      const { attribute } = splitAttributeKey(key);
      if (scene.times[attribute]) attributes.set(base + slot, attribute);
    }
  const of = (slot: number): SceneRecord['times'][string] | undefined => scene.times[attributes.get(slot) ?? ''];
  const list = (pick: (time: SceneRecord['times'][string]) => number | undefined, usual: number): Float64Array =>
    Float64Array.from(slots, (slot) => {
      const time = of(slot);
      return (time && pick(time)) ?? usual;
    });
  return {
    delayMs: list((t) => t.delayMs, scene.delayMs),
    fadeInMs: list((t) => t.fadeInMs, scene.fadeInMs),
    fadeOutMs: list((t) => t.fadeOutMs, scene.fadeOutMs),
    snap: Uint8Array.from(slots, (slot) => (of(slot)?.snap ? 1 : rig.arrays.snap[slot]!)),
  };
}

/** What a mood asks of the special channels of every unit within reach. */
function moodFractions(rig: CompiledRig, document: Document, mood: Mood, reach: Reach): Fractions {
  const place = MOODS.indexOf(mood);
  const values: Record<string, UnitValues> = {};
  for (const profile of recordsOf(document, 'profile')) {
    const own: UnitValues = {};
    for (const { channel, row } of moodsOf(profile)) {
      const value = row?.[place];
      if (value !== null && value !== undefined) own[channel.attribute] = value;
    }
    if (Object.keys(own).length === 0) continue;
    for (const unit of rig.units.values())
      if (unit.profileId === profile.id && unit.id === unit.unitId) values[unit.id] = own;
  }
  return layFractions(rig, document, values, reach, noFractions(rig));
}

function compileMood(rig: CompiledRig, document: Document, mood: Mood, reach: Reach): SceneProgram {
  return {
    ...still(MOOD_PRIORITY, MOOD_FADE_MS),
    ...slotValues(rig, moodFractions(rig, document, mood, reach)),
  };
}

const still = (priority: number, fadeMs: number) =>
  ({ ...ENDLESS, type: 'scene', priority, fadeInMs: fadeMs, fadeOutMs: fadeMs, times: null }) as const;

/** An area that rests: everything in it as it is when nothing plays. */
function compileRest(rig: CompiledRig, document: Document, area: Id<'area'>): SceneProgram {
  const found = noFractions(rig);
  for (const id of unitsIn(document, area)) {
    const unit = rig.units.get(id);
    for (const { slot } of unit?.slots.values() ?? []) found[unit!.base + slot] = rig.arrays.home[unit!.base + slot]!;
  }
  return { ...still(0, REST_FADE_MS), ...slotValues(rig, found) };
}

export function compileChase(
  rig: CompiledRig,
  document: Document,
  chase: ChaseRecord,
  reach: Reach = null,
  above: readonly ChaseId[] = [],
): ChaseProgram {
  const within = reachOf(document, reach, chase.areaId);
  const looks = new Map<string, StepShown>();
  const lookOf = (step: ChaseStep): StepShown => {
    const shown = shownBy(step);
    if (!shown) return compileValues(rig, document, step.values ?? {}, within);
    let look = looks.get(shown);
    if (!look) looks.set(shown, (look = compileShown(rig, document, shown, within, [...above, chase.id])));
    return look;
  };
  const program = assembleChase(rig, chase, chase.steps.map(lookOf));
  if (chase.travel === 'turn' || program.moving) return program;
  return { ...program, travellers: travellersOf(rig, document, chase.steps, program) };
}

/** What a step that names something shows. A chase that would show itself, and one too deep, show nothing. */
function compileShown(
  rig: CompiledRig,
  document: Document,
  id: Id,
  reach: Reach,
  above: readonly ChaseId[],
): StepShown {
  const record = document.get(id);
  if (record?.kind === 'scene') return compileScene(rig, document, record, reach);
  if (record?.kind === 'effect') {
    const program = compileEffectRecord(rig, document, record, reach);
    return { program, slots: slotsOf(program) };
  }
  if (record?.kind === 'chase' && !above.includes(record.id) && above.length < DEEPEST) {
    const program = compileChase(rig, document, record, reach, above);
    return { program, slots: slotsOf(program) };
  }
  return NO_VALUES;
}

function compileEffectRecord(
  rig: CompiledRig,
  document: Document,
  effect: EffectRecord,
  reach: Reach,
  spec: Play['spec'] = null,
): EffectProgram {
  const on = reached(document, effect.on, reachOf(document, reach, effect.areaId));
  return compileEffect(rig, document, spec ?? effect, on, effect);
}

/** What is compiled, where: `play` may change the effect it plays. */
interface Compiling {
  readonly rig: CompiledRig;
  readonly document: Document;
  readonly reach: Reach;
  readonly spec: Play['spec'];
}
type Playable = 'scene' | 'chase' | 'effect' | 'area';
/** What each kind of record that can play is compiled to. */
const COMPILERS: { readonly [K in Playable]: (record: RecordOf[K], at: Compiling) => Program } = {
  scene: (scene, { rig, document, reach }) => compileScene(rig, document, scene, reach),
  chase: (chase, { rig, document, reach }) => compileChase(rig, document, chase, reach),
  effect: (effect, { rig, document, reach, spec }) => compileEffectRecord(rig, document, effect, reach, spec),
  area: ({ id }, { rig, document }) => compileRest(rig, document, id),
};

/** An effect that is in no record lies under everything that people play. */
const OF_ITSELF = { priority: 0, fadeInMs: 0, fadeOutMs: 0 } as const;

/** Compiles whatever plays, for where it plays; null when what it plays no longer exists. */
export function compilePlay(
  rig: CompiledRig,
  document: Document,
  play: Pick<Play, 'target' | 'spec' | 'on' | 'areaId'>,
): Program | null {
  const reach = reachOf(document, play.on && new Set<string>(play.on), play.areaId);
  const mood = play.target && moodOf(play.target);
  if (mood) return compileMood(rig, document, mood, reach);
  if (play.target === null && play.spec)
    return compileEffect(rig, document, play.spec, reached(document, (play.on ?? []) as LitId[], reach), OF_ITSELF);
  const record = document.get((recordIdOf(play.target) ?? '') as Id);
  if (!record || !Object.hasOwn(COMPILERS, record.kind)) return null;
  const compile = COMPILERS[record.kind as Playable] as (record: AnyRecord, at: Compiling) => Program;
  return compile(record, { rig, document, reach, spec: play.spec });
}

/** An effect by hand, over what is by hand. */
export const compileHandEffect = (
  rig: CompiledRig,
  document: Document,
  play: Play,
  byHand: ReadonlySet<number>,
): EffectProgram | null =>
  play.spec &&
  compileEffect(
    rig,
    document,
    play.spec,
    (play.on ?? []) as LitId[],
    { priority: 100, fadeInMs: 0, fadeOutMs: 0 },
    byHand,
  );

/** Kinds of record whose change is heard in what refers to them; all others make a new rig. */
const isHeard = (id: Id): boolean => describe(kindOf(id)!).madeOf === 'program';
const heardIn = new WeakMap<AnyRecord, readonly Id[]>();

/** What a record refers to that is heard in it; worked out once for a record. */
function heardBy(record: AnyRecord): readonly Id[] {
  let found = heardIn.get(record);
  if (!found) {
    const named = Array.from(referencesOf(record), ([, id]) => id);
    heardIn.set(record, (found = [...new Set(named)].filter(isHeard)));
  }
  return found;
}

/** Records a program is made of, the target first: while none of them changes it stays as it was compiled. */
export function partsOf(
  document: Document,
  target: Play['target'],
  spec: Play['spec'] = null,
): (AnyRecord | undefined)[] {
  const found = new Map<Id, AnyRecord | undefined>();
  const add = (id: Id): void => {
    if (found.has(id)) return;
    const record = document.get(id);
    found.set(id, record);
    if (record) for (const named of heardBy(record)) add(named);
  };
  const id = recordIdOf(target);
  if (id) add(id);
  for (const part of spec?.parts ?? []) for (const [, named] of followedIn(part)) add(named);
  // Which half of its travel a head takes for one aim is decided by all of them.
  if ([...found.keys()].some((named) => named.startsWith('aim:')))
    for (const record of madeOfAims(document)) found.set(record.id, record);
  return [...found.values()];
}
