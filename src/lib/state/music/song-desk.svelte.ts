import type { MendedSong, SongRecord } from '$core/records/song.ts';
import { songAt } from '$core/show/live/songs.ts';
import { gridOf, nearest, type Grid } from '$core/song/grid.ts';
import { beatMoved, beatRemoved, oneAt, tapped } from '$core/song/mend.ts';
import { clamp } from '$core/units.ts';
import { pictureOf, type Picture } from './picture.svelte.ts';
import type { App } from '../app.svelte.ts';

/** Shortest stretch that is shown, seconds. */
export const CLOSEST_S = 0.02;
const USUAL_LENGTH_S = 240;

/** One song that is open: what of it is seen, what is chosen, and how it is mended. */
export class SongDesk {
  readonly #app: App;
  readonly #song: () => SongRecord;
  /** What is seen close, seconds. */
  from = $state(0);
  span = $state(16);
  /** A place that was pressed: where playing begins, where tools work. */
  cursor = $state(0);
  /** A stretch that was drawn over; null for none. */
  stretch = $state.raw<{ readonly from: number; readonly to: number } | null>(null);
  #beat = $state<number | null>(null);
  /** The section that is chosen, by its number. */
  section = $state<number | null>(null);
  /** The view goes along with what plays. */
  follows = $state(true);
  /** Clicks are heard at beats. */
  clicks = $state(false);
  /** Taps so far while somebody taps along. */
  taps = $state.raw<readonly number[] | null>(null);

  /** The picture of it, once it is heard. */
  picture = $state.raw<Picture | null>(null);

  /** Made by a component, which it lives as long as. */
  constructor(app: App, song: () => SongRecord | null) {
    this.#app = app;
    this.#song = () => song()!;
    $effect(() => {
      const now = song();
      if (!now?.heard || !now.blob || app.live.hearing[now.id] !== undefined) return;
      let gone = false;
      void pictureOf(now.blob).then((found) => {
        if (!gone) this.picture = found;
      });
      return () => void (gone = true);
    });
  }

  get song(): SongRecord {
    return this.#song();
  }
  get grid(): Grid {
    return gridOf(this.song);
  }
  /** The beat that is chosen, by its number. */
  get beat(): number | null {
    return this.#beat !== null && this.#beat < this.grid.beats.length ? this.#beat : null;
  }
  set beat(beat: number | null) {
    this.#beat = beat;
  }
  /** Where tools work: the beat that is chosen, else where it plays or stands. */
  get toolsAt(): number {
    return this.beat === null ? this.place : this.grid.beats[this.beat]!;
  }
  /** How long it is; until that is known as long as songs mostly are. */
  get end(): number {
    const { lengthS, heard } = this.song;
    return lengthS ?? (heard?.beats.at(-1) ?? USUAL_LENGTH_S - 2) + 2;
  }
  /** This song is on. */
  get on(): boolean {
    return this.#app.live.real?.song?.songId === this.song.id;
  }
  get playing(): boolean {
    return this.on && this.#app.live.real!.song!.playing;
  }
  /** Where it plays, or where it would begin. */
  get place(): number {
    const { real } = this.#app.live;
    return real?.song && this.on ? Math.min(songAt(real.song, this.#app.live.now()), this.end) : this.cursor;
  }

  /** Another song: nothing of the one before is chosen. */
  reset(): void {
    this.cursor = 0;
    this.stretch = null;
    this.beat = null;
    this.section = null;
    this.taps = null;
    this.picture = null;
    this.see(0, 16);
  }

  /** Shows a stretch, within the song. */
  see(from: number, span: number): void {
    this.span = clamp(span, CLOSEST_S, Math.max(this.end, 1));
    this.from = clamp(from, 0, Math.max(0, this.end - this.span));
  }
  /** Closer (below 1) or farther, with a moment staying where it is. */
  zoom(by: number, at = this.from + this.span / 2): void {
    const share = (at - this.from) / this.span;
    const span = clamp(this.span * by, CLOSEST_S, Math.max(this.end, 1));
    this.see(at - share * span, span);
  }
  /** Brings a moment into view. */
  reveal(at: number): void {
    if (at < this.from || at > this.from + this.span * 0.95) this.see(at - this.span * 0.1, this.span);
  }

  play(): void {
    const { live, sound } = this.#app;
    sound.ready(this.#app.personName);
    if (!this.on) void live.command({ do: 'song', songId: this.song.id, at: this.cursor });
    else void live.command({ do: 'songPlay', on: !this.playing });
  }
  go(to: number): void {
    this.cursor = clamp(to, 0, this.end);
    if (this.on) void this.#app.live.command({ do: 'songAt', at: this.cursor });
  }
  loop(stretch: { readonly from: number; readonly to: number } | null): void {
    const { live } = this.#app;
    if (!this.on && stretch)
      void live
        .command({ do: 'song', songId: this.song.id, at: stretch.from, play: false })
        .then(() => live.command({ do: 'songLoop', loop: stretch }));
    else void live.command({ do: 'songLoop', loop: stretch });
  }
  get loops(): { readonly from: number; readonly to: number } | null {
    return this.on ? this.#app.live.real!.song!.loop : null;
  }

  tap(): void {
    this.taps = [...(this.taps ?? []), this.place];
  }
  /** What was tapped becomes the beats of that stretch. */
  takeTaps(): void {
    const { taps } = this;
    this.taps = null;
    if (taps && taps.length >= 2) this.mend(`Tap ${taps.length} beats`, tapped(this.song, taps, this.end));
    else this.#app.live.tell('note', 'Tap two beats at least', 'Play the song, and press “Tap” on every beat.');
  }
  setOne(): void {
    this.mend('Set the one', oneAt(this.song, this.toolsAt));
  }
  /** The chosen beat is so much later, seconds. */
  nudge(by: number): void {
    if (this.beat === null) return;
    this.mend('Move a beat', beatMoved(this.song, this.beat, this.grid.beats[this.beat]! + by, this.end));
  }
  removeBeat(): void {
    if (this.beat === null) return;
    this.mend('Remove a beat', beatRemoved(this.song, this.beat, this.end));
    this.beat = null;
  }
  /** Chooses the beat so many farther on; with none chosen the nearest. */
  stepBeat(by: number): void {
    const { beats } = this.grid;
    if (beats.length === 0) return;
    this.beat = clamp(this.beat === null ? nearest(beats, this.place) : this.beat + by, 0, beats.length - 1);
    this.reveal(beats[this.beat]!);
  }

  /** Saves what was set right, as one edit. */
  mend(label: string, mended: MendedSong): void {
    const { song } = this;
    if (mended === song.mended) return;
    this.#app.live.edit(`${label}: ${song.name}`.slice(0, 120), { put: [{ ...song, mended }], remove: [] });
  }
  change(label: string, change: Partial<SongRecord>): void {
    const { song } = this;
    this.#app.live.edit(`${label}: ${song.name}`.slice(0, 120), { put: [{ ...song, ...change }], remove: [] });
  }
}
