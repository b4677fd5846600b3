import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { Id, LitId, UnitId } from '../ids.ts';
import { paletteValue } from '../palette/resolve.ts';
import { splitAttributeKey } from '../attributes.ts';
import { rangeAt, valueToFraction } from '../profile/layout.ts';
import { litOf } from '../patch/lit.ts';
import { measureFlashes } from './flashing.ts';
import type { ChaseRecord, EffectRecord, SceneRecord, ShowRecord } from '../records/index.ts';
import type { UnitValues } from '../records/scene.ts';
import { isAimValue, isPaletteValue } from '../records/value.ts';
import { plotShares } from '../plot/lit-area.ts';
import { reached } from '../patch/groups.ts';
import { reachOf } from '../show/play/program.ts';
import { flashesAt } from '../show/rig/lamps.ts';

/** Something in scenes, chases or effects that will not be as it was meant. */
interface ProgrammingFault {
  readonly code: 'FLASHES' | 'PLAYS_ON_NOBODY' | 'NO_STEPS' | 'SILENT_PALETTE';
  readonly severe: boolean;
  readonly playableId: Id;
  readonly title: string;
  readonly message: string;
  readonly unitIds: readonly UnitId[];
}

const known = new WeakMap<Document, readonly ProgrammingFault[]>();

/** Everything worth telling of the programming. Linear in what is programmed; kept for as long as the document. */
export function programmingFaults(document: Document): readonly ProgrammingFault[] {
  let found = known.get(document);
  if (!found) {
    const show = showOf(document);
    found = [
      ...recordsOf(document, 'scene').flatMap((scene) => sceneFaults(show, scene)),
      ...recordsOf(document, 'chase').flatMap((chase) => chaseFaults(show, chase)),
      ...recordsOf(document, 'effect').flatMap((effect) => effectFaults(show, effect)),
    ];
    known.set(document, found);
  }
  return found;
}

/** The show, with what every check asks of it. */
interface Show {
  readonly document: Document;
  /** Null in a document without a show record: nothing is limited. */
  readonly safety: ShowRecord['safety'] | null;
  readonly bpm: number;
}
function showOf(document: Document): Show {
  const show = recordsOf(document, 'show')[0];
  return {
    document,
    safety: show?.safety ?? null,
    bpm: show?.tempoBpm ?? 120,
  };
}

type Playable = SceneRecord | ChaseRecord | EffectRecord;
const fault = (
  record: Playable,
  code: ProgrammingFault['code'],
  message: string,
  unitIds: readonly UnitId[] = [],
  severe = false,
): ProgrammingFault => ({ code, severe, playableId: record.id, title: record.name, message, unitIds });

const unitsOf = (document: Document, ids: readonly LitId[]): UnitId[] => [
  ...new Set(ids.flatMap((id) => litOf(document, id)?.unit.id ?? [])),
];

/**
 * What is said where something flashes too fast over too much of the plot: held back, or (where the limit is lifted)
 * sent as it is. `share`: how much of the light of `units` flashes.
 */
function flashing(
  show: Show,
  record: Playable,
  hz: number,
  units: readonly UnitId[],
  share: number,
): ProgrammingFault[] {
  const { safety, document } = show;
  if (!safety || hz <= safety.flashesPerSecond + 1e-9) return [];
  const shares = plotShares(document);
  const part = units.reduce((sum, id) => sum + (shares.get(id) ?? 0), 0) * share;
  if (part <= safety.share + 1e-6) return [];
  const { limitFlashes, flashesPerSecond } = safety;
  const of = `${units.length} of ${recordsOf(document, 'unit').length} units`;
  const what = `flashes ${rounded(hz)} times a second on ${of}, ${percent(part)} of the plot`;
  const limit = `the limit is ${rounded(flashesPerSecond)} over ${percent(safety.share)}`;
  return [
    fault(
      record,
      'FLASHES',
      limitFlashes ? `${what}; ${limit}: it will be held back` : `${what}; ${limit}, and it is lifted: it will be sent`,
      units,
      !limitFlashes,
    ),
  ];
}

/** Flashes of a chase or an effect, measured by playing it. */
function measuredFlashes(show: Show, record: ChaseRecord | EffectRecord, on: readonly LitId[]): ProgrammingFault[] {
  const { document, safety, bpm } = show;
  if (!safety || on.length === 0) return [];
  const { perSecond, share } = measureFlashes(document, record, on, { perSecond: safety.flashesPerSecond, bpm });
  return flashing(show, record, perSecond, unitsOf(document, on), share);
}

const percent = (share: number): string => `${Math.round(share * 100)} %`;
const rounded = (value: number): number => Math.round(value * 10) / 10;

