import { strFromU8, strToU8, zipSync } from 'fflate';
import { sameJson } from '../document/change.ts';
import type { Fault } from '../faults.ts';
import { profileFaults } from '../profile/layout.ts';
import { parseRecord, type ProfileRecord } from '../records/index.ts';
import { isKnownVersion, RECORDS_VERSION, upgraded, versionFault } from '../records/versions.ts';
import { collector, FIXED_TIME, sortKeys, unpackZip } from './zip.ts';

/**
 * A selection of profiles as one file (`.kitepro`): a zip with `manifest.json` and `profiles.json`, a JSON list sorted
 * by id. docs/formats.md describes it.
 */
export const PROFILES_VERSION = 1;
export const PROFILES_FORMAT = 'amber-kite profiles';
const LIMITS = { fileBytes: 64 * 1024 * 1024, unpackedBytes: 128 * 1024 * 1024, members: 8 };
const MOST_PROFILES = 20_000;

export interface ProfilesReading {
  readonly profiles: readonly ProfileRecord[];
  readonly faults: readonly Fault[];
  /** What a foreign file has and we do not keep, in words. */
  readonly notKept: readonly string[];
}

export function writeProfiles(profiles: readonly ProfileRecord[]): Uint8Array {
  const list = [...profiles].sort((a, b) => (a.id < b.id ? -1 : 1)).map(sortKeys);
  const manifest = { format: PROFILES_FORMAT, version: PROFILES_VERSION, records: RECORDS_VERSION, count: list.length };
  const json = (value: unknown): Uint8Array => strToU8(`${JSON.stringify(value, null, 1)}\n`);
  return zipSync({ 'manifest.json': json(manifest), 'profiles.json': json(list) }, { mtime: FIXED_TIME, level: 6 });
}

const WHAT = 'a .kitepro file that Amber Kite exported';

/** Reads what it can: a faulty profile is left out and named, the others are kept. */
export function readProfiles(file: Uint8Array): ProfilesReading {
  const { faults, say } = collector();
  const members = unpackZip(file, say, {
    ...LIMITS,
    what: WHAT,
    want: (name) => (name === 'manifest.json' || name === 'profiles.json' ? Infinity : 'refuse'),
    rule: 'a file of profiles has only manifest.json and profiles.json',
  });
  const nothing = { profiles: [], faults, notKept: [] };
  if (!members) return nothing;
  const parse = (name: string): unknown => {
    const bytes = members.get(name);
    if (!bytes) return void say('MEMBER_MISSING', name, 'is not in the file', null, `Choose ${WHAT}.`);
    try {
      return JSON.parse(strFromU8(bytes)) as unknown;
    } catch (error) {
      say('NOT_JSON', name, `not JSON: ${(error as Error).message.slice(0, 120)}`, bytes.length, `Choose ${WHAT}.`);
    }
  };
  const version = versionOf(parse('manifest.json'), { faults, say });
  const list = version === null ? undefined : parse('profiles.json');
  if (!Array.isArray(list) || list.length > MOST_PROFILES) {
    if (list !== undefined)
      say(
        'NOT_A_LIST',
        'profiles.json',
        `must be a list of at most ${MOST_PROFILES} profiles`,
        typeof list,
        `Choose ${WHAT}.`,
      );
    return nothing;
  }
  const profiles = eachProfile(list, version!, { faults, say });
  return { profiles, faults: faults.slice(0, 50), notKept: [] };
}

/** Of which version the records of a file are; null, with a fault, where it cannot be read here. */
function versionOf(read: unknown, { faults, say }: ReturnType<typeof collector>): number | null {
  const manifest = read as { format?: unknown; version?: unknown; records?: unknown } | null | undefined;
  if (manifest?.format !== PROFILES_FORMAT) {
    if (manifest !== undefined)
      say('NOT_PROFILES', 'manifest.json.format', 'is no file of profiles', manifest?.format, `Choose ${WHAT}.`);
    return null;
  }
  if (manifest.version !== PROFILES_VERSION) {
    say(
      'ARCHIVE_VERSION',
      'manifest.json.version',
      `version ${String(manifest.version)} is not known here`,
      manifest.version,
      'Open it with a newer Amber Kite.',
    );
    return null;
  }
  // Files from before it stood there are of version 6.
  const records = manifest.records ?? 6;
  if (typeof records !== 'number' || !isKnownVersion(records)) {
    faults.push(versionFault('manifest.json.records', records));
    return null;
  }
  return records;
}

function eachProfile(
  list: readonly unknown[],
  records: number,
  { faults, say }: ReturnType<typeof collector>,
): ProfileRecord[] {
  const profiles: ProfileRecord[] = [];
  for (const [i, item] of list.entries()) {
    const parsed = parseRecord(upgraded(item, records), `profiles.json.${i}`);
    if ('faults' in parsed) faults.push(...parsed.faults.slice(0, 5));
    else if (parsed.record.kind !== 'profile')
      say('WRONG_KIND', `profiles.json.${i}`, `is a ${parsed.record.kind}`, parsed.record.kind, 'Leave it out.');
    else if (profiles.some((p) => p.id === (parsed.record as ProfileRecord).id))
      say('ID_TWICE', `profiles.json.${i}.id`, 'stands twice', parsed.record.id, 'Keep one of the two.');
    else {
      const unsound = profileFaults(parsed.record);
      if (unsound.length > 0)
        faults.push(...unsound.slice(0, 5).map((f) => ({ ...f, path: `profiles.json.${i}.${f.path}` })));
      else profiles.push(parsed.record);
    }
  }
  return profiles;
}

/** True when two profiles say the same, whatever their ids and revisions are. */
export function sameContent(a: ProfileRecord, b: ProfileRecord): boolean {
  const { id: _a, revision: _ra, ...one } = a;
  const { id: _b, revision: _rb, ...two } = b;
  return sameJson(one, two);
}
