import { FaultError, faultsFromZod, type Fault } from '../faults.ts';
import type { RecordKind } from '../ids.ts';
import { fromDataAddress, hashOf, type BlobFile } from './blob.ts';
import { recordSchema, type AnyRecord } from './index.ts';

/** A record as it was stored, which may be of an earlier version. */
type Raw = Readonly<Record<string, unknown>>;
/** Takes what was in a record and is a file of its own now. */
export type KeepBlob = (blob: BlobFile) => void;
/** What brings records of one version to the next, by kind. Fields that are new with a default need nothing here. */
export type Step = { readonly [K in RecordKind]?: (raw: Raw, keep: KeepBlob) => Raw };

/** Pictures stood in their records, as data addresses; what slots of other desks work had words of its own. */
const toFilesAndActions: Step = {
  input: ({ controls, ...raw }) => ({
    ...raw,
    ...(Array.isArray(controls) ? { controls: controls.map(withAction) } : controls === undefined ? {} : { controls }),
  }),
  picture: ({ data, ...raw }, keep) => {
    const picture = typeof data === 'string' ? fromDataAddress(data) : null;
    // What is no picture stays, so that it is named.
    if (!picture) return data === undefined ? raw : { ...raw, data };
    const blob = { hash: hashOf(picture.bytes), bytes: picture.bytes };
    keep(blob);
    return { ...raw, type: picture.type, bytes: blob.bytes.length, blob: blob.hash };
  },
};

function withAction(control: unknown): unknown {
  const { does, ...rest } = (control ?? {}) as Raw;
  if (typeof does !== 'object' || does === null) return control;
  const { do: old, unitId } = does as Raw;
  if (old === 'grand') return { ...rest, does: { do: 'level', of: { what: 'grand' } } };
  if (old === 'unit') return { ...rest, does: { do: 'level', of: { what: 'unit', id: unitId } } };
  return old === 'play' ? { ...rest, does: { ...does, held: true } } : control;
}

/**
 * STEPS[n] brings records of version n + 1 to version n + 2. Version 1 knew no areas, lines, relations, tags or ticks;
 * version 2 no cables, no inputs and no outputs but sACN and Art-Net; version 3 no props, parts, outlines of areas and
 * pictures; version 4 no effects, palettes and steps but of scenes; version 5 no second port of USB interfaces, names of
 * slots, luminous flux and first papers: all of that is filled in by the defaults of the schemas. Version 6 had pictures
 * in their records, and other words for what slots of desks work; version 7 no things; version 8 no
 * models, viewpoints and focus of lamps; version 9 no aims, rooms, keep-outs and limits of movement; version 10 no songs
 * and lists of them.
 */
export const STEPS: readonly Step[] = [{}, {}, {}, {}, {}, toFilesAndActions, {}, {}, {}, {}];

/** The version of what records look like now: of archives, rows, history, live state, clips and kept files alike. */
export const RECORDS_VERSION = STEPS.length + 1;

export const isKnownVersion = (version: number): boolean =>
  Number.isInteger(version) && version >= 1 && version <= RECORDS_VERSION;

/** Of a version that is not known here. */
export const versionFault = (path: string, version: unknown): Fault => ({
  code: 'RECORDS_VERSION',
  path,
  message: `version ${String(version)} of records is not known here`,
  received: version,
  remedy:
    typeof version === 'number' && version > RECORDS_VERSION
      ? 'Open it with a newer Amber Kite.'
      : `Versions 1 to ${RECORDS_VERSION} exist.`,
});

/** How stored records are read. */
export interface Reading {
  /** Takes files that stood in records; where nobody takes them they are gone. */
  readonly keep?: KeepBlob;
  readonly steps?: readonly Step[];
}
const nobody: KeepBlob = () => undefined;

/** A stored record brought to the version of now, not parsed yet. What is no object stays as it is. */
export function upgraded(raw: unknown, version: number, { keep = nobody, steps = STEPS }: Reading = {}): unknown {
  if (typeof raw !== 'object' || raw === null) return raw;
  let record = raw as Raw;
  for (const step of steps.slice(version - 1)) record = step[record['kind'] as RecordKind]?.(record, keep) ?? record;
  return record;
}

/** Records of any version, sound ones and the faults of the others; paths begin with the id. */
export function readStored(
  list: readonly unknown[],
  version: number,
  reading: Reading = {},
): { records: AnyRecord[]; faults: Fault[] } {
  if (!Number.isInteger(version) || version < 1 || version > (reading.steps ?? STEPS).length + 1)
    return { records: [], faults: [versionFault('records', version)] };
  const records: AnyRecord[] = [];
  const faults: Fault[] = [];
  for (const [i, item] of list.entries()) {
    const raw = upgraded(item, version, reading);
    const parsed = recordSchema.safeParse(raw);
    if (parsed.success) records.push(parsed.data);
    else faults.push(...faultsFromZod(parsed.error, raw, String((raw as Raw | null)?.['id'] ?? i)));
  }
  return { records, faults };
}

/** Records of a version, all of them sound. Those of now were checked when they were written. Throws FaultError. */
export function trustStored(list: readonly unknown[], version: number, reading: Reading = {}): readonly AnyRecord[] {
  if (version === RECORDS_VERSION) return list as readonly AnyRecord[];
  const { records, faults } = readStored(list, version, reading);
  if (faults.length > 0) throw new FaultError(faults);
  return records;
}
