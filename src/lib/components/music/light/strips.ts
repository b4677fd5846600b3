import type { Id } from '$core/ids.ts';
import type { Block, LaneRecord } from '$core/records/lane.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
import type { Strip } from '$lib/preview/messages.ts';

/** So many strips are kept: blocks that play the same for as long look the same. */
const MOST = 3000;
const kept = new Map<string, Promise<Strip | null>>();
const numbers = new WeakMap<object, number>();
let count = 0;
/** A number of a record as it is: another when it is edited. */
function numberOf(record: object | undefined): number {
  if (!record) return 0;
  let n = numbers.get(record);
  if (n === undefined) numbers.set(record, (n = ++count));
  return n;
}

/** A block as the light it makes, drawn once for all that look the same. */
export function stripFor(
  app: App,
  desk: SongDesk,
  lane: LaneRecord,
  block: Block,
  columns: number,
): Promise<Strip | null> {
  const { plays, length, fadeIn, fadeOut, slip, curves } = block;
  const { document } = app.live;
  const played =
    plays.is === 'play'
      ? numberOf(document.get(plays.target as Id))
      : plays.is === 'aim'
        ? numberOf(document.get(plays.aimId))
        : 0;
  // Curves of the lane go with the song: then every block is its own.
  const own = Object.keys(lane.curves).length > 0 ? [lane.curves, block.at] : 0;
  const on = lane.on ? numberOf(document.get(lane.on)) : 0;
  const key = JSON.stringify([lane.on, on, plays, played, length, fadeIn, fadeOut, slip, curves, own, columns]);
  const known = kept.get(key);
  if (known) return known;
  const asked = app.live.preview
    .ask({ what: 'strip', songId: desk.song.id, on: lane.on, curves: lane.curves, block, columns })
    .catch(() => {
      kept.delete(key);
      return null;
    });
  kept.set(key, asked);
  for (const old of kept.keys()) {
    if (kept.size <= MOST) break;
    kept.delete(old);
  }
  return asked;
}
