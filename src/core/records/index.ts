import { z } from 'zod';
import { faultsFromZod, FaultError, type Fault } from '../faults.ts';
import { kindOf, RECORD_KINDS, type Id, type PaletteId, type RecordKind } from '../ids.ts';
import { areaSchema, type AreaRecord } from './area.ts';
import { chaseSchema, shownBy, type ChaseRecord } from './chase.ts';
import { effectSchema, type EffectRecord } from './effect.ts';
import { groupSchema, type GroupRecord } from './group.ts';
import { inputSchema, type InputRecord } from './input.ts';
import { paletteSchema, type PaletteRecord } from './palette.ts';
import { partSchema, type PartRecord } from './part.ts';
import { backdropSchema, pictureRecordSchema, type BackdropRecord, type PictureRecord } from './picture.ts';
import { lineSchema, type LineRecord } from './line.ts';
import { outputSchema, type OutputRecord } from './output.ts';
import { profileSchema, type ProfileRecord } from './profile.ts';
import { routeSchema, type RouteRecord } from './route.ts';
import { sceneSchema, type SceneRecord, type UnitValues } from './scene.ts';
import { showSchema, type ShowRecord } from './show.ts';
import { unitSchema, type UnitRecord } from './unit.ts';
import { isPaletteValue } from './value.ts';

export type {
  AreaRecord,
  BackdropRecord,
  ChaseRecord,
  EffectRecord,
  GroupRecord,
  InputRecord,
  LineRecord,
  OutputRecord,
  PaletteRecord,
  PartRecord,
  PictureRecord,
  ProfileRecord,
  RouteRecord,
  SceneRecord,
  ShowRecord,
  UnitRecord,
};

/** The schema of each record kind. */
export const RECORD_SCHEMAS = {
  show: showSchema,
  profile: profileSchema,
  area: areaSchema,
  unit: unitSchema,
  part: partSchema,
  group: groupSchema,
  output: outputSchema,
  line: lineSchema,
  route: routeSchema,
  scene: sceneSchema,
  chase: chaseSchema,
  effect: effectSchema,
  palette: paletteSchema,
  input: inputSchema,
  picture: pictureRecordSchema,
  backdrop: backdropSchema,
} as const satisfies Record<RecordKind, z.ZodType>;

export interface RecordOf {
  show: ShowRecord;
  profile: ProfileRecord;
  area: AreaRecord;
  unit: UnitRecord;
  part: PartRecord;
  group: GroupRecord;
  output: OutputRecord;
  line: LineRecord;
  route: RouteRecord;
  scene: SceneRecord;
  chase: ChaseRecord;
  effect: EffectRecord;
  palette: PaletteRecord;
  input: InputRecord;
  picture: PictureRecord;
  backdrop: BackdropRecord;
}
export type AnyRecord = RecordOf[RecordKind];

/** Any record: the `kind` decides which schema applies. */
export const recordSchema = z.discriminatedUnion('kind', [
  showSchema,
  profileSchema,
  areaSchema,
  unitSchema,
  partSchema,
  groupSchema,
  outputSchema,
  lineSchema,
  routeSchema,
  sceneSchema,
  chaseSchema,
  effectSchema,
  paletteSchema,
  inputSchema,
  pictureRecordSchema,
  backdropSchema,
]);

/** Parses one record of whatever kind; faults carry the path from `at` on. */
export function parseRecord(input: unknown, at = ''): { record: AnyRecord } | { faults: Fault[] } {
  const parsed = recordSchema.safeParse(input);
  return parsed.success ? { record: parsed.data } : { faults: faultsFromZod(parsed.error, input, at) };
}

/** Makes a record with its defaults filled in. Throws FaultError when the given fields are not valid. */
export function make<K extends RecordKind>(
  kind: K,
  fields: Omit<z.input<(typeof RECORD_SCHEMAS)[K]>, 'kind'>,
): RecordOf[K] {
  const input = { kind, ...fields };
  const parsed = RECORD_SCHEMAS[kind].safeParse(input);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, input, kind));
  return parsed.data as RecordOf[K];
}

