import { NOTHING_ASKED } from '$core/auto/plan.ts';
import { applyChange } from '$core/document/change.ts';
import { nextNumber } from '$core/naming.ts';
import { ONSET_BANDS, type OnsetBand } from '$core/music/onsets.ts';
import { make, type AnyRecord } from '$core/records/index.ts';
import type { LaneRecord } from '$core/records/lane.ts';
import type { PassageRecord } from '$core/records/passage.ts';
import { kept, sectionsOf } from '$core/song/grid.ts';
import { atMoments, dealtOut } from '$core/timeline/fill.ts';
import { lanesOf, songBeat, songTime } from '$core/timeline/light.ts';
import { cleared, clipOf, laidClip, type Clip, type Stretch } from '$core/timeline/passages.ts';
import { proposed } from '$core/timeline/propose.ts';
import type { LightDesk } from './light-desk.svelte.ts';

/** What moments of a song lanes can be filled at. */
export type FillAt = 'beats' | 'bars' | OnsetBand;
const count = (lanes: readonly LaneRecord[]): number => lanes.reduce((sum, { blocks }) => sum + blocks.length, 0);
/** What was copied last: it outlives the song it came from. */
let copied = $state.raw<{ readonly clip: Clip; readonly name: string } | null>(null);

/** What is done with stretches of a song: filled from the ear, copied, kept, repeated, proposed. */
export class LightStretches {
  readonly #light: LightDesk;
  constructor(light: LightDesk) {
    this.#light = light;
  }
  get #app() {
    return this.#light.app;
  }
  get #song() {
    return this.#light.song;
  }

  /** The stretch that is worked on: what was drawn over, else the section that is chosen, else the one where it stands. */
  get stretch(): Stretch & { readonly name: string } {
    const { stretch, section, song, end, place } = this.#song;
    if (stretch) return { ...stretch, name: 'the stretch' };
    const sections = sectionsOf(song);
    const index =
      section ??
      Math.max(
        0,
        sections.findLastIndex(({ at }) => at <= place + 1e-6),
      );
    const own = sections[index];
    return own
      ? { from: own.at, to: sections[index + 1]?.at ?? end, name: `section ${own.name}` }
      : { from: 0, to: end, name: 'the song' };
  }

  moments(at: FillAt): readonly number[] {
    const { grid, picture } = this.#song;
    if (at === 'beats') return grid.beats;
    if (at === 'bars') return grid.beats.filter((_, i) => grid.places[i] === 0);
    return Array.from(picture?.onsets[ONSET_BANDS.indexOf(at)]?.at ?? [], kept);
  }

  /** Blocks of what is in the hand at such moments of the stretch: on one lane, or dealt out to several. */
  fill(at: FillAt, { lanes, length, fade }: { lanes: readonly LaneRecord[]; length: number; fade: number }): number {
    const { hand } = this.#light;
    const open = lanes.filter(({ locked }) => !locked);
    if (!hand || open.length === 0) return 0;
    const { stretch } = this;
    const within = this.moments(at).filter((m) => m >= stretch.from - 1e-6 && m < stretch.to - 1e-3);
    const dealt = dealtOut(within, open.length);
    const put = open.flatMap((lane, i): LaneRecord[] => {
      const blocks = atMoments(lane.blocks, dealt[i]!, stretch, { plays: hand.plays, length, fade });
      return blocks === lane.blocks ? [] : [{ ...lane, blocks }];
    });
    if (put.length > 0) this.#edit(`Fill with ${hand.name}`, put);
    return within.length;
  }

  /** Every stretch of the lanes that are to be changed. */
  get #open(): readonly LaneRecord[] {
    return this.#light.lanes.filter(({ locked }) => !locked);
  }
  clip(stretch: Stretch = this.stretch): Clip {
    return clipOf(this.#app.live.document, this.#light.lanes, this.#song.grid.beats, stretch, this.#light.laneName);
  }
  copy(): void {
    const { stretch } = this;
    copied = { clip: this.clip(), name: stretch.name };
  }
  /** Copies the blocks that are chosen, or takes them away with it. */
  copyChosen(cut: boolean): void {
    const own = this.#light.lanes.flatMap((lane): LaneRecord[] => {
      const keys = this.#light.keysIn(lane.id);
      return keys.size === 0 ? [] : [{ ...lane, blocks: lane.blocks.filter(({ key }) => keys.has(key)) }];
    });
    const blocks = own.flatMap((lane) => lane.blocks);
    if (blocks.length === 0) return;
    const stretch = {
      from: Math.min(...blocks.map(({ at }) => at)),
      to: Math.max(...blocks.map(({ at, length }) => at + length)),
    };
    const { document } = this.#app.live;
    copied = { clip: clipOf(document, own, this.#song.grid.beats, stretch, this.#light.laneName), name: 'blocks' };
    if (cut) this.#light.remove();
  }
  get copied(): { readonly clip: Clip; readonly name: string } | null {
    return copied;
  }
  clear(): void {
    const { stretch } = this;
    const put = this.#clearedIn(stretch);
    if (put.length > 0) this.#edit(`Empty ${stretch.name}`, put);
  }
  #clearedIn(stretch: Stretch): LaneRecord[] {
    return this.#open.flatMap((lane) => {
      const left = cleared(this.#app.live.document, lane, this.#song.grid.beats, stretch);
      return left === lane ? [] : [left];
    });
  }
  /** Moves what is in the stretch to where it stands. */
  moveTo(at: number): void {
    const { stretch } = this;
    const clip = clipOf(this.#app.live.document, this.#open, this.#song.grid.beats, stretch, this.#light.laneName);
    const gone = this.#clearedIn(stretch);
    const lanes = this.#light.lanes.map((lane) => gone.find(({ id }) => id === lane.id) ?? lane);
    const laid = this.#laid(clip, at, lanes);
    const put = [...gone.filter(({ id }) => !laid.some((lane) => lane.id === id)), ...laid];
    if (put.length > 0) this.#edit(`Move ${stretch.name}`, put);
  }
  #laid(clip: Clip, at: number, lanes: readonly LaneRecord[] = this.#light.lanes, fill?: Stretch): LaneRecord[] {
    const { grid, end, song } = this.#song;
    const newId = () => this.#app.newId('lane');
    return laidClip(clip, { songId: song.id, lanes, beats: grid.beats, at, end, newId, ...(fill ? { fill } : {}) });
  }
  /** Lays something from a moment on, and chooses it. */
  lay(clip: Clip, at: number, name: string): void {
    const before = new Map(this.#light.lanes.map((lane) => [lane.id, new Set(lane.blocks.map(({ key }) => key))]));
    const put = this.#laid(clip, at);
    if (put.length === 0) return;
    this.#edit(`Put ${name}`, put);
    this.#light.chosen = put.flatMap((lane) =>
      lane.blocks.filter(({ key }) => !before.get(lane.id)?.has(key)).map(({ key }) => ({ lane: lane.id, key })),
    );
  }
  /** A moment on the beat nearest to where it stands. */
  get here(): number {
    const { grid, place } = this.#song;
    return grid.beats.length < 2
      ? place
      : Math.max(0, kept(songTime(grid.beats, Math.max(0, Math.round(songBeat(grid.beats, place))))));
  }
  paste(): void {
    if (copied) this.lay(copied.clip, this.here, copied.name);
  }
  /** What is in one section comes again in another, stretched to it. */
  repeatIn(section: number): void {
    const { stretch } = this;
    const sections = sectionsOf(this.#song.song);
    const own = sections[section];
    if (!own) return;
    const fill = { from: own.at, to: sections[section + 1]?.at ?? this.#song.end };
    const put = this.#laid(this.clip(), fill.from, this.#light.lanes, fill);
    if (put.length > 0) this.#edit(`Repeat ${stretch.name} in ${own.name}`, put);
  }

  keep(name: string): void {
    const { passages } = this.#app.rig;
    const clip = this.clip();
    const passage = make('passage', { id: this.#app.newId('passage'), number: nextNumber(passages), name, ...clip });
    this.#edit(`Keep ${name}`, [passage]);
  }
  layPassage(passage: PassageRecord): void {
    this.lay(passage, this.here, passage.name);
  }

  /** What Auto would play in the stretch, as blocks; what lay there stays. */
  propose(seed: number): number {
    const { stretch } = this;
    const { live } = this.#app;
    const asked = { ...(this.#app.auto.asked ?? NOTHING_ASKED), seed };
    const put = proposed(live.document, this.#song.song, stretch, {
      asked,
      newLane: () => this.#app.newId('lane'),
      newGroup: () => this.#app.newId('group'),
    });
    const before = count(this.#light.lanes);
    if (put.length > 0) this.#edit(`Propose ${stretch.name}`, put);
    const after = lanesOf(applyChange(live.document, { put, remove: [] }), this.#song.song.id);
    return count(after) - before;
  }

  #edit(label: string, put: AnyRecord[]): void {
    this.#app.live.edit(label.slice(0, 120), { put, remove: [] });
  }
}
