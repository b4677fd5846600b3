import { decodeBranchResponse, uidOfNumber, type Uid } from './rdm.ts';

/** One DMX line as a controller of ANSI E1.20 sees it. */
export interface RdmBus {
  /** Asks all unmuted devices between two UIDs (inclusive) to answer; null when nobody does. May be a collision. */
  branch(low: Uid, high: Uid): Promise<Uint8Array | null> | Uint8Array | null;
  /** Tells one device to be quiet; true when it says so. */
  mute(uid: Uid): Promise<boolean> | boolean;
  /** Tells all devices to answer again. */
  unmuteAll(): Promise<void> | void;
}

export interface Discovered {
  readonly uids: readonly Uid[];
  /** Devices that say they are muted and answer all the same: they hide whoever is near them. */
  readonly unruly: readonly Uid[];
  /** Branch requests it took. */
  readonly requests: number;
  /** False when it was given up because the line answers rubbish without end. */
  readonly complete: boolean;
}

const HIGHEST = 2 ** 48 - 2;
/** 200 devices take some 4,000 requests at the worst; ten times that is rubbish. */
const MOST_REQUESTS = 100_000;
const MOST_DEVICES = 4096;
const ATTEMPTS = 3;

/**
 * Finds every device of a line by halving the range of UIDs until one answers alone (ANSI E1.20 7.5). Each found is
 * muted, and the same range asked again. A spoilt answer or one that nobody owns up to counts as a collision. What
 * answers though it is muted is told apart: its range is halved around it.
 */
export async function discover(bus: RdmBus): Promise<Discovered> {
  const found = new Set<Uid>();
  const unruly = new Set<Uid>();
  const ranges: [low: number, high: number][] = [[0, HIGHEST]];
  let requests = 0;
  await bus.unmuteAll();
  while (ranges.length > 0 && requests < MOST_REQUESTS && found.size < MOST_DEVICES) {
    const [low, high] = ranges.pop()!;
    requests++;
    const answer = await bus.branch(uidOfNumber(low), uidOfNumber(high));
    if (!answer) continue;
    const uid = decodeBranchResponse(answer);
    if (uid && !found.has(uid) && (await muted(bus, uid))) {
      found.add(uid);
      ranges.push([low, high]);
      continue;
    }
    if (low === high) {
      // Only one UID is possible here: a device whose answers are always spoilt is found by muting it.
      const last = uidOfNumber(low);
      if (found.has(last)) unruly.add(last);
      else if (await muted(bus, last)) found.add(last);
      continue;
    }
    const middle = Math.floor((low + high) / 2);
    ranges.push([middle + 1, high], [low, middle]);
  }
  return { uids: [...found].sort(), unruly: [...unruly].sort(), requests, complete: ranges.length === 0 };
}

async function muted(bus: RdmBus, uid: Uid): Promise<boolean> {
  for (let i = 0; i < ATTEMPTS; i++) if (await bus.mute(uid)) return true;
  return false;
}
