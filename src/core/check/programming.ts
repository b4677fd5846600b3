import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { Id, LitId, UnitId } from '../ids.ts';
import { paletteValue } from '../palette/resolve.ts';
import { splitAttributeKey } from '../profile/attributes.ts';
import { rangeAt, valueToFraction } from '../profile/layout.ts';
import { litOf } from '../prop/lit.ts';
import type { EffectPart, EffectSpec } from '../records/effect.ts';
import type { ChaseRecord, EffectRecord, SceneRecord, ShowRecord } from '../records/index.ts';
import type { UnitValues } from '../records/scene.ts';
import { isPaletteValue } from '../records/value.ts';
import { reached } from '../show/effect/compile.ts';
import { flashesAt } from '../show/lamps.ts';

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
  readonly unitCount: number;
}
function showOf(document: Document): Show {
  const show = recordsOf(document, 'show')[0];
  return {
    document,
    safety: show?.safety ?? null,
    bpm: show?.tempoBpm ?? 120,
    unitCount: recordsOf(document, 'unit').length,
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

/** What is said where something flashes too fast: held back, or (where the limit is lifted) sent as it is. */
function flashing(show: Show, record: Playable, hz: number, units: readonly UnitId[]): ProgrammingFault[] {
  const { safety, unitCount: all } = show;
  if (!safety || hz <= safety.flashesPerSecond + 1e-9 || units.length / Math.max(1, all) <= safety.share) return [];
  const { limitFlashes, flashesPerSecond, share } = safety;
  const what = `flashes ${rounded(hz)} times a second on ${units.length} of ${all} units`;
  const limit = `the limit is ${rounded(flashesPerSecond)} over ${Math.round(share * 100)} %`;
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

const rounded = (value: number): number => Math.round(value * 10) / 10;

/** Flashes a turn of each form that has any: how often a lamp rises by a tenth of full light or more. */
function flashesPerTurn(part: EffectPart): number {
  switch (part.does) {
    case 'level':
      return part.wave === 'flicker' ? 0 : part.size >= 0.1 ? 1 : 0;
    case 'colour':
      return part.way === 'hue' || part.way === 'gradient' ? 0 : 1;
    case 'pixels':
      return part.pattern === 'plasma' || part.pattern === 'fire' ? 0 : Math.max(1, part.pattern === 'bars' ? 1 : 0);
    case 'aim':
      return 0;
  }
}

/** The fastest flashing of an effect at a tempo, per second. */
function effectFlashes(spec: EffectSpec, bpm: number): number {
  const turns = spec.rate * (spec.beats ? bpm / 60 : 1);
  return Math.max(0, ...spec.parts.map((part) => flashesPerTurn(part) * part.times * turns));
}

function effectFaults(show: Show, effect: EffectRecord): ProgrammingFault[] {
  const { document } = show;
  const on = unitsOf(document, reached(document, effect.on));
  if (on.length === 0)
    return [fault(effect, 'PLAYS_ON_NOBODY', 'plays on no unit: choose some, or a group or an area')];
  return flashing(show, effect, effectFlashes(effect, show.bpm), on);
}

function chaseFaults(show: Show, chase: ChaseRecord): ProgrammingFault[] {
  const { document } = show;
  if (chase.steps.length === 0) return [fault(chase, 'NO_STEPS', 'has no steps: nothing plays')];
  const scenes = chase.steps.flatMap((step) => {
    const values = step.values ?? (step.sceneId && getRecord(document, 'scene', step.sceneId)?.values);
    return values ? [values] : [];
  });
  if (scenes.length < 2) return [];
  const lengths = chase.steps.map((step) => (step.fade ?? chase.fade) + (step.hold ?? chase.hold));
  const shortest = Math.min(...lengths.filter((length) => length > 0));
  if (!Number.isFinite(shortest)) return [];
  const seconds = chase.timeUnit === 'beats' ? (shortest * 60) / show.bpm : shortest;
  const lit = scenes.flatMap((values) =>
    (Object.entries(values) as [LitId, UnitValues][]).flatMap(([id, own]) =>
      Object.keys(own).some((key) => /^(Dimmer|ColorRGB|ColorAdd)/.test(key)) ? [id] : [],
    ),
  );
  // A lamp that is in every other step flashes once in two of them.
  return flashing(show, chase, 1 / (2 * seconds), unitsOf(document, lit));
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
      if (!channel || !/^(Shutter|StrobeRate)/.test(attribute)) continue;
      const raw = Math.floor((valueToFraction(channel, value) ?? 0) * 255);
      const range = rangeAt(channel, raw);
      const hz = flashesAt(channel, range ? channel.ranges.indexOf(range) : -1, raw);
      if (hz > limit) fast.push(id);
      fastest = Math.max(fastest, hz);
    }
  }
  return [
    ...flashing(show, scene, fastest, unitsOf(document, fast)),
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
