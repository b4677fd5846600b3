import type { Document } from '../document/change.ts';
import type { SongRecord } from '../records/song.ts';
import { beatAt, initialLive, type LiveState, type Play } from '../show/index.ts';
import { songOn, withSong } from '../show/live/songs.ts';
import { gridOf } from '../song/grid.ts';
import { planSong, troupeOf, type Asked, type Phrase, type Troupe } from './plan.ts';
import { playsOf, turnedTo } from './plays.ts';

/** The show that a known song gets by itself: a function of show, song and what is asked. The song begins at the moment 0. */
export class SongShow {
  readonly plan: readonly Phrase[];
  readonly #troupe: Troupe;
  readonly #live: LiveState;
  readonly #firstBeat: number;

  /** The song is in the document. */
  constructor(document: Document, song: SongRecord, asked: Asked) {
    this.#troupe = troupeOf(document, asked);
    const grid = gridOf(song);
    this.plan = planSong(this.#troupe, song);
    this.#live = withSong(initialLive(0), songOn(song.id, 0, 0), document, 0);
    this.#firstBeat = Math.round(beatAt(this.#live.tempo, (grid.beats[0] ?? 0) * 1000));
  }

  /** The live state at a moment of the song, seconds: the same for as long as its phrase lasts. */
  at(seconds: number): LiveState {
    const index = this.phraseAt(seconds);
    return index < 0 ? this.#live : { ...this.#live, playing: this.#playing(index) };
  }

  /** What plays in each phrase, as far as it was asked for: it follows from the one before. */
  readonly #known: Play[][] = [];
  #playing(index: number): Play[] {
    for (let i = this.#known.length; i <= index; i++) {
      const phrase = this.plan[i]!;
      const ms = phrase.from * 1000;
      const begun = playsOf(phrase, this.#troupe, ms, this.#firstBeat + phrase.fromBeat);
      const before = (this.#known[i - 1] ?? []).filter(
        ({ releasedAt, fadeOutMs }) => releasedAt === null || ms < releasedAt + (fadeOutMs ?? 0),
      );
      this.#known.push(turnedTo(before, phrase, begun, ms));
    }
    return this.#known[index]!;
  }

  /** The number of the phrase at a moment; -1 before the first. */
  phraseAt(seconds: number): number {
    return this.plan.findLastIndex(({ from }) => from <= seconds);
  }
}
