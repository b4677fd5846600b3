import type { ProfileId } from '$core/ids.ts';
import { FaultError, type Fault } from '$core/faults.ts';
import { readGdtf } from '$core/format/gdtf/read.ts';
import { writeGdtf } from '$core/format/gdtf/write.ts';
import { readProfiles, sameContent, writeProfiles } from '$core/format/profiles.ts';
import type { ProfileRecord } from '$core/records/index.ts';
import { fileName, saveFile } from '../save-file.ts';
import { faultWords } from '../words.ts';

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
  /** What of the file could not be used, each with its place: modes that were left out, values that are none. */
  readonly faults: readonly string[];
}

/** `DMXMode "A", DMXChannel 3: the offset is not one to three slots. The mode is left out.` */
export const faultLine = (fault: Fault): string => `${fault.path}: ${faultWords(fault)}`;

const emptyFault = (path: string): Fault => ({
  code: 'NO_PROFILES',
  path,
  message: 'there is no profile in it',
  remedy: 'Choose a GDTF file or a file of profiles.',
});

const LARGEST = 64 * 1024 * 1024;

/** Reads a GDTF file or a file of profiles, and compares with what is known and what the show has. Throws a FaultError. */
export async function importProfiles(
  file: File,
  known: readonly ProfileRecord[],
  inShow: readonly ProfileRecord[],
  newId: () => ProfileId,
): Promise<Imported> {
  if (file.size > LARGEST)
    throw new FaultError({
      code: 'FILE_TOO_LARGE',
      path: file.name,
      message: `it has ${Math.round(file.size / 1048576)} MiB`,
      remedy: 'At most 64 are read.',
    });
  const bytes = new Uint8Array(await file.arrayBuffer());
  const gdtf = file.name.toLowerCase().endsWith('.gdtf');
  const read = gdtf ? readGdtf(bytes, newId) : readProfiles(bytes);
  const [first] = read.faults;
  if (read.profiles.length === 0) throw new FaultError(first ? read.faults : emptyFault(file.name));
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
  return { put, newer, same, notKept: read.notKept, faults: read.faults.map(faultLine) };
}
