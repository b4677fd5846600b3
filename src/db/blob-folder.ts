import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { FaultError, type Fault } from '../core/faults.ts';
import { blobTypeOf, HEAD_BYTES, MOST_BLOB_BYTES } from '../core/format/blob-type.ts';
import {
  BLOB_LIMITS,
  blobHashSchema,
  hashOf,
  type BlobFile,
  type BlobHash,
  type BlobType,
} from '../core/records/blob.ts';

/** A file of which only the first part has come, and for which nobody has sent more for so long, is taken away. */
const PART_MS = 24 * 3600 * 1000;
/** Most files that are on their way in at once, and most bytes of them together. */
const MOST_PARTS = 64;
const MOST_PART_BYTES = 2 * 1024 * 1024 * 1024;

/** How far a file has come in. */
export interface Received {
  readonly received: number;
  /** All of it is here, and it is what its name says. */
  readonly whole: boolean;
}

/** A stretch of a file that comes in: from byte `from` on, of `total`. */
export interface Stretch {
  readonly from: number;
  readonly total: number;
}

/**
 * Blobs as files in the data folder, each named by its hash. What comes in is written beside them and is moved to its
 * place when all of it is there and its hash is right, so that a file that has its name is whole. One process writes;
 * any may read.
 */
export class BlobFolder {
  readonly #root: string;
  readonly #parts: string;
  /** Files that are being written now. */
  readonly #busy = new Set<BlobHash>();

  constructor(dataDir: string) {
    this.#root = join(dataDir, 'blobs');
    this.#parts = join(this.#root, 'coming');
  }

  #file(hash: BlobHash): string {
    return join(this.#root, blobHashSchema.parse(hash).slice(0, 2), hash);
  }
  #part(hash: BlobHash): string {
    return join(this.#parts, blobHashSchema.parse(hash));
  }

  /** Where a blob is; null where it is not here. */
  async path(hash: BlobHash): Promise<string | null> {
    return (await this.size(hash)) === null ? null : this.#file(hash);
  }

