import { z } from 'zod';
import { faultsFromZod, FaultError, type Fault } from '../faults.ts';
import { RECORD_KINDS, type Id, type RecordKind } from '../ids.ts';
import { areaSchema, type AreaRecord } from './area.ts';
import { chaseSchema, type ChaseRecord } from './chase.ts';
import { groupSchema, type GroupRecord } from './group.ts';
import { inputSchema, type InputRecord } from './input.ts';
import { partSchema, type PartRecord } from './part.ts';
import { backdropSchema, pictureRecordSchema, type BackdropRecord, type PictureRecord } from './picture.ts';
import { lineSchema, type LineRecord } from './line.ts';
import { outputSchema, type OutputRecord } from './output.ts';
import { profileSchema, type ProfileRecord } from './profile.ts';
import { routeSchema, type RouteRecord } from './route.ts';
import { sceneSchema, type SceneRecord } from './scene.ts';
import { showSchema, type ShowRecord } from './show.ts';
import { unitSchema, type UnitRecord } from './unit.ts';

export type {
  AreaRecord,
  BackdropRecord,
  ChaseRecord,
  GroupRecord,
  InputRecord,
  LineRecord,
  OutputRecord,
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
      for (const id of Object.keys(record.values)) yield [`values.${id}`, id as Id];
      return;
    case 'chase':
      for (const [i, step] of record.steps.entries()) yield [`steps.${i}.sceneId`, step.sceneId];
      return;
    default:
      return;
  }
}

/** A record's place in the order in which records may be written (what is referred to comes first). */
export const kindRank = (kind: RecordKind): number => RECORD_KINDS.indexOf(kind);
