import { strFromU8, strToU8, zipSync } from 'fflate';
import { z } from 'zod';
import { changeFaults } from '../rules/faults.ts';
import { documentOf } from '../document/change.ts';
import { FaultError, faultsFromZod, type Fault } from '../faults.ts';
import { RECORD_KINDS, type RecordKind } from '../ids.ts';
import { BLOB_LIMITS, BLOB_TYPES, hashOf, type BlobHash, type Blobs } from '../records/blob.ts';
import { blobsOf, neededBlobsOf, parseRecord, type AnyRecord } from '../records/index.ts';
import { isKnownVersion, RECORDS_VERSION, upgraded, type KeepBlob } from '../records/versions.ts';
import { blobTypeOf, HEAD_BYTES } from './blob-type.ts';
import { collector, FAULT_LIMIT, FIXED_TIME, sortKeys, unpackZip, type Say } from './zip.ts';

/**
 * A whole show as one file: a zip with `manifest.json`, one `records/KIND.json` for each kind that occurs, a JSON list
 * sorted by id, and `blobs/SHA256` for each file that records name, once. The same records always give the same bytes. docs/formats.md describes it.
 */
export const ARCHIVE_VERSION = RECORDS_VERSION;
/** The oldest version that is read: what it lacks is filled in (`records/versions.ts`). */
export const OLDEST_ARCHIVE_VERSION = 1;
export const ARCHIVE_FORMAT = 'amber-kite show';

export const ARCHIVE_LIMITS = {
  /** The file itself. */
  fileBytes: 512 * 1024 * 1024,
  /** All members with records together, unpacked; and all files that records name. */
  unpackedBytes: 128 * 1024 * 1024,
  blobBytes: 512 * 1024 * 1024,
  members: 4096,
  records: 200_000,
  faults: FAULT_LIMIT,
} as const;

const manifestSchema = z.strictObject({
  format: z.literal(ARCHIVE_FORMAT),
  version: z.int(),
  show: z.string().max(100),
  counts: z.partialRecord(z.enum(RECORD_KINDS), z.int().min(0)).optional(),
});

/** Packs records and the files they name; throws FaultError when they do not make a sound show. */
export function writeArchive(records: readonly AnyRecord[], blobs: Blobs = NO_BLOBS): Uint8Array {
  const faults = [...changeFaults(new Map(), { put: records, remove: [] }), ...missingBlobs(records, blobs)];
  if (faults.length > 0) throw new FaultError(faults);
  const files: Record<string, Uint8Array> = {};
  const counts: Partial<Record<RecordKind, number>> = {};
  for (const kind of RECORD_KINDS) {
    const list = records.filter((r) => r.kind === kind).sort((a, b) => (a.id < b.id ? -1 : 1));
    if (list.length === 0) continue;
    counts[kind] = list.length;
    files[`records/${kind}.json`] = strToU8(`${JSON.stringify(list.map(sortKeys), null, 1)}\n`);
  }
  const show = records.find((r) => r.kind === 'show');
  const manifest = { format: ARCHIVE_FORMAT, version: ARCHIVE_VERSION, show: show?.name ?? '', counts };
  const all = { 'manifest.json': strToU8(`${JSON.stringify(manifest, null, 1)}\n`), ...files };
  const used = [...new Set(records.flatMap(blobsOf))].filter((hash) => blobs.has(hash)).sort();
  const size = used.reduce((sum, hash) => sum + blobs.get(hash)!.length, 0);
  if (size > ARCHIVE_LIMITS.fileBytes) throw new FaultError(tooLarge(size));
  // Pictures and songs are packed already.
  const stored = used.map((hash) => [`blobs/${hash}`, [blobs.get(hash)!, { level: 0 }]] as const);
  return zipSync({ ...all, ...Object.fromEntries(stored) }, { mtime: FIXED_TIME, level: 6 });
}

const NO_BLOBS: Blobs = new Map();