/** An effect whose parts make so few turns a second cannot flash too fast, whatever they draw in a turn. */
const MOST_A_TURN = 8;

function effectFaults(show: Show, effect: EffectRecord): ProgrammingFault[] {
  const { document, safety } = show;
  const on = reached(document, effect.on, reachOf(document, effect.areaId));
  if (unitsOf(document, on).length === 0)
    return [fault(effect, 'PLAYS_ON_NOBODY', 'plays on no unit: choose some, or a group or an area')];
  const turns = effect.rate * (effect.beats ? show.bpm / 60 : 1) * Math.max(0, ...effect.parts.map((p) => p.times));
  const draws = effect.parts.some((part) => part.does !== 'aim');
  return draws && turns * MOST_A_TURN > (safety?.flashesPerSecond ?? 0) ? measuredFlashes(show, effect, on) : [];
}

function chaseFaults(show: Show, chase: ChaseRecord): ProgrammingFault[] {
  const { document, safety } = show;
  if (chase.steps.length === 0) return [fault(chase, 'NO_STEPS', 'has no steps: nothing plays')];
  const lengths = chase.steps.map((step) => (step.fade ?? chase.fade) + (step.hold ?? chase.hold));
  const shortest = Math.min(...lengths.filter((length) => length > 0));
  const seconds = chase.timeUnit === 'beats' ? (shortest * 60) / show.bpm : shortest;
  const moves = chase.steps.some((step) => step.effectId || step.chaseId);
  // A lamp flashes at most once in two steps, unless a step moves by itself.
  if (!moves && !(1 / (2 * seconds) > (safety?.flashesPerSecond ?? Infinity))) return [];
  return measuredFlashes(show, chase, chaseReach(document, chase));
}

/** Units and parts that the steps of a chase light. */
function chaseReach(document: Document, chase: ChaseRecord, above: readonly Id[] = []): LitId[] {
  const found = new Set<LitId>();
  for (const { values, sceneId, effectId, chaseId } of chase.steps) {
    const scene = sceneId && getRecord(document, 'scene', sceneId);
    for (const id of Object.keys(values ?? (scene ? scene.values : {}))) found.add(id as LitId);
    const effect = effectId && getRecord(document, 'effect', effectId);
    if (effect) for (const id of reached(document, effect.on, reachOf(document, effect.areaId))) found.add(id);
    const other = chaseId && !above.includes(chaseId) && getRecord(document, 'chase', chaseId);
    if (other) for (const id of chaseReach(document, other, [...above, chase.id])) found.add(id);
  }
  const reach = reachOf(document, chase.areaId);
  return [...found].filter((id) => !reach || reach.has(litOf(document, id)?.unit.id ?? id));
}

function sceneFaults(show: Show, scene: SceneRecord): ProgrammingFault[] {
  const { document } = show;
  const limit = show.safety?.flashesPerSecond ?? 3;
  const fast: LitId[] = [];
  const silent = new Map<string, UnitId[]>();
  let fastest = 0;
  for (const [id, own] of Object.entries(scene.values) as [LitId, UnitValues][]) {
    const lit = litOf(document, id);
    if (!lit) continue;
    for (const [key, value] of Object.entries(own)) {
      const { attribute } = splitAttributeKey(key);
      const channel = lit.layout.programmable.find((p) => p.attribute === attribute)?.channel ?? null;
      if (isPaletteValue(value)) {
        const palette = getRecord(document, 'palette', value.palette);
        const asking = { id, unitId: lit.unit.id, profileId: lit.unit.profileId, channel };
        if (palette && paletteValue(palette, asking, key) === null)
          silent.set(palette.name, [...(silent.get(palette.name) ?? []), lit.unit.id]);
        continue;
      }
      if (!channel || isAimValue(value) || !/^(Shutter|StrobeRate)/.test(attribute)) continue;
      const raw = Math.floor((valueToFraction(channel, value) ?? 0) * 255);
      const range = rangeAt(channel, raw);
      const hz = flashesAt(channel, range ? channel.ranges.indexOf(range) : -1, raw);
      if (hz > limit) fast.push(id);
      fastest = Math.max(fastest, hz);
    }
  }
  return [
    ...flashing(show, scene, fastest, unitsOf(document, fast), 1),
    ...[...silent].map(([name, units]) =>
      fault(
        scene,
        'SILENT_PALETTE',
        `refers to palette “${name}”, which says nothing for ${units.length} ${units.length === 1 ? 'unit' : 'units'}`,
        [...new Set(units)],
      ),
    ),
  ];
}
