import { applyChange, getRecord, recordsOf, type Document } from '$core/document/change.ts';
import { songFlashes } from '$core/check/song.ts';
import { touchOf } from '$core/document/touch.ts';
import { fractionToValue } from '$core/profile/layout.ts';
import type { LitId } from '$core/ids.ts';
import type { UnitValues } from '$core/records/scene.ts';
import {
  compilePlay,
  compileRig,
  drawValues,
  explainAll,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  Programs,
  render,
  type CompiledRig,
  type Explanation,
  type Frame,
  type LiveState,
  type Play,
  type PreparedLive,
} from '$core/show/index.ts';
import type { Frames } from '$core/patch/readout.ts';
import { songPlays } from '$core/timeline/light.ts';
import { thumbnailOf, type Thumbnail } from '$core/show/thumbnail.ts';
import { framesOf, stripOf } from './strip.ts';
import type { Peek, PreviewAnswers, PreviewAsk, ToPreview } from './messages.ts';

/** Thumbnails are drawn while the whole rig is at full, whatever the masters say. */
const LOOK_TEMPO = 120;

/**
 * What the page's worker does, without the worker: keeps the show, renders what plays blind with the engine's own code,
 * explains, and draws looks. Clocks come in as numbers.
 */
export class PreviewSession {
  #document: Document = new Map();
  #rig: CompiledRig | null = null;
  #frame: Frame | null = null;
  /** The rig at rest: what a look differs from. Made when it is first asked for. */
  #rest: Frames | null = null;
  #real: LiveState | null = null;
  #blind: LiveState | null = null;
  #peek: Peek | null = null;
  #prepared: { readonly state: LiveState; readonly rig: CompiledRig; readonly live: PreparedLive } | null = null;
  readonly #programs = new Programs();

  take(message: Exclude<ToPreview, { type: 'ask' }>): void {
    if (message.type === 'live') {
      this.#real = message.real;
      this.#blind = message.blind;
      this.#peek = message.peek;
      return;
    }
    const touch = touchOf(this.#document, message.change);
    this.#document = applyChange(message.fresh ? new Map() : this.#document, message.change);
    if (message.fresh || touch.rig) this.#rig = this.#rest = null;
    if (message.fresh || touch.rig || touch.programs) this.#prepared = null;
  }

  /** Something is to be seen that is not sent. */
  get draws(): boolean {
    return this.#blind !== null || this.#peek !== null;
  }

  #compiled(): CompiledRig {
    if (!this.#rig) {
      this.#rig = compileRig(this.#document);
      this.#frame = makeFrame(this.#rig.arrays);
    }
    return this.#rig;
  }

  /** Where a song has light of its own it is prepared for this moment (ms). */
  #prepare(state: LiveState, nowMs: number): { rig: CompiledRig; live: PreparedLive; frame: Frame } {
    const rig = this.#compiled();
    const light = songPlays(this.#document, state, nowMs);
    if (this.#prepared?.state !== state || this.#prepared.rig !== rig || light.length > 0) {
      const live = prepareLive(rig, state, (play) => this.#programs.of(rig, this.#document, play), this.#document, {
        light,
      });
      this.#prepared = { state, rig, live };
      this.#programs.keepOnly([...state.playing, ...light]);
    }
    return { rig, live: this.#prepared.live, frame: this.#frame! };
  }

  /** A frame of what is looked at, or of what plays blind; null while there is neither. The bytes are the session's own and written anew each time. */
  frame(nowMs: number): { universes: number[]; bytes: Uint8Array } | null {
    const state = this.#peek?.live ?? this.#blind;
    if (!state) return null;
    const { rig, live, frame } = this.#prepare(state, this.#peek?.ms ?? nowMs);
    return { universes: [...rig.arrays.universes], bytes: render(rig.arrays, live, this.#peek?.ms ?? nowMs, frame) };
  }

  answer(ask: PreviewAsk): PreviewAnswers[keyof PreviewAnswers] {
    switch (ask.what) {
      case 'explain':
        return this.#explain(ask.units, ask.attributes ?? null, ask.nowMs);
      case 'values':
        return this.#values(ask.units, ask.nowMs);
      case 'strip':
        return stripOf(this.#compiled(), this.#frame!, this.#document, ask);
      case 'moment':
        return this.#moment(ask.peek);
      case 'flashes': {
        const song = getRecord(this.#document, 'song', ask.songId);
        return song ? songFlashes(this.#document, song) : [];
      }
      case 'thumbnail':
        return this.#thumbnail(ask.play, ask.atS);
    }
  }

  /** What is shown is what is explained: blind where the page is blind. */
  get #seen(): LiveState | null {
    return this.#blind ?? this.#real;
  }

  #explain(units: readonly LitId[], attributes: readonly string[] | null, nowMs: number): readonly Explanation[] {
    const state = this.#seen;
    if (!state) return [];
    const { rig, live } = this.#prepare(state, nowMs);
    return explainAll({ rig, document: this.#document, state, live, nowMs }, units, attributes);
  }

  #values(units: readonly LitId[], nowMs: number): Readonly<Record<string, UnitValues>> {
    const state = this.#seen;
    if (!state) return {};
    const { rig, live, frame } = this.#prepare(state, nowMs);
    drawValues(rig.arrays, live, nowMs, frame);
    const found: Record<string, UnitValues> = {};
    for (const id of units) {
      const unit = rig.units.get(id);
      if (!unit) continue;
      found[id] = Object.fromEntries(
        [...unit.slots].map(([key, { slot, channel }]) => {
          const fraction = frame.current[unit.base + slot]!;
          return [key, fractionToValue(channel, Math.round(fraction * 1e4) / 1e4)];
        }),
      );
    }
    return found;
  }

  #thumbnail(given: Pick<Play, 'target' | 'spec' | 'on'>, atS: number): Thumbnail | null {
    const rig = this.#compiled();
    const play = newPlay({ id: 'thumbnail', startedAt: 0, fadeInMs: 0, ...given });
    const program = compilePlay(rig, this.#document, play);
    if (!program) return null;
    const bpm = recordsOf(this.#document, 'show')[0]?.tempoBpm ?? LOOK_TEMPO;
    const state = { ...initialLive(0, bpm), playing: [play] };
    const live = prepareLive(rig, state, () => program, this.#document);
    const frame = this.#frame!;
    this.#rest ??= framesOf(rig, render(rig.arrays, { ...live, layers: [] }, 0, frame).slice());
    return thumbnailOf(this.#document, framesOf(rig, render(rig.arrays, live, atS * 1000, frame)), this.#rest);
  }

  /** All of the rig, whatever of it is lit. */
  #moment({ live: state, ms }: Peek): Thumbnail {
    const { rig, live, frame } = this.#prepare(state, ms);
    return thumbnailOf(this.#document, framesOf(rig, render(rig.arrays, live, ms, frame)), new Map());
  }
}