const tooLarge = (size: number): Fault => ({
  code: 'ARCHIVE_TOO_LARGE',
  path: 'blobs',
  message: `the files of the show have ${Math.round(size / 1e6)} MB`,
  received: size,
  remedy: `An archive may have ${ARCHIVE_LIMITS.fileBytes / 2 ** 20} MiB: export it without songs; they are found again by what is in them.`,
});

/** Files that records name and that are not there. */
const missingBlobs = (records: readonly AnyRecord[], blobs: Blobs): Fault[] =>
  records.flatMap((record) =>
    neededBlobsOf(record)
      .filter((hash) => !blobs.has(hash))
      .map((hash) => ({
        code: 'BLOB_MISSING',
        path: `${record.id}.blob`,
        message: `the file of ${'name' in record ? `“${record.name}”` : record.id} is missing`,
        received: hash,
        remedy: 'Export the show again where its pictures are, or take the picture out of it.',
      })),
  );

export interface ArchiveReading {
  readonly version: number | null;
  readonly records: readonly AnyRecord[];
  /** Files that records name, each by its hash. */
  readonly blobs: Blobs;
  readonly faults: readonly Fault[];
}

/**
 * Reads an archive from anywhere: nothing in it is trusted. Limits hold while unpacking, so a bomb stops early.
 * All faults found are returned; `records` is complete only when there are none.
 */
export function readArchive(file: Uint8Array): ArchiveReading {
  const { faults, say } = collector();
  const members = unpackZip(file, say, {
    fileBytes: ARCHIVE_LIMITS.fileBytes,
    unpackedBytes: ARCHIVE_LIMITS.unpackedBytes,
    members: ARCHIVE_LIMITS.members,
    what: 'a .kite file that Amber Kite exported',
    want: (name) => (MEMBER.test(name) ? Infinity : 'refuse'),
    apart: { are: (name) => name.startsWith('blobs/'), bytes: ARCHIVE_LIMITS.blobBytes },
    rule: 'an archive has only manifest.json, records/KIND.json and blobs/SHA256',
  });
  if (!members) return { version: null, records: [], blobs: NO_BLOBS, faults };
  const version = readManifest(members, say);
  if (version === null || !isKnownVersion(version)) return { version, records: [], blobs: NO_BLOBS, faults };
  const blobs = readBlobs(members, say);
  const records = readRecords(members, version, {
    say,
    faults,
    keep: ({ hash, bytes }) => void blobs.set(hash, bytes),
  });
  if (faults.length === 0) faults.push(...missingBlobs(records, blobs).slice(0, FAULT_LIMIT));
  if (faults.length === 0) faults.push(...changeFaults(documentOf([]), { put: records, remove: [] }));
  return { version, records, blobs, faults };
}

const ANOTHER_FILE = 'Export the show again and use that file.';
const MEMBER = /^(manifest\.json|records\/[a-z]+\.json|blobs\/[0-9a-f]{64})$/;

/** The files of an archive that are what their names say. */
function readBlobs(members: ReadonlyMap<string, Uint8Array>, say: Say): Map<BlobHash, Uint8Array> {
  const blobs = new Map<BlobHash, Uint8Array>();
  for (const [name, bytes] of members) {
    if (!name.startsWith('blobs/')) continue;
    const hash = name.slice('blobs/'.length);
    const type = blobTypeOf(bytes.subarray(0, HEAD_BYTES));
    if (hashOf(bytes) !== hash) say('BLOB_MIXED_UP', name, 'is not what its name says', bytes.length, ANOTHER_FILE);
    else if (!type)
      say(
        'BLOB_TYPE',
        name,
        'is nothing that is kept here',
        bytes.length,
        `Leave it out; ${BLOB_TYPES.join(', ')} are.`,
      );
    else if (bytes.length > BLOB_LIMITS[type])
      say('BLOB_TOO_LARGE', name, `has ${bytes.length} bytes`, bytes.length, `At most ${BLOB_LIMITS[type]} are taken.`);
    else blobs.set(hash, bytes);
  }
  return blobs;
}

