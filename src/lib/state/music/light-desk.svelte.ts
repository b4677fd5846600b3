import type { LaneId, SongId } from '$core/ids.ts';
import { nextNumber } from '$core/naming.ts';
import { specOf, type ReachId } from '$core/records/effect.ts';
import { make, type AnyRecord } from '$core/records/index.ts';
import type { Block, LaneRecord } from '$core/records/lane.ts';
import {
  blockOf,
  freeLayer,
  joined,
  keysFor,
  moved,
  repeated,
  snapped,
  snappedTo,
  split,
  stretched,
  without,
  withFields,
} from '$core/timeline/blocks.ts';
import { courseOf, lanesOf } from '$core/timeline/light.ts';
import { treeOf, type Branch } from '$core/timeline/tree.ts';
import { sectionAt, sectionsOf } from '$core/song/grid.ts';
import type { App } from '../app.svelte.ts';
import { blockName, laneName } from './light-words.ts';
import { puttingsOf, type Putting } from './puttings.ts';
import type { SongDesk } from './song-desk.svelte.ts';

/** Where one of the blocks that are chosen is: its lane and its key. */
export interface Chosen {
  readonly lane: LaneId;
  readonly key: string;
}

const NONE: ReadonlySet<string> = new Set();

/** What blocks are drawn to: parts of a beat, bars, what begins in the sound, or nothing. */
export type DrawnTo = 'bars' | 1 | 2 | 3 | 4 | 'onsets' | 'nothing';

/** The light of the song that is open: its lanes, what is in the hand, what is chosen, and what is done to that. */
export class LightDesk {
  readonly app: App;
  readonly #desk: () => SongDesk;
  /** The light is shown under the sound. */
  shown = $state(false);
  /** What is put where one paints; null: nothing, blocks are chosen. */
  hand = $state.raw<Putting | null>(null);
  chosen = $state.raw<readonly Chosen[]>([]);
  drawnTo = $state<DrawnTo>(1);
  /** The lane that was worked on last: where things are put that name none. */
  laneId = $state.raw<LaneId | null>(null);
  /** Lanes whose branches are folded away. */
  folded = $state.raw<ReadonlySet<LaneId>>(new Set());
  /** The version of the song that this one is compared with; null for none. */
  compared = $state.raw<SongId | null>(null);
  /** The plot is shown beside the lanes. */
  plot = $state(false);

  constructor(app: App, desk: () => SongDesk) {
    this.app = app;
    this.#desk = desk;
  }

  /** Another song: nothing of the one before is chosen; what is in the hand stays there. */
  reset(): void {
    this.chosen = [];
    this.laneId = null;
    this.folded = new Set();
    this.compared = null;
  }

  get song(): SongDesk {
    return this.#desk();
  }

  readonly lanes = $derived.by<readonly LaneRecord[]>(() =>
    this.shown ? lanesOf(this.app.live.document, this.song.song.id) : [],
  );
  readonly tree = $derived.by<readonly Branch[]>(() => treeOf(this.app.live.document, this.lanes));
  /** What of the tree is to be seen. */
  readonly branches = $derived.by<readonly Branch[]>(() => {
    const hidden = new Set<LaneId>();
    return this.tree.filter(({ lane, under }) => {
      if (under && (hidden.has(under) || this.folded.has(under))) hidden.add(lane.id);
      return !hidden.has(lane.id);
    });
  });
  fold(id: LaneId): void {
    const folded = new Set(this.folded);
    if (!folded.delete(id)) folded.add(id);
    this.folded = folded;
  }
  readonly puttings = $derived.by<readonly Putting[]>(() => puttingsOf(this.app.rig));
  /** The lane that is worked on; null for none. */
  readonly lane = $derived.by<LaneRecord | null>(() => {
    const id = this.chosen[0]?.lane ?? this.laneId;
    return this.lanes.find((lane) => lane.id === id) ?? null;
  });

  nameOf = (block: Pick<Block, 'plays'>): string => blockName(this.app, block);
  laneName = (lane: Pick<LaneRecord, 'on' | 'lost'>): string => laneName(this.app, lane);

