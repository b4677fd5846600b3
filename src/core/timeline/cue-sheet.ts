import type { Block, LaneRecord } from '../records/lane.ts';
import type { SongRecord } from '../records/song.ts';
import { gridOf, lastAt, sectionsOf } from '../song/grid.ts';

/** What happens when in a song, for paper. */
export interface CueLine {
  /** Seconds of the song; and the bar and beat (1 the first), 0 before the first beat. */
  readonly at: number;
  readonly bar: number;
  readonly beat: number;
  readonly what: string;
  /** Where: the lane; empty for sections and marks. */
  readonly where: string;
  readonly length: number | null;
  readonly is: 'section' | 'mark' | 'block';
}

/** So many blocks of a lane that follow one another and play the same are one line. */
const RUN = 4;
/** And so near to one another, seconds. */
const RUN_S = 4;

/** The lines of a cue sheet in order of time. Runs of the same (a flash on each snare) are one line. */
export function cueSheet(
  song: SongRecord,
  lanes: readonly LaneRecord[],
  { laneName, blockName }: { laneName: (lane: LaneRecord) => string; blockName: (block: Block) => string },
): CueLine[] {
  const grid = gridOf(song);
  const place = (at: number): Pick<CueLine, 'at' | 'bar' | 'beat'> => {
    const i = lastAt(grid.beats, at + 0.004);
    return { at, bar: i < 0 ? 0 : grid.bars[i]!, beat: i < 0 ? 0 : grid.places[i]! + 1 };
  };
  const found: CueLine[] = [];
  for (const { at, name, mood } of sectionsOf(song))
    found.push({ ...place(at), what: `${name}, ${mood}`, where: '', length: null, is: 'section' });
  for (const { at, to, label } of song.marks)
    found.push({ ...place(at), what: label, where: '', length: to > at ? to - at : null, is: 'mark' });
  for (const lane of lanes) {
    if (lane.muted) continue;
    const blocks = [...lane.blocks].sort((a, b) => a.at - b.at || a.layer - b.layer);
    for (let i = 0; i < blocks.length;) {
      const block = blocks[i]!;
      let end = i + 1;
      while (
        end < blocks.length &&
        blockName(blocks[end]!) === blockName(block) &&
        blocks[end]!.at - blocks[end - 1]!.at < RUN_S
      )
        end++;
      const run = end - i >= RUN ? end - i : 1;
      const last = blocks[i + run - 1]!;
      const what = run > 1 ? `${blockName(block)}, ${run} times` : blockName(block);
      found.push({
        ...place(block.at),
        what,
        where: laneName(lane),
        length: last.at + last.length - block.at,
        is: 'block',
      });
      i += run;
    }
  }
  const order = { section: 0, mark: 1, block: 2 } as const;
  return found.sort((a, b) => a.at - b.at || order[a.is] - order[b.is] || a.where.localeCompare(b.where));
}
