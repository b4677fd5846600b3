import type { SongFault } from '../../core/records/song.ts';
import { fork, spawn, type ChildProcess } from 'node:child_process';
import type { Listening } from '../../core/music/listening.ts';
import type { HeardBeat } from '../../core/show/live/ear.ts';
import type { LiveState } from '../../core/show/index.ts';
import type { ComingBeat, ListenOrder, ListenSaid } from '../../sound/listen/messages.ts';

/** A process that listens and died is started anew after so long, ms. */
const AGAIN_MS = 1000;

export interface LiveEarHost {
  /** What it is started from; null where there is none. */
  readonly entry: string | null;
  /** The songs of the stand-in; null without stand-ins. */
  readonly songs: string | null;
  now(): number;
  beat(beat: HeardBeat): void;
  tell(source: string, said: { listening: Listening } | { trouble: SongFault }): void;
}

/** The ear of this machine: runs while the live state says that the tempo follows it. */
export class LiveEar {
  readonly #host: LiveEarHost;
  #child: ChildProcess | null = null;
  #source: string | null = null;
  #again: NodeJS.Timeout | null = null;

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
    const child = fork(this.#host.entry, [], {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      serialization: 'advanced',
    });
    this.#child = child;
    child.on('message', (said: ListenSaid) => {
      if (this.#child !== child) return;
      if ('beats' in said) for (const beat of said.beats) this.#host.beat(this.#beat(source, beat));
      else this.#host.tell(source, said);
    });
    child.on('error', () => undefined);
    child.on('exit', () => {
      if (this.#child !== child) return;
      this.#child = null;
      this.#again = setTimeout(() => this.#begin(source), AGAIN_MS);
    });
    child.send(order);
  }

  #orderOf(source: string): ListenOrder | null {
    if (source === 'standin') return this.#host.songs === null ? null : { from: 'standin', songs: this.#host.songs };
    return { from: 'card', device: source.slice('server:'.length) };
  }

  #beat(source: string, { inMs, beat, bpm, confidence }: ComingBeat): HeardBeat {
    return { do: 'heardBeat', source, at: this.#host.now() + inMs, beat, bpm, confidence };
  }

  #end(): void {
    if (this.#again) clearTimeout(this.#again);
    this.#again = null;
    const child = this.#child;
    this.#child = null;
    child?.kill();
  }

  close(): void {
    this.#source = null;
    this.#end();
  }
}

/** A sound card that can be listened to. */
export interface SoundCard {
  /** As ALSA names it, such as `plughw:1,0`. */
  readonly device: string;
  readonly name: string;
}

/** The cards of this machine that can be listened to; none without alsa-utils. */
export function soundCards(): Promise<SoundCard[]> {
  return new Promise((resolve) => {
    const child = spawn('arecord', ['-l'], { stdio: ['ignore', 'pipe', 'ignore'], timeout: 3000 });
    let said = '';
    child.stdout.on('data', (piece: Buffer) => (said += piece.toString()));
    child.on('error', () => resolve([]));
    child.on('close', () => resolve(cardsOf(said)));
  });
}

/** The lines of `arecord -l` that name a device. */
export const cardsOf = (said: string): SoundCard[] =>
  [...said.matchAll(/^card (\d+): [^[]*\[([^\]]*)\], device (\d+): [^[]*\[([^\]]*)\]/gm)].map(
    ([, card, cardName, device, deviceName]) => ({
      device: `plughw:${card},${device}`,
      name: `${cardName}${deviceName && deviceName !== cardName ? `, ${deviceName}` : ''}`,
    }),
  );
