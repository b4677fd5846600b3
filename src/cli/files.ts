import { readFile, stat, writeFile } from 'node:fs/promises';
import { documentOf, type Document } from '../core/document/change.ts';
import { FaultError } from '../core/faults.ts';
import { ARCHIVE_LIMITS, readArchive } from '../core/format/archive.ts';
import type { Blobs } from '../core/records/blob.ts';
import { unusable } from './command.ts';

/**
 * A file of at most `limit` bytes. A larger one is refused; with `over: 'cut'` it comes one byte too long instead, for
 * readers that say themselves what is too large.
 */
export async function readLimited(file: string, limit: number, over: 'refuse' | 'cut' = 'refuse'): Promise<Uint8Array> {
  try {
    const { size } = await stat(file);
    if (size <= limit) return await readFile(file);
    if (over === 'cut') return new Uint8Array(limit + 1);
    throw unusable('FILE_TOO_LARGE', file, `the file has ${size} bytes`, size, `At most ${limit} bytes are read.`);
  } catch (error) {
    if (error instanceof FaultError) throw error;
    const remedy = 'Give the path of a file that can be read.';
    throw unusable('FILE_UNREADABLE', file, (error as Error).message, file, remedy);
  }
}

export async function writeOut(file: string, bytes: Uint8Array): Promise<void> {
  try {
    await writeFile(file, bytes);
  } catch (error) {
    throw unusable('FILE_UNWRITABLE', file, (error as Error).message, file, 'Give a path that can be written.');
  }
}

export const readArchiveFile = async (file: string): Promise<ReturnType<typeof readArchive>> =>
  readArchive(await readLimited(file, ARCHIVE_LIMITS.fileBytes, 'cut'));

/** The show in an archive, with the files it names. Throws FaultError when it is not sound. */
export async function readShowAndFiles(file: string): Promise<{ document: Document; blobs: Blobs }> {
  const { records, blobs, faults } = await readArchiveFile(file);
  if (faults.length > 0) throw new FaultError(faults);
  return { document: documentOf(records), blobs };
}

/** The show in an archive. Throws FaultError when it is not sound. */
export const readShowFile = async (file: string): Promise<Document> => (await readShowAndFiles(file)).document;