function parseJson(members: ReadonlyMap<string, Uint8Array>, name: string, say: Say): unknown {
  const bytes = members.get(name)!;
  try {
    return JSON.parse(strFromU8(bytes)) as unknown;
  } catch (error) {
    say('NOT_JSON', name, `not JSON: ${(error as Error).message.slice(0, 200)}`, bytes.length, ANOTHER_FILE);
    return undefined;
  }
}

function readManifest(members: ReadonlyMap<string, Uint8Array>, say: Say): number | null {
  if (!members.has('manifest.json')) {
    say(
      'NO_MANIFEST',
      'manifest.json',
      'the archive has no manifest',
      [...members.keys()].join(', '),
      'Choose a .kite file that Amber Kite exported.',
    );
    return null;
  }
  const json = parseJson(members, 'manifest.json', say);
  if (json === undefined) return null;
  const given = (json as { version?: unknown } | null)?.version;
  if (typeof given === 'number' && !isKnownVersion(given)) {
    say(
      'ARCHIVE_VERSION',
      'manifest.json.version',
      `version ${given} is not known here`,
      given,
      given > ARCHIVE_VERSION
        ? 'Open it with a newer Amber Kite.'
        : `Versions ${OLDEST_ARCHIVE_VERSION} to ${ARCHIVE_VERSION} exist.`,
    );
    return given;
  }
  const parsed = manifestSchema.safeParse(json);
  if (parsed.success) return parsed.data.version;
  for (const fault of faultsFromZod(parsed.error, json, 'manifest.json'))
    say(fault.code, fault.path, fault.message, fault.received, ANOTHER_FILE);
  return null;
}

function readRecords(
  members: ReadonlyMap<string, Uint8Array>,
  version: number,
  { say, faults, keep }: { readonly say: Say; readonly faults: Fault[]; readonly keep: KeepBlob },
): AnyRecord[] {
  const records: AnyRecord[] = [];
  const ids = new Set<string>();
  for (const name of members.keys()) {
    if (!name.startsWith('records/')) continue;
    const kind = name.slice('records/'.length, -'.json'.length);
    if (!(RECORD_KINDS as readonly string[]).includes(kind)) {
      say('UNKNOWN_KIND', name, `there is no record kind "${kind}"`, kind, `Kinds are ${RECORD_KINDS.join(', ')}.`);
      continue;
    }
    const list = parseJson(members, name, say);
    if (list === undefined) continue;
    if (!Array.isArray(list)) {
      say('NOT_A_LIST', name, 'must be a list of records', typeof list, ANOTHER_FILE);
      continue;
    }
    if (records.length + list.length > ARCHIVE_LIMITS.records) {
      say('TOO_MANY_RECORDS', name, `more than ${ARCHIVE_LIMITS.records} records`, list.length, 'Split the show.');
      return records;
    }
    for (const [i, item] of list.entries()) {
      const parsed = parseRecord(upgraded(item, version, { keep }), `${name}.${i}`);
      if ('faults' in parsed) {
        for (const fault of parsed.faults) if (faults.length < ARCHIVE_LIMITS.faults) faults.push(fault);
      } else if (parsed.record.kind !== kind)
        say(
          'WRONG_KIND',
          `${name}.${i}`,
          `a ${parsed.record.kind} stands among the ${kind} records`,
          parsed.record.kind,
          ANOTHER_FILE,
        );
      else if (ids.has(parsed.record.id))
        say(
          'ID_TWICE',
          `${name}.${i}.id`,
          `${parsed.record.id} stands twice`,
          parsed.record.id,
          'Keep one of the two.',
        );
      else {
        ids.add(parsed.record.id);
        records.push(parsed.record);
      }
    }
  }
  return records;
}
