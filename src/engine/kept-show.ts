import type { Fault } from '../core/faults.ts';
import { readStored, RECORDS_VERSION } from '../core/records/versions.ts';
import { readStoredState } from '../core/show/live/stored-state.ts';
import type { KeptLive, KeptShow, KeptState } from './kept-state.ts';

type Say = (faults: readonly Fault[]) => void;

/**
 * The show that was kept, with the newest live state that belongs to it; null where nothing was. What an earlier version
 * kept is brought to this one; what of it cannot be read is left out and said.
 */
export function readKeptShow(kept: KeptState, say: Say): KeptShow | null {
  const files = kept.readShowFiles();
  const [show, live] = [upgradedShow(files.show, say), upgradedLive(files.live, say)];
  // A live state from before the show's last edits does not know which of them were made blind.
  return show && live && live.showId === show.showId && live.revision >= show.revision
    ? { ...show, live: live.live, atMs: Math.max(live.atMs, show.atMs) }
    : show;
}

/** The version of records before it was kept with them. */
const UNMARKED = 6;

function upgradedLive<T extends KeptLive>(kept: T | null, say: Say): T | null {
  const version = kept?.version ?? UNMARKED;
  if (!kept || version === RECORDS_VERSION) return kept;
  const { state, faults } = readStoredState(kept.live, version, kept.atMs);
  if (faults.length > 0) say(faults);
  return { ...kept, version: RECORDS_VERSION, live: state };
}

function upgradedShow(kept: KeptShow | null, say: Say): KeptShow | null {
  const version = kept?.version ?? UNMARKED;
  if (!kept || version === RECORDS_VERSION) return kept;
  const { records, faults } = readStored(kept.records, version);
  if (faults.length > 0) say(faults);
  // Not half a show: the last frames go on until the database gives it whole.
  return faults.length > 0 ? null : { ...upgradedLive(kept, say)!, records };
}
