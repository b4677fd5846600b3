import type { SongFault } from '../../core/records/song.ts';
import type { Listening } from '../../core/music/listening.ts';
import { saysOf, type EarSays, type HeardBeat } from '../../core/show/live/ear.ts';
import type { LiveState } from '../../core/show/index.ts';
import { KeptProcess } from './kept-process.ts';
import type { ComingBeat, ListenOrder, ListenSaid } from '../../sound/listen/messages.ts';

/** A process that listens and died is started anew after so long, ms. */
const AGAIN_MS = 1000;

export interface LiveEarHost {
  /** What it is started from; null where there is none. */
  readonly entry: string | null;
  /** The songs of the stand-in; null without stand-ins. */
  readonly songs: string | null;
  now(): number;
  live(): LiveState | null;
  said(what: HeardBeat | EarSays): void;
  tell(source: string, said: { listening: Listening } | { trouble: SongFault }): void;
}

/** The ear of this machine: runs while the live state says that the tempo follows it. */
export class LiveEar {
  readonly #host: LiveEarHost;
  #process: KeptProcess<ListenOrder, ListenSaid> | null = null;
  #source: string | null = null;

  constructor(host: LiveEarHost) {
    this.#host = host;
  }

  look(live: LiveState | null): void {
    const asked = live?.ear?.source ?? null;
    const source = asked === null || asked.startsWith('page:') ? null : asked;
    if (source === this.#source) return;
    this.#end();
    this.#source = source;
    if (source) this.#begin(source);
  }

  #begin(source: string): void {
    const order = this.#orderOf(source);
    if (!order || !this.#host.entry) {
      const trouble = {
        code: 'NO_SUCH_EAR',
        message: `${source} cannot be listened to here`,
        remedy: 'Choose another source.',
      };
      this.#host.tell(source, { trouble });
      return;
    }
    this.#process = new KeptProcess<ListenOrder, ListenSaid>(
      this.#host.entry,
      AGAIN_MS,
      () => order,
      (said) => {
        if ('beats' in said) for (const beat of said.beats) this.#host.said(this.#beat(source, beat));
        else this.#host.tell(source, said);
        const says = 'listening' in said ? saysOf(source, said.listening, this.#host.live()?.ear ?? null) : null;
        if (says) this.#host.said(says);
      },
    );
  }

  #orderOf(source: string): ListenOrder | null {
    if (source === 'standin') return this.#host.songs === null ? null : { from: 'standin', songs: this.#host.songs };
    return { from: 'card', device: source.slice('server:'.length) };
  }

  #beat(source: string, { inMs, beat, bpm, confidence }: ComingBeat): HeardBeat {
    return { do: 'heardBeat', source, at: this.#host.now() + inMs, beat, bpm, confidence };
  }

  #end(): void {
    this.#process?.end();
    this.#process = null;
  }

  close(): void {
    this.#source = null;
    this.#end();
  }
}
