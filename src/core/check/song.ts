import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { pixelPort, tooFastFor } from '../lines/cables/pixels.ts';
import { reached } from '../patch/groups.ts';
import type { LaneRecord } from '../records/lane.ts';
import type { SongRecord } from '../records/song.ts';
import { FlashWatch } from '../show/guard/flash-watch.ts';
import { drawValues, makeFrame } from '../show/index.ts';
import { gridOf } from '../song/grid.ts';
import { overlapping } from '../timeline/fill.ts';
import { SongFrames } from '../timeline/frames.ts';
import { lanesOf } from '../timeline/light.ts';

/** What of the light of a song will not be as it was meant. */
export interface SongTrouble {
  readonly code:
    'LANE_UNBOUND' | 'LANE_EMPTY' | 'BLOCK_EMPTY' | 'BLOCK_OUTSIDE' | 'BLOCK_OVERLAPS' | 'FLASHES' | 'STRING_SLOW';
  /** The lane and the moment, as people find it. */
  readonly where: string;
  readonly message: string;
  readonly remedy: string;
  /** Seconds of the song; null where it is no matter of a moment. */
  readonly at: number | null;
  readonly laneId: LaneRecord['id'] | null;
}

/** Lanes and blocks that play nothing, lie outside or over one another, and strings that are slower than the show. */
export function songTroubles(
  document: Document,
  song: SongRecord,
  nameOf: (lane: LaneRecord) => string,
): SongTrouble[] {
  const found: SongTrouble[] = [];
  const lanes = lanesOf(document, song.id);
  const end = song.lengthS ?? gridOf(song).beats.at(-1) ?? Infinity;
  for (const lane of lanes) {
    const where = `lane ${lane.number} (${nameOf(lane)})`;
    const say = (code: SongTrouble['code'], at: number | null, message: string, remedy: string): void =>
      void found.push({ code, where: at === null ? where : `${where}, ${at} s`, message, remedy, at, laneId: lane.id });
    if (lane.lost !== null)
      say('LANE_UNBOUND', null, `${lane.lost} is gone: it plays nothing`, 'Bind it to something of this rig.');
    else if (lane.on !== null && reached(document, [lane.on]).length === 0)
      say('LANE_EMPTY', null, 'there is no unit in what it plays on', 'Put units there, or bind it to something else.');
    for (const { at, length, plays } of lane.blocks) {
      if (plays.is === 'gone')
        say('BLOCK_EMPTY', at, `${plays.name} is gone`, 'Let it play something else, or remove it.');
      if (at >= end) say('BLOCK_OUTSIDE', at, `begins after the song ends (${end} s)`, 'Move or remove it.');
      else if (at + length > end + 0.01)
        say('BLOCK_OUTSIDE', at, `goes on after the song ends (${end} s)`, 'Make it shorter.');
    }
    for (const { at } of overlapping(lane.blocks))
      say('BLOCK_OVERLAPS', at, 'begins before another of its layer has ended', 'Put one of them in another layer.');
  }
  return [...found, ...slowStrings(document, lanes)];
}

function slowStrings(document: Document, lanes: readonly LaneRecord[]): SongTrouble[] {
  const lit = new Set(
    lanes.flatMap(({ on }) => (on ? reached(document, [on]) : recordsOf(document, 'unit').map(({ id }) => id))),
  );
  const units = new Set([...lit].map((id) => getRecord(document, 'part', id)?.unitId ?? id));
  return recordsOf(document, 'line').flatMap((line): SongTrouble[] => {
    if (line.medium !== 'pixels' || !line.unitIds.some((id) => units.has(id))) return [];
    const port = pixelPort(document, line);
    const rate = tooFastFor(document, port);
    if (rate === null) return [];
    const { frameRate, pixels } = port;
    return [
      {
        code: 'STRING_SLOW',
        where: `line ${line.name}`,
        message: `${pixels} pixels on one port take ${Math.round(1000 / frameRate)} ms a frame: ${Math.floor(frameRate)} frames a second, the show sends ${rate}`,
        remedy: 'Share the pixels out to more ports, or lower the frame rate of the show.',
        at: null,
        laneId: null,
      },
    ];
  });
}

/** Frames a second that are looked at. */
const RATE = 40;
/** Stretches with less than this between them are one. */
const TOGETHER_S = 1;

/**
 * Stretches of a song in which more of the plot flashes more often than the show allows, by playing it with the renderer
 * itself: there it will be held back. About a millisecond for each frame of a large rig.
 */
export function songFlashes(document: Document, song: SongRecord): SongTrouble[] {
  const show = recordsOf(document, 'show')[0];
  const end = song.lengthS ?? gridOf(song).beats.at(-1) ?? 0;
  if (!show || lanesOf(document, song.id).length === 0) return [];
  const { flashesPerSecond, share, limitFlashes } = show.safety;
  const frames = new SongFrames(document, song.id);
  const { arrays } = frames.rig;
  const frame = makeFrame(arrays);
  const watch = new FlashWatch(arrays, flashesPerSecond);
  const stretches: { from: number; to: number; most: number }[] = [];
  const count = Math.ceil(end * RATE);
  for (let i = 0; i < count; i++) {
    const at = i / RATE;
    drawValues(arrays, frames.at(at * 1000), at * 1000, frame);
    const part = watch.look(frame.current, at) / Math.max(arrays.lamps.whole, 1e-9);
    if (part > share + 1e-6) {
      const last = stretches.at(-1);
      if (last && at - last.to < TOGETHER_S) [last.to, last.most] = [at, Math.max(last.most, part)];
      else stretches.push({ from: at, to: at, most: part });
    }
  }
  return stretches.map(({ from, to, most }) => ({
    code: 'FLASHES',
    where: `${from.toFixed(2)} to ${to.toFixed(2)} s`,
    message: `up to ${Math.round(most * 100)} % of the plot flashes more than ${flashesPerSecond} times a second; the limit is ${Math.round(share * 100)} %`,
    remedy: limitFlashes
      ? 'It is held back there. Let less flash, or more slowly.'
      : 'The limit is lifted: it will be sent. Let less flash, or more slowly.',
    at: from,
    laneId: null,
  }));
}
