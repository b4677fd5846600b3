import { strFromU8, strToU8, Unzip, UnzipInflate, zipSync } from 'fflate';
import { z } from 'zod';
import { changeFaults } from '../document/rules.ts';
import { documentOf } from '../document/change.ts';
import { FaultError, faultsFromZod, shorten, type Fault } from '../faults.ts';
import { RECORD_KINDS, type RecordKind } from '../ids.ts';
import { parseRecord, type AnyRecord } from '../records/index.ts';

/**
 * A whole show as one file: a zip with `manifest.json` and one `records/KIND.json` for each kind that occurs, a JSON
 * list sorted by id. The same records always give the same bytes. docs/formats.md describes it.
 */
export const ARCHIVE_VERSION = 1;
export const ARCHIVE_FORMAT = 'amber-kite show';

export const ARCHIVE_LIMITS = {
  /** The file itself. */
  fileBytes: 64 * 1024 * 1024,
  /** All members together, unpacked. */
  unpackedBytes: 128 * 1024 * 1024,
  members: 64,
  records: 200_000,
  faults: 50,
} as const;

const manifestSchema = z.strictObject({
  format: z.literal(ARCHIVE_FORMAT),
  version: z.int(),
  show: z.string().max(100),
  counts: z.partialRecord(z.enum(RECORD_KINDS), z.int().min(0)).optional(),
});

/** zip's own epoch: fixed so that equal shows give equal files. */
const FIXED_TIME = new Date(1980, 0, 1);

/** Packs records; throws FaultError when they do not make a sound show. */
export function writeArchive(records: readonly AnyRecord[]): Uint8Array {
  const faults = changeFaults(new Map(), { put: records, remove: [] });
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
  return zipSync(all, { mtime: FIXED_TIME, level: 6 });
}

function sortKeys(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sortKeys);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
      .map(([key, part]) => [key, sortKeys(part)]),
  );
}

export interface ArchiveReading {
  readonly version: number | null;
  readonly records: readonly AnyRecord[];
  readonly faults: readonly Fault[];
}

/**
 * Reads an archive from anywhere: nothing in it is trusted. Limits hold while unpacking, so a bomb stops early.
 * All faults found are returned; `records` is complete only when there are none.
 */
export function readArchive(file: Uint8Array): ArchiveReading {
  const faults: Fault[] = [];
  const say = (code: string, path: string, message: string, received: unknown, remedy: string): void => {
    if (faults.length < ARCHIVE_LIMITS.faults)
      faults.push({ code, path, message, received: shorten(received), remedy });
  };
  const members = unpack(file, say);
  if (!members) return { version: null, records: [], faults };
  const version = readManifest(members, say);
  if (version !== ARCHIVE_VERSION) return { version, records: [], faults };
  const records = readRecords(members, say, faults);
  if (faults.length === 0) faults.push(...changeFaults(documentOf([]), { put: records, remove: [] }));
  return { version, records, faults };
}

type Say = (code: string, path: string, message: string, received: unknown, remedy: string) => void;
const ANOTHER_FILE = 'Export the show again and use that file.';
const MEMBER = /^(manifest\.json|records\/[a-z]+\.json)$/;

class StopUnpacking extends Error {}

function unpack(file: Uint8Array, say: Say): Map<string, Uint8Array> | null {
  if (file.length > ARCHIVE_LIMITS.fileBytes) {
    say(
      'ARCHIVE_TOO_LARGE',
      '(file)',
      `the file has ${file.length} bytes`,
      file.length,
      `At most ${ARCHIVE_LIMITS.fileBytes} bytes are read.`,
    );
    return null;
  }
  if (!(file[0] === 0x50 && file[1] === 0x4b && file[2] === 3 && file[3] === 4)) {
    say(
      'NOT_AN_ARCHIVE',
      '(file)',
      'the file is not a zip archive',
      file.length,
      'Choose a .kite file that Amber Kite exported.',
    );
    return null;
  }
  if (!hasEndRecord(file)) {
    say(
      'ARCHIVE_TRUNCATED',
      '(file)',
      'the end of the archive is missing',
      file.length,
      'Copy the file again: it is cut off.',
    );
    return null;
  }
  const members = new Map<string, Uint8Array>();
  try {
    unpackInto(file, members, say);
  } catch (error) {
    if (!(error instanceof StopUnpacking))
      say(
        'ARCHIVE_BROKEN',
        '(file)',
        `the archive cannot be unpacked: ${(error as Error).message}`,
        file.length,
        ANOTHER_FILE,
      );
    return null;
  }
  return members;
}

