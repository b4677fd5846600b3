import type { ProfileId } from '$core/ids.ts';
import { readGdtf } from '$core/format/gdtf/read.ts';
import { writeGdtf } from '$core/format/gdtf/write.ts';
import { readProfiles, sameContent, writeProfiles } from '$core/format/profiles.ts';
import type { ProfileRecord } from '$core/records/index.ts';
import { fileName, saveFile } from './save-file.ts';

/** Profiles in and out of this computer. */
const save = (bytes: Uint8Array, name: string): void => saveFile(bytes, name, 'application/zip');

export const exportGdtf = (profile: ProfileRecord): void =>
  save(writeGdtf(profile), `${fileName(`${profile.maker}@${profile.model}`)}.gdtf`);

export const exportProfiles = (profiles: readonly ProfileRecord[]): void =>
  save(
    writeProfiles(profiles),
    `${profiles.length === 1 ? fileName(profiles[0]!.model) : `${profiles.length} profiles`}.kitepro`,
  );

export interface Imported {
  readonly put: readonly ProfileRecord[];
  /** Newer revisions of profiles of the show: the person decides. */
  readonly newer: readonly ProfileRecord[];
  /** Here already with the same content. */
  readonly same: readonly ProfileRecord[];
  readonly notKept: readonly string[];
}

const LARGEST = 64 * 1024 * 1024;

/** Reads a GDTF file or a file of profiles, and compares with what is known and what the show has. Throws with what is wrong in words. */
export async function importProfiles(
  file: File,
  known: readonly ProfileRecord[],
  inShow: readonly ProfileRecord[],
  newId: () => ProfileId,
): Promise<Imported> {
  if (file.size > LARGEST) throw new Error(`The file has ${Math.round(file.size / 1048576)} MiB; at most 64 are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const gdtf = file.name.toLowerCase().endsWith('.gdtf');
  const read = gdtf ? readGdtf(bytes, newId) : readProfiles(bytes);
  const [first] = read.faults;
  if (first && read.profiles.length === 0) throw new Error(`${first.path}: ${first.message}. ${first.remedy}`);
  const put: ProfileRecord[] = [];
  const newer: ProfileRecord[] = [];
  const same: ProfileRecord[] = [];
  for (const profile of read.profiles) {
    const twin = known.find((k) => sameContent(k, profile));
    const older = inShow.find((k) => k.id === profile.id);
    if (twin) same.push(twin);
    else if (!older) put.push(profile);
    else if (profile.revision > older.revision) newer.push(profile);
    else put.push({ ...profile, id: newId() });
  }
  return { put, newer, same, notKept: [...read.notKept, ...read.faults.map((f) => `${f.path}: ${f.message}`)] };
}
