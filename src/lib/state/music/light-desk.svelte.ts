import type { LaneId } from '$core/ids.ts';
import { nextNumber } from '$core/naming.ts';
import { effectSpecSchema, type EffectSpec, type ReachId } from '$core/records/effect.ts';
import { make } from '$core/records/index.ts';
import type { Block, BlockPlays, LaneRecord } from '$core/records/lane.ts';
import { PRESETS } from '$core/ready/presets.ts';
import {
  freeLayer,
  freshKey,
  joined,
  moved,
  repeated,
  snapped,
  split,
  stretched,
  without,
  withFields,
} from '$core/timeline/blocks.ts';
import { courseOf, lanesOf } from '$core/timeline/light.ts';
import { sectionAt, sectionsOf } from '$core/song/grid.ts';
import type { App } from '../app.svelte.ts';
import type { SongDesk } from './song-desk.svelte.ts';

/** What can be put on a lane at once: a name, and what a block of it plays. */
export interface Putting {
  readonly key: string;
  readonly group: string;
  readonly name: string;
  readonly plays: BlockPlays;
}
const quick = (name: string, spec: Parameters<typeof effectSpecSchema.parse>[0]): Putting => ({
  key: `quick ${name}`,
  group: 'On the spot',
  name,
  plays: { is: 'effect', name, spec: effectSpecSchema.parse(spec) },
});
const still = (colours: [string, string]): unknown => ({ does: 'colour', way: 'gradient', each: 'unit', colours });
const QUICK: readonly Putting[] = [
  quick('On', { rate: 0.01, light: 1, parts: [still(['#ffffff', '#ffffff'])] }),
  quick('Amber', { rate: 0.01, light: 1, parts: [still(['#ffae2e', '#ffae2e'])] }),
  quick('Blue', { rate: 0.01, light: 1, parts: [still(['#1f4bff', '#1f4bff'])] }),
  quick('Off', { rate: 0.01, parts: [{ does: 'level', size: 0, offset: 0, each: 'unit' }] }),
  quick('Pulse on each beat', {
    rate: 1,
    beats: true,
    parts: [still(['#ffffff', '#ffffff']), { does: 'level', wave: 'fall', width: 0.8, each: 'unit' }],
  }),
  quick('One after the other', {
    rate: 0.25,
    beats: true,
    parts: [still(['#ffffff', '#ffffff']), { does: 'level', wave: 'pulse', width: 0.3, spread: 1, each: 'unit' }],
  }),
  quick('Twinkle', {
    rate: 1.2,
    parts: [still(['#fff2c9', '#fff2c9']), { does: 'level', wave: 'sparkle', width: 0.3, offset: 0.06 }],
  }),
];

/** Where one of the blocks that are chosen is: its lane and its key. */
export interface Chosen {
  readonly lane: LaneId;
  readonly key: string;
}

/** The light of the song that is open: its lanes, what is in the hand, what is chosen, and what is done to that. */
export class LightDesk {
  readonly #app: App;
  readonly #desk: () => SongDesk;
  /** The light is shown under the sound. */
  shown = $state(false);
  /** What is put where one paints; null: nothing, blocks are chosen. */
  hand = $state.raw<Putting | null>(null);
  chosen = $state.raw<readonly Chosen[]>([]);
  /** Parts of a beat that blocks are drawn to; 0: none. */
  parts = $state(1);

  constructor(app: App, desk: () => SongDesk) {
    this.#app = app;
    this.#desk = desk;
  }

