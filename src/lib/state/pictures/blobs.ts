import { recordsOf, type Document } from '$core/document/change.ts';
import type { Fault } from '$core/faults.ts';
import { hashOf, type BlobHash } from '$core/records/blob.ts';
import { faultWords } from '../words.ts';
import { dataAddress } from './data-address.ts';

/** Where a page gets a file that a record names. */
export const blobAddress = (hash: BlobHash): string => `/api/blobs/${hash}`;

/** Bytes in one request: what a link of a phone carries in a second or so, so that little is lost when it breaks. */
const STRETCH_BYTES = 512 * 1024;
/** How often, and after which waits, a stretch is tried again. */
const WAITS_MS = [300, 1000, 3000, 6000];

interface Received {
  readonly received: number;
  readonly whole: boolean;
}

interface Sending {
  /** What it is, for what is said when it cannot be saved. */
  readonly what?: string;
  /** Told how far it is, 0-1. */
  readonly told?: (share: number) => void;
}

/** The hash of large files, by the browser itself where the page may ask it (a secure context). */
async function hashed(bytes: Uint8Array<ArrayBuffer>): Promise<BlobHash> {
  if (!globalThis.isSecureContext) return hashOf(bytes);
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/**
 * Brings a file into the data folder and gives its hash. What is there already is not sent, and a link that breaks is
 * gone on with where it broke. Throws with what is wrong.
 */
export async function sendBlob(
  bytes: Uint8Array<ArrayBuffer>,
  { what = 'picture', told }: Sending = {},
): Promise<BlobHash> {
  const hash = await hashed(bytes);
  for (let tries = 0; ; tries++) {
    try {
      let at = await asked<Received>(`${blobAddress(hash)}/received`);
      told?.(at.whole ? 1 : at.received / bytes.length);
      while (!at.whole) {
        const from = at.received < bytes.length ? at.received : 0;
        const piece = bytes.subarray(from, from + STRETCH_BYTES);
        const next = await asked<Received>(blobAddress(hash), {
          method: 'PUT',
          headers: {
            'content-type': 'application/octet-stream',
            'content-range': `bytes ${from}-${from + piece.length - 1}/${bytes.length}`,
          },
          body: piece,
        });
        if (next.received > at.received) tries = 0;
        else if (!next.whole) throw new Error('nothing of it arrived');
        at = next;
        told?.(at.whole ? 1 : at.received / bytes.length);
      }
      return hash;
    } catch (error) {
      const wait = WAITS_MS[tries];
      if (error instanceof Refused && !error.passes) throw error;
      if (wait === undefined)
        throw error instanceof Refused
          ? error
          : new Error(`The ${what} could not be saved: Amber Kite does not answer. Add it again when it does.`);
      await new Promise((resolve) => setTimeout(resolve, wait));
    }
  }
}

/** The server's word that something is wrong with a request; `passes` where it may be right a moment later. */
class Refused extends Error {
  readonly passes: boolean;
  constructor(fault: Fault) {
    super(faultWords(fault));
    this.passes = ['BLOB_OFFSET', 'BLOB_BUSY', 'DATABASE_AWAY'].includes(fault.code);
  }
}

async function asked<T>(path: string, init?: RequestInit): Promise<T> {
  const answer = await fetch(path, init);
  const body = (await answer.json()) as unknown;
  if (!answer.ok) throw new Refused(body as Fault);
  return body as T;
}

/** The pictures of a show as data addresses, for a page that has to stand alone; those that are lost are left out. */
export async function pictureAddresses(document: Document): Promise<ReadonlyMap<BlobHash, string>> {
  const found = new Map<BlobHash, string>();
  for (const { blob } of recordsOf(document, 'picture')) {
    const answer = await fetch(blobAddress(blob)).catch(() => null);
    if (answer?.ok) found.set(blob, await dataAddress(await answer.blob()));
  }
  return found;
}
