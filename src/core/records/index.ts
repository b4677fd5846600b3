import { z } from 'zod';
import { faultsFromZod, FaultError, type Fault } from '../faults.ts';
import { RECORD_KINDS, type RecordKind } from '../ids.ts';
import { KINDS, type AnyRecord, type RecordOf } from './kinds.ts';

export type { AimRecord } from './aim.ts';
export type { AreaRecord } from './area.ts';
export type { ChaseRecord } from './chase.ts';
export { isPaletteId, type EffectRecord } from './effect.ts';
export type { GroupRecord } from './group.ts';
export type { InputRecord } from './input.ts';
export type { LineRecord } from './line.ts';
export type { OutputRecord } from './output.ts';
export type { PaletteRecord } from './palette.ts';
export type { PartRecord } from './part.ts';
export type { BackdropRecord, PictureRecord } from './picture.ts';
export type { ProfileRecord } from './profile.ts';
export type { RoomRecord } from './room.ts';
export type { RouteRecord } from './route.ts';
export type { SceneRecord } from './scene.ts';
export type { ShowRecord } from './show.ts';
export type { SetlistRecord, SongRecord } from './song.ts';
export type { VariantRecord } from './variant.ts';
export type { LaneRecord } from './lane.ts';
export type { PassageRecord } from './passage.ts';
export type { ThingRecord } from './thing.ts';
export type { UnitRecord } from './unit.ts';
export {
  blobsOf,
  describe,
  KINDS,
  neededBlobsOf,
  ownerOf,
  referencesOf,
  type AnyRecord,
  type RecordOf,
} from './kinds.ts';

type Schemas = [z.core.$ZodTypeDiscriminable, ...z.core.$ZodTypeDiscriminable[]];
/** Any record: the `kind` decides which schema applies. */
export const recordSchema = z.discriminatedUnion(
  'kind',
  RECORD_KINDS.map((kind) => KINDS[kind].schema) as unknown as Schemas,
) as unknown as z.ZodType<AnyRecord, AnyRecord>;

/** Parses one record of whatever kind; faults carry the path from `at` on. */
export function parseRecord(input: unknown, at = ''): { record: AnyRecord } | { faults: Fault[] } {
  const parsed = recordSchema.safeParse(input);
  return parsed.success ? { record: parsed.data } : { faults: faultsFromZod(parsed.error, input, at) };
}

/** Makes a record with its defaults filled in. Throws FaultError when the given fields are not valid. */
export function make<K extends RecordKind>(
  kind: K,
  fields: Omit<z.input<(typeof KINDS)[K]['schema']>, 'kind'>,
): RecordOf[K] {
  const input = { kind, ...fields };
  const parsed = KINDS[kind].schema.safeParse(input);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, input, kind));
  return parsed.data as RecordOf[K];
}

/** A record's place in the order in which records may be written (what is referred to comes first). */
export const kindRank = (kind: RecordKind): number => RECORD_KINDS.indexOf(kind);