/** The end-of-central-directory signature, within the last 64 KiB and 22 bytes. */
function hasEndRecord(file: Uint8Array): boolean {
  for (let i = file.length - 22; i >= Math.max(0, file.length - 65_557); i--) {
    if (file[i] === 0x50 && file[i + 1] === 0x4b && file[i + 2] === 5 && file[i + 3] === 6) return true;
  }
  return false;
}

function unpackInto(file: Uint8Array, members: Map<string, Uint8Array>, say: Say): void {
  let total = 0;
  let open = 0;
  const unzip = new Unzip((member) => {
    if (!MEMBER.test(member.name)) {
      say(
        'MEMBER_NAME',
        member.name.slice(0, 200),
        'an archive has only manifest.json and records/KIND.json',
        member.name,
        ANOTHER_FILE,
      );
      throw new StopUnpacking();
    }
    if (members.has(member.name)) {
      say('MEMBER_TWICE', member.name, 'the same member stands in the archive twice', member.name, ANOTHER_FILE);
      throw new StopUnpacking();
    }
    if (members.size >= ARCHIVE_LIMITS.members) {
      say('TOO_MANY_MEMBERS', '(file)', `more than ${ARCHIVE_LIMITS.members} members`, members.size, ANOTHER_FILE);
      throw new StopUnpacking();
    }
    members.set(member.name, new Uint8Array(0));
    const pieces: Uint8Array[] = [];
    open++;
    member.ondata = (error, piece, final) => {
      if (error) throw error;
      total += piece.length;
      if (total > ARCHIVE_LIMITS.unpackedBytes) {
        say(
          'ARCHIVE_BOMB',
          member.name,
          'unpacks to more than is reasonable',
          total,
          `At most ${ARCHIVE_LIMITS.unpackedBytes} bytes are unpacked.`,
        );
        throw new StopUnpacking();
      }
      pieces.push(piece);
      if (!final) return;
      open--;
      members.set(member.name, concat(pieces));
    };
    member.start();
  });
  unzip.register(UnzipInflate);
  const step = 16 * 1024;
  for (let at = 0; at < file.length; at += step) unzip.push(file.subarray(at, at + step), at + step >= file.length);
  if (open > 0) {
    say('ARCHIVE_TRUNCATED', '(file)', 'a member is cut off', file.length, 'Copy the file again: it is cut off.');
    throw new StopUnpacking();
  }
}

function concat(pieces: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(pieces.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
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
  if (typeof given === 'number' && given !== ARCHIVE_VERSION) {
    say(
      'ARCHIVE_VERSION',
      'manifest.json.version',
      `version ${given} is not known here`,
      given,
      given > ARCHIVE_VERSION ? 'Open it with a newer Amber Kite.' : `Only version ${ARCHIVE_VERSION} exists.`,
    );
    return given;
  }
  const parsed = manifestSchema.safeParse(json);
  if (parsed.success) return parsed.data.version;
  for (const fault of faultsFromZod(parsed.error, json, 'manifest.json'))
    say(fault.code, fault.path, fault.message, fault.received, ANOTHER_FILE);
  return null;
}

function readRecords(members: ReadonlyMap<string, Uint8Array>, say: Say, faults: Fault[]): AnyRecord[] {
  const records: AnyRecord[] = [];
  const ids = new Set<string>();
  for (const name of members.keys()) {
    if (name === 'manifest.json') continue;
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
      const parsed = parseRecord(item, `${name}.${i}`);
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