  /** A moment drawn to what is near, in reach of so many seconds; `moving`: what is chosen moves, and is not drawn to itself. */
  snap(at: number, reachS: number, free = false, moving = false): number {
    if (free || this.drawnTo === 'nothing') return Math.max(0, at);
    const { grid, song, picture } = this.song;
    const near: number[] = [];
    const look = (moment: number): void => {
      if (Math.abs(moment - at) <= reachS) near.push(moment);
    };
    for (const { at: begin } of sectionsOf(song)) look(begin);
    for (const { at: begin, to } of song.marks) {
      look(begin);
      look(to);
    }
    for (const lane of this.lanes)
      for (const { key, at: begin, length } of lane.blocks) {
        if (begin > at + reachS || begin + length < at - reachS || (moving && this.isChosen(lane.id, key))) continue;
        look(begin);
        look(begin + length);
      }
    if (this.drawnTo === 'onsets') for (const { at: list } of picture?.onsets ?? []) list.forEach(look);
    if (this.drawnTo === 'bars') grid.beats.forEach((beat, i) => grid.places[i] === 0 && look(beat));
    const onGrid = typeof this.drawnTo === 'number' ? snapped(grid, at, this.drawnTo, reachS) : at;
    // Something that is much nearer than the beat wins over it.
    return Math.max(0, snappedTo(near, at, Math.min(reachS, Math.abs(onGrid - at) / 3 || reachS)) ?? onGrid);
  }
  /** How long a beat is about a moment, seconds. */
  beatS(at: number): number {
    const { beats } = this.song.grid;
    const i = Math.max(
      0,
      Math.min(
        beats.length - 2,
        beats.findLastIndex((beat) => beat <= at + 1e-6),
      ),
    );
    return beats.length < 2 ? 0.5 : beats[i + 1]! - beats[i]!;
  }

  addLane(on: ReachId | null): LaneId {
    const lane = make('lane', {
      id: this.app.newId('lane'),
      number: nextNumber(this.lanes),
      songId: this.song.song.id,
      on,
    });
    this.app.live.edit('Add a lane', { put: [lane], remove: [] });
    this.laneId = lane.id;
    return lane.id;
  }
  changeLane(lane: LaneRecord, label: string, fields: Partial<LaneRecord>): void {
    this.app.live.edit(label.slice(0, 120), { put: [{ ...lane, ...fields }], remove: [] });
  }
  removeLane(lane: LaneRecord): void {
    this.app.live.edit(`Remove the lane ${this.laneName(lane)}`.slice(0, 120), { put: [], remove: [lane.id] });
  }

