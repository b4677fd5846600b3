import { z } from 'zod';
import { recordsOf, type Document } from '../document/change.ts';
import { litIdSchema, type LitId, type UnitId } from '../ids.ts';
import { attributeKey, splitAttributeKey } from '../attributes.ts';
import { plainValues } from '../palette/resolve.ts';
import { litOf } from '../patch/lit.ts';
import { FaultError } from '../faults.ts';
import type { SceneRecord, UnitRecord } from '../records/index.ts';
import { isKnownVersion, RECORDS_VERSION, upgraded, versionFault } from '../records/versions.ts';
import { sceneSchema, type AttributeValue, type UnitValues } from '../records/scene.ts';
import { storedInto, type Values } from './live/store.ts';

/** What did not fit where values were carried to, in words for people. */
export interface CarriedValues {
  readonly values: Record<LitId, UnitValues>;
  /** Attributes that nobody there has. */
  readonly lost: readonly string[];
}

/**
 * Values of some units carried to others, by their order: the first to the first, the last to the last, those between
 * by where they stand; numbers between two units are mixed, so that a fan over four is the same fan over seven. Cells
 * of a unit are carried to more or fewer cells in the same way.
 */
export function carryValues(
  document: Document,
  values: Values,
  from: readonly LitId[],
  to: readonly LitId[],
): CarriedValues {
  const sources = from.map((id) => values[id] ?? {});
  const carried: Record<LitId, UnitValues> = {};
  const lost = new Set<string>();
  if (sources.length === 0) return { values: carried, lost: [] };
  to.forEach((id, i) => {
    const lit = litOf(document, id);
    if (!lit) return;
    const place = to.length > 1 ? (i / (to.length - 1)) * (sources.length - 1) : 0;
    const mixed = between(sources, place);
    const cells = new Map(lit.layout.programmable.map((p) => [p.attribute, p.cells]));
    const own = fitted(mixed, cells, lost);
    if (Object.keys(own).length > 0) carried[id] = own;
  });
  return { values: carried, lost: [...lost] };
}

/** The values at a place between units: numbers mixed, whatever else from the nearer. */
function between(sources: readonly UnitValues[], place: number): UnitValues {
  const low = Math.floor(place);
  const high = Math.min(sources.length - 1, low + 1);
  const mix = place - low;
  const near = sources[mix < 0.5 ? low : high]!;
  const found: UnitValues = {};
  for (const [key, value] of Object.entries(near)) {
    const [a, b] = [sources[low]![key], sources[high]![key]];
    found[key] = a !== undefined && b !== undefined ? mixed(a, b, mix) : value;
  }
  return found;
}

function mixed(a: AttributeValue, b: AttributeValue, mix: number): AttributeValue {
  const round = (v: number): number => Math.round(v * 1e4) / 1e4;
  if (typeof a === 'number' && typeof b === 'number') return round(a + (b - a) * mix);
  if (typeof a === 'object' && typeof b === 'object' && 'range' in a && 'range' in b && a.range === b.range)
    return { range: a.range, at: round(a.at + (b.at - a.at) * mix) };
  return mix < 0.5 ? a : b;
}

/** What a unit can do of these values; those of cells spread over as many cells as it has. */
function fitted(values: UnitValues, cells: ReadonlyMap<string, number>, lost: Set<string>): UnitValues {
  const own: UnitValues = {};
  const rows = new Map<string, AttributeValue[]>();
  for (const [key, value] of Object.entries(values)) {
    const { attribute, cell } = splitAttributeKey(key);
    if (!cells.has(attribute)) lost.add(attribute);
    else if (cell === 0) own[key] = value;
    else {
      const row = rows.get(attribute) ?? [];
      row[cell - 1] = value;
      rows.set(attribute, row);
    }
  }
  for (const [attribute, row] of rows) {
    const count = cells.get(attribute)!;
    for (let i = 0; i < count; i++) {
      const place = count > 1 ? Math.round((i / (count - 1)) * (row.length - 1)) : 0;
      const value = row[place];
      if (value !== undefined) own[attributeKey(attribute, i + 1)] = value;
    }
    // A unit without cells takes the first of them.
    if (count === 0 && row[0] !== undefined) own[attribute] = row[0];
  }
  return own;
}

