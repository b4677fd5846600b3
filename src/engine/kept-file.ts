import { closeSync, mkdirSync, openSync, readFileSync } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { dirname } from 'node:path';
import { crc32 } from 'node:zlib';

/**
 * A small file that can be written also when the disk is full: two slots in turn, whose room is taken beforehand and
 * overwritten where it lies. A slot counts only once it is whole, so the process may be killed at any moment. Slot:
 * magic, sequence number, length, CRC-32 of the bytes (32 bit, little-endian), then the bytes.
 */
const MAGIC = 0x4b41_4b32;
const HEAD = 16;
/** Room is taken in pieces of this size, twice what is needed now. */
const ROOM = 64 * 1024;

interface Slot {
  readonly path: string;
  room: number;
}

export class KeptFile {
  readonly #slots: readonly [Slot, Slot];
  #next = 0;
  #sequence = 0;

  constructor(path: string) {
    mkdirSync(dirname(path), { recursive: true });
    this.#slots = [
      { path: `${path}.a`, room: 0 },
      { path: `${path}.b`, room: 0 },
    ];
  }

  /** What was written last and is whole; null where there is nothing sound. */
  read(): Buffer | null {
    let newest: Buffer | null = null;
    this.#slots.forEach((slot, place) => {
      const found = readSlot(slot);
      if (!found || (newest && found.sequence <= this.#sequence)) return;
      newest = found.bytes;
      this.#sequence = found.sequence;
      this.#next = 1 - place;
    });
    return newest;
  }

  /** Rejects when the system refuses; what was there before then is still there. */
  async write(bytes: Uint8Array): Promise<void> {
    const slot = this.#slots[this.#next]!;
    const head = Buffer.alloc(HEAD);
    head.writeUInt32LE(MAGIC, 0);
    head.writeUInt32LE(++this.#sequence, 4);
    head.writeUInt32LE(bytes.length, 8);
    head.writeUInt32LE(crc32(bytes), 12);
    const file = await openSlot(slot.path);
    try {
      // Not whole until the head stands: first it is taken away.
      await file.write(Buffer.alloc(HEAD), 0, HEAD, 0);
      await this.#makeRoom(file, slot, HEAD + bytes.length);
      await file.write(bytes, 0, bytes.length, HEAD);
      await file.write(head, 0, HEAD, 0);
      this.#next = 1 - this.#next;
    } finally {
      await file.close();
    }
  }

  async #makeRoom(file: FileHandle, slot: Slot, needed: number): Promise<void> {
    slot.room ||= (await file.stat()).size;
    if (slot.room >= needed) return;
    const wanted = Math.ceil((needed * 2) / ROOM) * ROOM;
    const nothing = Buffer.alloc(ROOM);
    while (slot.room < wanted) slot.room += (await file.write(nothing, 0, ROOM, slot.room)).bytesWritten;
  }
}

async function openSlot(path: string): Promise<FileHandle> {
  try {
    return await open(path, 'r+');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    closeSync(openSync(path, 'a', 0o600));
    return open(path, 'r+');
  }
}

function readSlot({ path }: Slot): { sequence: number; bytes: Buffer } | null {
  let all: Buffer;
  try {
    all = readFileSync(path);
  } catch {
    return null;
  }
  if (all.length < HEAD || all.readUInt32LE(0) !== MAGIC) return null;
  const length = all.readUInt32LE(8);
  if (all.length < HEAD + length) return null;
  const bytes = all.subarray(HEAD, HEAD + length);
  return crc32(bytes) === all.readUInt32LE(12) ? { sequence: all.readUInt32LE(4), bytes } : null;
}