  /** Bytes of a blob; null where it is not here. */
  size(hash: BlobHash): Promise<number | null> {
    return sizeOf(this.#file(hash));
  }

  /** A blob whole. Throws FaultError (BLOB_LOST) where its file is not there. */
  async read(hash: BlobHash): Promise<Uint8Array> {
    try {
      return await readFile(this.#file(hash));
    } catch (error) {
      if ((error as { code?: string }).code === 'ENOENT') throw new FaultError(lost(hash));
      throw error;
    }
  }

  /** What a blob that is here is. */
  async type(hash: BlobHash): Promise<BlobType> {
    const bytes = (await this.size(hash)) ?? 0;
    return typed(hash, await head(this.#file(hash), bytes), bytes);
  }

  /** Bytes `start` to `end` (both counted in) of a blob. */
  stream(hash: BlobHash, start: number, end: number): ReadableStream<Uint8Array> {
    const file = createReadStream(this.#file(hash), { start, end, highWaterMark: 256 * 1024 });
    return new ReadableStream<Uint8Array>({
      start(controller) {
        file.on('data', (piece) => {
          controller.enqueue(new Uint8Array(piece as Buffer));
          if ((controller.desiredSize ?? 1) <= 0) file.pause();
        });
        file.on('end', () => controller.close());
        file.on('error', (error) => controller.error(error));
      },
      pull: () => void file.resume(),
      cancel: () => void file.destroy(),
    });
  }

  /** Keeps a file that is here whole; gives what it is. Throws FaultError where it is nothing that is kept. */
  async put({ hash, bytes }: BlobFile): Promise<BlobType> {
    const type = typed(hash, bytes, bytes.length);
    if (hashOf(bytes) !== hash) throw new FaultError(notItself(hash));
    if ((await this.size(hash)) === bytes.length) return type;
    await mkdir(this.#parts, { recursive: true });
    const part = `${this.#part(hash)}.whole`;
    const file = await open(part, 'w');
    try {
      await file.writeFile(bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    await this.#place(part, hash);
    return type;
  }

  async received(hash: BlobHash): Promise<Received> {
    const here = await this.size(hash);
    if (here !== null) return { received: here, whole: true };
    return { received: (await sizeOf(this.#part(hash))) ?? 0, whole: false };
  }

  /**
   * Takes a stretch of a file as it comes, and says how far it is. What has come stays when the sender breaks off, who
   * then goes on from there. Throws FaultError: BLOB_TYPE, BLOB_TOO_LARGE, BLOB_OFFSET, BLOB_BUSY, BLOB_MIXED_UP,
   * TOO_MANY_UPLOADS.
   */
  async take(hash: BlobHash, { from, total }: Stretch, pieces: AsyncIterable<Uint8Array>): Promise<Received> {
    // Asked and taken in one step: of two senders that come at once the first is taken, however the disk answers them.
    if (this.#busy.has(hash)) throw new FaultError(busy(hash));
    this.#busy.add(hash);
    try {
      const here = await this.size(hash);
      if (here !== null) return { received: here, whole: true };
      const part = this.#part(hash);
      await mkdir(this.#parts, { recursive: true });
      const before = (await sizeOf(part)) ?? 0;
      if (from !== before && from !== 0) throw new FaultError(offset(from, before));
      if (total > MOST_BLOB_BYTES) throw new FaultError(large(total, `A file may have ${MOST_BLOB_BYTES} bytes`));
      if (from === 0) await this.#room(hash, total);
      const received = await append(part, hash, { from, total }, pieces);
      if (received < total) return { received, whole: false };
      await checked(part, hash, total);
      await this.#place(part, hash);
      return { received, whole: true };
    } finally {
      this.#busy.delete(hash);
    }
  }

  async #place(part: string, hash: BlobHash): Promise<void> {
    const file = this.#file(hash);
    await mkdir(join(file, '..'), { recursive: true });
    await rename(part, file);
  }

  /** Whether one more file may come in. */
  async #room(hash: BlobHash, total: number): Promise<void> {
    const parts = (await names(this.#parts)).filter((name) => name !== hash);
    const sizes = await Promise.all(parts.map((name) => sizeOf(join(this.#parts, name))));
    const bytes = sizes.reduce<number>((sum, size) => sum + (size ?? 0), 0);
    if (parts.length >= MOST_PARTS || bytes + total > MOST_PART_BYTES)
      throw new FaultError({
        code: 'TOO_MANY_UPLOADS',
        path: 'blob',
        message: `${parts.length} files are on their way in already`,
        received: parts.length,
        remedy: 'Wait until they are here.',
      });
  }

  async remove(hash: BlobHash): Promise<void> {
    await rm(this.#file(hash), { force: true });
  }

  /** Takes away what was never sent to its end, and files that `known` does not name and that are as old. */
  async sweep(known: (hash: BlobHash) => Promise<boolean>, nowMs: number): Promise<void> {
    const old = async (file: string): Promise<boolean> =>
      stat(file).then(
        ({ mtimeMs }) => nowMs - mtimeMs > PART_MS,
        () => false,
      );
    for (const name of await names(this.#parts)) {
      const file = join(this.#parts, name);
      if (!this.#busy.has(name) && (await old(file))) await rm(file, { force: true });
    }
    for (const folder of await names(this.#root))
      if (/^[0-9a-f]{2}$/.test(folder))
        for (const hash of await names(join(this.#root, folder)))
          if (blobHashSchema.safeParse(hash).success && (await old(this.#file(hash))) && !(await known(hash)))
            await this.remove(hash);
  }
}

const sizeOf = async (file: string): Promise<number | null> =>
  stat(file).then(
    ({ size }) => size,
    () => null,
  );
const names = (folder: string): Promise<string[]> => readdir(folder).catch(() => []);

/** Writes what comes to the end of a part; gives how long it is then. */
async function append(
  part: string,
  hash: BlobHash,
  { from, total }: Stretch,
  pieces: AsyncIterable<Uint8Array>,
): Promise<number> {
  const file = await open(part, from === 0 ? 'w+' : 'r+');
  let at = from;
  try {
    for await (const piece of pieces) {
      if (at + piece.length > total) throw new FaultError(longer(total));
      await file.write(piece, 0, piece.length, at);
      at += piece.length;
      // What it is is seen as soon as enough of it is here.
      const enough = Math.min(HEAD_BYTES, total);
      if (at >= enough && at - piece.length < enough) typed(hash, await head(part, at), total);
    }
    await file.sync();
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    await rm(part, { force: true });
    throw error;
  } finally {
    await file.close();
  }
  return at;
}

async function head(part: string, length: number): Promise<Uint8Array> {
  const bytes = Buffer.alloc(Math.min(length, HEAD_BYTES));
  const file = await open(part, 'r');
  try {
    await file.read(bytes, 0, bytes.length, 0);
  } finally {
    await file.close();
  }
  return bytes;
}

/** A file that is here whole is what it was said to be, or is taken away. */
async function checked(part: string, hash: BlobHash, total: number): Promise<void> {
  const sum = createHash('sha256');
  for await (const piece of createReadStream(part)) sum.update(piece as Buffer);
  try {
    typed(hash, await head(part, total), total);
    if (sum.digest('hex') !== hash) throw new FaultError(notItself(hash));
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
}

/** What a file of `total` bytes is by its first ones. Throws where it is nothing that is kept, or too large for that. */
function typed(hash: BlobHash, bytes: Uint8Array, total: number): BlobType {
  const type = blobTypeOf(bytes.subarray(0, HEAD_BYTES));
  if (type && total <= BLOB_LIMITS[type]) return type;
  if (type) throw new FaultError(large(total, `A file of ${type} may have ${BLOB_LIMITS[type]} bytes`));
  throw new FaultError({
    code: 'BLOB_TYPE',
    path: 'blob',
    message: 'the file is nothing that is kept here',
    received: hash,
    remedy: `Bring in one of ${Object.keys(BLOB_LIMITS).join(', ')}.`,
  });
}

const lost = (hash: BlobHash): Fault => ({
  code: 'BLOB_LOST',
  path: 'blob',
  message: 'the file is named in the show but is not in the data folder',
  received: hash,
  remedy: 'Put the folder “blobs” of the data folder back from a copy, or take the picture away and add it again.',
});
const busy = (hash: BlobHash): Fault => ({
  code: 'BLOB_BUSY',
  path: 'blob',
  message: 'the same file is coming in from elsewhere',
  received: hash,
  remedy: 'Ask in a moment how far it is.',
});
const offset = (from: number, before: number): Fault => ({
  code: 'BLOB_OFFSET',
  path: 'content-range',
  message: `${before} bytes are here, and more were sent from byte ${from} on`,
  received: from,
  remedy: `Go on from byte ${before}.`,
});
const large = (total: number, rule: string): Fault => ({
  code: 'BLOB_TOO_LARGE',
  path: 'blob',
  message: `the file has ${total} bytes`,
  received: total,
  remedy: `${rule}; make it smaller.`,
});
const longer = (total: number): Fault => ({
  code: 'BLOB_TOO_LARGE',
  path: 'content-range',
  message: 'more bytes came than were announced',
  received: total,
  remedy: 'Send the file again.',
});
const notItself = (hash: BlobHash): Fault => ({
  code: 'BLOB_MIXED_UP',
  path: 'blob',
  message: 'what came is not the file that was announced',
  received: hash,
  remedy: 'Send it again, from the first byte on.',
});