  readonly #keys = $derived.by(() => {
    const found = new Map<LaneId, Set<string>>();
    for (const { lane, key } of this.chosen) {
      const own = found.get(lane);
      if (own) own.add(key);
      else found.set(lane, new Set([key]));
    }
    return found;
  });
  isChosen = (lane: LaneId, key: string): boolean => this.#keys.get(lane)?.has(key) ?? false;
  keysIn(lane: LaneId): ReadonlySet<string> {
    return this.#keys.get(lane) ?? NONE;
  }
  /** Chooses blocks of a stretch in all lanes that are to be seen, or in one. */
  chooseIn(
    { from, to }: { readonly from: number; readonly to: number },
    lanes = this.branches.map((b) => b.lane),
  ): void {
    this.chosen = lanes.flatMap((lane) =>
      lane.blocks
        .filter(({ at, length }) => at < to - 1e-6 && at + length > from + 1e-6)
        .map(({ key }) => ({ lane: lane.id, key })),
    );
  }

  /** Puts something on a lane, from one moment to another: mostly what is in the hand. */
  put(lane: LaneRecord, from: number, to: number, putting: Putting | null = this.hand): void {
    if (!putting || lane.locked || to - from < 0.001) return;
    const key = keysFor(lane.blocks)();
    const length = Math.min(to, this.song.end) - from;
    if (length < 0.001) return;
    const [fadeIn, fadeOut] = [(putting.fades?.in ?? 0) * length, (putting.fades?.out ?? 0) * length];
    const layer = freeLayer(lane.blocks, from, length);
    const block = blockOf({ key, at: from, length, layer, plays: putting.plays, fadeIn, fadeOut });
    this.changeLane(lane, `Put ${putting.name}`, { blocks: [...lane.blocks, block] });
    this.chosen = [{ lane: lane.id, key }];
    this.laneId = lane.id;
  }

  /** Blocks of a lane with what is chosen in it moved by so long. */
  movedIn = (lane: LaneRecord, by: number): Block[] => moved(lane.blocks, this.keysIn(lane.id), by, this.song.end);
  stretchedIn = (lane: LaneRecord, key: string, edge: 'from' | 'to', to: number): Block[] =>
    stretched(lane.blocks, key, edge, to, this.song.end);

  /** Does something to all that is chosen, in one edit; lanes that are locked stay. `more`: records that it needs, asked for when it is done. */
  each(
    label: string,
    change: (lane: LaneRecord, keys: ReadonlySet<string>) => Block[],
    more: () => Iterable<AnyRecord> = () => [],
  ): void {
    const put = this.lanes.flatMap((lane): LaneRecord[] => {
      const keys = this.keysIn(lane.id);
      if (keys.size === 0 || lane.locked) return [];
      const blocks = change(lane, keys);
      return blocks === lane.blocks ? [] : [{ ...lane, blocks }];
    });
    if (put.length > 0) this.app.live.edit(label.slice(0, 120), { put: [...more(), ...put], remove: [] });
  }
  move(by: number): void {
    this.each('Move blocks', (lane) => this.movedIn(lane, by));
  }
  remove(): void {
    this.each('Remove blocks', (lane, keys) => without(lane.blocks, keys));
    this.chosen = [];
  }
  split(at: number): void {
    const { beats } = this.song.grid;
    this.each('Split blocks', (lane, keys) =>
      split(lane.blocks, keys, at, (block, when) => courseOf(this.app.live.document, block, beats, when, lane.curves)),
    );
  }
  join(): void {
    this.each('Join blocks', (lane, keys) => joined(lane.blocks, keys));
  }
  /** Copies of what is chosen to the end of the section it lies in. */
  repeat(): void {
    const sections = sectionsOf(this.song.song);
    this.each('Repeat to the end of the section', (lane, keys) => {
      const first = Math.min(...lane.blocks.filter(({ key }) => keys.has(key)).map(({ at }) => at));
      const end = sections[sectionAt(sections, first + 0.01) + 1]?.at ?? this.song.end;
      return repeated(lane.blocks, keys, end);
    });
  }
  /** Changes fields of what is chosen. */
  set(label: string, fields: Partial<Omit<Block, 'key'>>): void {
    this.each(label, (lane, keys) => withFields(lane.blocks, keys, fields));
  }
  /** What it plays becomes the block's own: it no longer follows the record it came from. */
  detach(): void {
    const { document } = this.app.live;
    const copies = new Map<string, AnyRecord>();
    const change = (block: Block): Block => {
      if (block.plays.is !== 'play') return block;
      const record = document.get(block.plays.target as `scene:${string}`);
      if (record?.kind === 'effect')
        return { ...block, plays: { is: 'effect', name: record.name, spec: specOf(record) } };
      if (record?.kind !== 'scene' && record?.kind !== 'chase') return block;
      let copy = copies.get(record.id);
      if (!copy) {
        const name = `${record.name.slice(0, 60)} (${this.song.song.name.slice(0, 30)})`;
        const { scenes, playables } = this.app.rig;
        const number = nextNumber(record.kind === 'scene' ? scenes : playables.filter((p) => p.kind === 'chase'));
        copy = { ...record, id: this.app.newId(record.kind), number: number + copies.size, name } as AnyRecord;
        copies.set(record.id, copy);
      }
      return { ...block, plays: { is: 'play', target: copy.id as `scene:${string}` } };
    };
    this.each(
      'Detach blocks',
      (lane, keys) => lane.blocks.map((block) => (keys.has(block.key) ? change(block) : block)),
      () => copies.values(),
    );
  }
  /** The first of what is chosen. */
  get first(): Block | null {
    const [one] = this.chosen;
    return one
      ? (this.lanes.find(({ id }) => id === one.lane)?.blocks.find(({ key }) => key === one.key) ?? null)
      : null;
  }
}