/** Where a colour of an effect is one of a palette. */
export const isPaletteId = (colour: string): colour is PaletteId => colour.startsWith('palette:');

/** Every id a record refers to, each with the key path it stands at. */
export function* referencesOf(record: AnyRecord): Generator<readonly [path: string, id: Id]> {
  switch (record.kind) {
    case 'area':
      if (record.parentId) yield ['parentId', record.parentId];
      return;
    case 'unit':
      yield ['profileId', record.profileId];
      if (record.areaId) yield ['areaId', record.areaId];
      if (record.relation) {
        if ('twinOf' in record.relation) yield ['relation.twinOf', record.relation.twinOf];
        else yield ['relation.after', record.relation.after];
      }
      return;
    case 'part':
      yield ['unitId', record.unitId];
      return;
    case 'backdrop':
      yield ['pictureId', record.pictureId];
      return;
    case 'group':
      for (const [i, id] of record.unitIds.entries()) yield [`unitIds.${i}`, id];
      if (record.rule?.profileId) yield ['rule.profileId', record.rule.profileId];
      if (record.rule?.areaId) yield ['rule.areaId', record.rule.areaId];
      return;
    case 'line':
      for (const [i, id] of record.unitIds.entries()) yield [`unitIds.${i}`, id];
      if (record.outputId) yield ['outputId', record.outputId];
      return;
    case 'output':
      for (const [i, lamp] of record.lamps.entries()) if (lamp.unitId) yield [`lamps.${i}.unitId`, lamp.unitId];
      return;
    case 'input':
      for (const [i, { does }] of record.controls.entries()) {
        if (does.do === 'play') yield [`controls.${i}.does.target`, does.target];
        if (does.do === 'unit') yield [`controls.${i}.does.unitId`, does.unitId];
      }
      return;
    case 'route':
      yield ['outputId', record.outputId];
      return;
    case 'scene':
      yield* playableReferences(record);
      yield* valueReferences('values', record.values);
      return;
    case 'chase':
      yield* playableReferences(record);
      for (const [i, step] of record.steps.entries()) {
        const shown = shownBy(step);
        if (shown) yield [`steps.${i}.${kindOf(shown)}Id`, shown];
        if (step.values) yield* valueReferences(`steps.${i}.values`, step.values);
      }
      return;
    case 'effect':
      yield* playableReferences(record);
      for (const [i, id] of record.on.entries()) yield [`on.${i}`, id];
      for (const [i, part] of record.parts.entries())
        if ('colours' in part)
          for (const [j, colour] of part.colours.entries())
            if (isPaletteId(colour)) yield [`parts.${i}.colours.${j}`, colour];
      return;
    case 'palette':
      for (const id of Object.keys(record.profiles)) yield [`profiles.${id}`, id as Id];
      for (const id of Object.keys(record.units)) yield [`units.${id}`, id as Id];
      return;
    default:
      return;
  }
}

function* playableReferences(record: SceneRecord | ChaseRecord | EffectRecord): Generator<readonly [string, Id]> {
  if (record.areaId) yield ['areaId', record.areaId];
  if (record.pictureId) yield ['pictureId', record.pictureId];
}

function* valueReferences(
  path: string,
  values: Readonly<Record<string, UnitValues>>,
): Generator<readonly [string, Id]> {
  for (const [id, attributes] of Object.entries(values)) {
    yield [`${path}.${id}`, id as Id];
    for (const [key, value] of Object.entries(attributes))
      if (isPaletteValue(value)) yield [`${path}.${id}.${key}.palette`, value.palette];
  }
}

/** A record's place in the order in which records may be written (what is referred to comes first). */
export const kindRank = (kind: RecordKind): number => RECORD_KINDS.indexOf(kind);
