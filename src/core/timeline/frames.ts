import { recordsOf, type Document } from '../document/change.ts';
import type { SongId } from '../ids.ts';
import {
  compileRig,
  initialLive,
  prepareLive,
  Programs,
  type CompiledRig,
  type LiveState,
  type PreparedLive,
} from '../show/index.ts';
import { songOn, withSong } from '../show/live/songs.ts';
import { LIGHT_AGAIN_MS, songPlays } from './light.ts';

/** A song that plays by itself, and began at the moment 0. */
export const songAlone = (document: Document, songId: SongId): LiveState =>
  withSong(initialLive(0, recordsOf(document, 'show')[0]?.tempoBpm), songOn(songId, 0, 0), document, 0);

/** A song that plays by itself from the moment 0: its light, ready to be rendered at any moment. */
export class SongFrames {
  readonly document: Document;
  readonly rig: CompiledRig;
  readonly state: LiveState;
  readonly #programs = new Programs();
  #told = -Infinity;
  #live: PreparedLive | null = null;

  constructor(document: Document, songId: SongId, rig: CompiledRig = compileRig(document)) {
    this.document = document;
    this.rig = rig;
    this.state = songAlone(document, songId);
  }

  /** What plays about a moment, ms: told anew as often as the engine does. */
  at(ms: number): PreparedLive {
    if (this.#live && ms >= this.#told && ms - this.#told < LIGHT_AGAIN_MS) return this.#live;
    this.#told = ms;
    const light = songPlays(this.document, this.state, ms);
    const programOf = (play: Parameters<Programs['of']>[2]) => this.#programs.of(this.rig, this.document, play);
    this.#live = prepareLive(this.rig, this.state, programOf, this.document, { light });
    this.#programs.keepOnly(light);
    return this.#live;
  }
}