/** Units that stand no further than this from where a mirrored one would are its partner. */
const NEAR_M = 1.5;

/**
 * Values left and right changed about the middle of the plan (x 0, or `aboutM`): each unit takes those of the unit of
 * its profile that stands nearest to its mirrored place, its pan turned round. Units without a partner keep theirs.
 */
export function mirrorValues(
  document: Document,
  values: Values,
  aboutM = 0,
): { values: Record<LitId, UnitValues>; alone: LitId[] } {
  const units = recordsOf(document, 'unit');
  const alone: LitId[] = [];
  const mirrored: Record<LitId, UnitValues> = {};
  for (const [id, own] of Object.entries(values) as [LitId, UnitValues][]) {
    const lit = litOf(document, id);
    if (!lit || lit.part) {
      mirrored[id] = own;
      continue;
    }
    const partner = partnerOf(units, lit.unit, aboutM);
    if (!partner) alone.push(id);
    mirrored[partner ?? id] = partner ? turnedRound(own) : own;
  }
  return { values: mirrored, alone };
}

function partnerOf(units: readonly UnitRecord[], unit: UnitRecord, aboutM: number): UnitId | null {
  const x = 2 * aboutM - unit.position.x;
  let best: UnitId | null = null;
  let least = NEAR_M;
  for (const other of units) {
    if (other.profileId !== unit.profileId) continue;
    const away = Math.hypot(
      other.position.x - x,
      other.position.y - unit.position.y,
      other.position.z - unit.position.z,
    );
    if (away < least) {
      least = away;
      best = other.id;
    }
  }
  return best;
}

const turnedRound = (values: UnitValues): UnitValues =>
  Object.fromEntries(
    Object.entries(values).map(([key, value]) => [
      key,
      splitAttributeKey(key).attribute === 'Pan' && typeof value === 'number' ? 1 - value : value,
    ]),
  );

/** One scene with what both have; where both say something the second does. */
export const mergedScenes = (first: SceneRecord, second: SceneRecord): SceneRecord['values'] =>
  storedInto(first.values as Values, second.values as Values, 'add');

/** Scenes on their way to another show: with what is needed to find their units again. */
export const sceneClipSchema = z.strictObject({
  /** The version of its scenes; what was copied before it stood there is of version 6. */
  records: z.int().default(6),
  scenes: z.array(sceneSchema).max(500),
  units: z
    .array(z.strictObject({ id: litIdSchema, name: z.string(), number: z.number(), model: z.string() }))
    .max(20_000),
});
export type SceneClip = z.infer<typeof sceneClipSchema>;

/** A clip of any version. Throws where it cannot be read any more. */
export function readClip(raw: unknown): SceneClip {
  const { records = 6, scenes, ...rest } = raw as { records?: number; scenes: readonly unknown[] };
  if (!isKnownVersion(records)) throw new FaultError(versionFault('records', records));
  return sceneClipSchema.parse({
    ...rest,
    records: RECORDS_VERSION,
    scenes: scenes.map((scene) => upgraded(scene, records)),
  });
}

