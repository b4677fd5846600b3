import type { Document } from '../../core/document/change.ts';
import { getRecord } from '../../core/document/change.ts';
import type { BlobHash } from '../../core/records/blob.ts';
import type { SongFault } from '../../core/records/song.ts';
import type { LiveState } from '../../core/show/index.ts';
import { songAfter, nextSongMs, type SongOn, type SoundPlayer } from '../../core/show/live/songs.ts';
import type { PlayOrder, PlaySaid, PlaySong } from '../../sound/play/messages.ts';
import { KeptProcess } from './kept-process.ts';

/** What plays is told what it plays this often, so that its clock stays ours, ms. */
const TELL_MS = 500;
/** A card that is away is tried again after so long, ms. */
const AGAIN_MS = 3000;

export interface CardPlayerHost {
  /** What the process that plays is started from; null where there is none. */
  readonly entry: string | null;
  now(): number;
  live(): LiveState | null;
  /** The open show; null for none. */
  document(): Promise<Document | null>;
  pathOf(hash: BlobHash): Promise<string | null>;
  said(key: string, said: PlaySaid): void;
}

/** Plays songs on a sound card of this machine, while the live state says so. */
export class CardPlayer {
  readonly #host: CardPlayerHost;
  #device: string | null = null;
  #process: KeptProcess<PlayOrder, PlaySaid> | null = null;
  #timer: NodeJS.Timeout | null = null;
  #songs: readonly PlaySong[] = [];
  /** What it was told of last: other changes of the live state are none of its. */
  #song: SongOn | null = null;
  #player: SoundPlayer | null = null;

  constructor(host: CardPlayerHost) {
    this.#host = host;
  }

  /** The live state or the show may have changed. */
  look(): void {
    const player = this.#host.live()?.soundPlayer ?? null;
    const device = player?.card ? player.key.slice('card:'.length) : null;
    if (device !== this.#device) {
      this.#end();
      this.#device = device;
      if (device !== null) this.#begin(device, player!.key);
    }
    const song = this.#host.live()?.song ?? null;
    if (device === null || (song === this.#song && player === this.#player)) return;
    [this.#song, this.#player] = [song, player];
    void this.#tell();
  }

  #begin(device: string, key: string): void {
    if (!this.#host.entry) {
      const trouble: SongFault = {
        code: 'NO_CARD_PLAYER',
        message: 'songs cannot be played on this machine',
        remedy: 'Play the sound in a page.',
      };
      this.#host.said(key, { trouble });
      return;
    }
    this.#process = new KeptProcess<PlayOrder, PlaySaid>(
      this.#host.entry,
      AGAIN_MS,
      () => this.#order(device),
      (said) => this.#host.said(key, said),
    );
    this.#timer = setInterval(() => void this.#tell(), TELL_MS);
  }

  async #tell(): Promise<void> {
    const document = await this.#host.document().catch(() => null);
    const on = this.#host.live()?.song ?? null;
    this.#songs = document && on ? await this.#songsOf(document, on) : [];
    this.#process?.tell();
  }

  /** What is on, and the song after it, from when on. */
  async #songsOf(document: Document, on: SongOn): Promise<PlaySong[]> {
    const due = nextSongMs(document, on);
    const next = due === null ? null : songAfter(document, on, due);
    const found: PlaySong[] = [];
    for (const [song, fromMs] of [
      [on, -Infinity],
      [next, due ?? 0],
    ] as const) {
      const record = song && getRecord(document, 'song', song.songId);
      const path = record?.blob && (await this.#host.pathOf(record.blob));
      if (song && record && path) found.push({ on: song, fromMs, path, name: record.file || record.name });
    }
    return found;
  }

  #order(device: string): PlayOrder {
    const card = this.#host.live()?.soundPlayer?.card;
    return {
      device,
      clockMs: this.#host.now() - Number(process.hrtime.bigint() / 1000n) / 1000,
      delayMs: card?.delayMs ?? 0,
      level: card?.level ?? 1,
      clicks: card?.clicks ?? false,
      songs: this.#songs,
    };
  }

  #end(): void {
    if (this.#timer) clearInterval(this.#timer);
    this.#timer = null;
    this.#process?.end();
    this.#process = null;
  }

  close(): void {
    this.#device = null;
    this.#end();
  }
}
