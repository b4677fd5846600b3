import { Unzip, UnzipInflate } from 'fflate';
import { shorten, type Fault } from '../faults.ts';

/** Zip files from anywhere: nothing in them is trusted, and limits hold while unpacking. */

/** zip's own epoch: fixed so that equal contents give equal files. */
export const FIXED_TIME = new Date(1980, 0, 1);

export type Say = (code: string, path: string, message: string, received: unknown, remedy: string) => void;

/** Most faults told of one file. */
export const FAULT_LIMIT = 50;

/** Gathers what is wrong with a file, up to a limit, without ever holding a whole hostile value. */
export function collector(): { readonly faults: Fault[]; readonly say: Say } {
  const faults: Fault[] = [];
  return {
    faults,
    say: (code, path, message, received, remedy) => {
      if (faults.length < FAULT_LIMIT) faults.push({ code, path, message, received: shorten(received), remedy });
    },
  };
}

export interface ZipRules {
  /** Of the file itself. */
  readonly fileBytes: number;
  /** Of all members that are wanted, together. */
  readonly unpackedBytes: number;
  readonly members: number;
  /** What the file should be, for the remedy: "a .kite file that Amber Kite exported". */
  readonly what: string;
  /** Most bytes to unpack of a member; `skip` leaves it packed, `refuse` refuses the whole file. */
  readonly want: (name: string) => number | 'skip' | 'refuse';
  /** Members that have a limit of their own for all of them together. */
  readonly apart?: { readonly are: (name: string) => boolean; readonly bytes: number };
  /** Said of a refused member's name. */
  readonly rule: string;
}

class StopUnpacking extends Error {}

/**
 * Unpacks the wanted members; null when the file cannot be used at all. A member that is larger than wanted is said
 * with MEMBER_TOO_LARGE and left out. Faults: ARCHIVE_TOO_LARGE, NOT_AN_ARCHIVE, ARCHIVE_TRUNCATED, ARCHIVE_BROKEN,
 * ARCHIVE_BOMB, MEMBER_NAME, MEMBER_TWICE, TOO_MANY_MEMBERS.
 */
export function unpackZip(file: Uint8Array, say: Say, rules: ZipRules): Map<string, Uint8Array> | null {
  const size = file.length;
  if (size > rules.fileBytes) {
    say(
      'ARCHIVE_TOO_LARGE',
      '(file)',
      `the file has ${size} bytes`,
      size,
      `At most ${rules.fileBytes} bytes are read.`,
    );
    return null;
  }
  if (!(file[0] === 0x50 && file[1] === 0x4b && file[2] === 3 && file[3] === 4)) {
    say('NOT_AN_ARCHIVE', '(file)', 'the file is not a zip archive', size, `Choose ${rules.what}.`);
    return null;
  }
  if (!hasEndRecord(file)) {
    say(
      'ARCHIVE_TRUNCATED',
      '(file)',
      'the end of the archive is missing',
      size,
      'Copy the file again: it is cut off.',
    );
    return null;
  }
  const members = new Map<string, Uint8Array>();
  try {
    unpackInto(file, members, say, rules);
  } catch (error) {
    if (!(error instanceof StopUnpacking))
      say(
        'ARCHIVE_BROKEN',
        '(file)',
        `the archive cannot be unpacked: ${(error as Error).message}`,
        size,
        `Choose ${rules.what}.`,
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

function unpackInto(file: Uint8Array, members: Map<string, Uint8Array>, say: Say, rules: ZipRules): void {
  let total = 0;
  let totalApart = 0;
  let open = 0;
  let seen = 0;
  const refuse = (code: string, path: string, message: string, received: unknown, remedy: string): never => {
    say(code, path, message, received, remedy);
    throw new StopUnpacking();
  };
  const unzip = new Unzip((member) => {
    const name = member.name.slice(0, 200);
    if (++seen > rules.members)
      refuse('TOO_MANY_MEMBERS', '(file)', `more than ${rules.members} members`, seen, `Choose ${rules.what}.`);
    const most = rules.want(member.name);
    if (most === 'refuse') return refuse('MEMBER_NAME', name, rules.rule, name, `Choose ${rules.what}.`);
    if (most === 'skip') return;
    if (members.has(member.name))
      refuse('MEMBER_TWICE', name, 'the same member stands in the archive twice', name, `Choose ${rules.what}.`);
    members.set(member.name, new Uint8Array(0));
    const pieces: Uint8Array[] = [];
    let own = 0;
    open++;
    member.ondata = (error, piece, final) => {
      if (error) throw error;
      const apart = rules.apart?.are(member.name) ?? false;
      if (apart) totalApart += piece.length;
      else total += piece.length;
      own += piece.length;
      if (total > rules.unpackedBytes || totalApart > (rules.apart?.bytes ?? 0))
        refuse(
          'ARCHIVE_BOMB',
          name,
          'unpacks to more than is reasonable',
          apart ? totalApart : total,
          `At most ${apart ? rules.apart!.bytes : rules.unpackedBytes} bytes are unpacked.`,
        );
      if (own <= most) pieces.push(piece);
      if (!final) return;
      open--;
      if (own <= most) members.set(member.name, concat(pieces));
      else {
        members.delete(member.name);
        say(
          'MEMBER_TOO_LARGE',
          name,
          `has ${own} bytes`,
          own,
          `At most ${most} bytes of it are taken; it is left out.`,
        );
      }
    };
    member.start();
  });
  unzip.register(UnzipInflate);
  const step = 16 * 1024;
  for (let at = 0; at < file.length; at += step) unzip.push(file.subarray(at, at + step), at + step >= file.length);
  if (open > 0)
    refuse('ARCHIVE_TRUNCATED', '(file)', 'a member is cut off', file.length, 'Copy the file again: it is cut off.');
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

/** A JSON value with the keys of every object in order, so that equal values are written alike. */
export function sortKeys(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sortKeys);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
      .map(([key, part]) => [key, sortKeys(part)]),
  );
}
