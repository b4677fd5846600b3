import { FaultError } from '../../core/faults.ts';
import type { BlobFile, BlobHash, Blobs } from '../../core/records/blob.ts';
import { blobsOf, neededBlobsOf, type AnyRecord } from '../../core/records/index.ts';
import { BlobFolder, type Received, type Stretch } from '../../db/blob-folder.ts';
import { addBlob, bringIn, dropUnused, findBlob } from '../../db/blobs.ts';
import type { Database } from '../../db/connect.ts';

/** The files that records name: the folder they are in, and the table that says who uses them. */
export class Files {
  readonly #folder: BlobFolder;
  readonly #db: Database;
  /** A file is here that was not. */
  readonly #onArrival: () => void;

  constructor(dataDir: string, db: Database, onArrival: () => void = () => undefined) {
    this.#onArrival = onArrival;
    this.#folder = new BlobFolder(dataDir);
    this.#db = db;
  }

  /** Keeps a file that is here whole. Throws FaultError where it is nothing that is kept. */
  add(file: BlobFile): Promise<void> {
    return bringIn(this.#db, this.#folder, file);
  }

  /**
   * Files that records name. Those they can be without come along where `all` is asked for and they are here. Throws
   * FaultError where another is lost.
   */
  async of(records: readonly AnyRecord[], all: boolean): Promise<Blobs> {
    const found = new Map<BlobHash, Uint8Array>();
    for (const record of records) {
      const needed = neededBlobsOf(record);
      for (const hash of all ? blobsOf(record) : needed) {
        if (found.has(hash) || (!needed.includes(hash) && (await this.#folder.size(hash)) === null)) continue;
        found.set(hash, await this.#folder.read(hash).catch((error: unknown) => named(error, record)));
      }
    }
    return found;
  }

  /** Where a file is; null where it is not here. */
  pathOf(hash: BlobHash): Promise<string | null> {
    return this.#folder.path(hash);
  }

  /** How far a file has come in. */
  async received(hash: BlobHash): Promise<Received> {
    const at = await this.#folder.received(hash);
    return at.whole ? this.#known(hash, at) : at;
  }

  async take(hash: BlobHash, stretch: Stretch, pieces: AsyncIterable<Uint8Array>): Promise<Received> {
    const at = await this.#folder.take(hash, stretch, pieces);
    return at.whole ? this.#known(hash, at) : at;
  }

  /** A file that is here stands in the table, so that records may name it. */
  async #known(hash: BlobHash, at: Received): Promise<Received> {
    await addBlob(this.#db, { hash, type: await this.#folder.type(hash), bytes: at.received });
    this.#onArrival();
    return at;
  }

  /** What is needed to serve a file; null where there is none. */
  async find(hash: BlobHash): Promise<{ readonly type: string; readonly bytes: number } | null> {
    const bytes = await this.#folder.size(hash);
    return bytes === null ? null : ((await findBlob(this.#db, hash)) ?? { type: await this.#folder.type(hash), bytes });
  }

  stream(hash: BlobHash, start: number, end: number): ReadableStream<Uint8Array> {
    return this.#folder.stream(hash, start, end);
  }

  async known(hash: BlobHash): Promise<boolean> {
    return (await findBlob(this.#db, hash)) !== null;
  }

  /** Takes away what nobody has used for long. */
  async tidy(nowMs: number): Promise<void> {
    for (const hash of await dropUnused(this.#db)) await this.#folder.remove(hash);
    await this.#folder.sweep((hash) => this.known(hash), nowMs);
  }
}

/** Says whose file it is that is lost. */
function named(error: unknown, record: AnyRecord): never {
  if (!(error instanceof FaultError)) throw error;
  const name = 'name' in record ? `“${record.name}”: ` : '';
  throw new FaultError(
    error.faults.map((fault) => ({ ...fault, path: `${record.id}.blob`, message: `${name}${fault.message}` })),
  );
}