/** Takes scenes along, with palettes written out. */
export function clipScenes(document: Document, scenes: readonly SceneRecord[]): SceneClip {
  const ids = new Set(scenes.flatMap((s) => Object.keys(s.values) as LitId[]));
  return {
    records: RECORDS_VERSION,
    scenes: scenes.map((scene) => ({
      ...scene,
      areaId: null,
      pictureId: null,
      tags: [],
      values: Object.fromEntries(
        (Object.entries(scene.values) as [LitId, UnitValues][]).map(([id, own]) => [
          id,
          plainValues(document, id, own),
        ]),
      ),
    })),
    units: [...ids].flatMap((id) => {
      const lit = litOf(document, id);
      const profile = lit && document.get(lit.unit.profileId);
      const model = profile?.kind === 'profile' ? `${profile.maker} ${profile.model}` : '';
      return lit ? [{ id, name: lit.name, number: lit.unit.number, model }] : [];
    }),
  };
}

/** The units of a clip by model, in order of their numbers: what is asked for by when it is pasted. */
export function clipModels(clip: SceneClip): { readonly model: string; readonly units: SceneClip['units'] }[] {
  const models = new Map<string, SceneClip['units'][number][]>();
  for (const unit of [...clip.units].sort((a, b) => a.number - b.number)) {
    const list = models.get(unit.model);
    if (list) list.push(unit);
    else models.set(unit.model, [unit]);
  }
  return [...models].map(([model, units]) => ({ model, units }));
}

/**
 * The scenes of a clip on units of this show. `whom` says by model which units take the values, in order (fewer or more
 * of them share a spread among them), or none; a model it does not name goes to those that are like it. `lost` are units
 * and attributes that found nobody.
 */
export function pasteClip(
  document: Document,
  clip: SceneClip,
  whom: ReadonlyMap<string, readonly LitId[]> = new Map(),
): { readonly scenes: readonly SceneRecord[]; readonly lost: readonly string[] } {
  const { to } = matchClip(document, clip);
  const lost = new Set<string>();
  const models = clipModels(clip);
  const scenes = clip.scenes.map((scene): SceneRecord => {
    const given = scene.values as Values;
    const values: Record<LitId, UnitValues> = {};
    for (const { model, units } of models) {
      const chosen = whom.get(model);
      if (chosen) {
        const from = units.map((u) => u.id).filter((id) => given[id]);
        const carried = carryValues(document, given, from, from.length > 0 ? chosen : []);
        for (const attribute of carried.lost) lost.add(attribute);
        for (const [id, own] of Object.entries(carried.values) as [LitId, UnitValues][])
          values[id] = { ...values[id], ...own };
        continue;
      }
      for (const { id, number, name } of units) {
        const target = to.get(id);
        if (target && given[id]) values[target] = { ...values[target], ...given[id] };
        else if (!target) lost.add(`${number} ${name}`);
      }
    }
    return { ...scene, values };
  });
  return { scenes, lost: [...lost] };
}

/**
 * Where values of a clip go in this show: to the unit of the same name and model, else to a unit of that model in order
 * of numbers that nobody else took. What finds nobody is named.
 */
export function matchClip(
  document: Document,
  clip: SceneClip,
): { readonly to: ReadonlyMap<LitId, LitId>; readonly lost: string[] } {
  const to = new Map<LitId, LitId>();
  const taken = new Set<LitId>();
  const model = (unit: UnitRecord): string => {
    const profile = document.get(unit.profileId);
    return profile?.kind === 'profile' ? `${profile.maker} ${profile.model}` : '';
  };
  const units = recordsOf(document, 'unit').toSorted((a, b) => a.number - b.number);
  const take = (from: LitId, found: UnitRecord | undefined): void => {
    if (!found) return;
    to.set(from, found.id);
    taken.add(found.id);
  };
  for (const { id, name, model: wanted } of clip.units)
    take(
      id,
      units.find((u) => u.name === name && model(u) === wanted && !taken.has(u.id)),
    );
  for (const { id, model: wanted } of [...clip.units].sort((a, b) => a.number - b.number))
    if (!to.has(id))
      take(
        id,
        units.find((u) => model(u) === wanted && !taken.has(u.id)),
      );
  return { to, lost: clip.units.filter(({ id }) => !to.has(id)).map(({ number, name }) => `${number} ${name}`) };
}