  get #song(): SongDesk {
    return this.#desk();
  }

  readonly lanes = $derived.by<readonly LaneRecord[]>(() =>
    this.shown ? lanesOf(this.#app.live.document, this.#song.song.id) : [],
  );
  readonly puttings = $derived.by<readonly Putting[]>(() => {
    const { rig } = this.#app;
    const of = (group: string, list: readonly { id: string; name: string }[]): Putting[] =>
      list.map(({ id, name }) => ({ key: id, group, name, plays: { is: 'play', target: id as `scene:${string}` } }));
    return [
      ...QUICK,
      ...of('Scenes', rig.scenes),
      ...of(
        'Chases',
        rig.playables.filter((p) => p.kind === 'chase'),
      ),
      ...of(
        'Effects',
        rig.playables.filter((p) => p.kind === 'effect'),
      ),
      ...rig.aims.map(({ id, name }): Putting => ({ key: id, group: 'Aims', name, plays: { is: 'aim', aimId: id } })),
      ...PRESETS.map(({ key, name, spec }): Putting => ({
        key: `ready ${key}`,
        group: 'Ready',
        name,
        plays: { is: 'effect', name, spec: spec satisfies EffectSpec },
      })),
    ];
  });

  nameOf({ plays }: Pick<Block, 'plays'>): string {
    if (plays.is === 'gone') return `${plays.name} is gone`;
    if (plays.is === 'effect') return plays.name;
    const record = this.#app.live.document.get(plays.is === 'aim' ? plays.aimId : (plays.target as `scene:${string}`));
    return record && 'name' in record ? record.name : plays.is === 'play' ? plays.target : plays.aimId;
  }
  laneName({ on, lost }: LaneRecord): string {
    if (lost !== null) return `${lost} is gone`;
    if (on === null) return 'The whole rig';
    const { rig, live } = this.#app;
    const record = live.document.get(on);
    return rig.lit(on)?.name ?? (record && 'name' in record ? record.name : on);
  }

  /** A moment drawn to what is near, in reach of so many seconds. */
  snap(at: number, reachS: number, free = false): number {
    if (free || this.parts === 0) return Math.max(0, at);
    return Math.max(0, snapped(this.#song.grid, at, this.parts, reachS));
  }
  /** How long a beat is about a moment, seconds. */
  beatS(at: number): number {
    const { beats } = this.#song.grid;
    const i = Math.max(
      0,
      Math.min(
        beats.length - 2,
        beats.findLastIndex((beat) => beat <= at + 1e-6),
      ),
    );
    return beats.length < 2 ? 0.5 : beats[i + 1]! - beats[i]!;
  }

  addLane(on: ReachId | null): void {
    const lane = make('lane', {
      id: this.#app.newId('lane'),
      number: nextNumber(this.lanes),
      songId: this.#song.song.id,
      on,
    });
    this.#app.live.edit('Add a lane', { put: [lane], remove: [] });
  }
  changeLane(lane: LaneRecord, label: string, fields: Partial<LaneRecord>): void {
    this.#app.live.edit(label, { put: [{ ...lane, ...fields }], remove: [] });
  }
  removeLane(lane: LaneRecord): void {
    this.#app.live.edit(`Remove the lane ${this.laneName(lane)}`.slice(0, 120), { put: [], remove: [lane.id] });
  }

  isChosen = (lane: LaneId, key: string): boolean => this.chosen.some((c) => c.lane === lane && c.key === key);
  keysIn(lane: LaneId): ReadonlySet<string> {
    return new Set(this.chosen.filter((c) => c.lane === lane).map(({ key }) => key));
  }

  /** Puts what is in the hand on a lane, from one moment to another. */
  put(lane: LaneRecord, from: number, to: number): void {
    const { hand } = this;
    if (!hand || lane.locked || to - from < 0.001) return;
    const key = freshKey(lane.blocks);
    const length = Math.min(to, this.#song.end) - from;
    const block: Block = {
      key,
      at: from,
      length,
      layer: freeLayer(lane.blocks, from, length),
      plays: hand.plays,
      fadeIn: 0,
      fadeOut: 0,
      slip: 0,
      curves: {},
    };
    this.changeLane(lane, `Put ${hand.name}`.slice(0, 120), { blocks: [...lane.blocks, block] });
    this.chosen = [{ lane: lane.id, key }];
  }

  /** Blocks of a lane with what is chosen in it moved by so long. */
  movedIn = (lane: LaneRecord, by: number): Block[] => moved(lane.blocks, this.keysIn(lane.id), by, this.#song.end);
  stretchedIn = (lane: LaneRecord, key: string, edge: 'from' | 'to', to: number): Block[] =>
    stretched(lane.blocks, key, edge, to, this.#song.end);

  /** Does something to all that is chosen, in one edit; lanes that are locked stay. */
  #each(label: string, change: (lane: LaneRecord, keys: ReadonlySet<string>) => Block[]): void {
    const put = this.lanes.flatMap((lane): LaneRecord[] => {
      const keys = this.keysIn(lane.id);
      if (keys.size === 0 || lane.locked) return [];
      const blocks = change(lane, keys);
      return blocks === lane.blocks ? [] : [{ ...lane, blocks }];
    });
    if (put.length > 0) this.#app.live.edit(label, { put, remove: [] });
  }
  move(by: number): void {
    this.#each('Move blocks', (lane) => this.movedIn(lane, by));
  }
  remove(): void {
    this.#each('Remove blocks', (lane, keys) => without(lane.blocks, keys));
    this.chosen = [];
  }
  split(at: number): void {
    const { beats } = this.#song.grid;
    this.#each('Split blocks', (lane, keys) =>
      split(lane.blocks, keys, at, (block, when) => courseOf(this.#app.live.document, block, beats, when)),
    );
  }
  join(): void {
    this.#each('Join blocks', (lane, keys) => joined(lane.blocks, keys));
  }
  /** Copies of what is chosen to the end of the section it lies in. */
  repeat(): void {
    const sections = sectionsOf(this.#song.song);
    this.#each('Repeat to the end of the section', (lane, keys) => {
      const first = Math.min(...lane.blocks.filter(({ key }) => keys.has(key)).map(({ at }) => at));
      const end = sections[sectionAt(sections, first + 0.01) + 1]?.at ?? this.#song.end;
      return repeated(lane.blocks, keys, end);
    });
  }
  /** Changes fields of what is chosen. */
  set(label: string, fields: Partial<Pick<Block, 'fadeIn' | 'fadeOut' | 'layer' | 'plays'>>): void {
    this.#each(label, (lane, keys) => withFields(lane.blocks, keys, fields));
  }
  /** The first of what is chosen. */
  get first(): Block | null {
    const [one] = this.chosen;
    return one
      ? (this.lanes.find(({ id }) => id === one.lane)?.blocks.find(({ key }) => key === one.key) ?? null)
      : null;
  }
}
