import { fork, type ChildProcess } from 'node:child_process';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { getRecord, recordsOf, type Document } from '../../core/document/change.ts';
import { FaultError } from '../../core/faults.ts';
import type { ShowId, SongId } from '../../core/ids.ts';
import type { SongPicture } from '../../core/music/song.ts';
import { EAR } from '../../core/music/version.ts';
import type { BlobHash } from '../../core/records/blob.ts';
import { hasSound, type SongFault, type SongRecord, type SoundingSong } from '../../core/records/song.ts';
import type { EarAnswer, HearOrder } from '../../sound/messages.ts';
import { nameOfFile } from '../../core/song/names.ts';

/** The process that hears ends when there has been nothing to hear for so long: it holds much memory. */
const IDLE_MS = 60_000;
const TELL_MS = 200;
/** What could not be saved is heard again after so long. */
const AGAIN_MS = 15_000;

type HeardAnswer = Extract<EarAnswer, { whole: unknown }>;

export interface HearingHost {
  readonly dataDir: string;
  /** What the process that hears is started from; null where songs are not heard. */
  readonly entry: string | null;
  readonly log: Logger;
  /** The show that is open, and what is in it. */
  open(): Promise<{ readonly showId: ShowId; readonly document: Document } | null>;
  /** Where a file is; null where it is not here. */
  pathOf(hash: BlobHash): Promise<string | null>;
  save(showId: ShowId, song: SongRecord, label: string): Promise<void>;
  /** How far each song is that is heard now. */
  tell(shares: Readonly<Record<SongId, number>>): void;
}

interface Job {
  readonly showId: ShowId;
  readonly songId: SongId;
  readonly hash: BlobHash;
  readonly order: HearOrder;
  /** What came of it is being saved: that changes the song, and is no reason to leave it. */
  answered: boolean;
}

/**
 * Hears the songs of the open show, one after the other, in a process of its own. What is not heard yet is found in the
 * show itself, so that a restart goes on by itself.
 */
export class Hearing {
  readonly #host: HearingHost;
  readonly #folder: string;
  #child: ChildProcess | null = null;
  #job: Job | null = null;
  #idle: NodeJS.Timeout | null = null;
  #shares: Record<SongId, number> = {};
  #toldAt = 0;
  #looking: Promise<void> | null = null;
  #again = false;
  #closed = false;
  /** Files over which the process died once. */
  readonly #died = new Set<BlobHash>();
  /** Files whose picture somebody asked for. */
  readonly #wanted = new Set<BlobHash>();

  constructor(host: HearingHost) {
    this.#host = host;
    this.#folder = join(host.dataDir, 'heard');
  }

  get shares(): Readonly<Record<SongId, number>> {
    return this.#shares;
  }

  /** Something has changed: begins what is to be heard, and leaves what is not any more. */
  look(): void {
    if (this.#closed) return;
    if (this.#looking) {
      this.#again = true;
      return;
    }
    this.#looking = this.#find()
      .catch((error: unknown) => this.#host.log.warn({ err: error }, 'songs could not be looked through'))
      .finally(() => {
        this.#looking = null;
        if (this.#again) {
          this.#again = false;
          this.look();
        }
      });
  }

  async #find(): Promise<void> {
    const open = await this.#host.open();
    const songs = open ? recordsOf(open.document, 'song') : [];
    const wants = (song: SongRecord): song is SoundingSong =>
      hasSound(song) && song.listen && song.fault === null && (song.heard === null || this.#wanted.has(song.blob));
    if (this.#job?.answered) return;
    if (this.#job) {
      const now = songs.find(({ id }) => id === this.#job!.songId);
      if (open?.showId === this.#job.showId && now?.blob === this.#job.hash && wants(now)) return;
      this.#stop();
    }
    for (const song of songs.filter(wants)) {
      const path = await this.#host.pathOf(song.blob);
      if (path === null) continue;
      const order = { hear: `${song.id} ${song.blob}`, path, name: song.file || song.name };
      return this.#begin({ showId: open!.showId, songId: song.id, hash: song.blob, order, answered: false });
    }
  }

  #begin(job: Job): void {
    if (this.#closed || !this.#host.entry) return;
    if (this.#idle) clearTimeout(this.#idle);
    this.#idle = null;
    this.#job = job;
    this.#tell({ [job.songId]: 0 });
    this.#child ??= this.#forked(this.#host.entry);
    this.#child.send(job.order);
  }

  #forked(entry: string): ChildProcess {
    const child = fork(entry, [], { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], serialization: 'advanced' });
    child.on('message', (answer: EarAnswer) => void this.#take(answer));
    child.on('error', () => undefined);
    child.on('exit', (code, signal) => {
      if (this.#child !== child) return;
      this.#child = null;
      const lost = this.#job;
      this.#over();
      if (!lost || lost.answered || this.#closed) return;
      // Once may be chance; twice it is the song.
      if (this.#died.has(lost.hash)) void this.#failed(lost, diedOf(code, signal)).finally(() => this.look());
      else {
        this.#died.add(lost.hash);
        this.look();
      }
    });
    return child;
  }

  #over(): void {
    this.#job = null;
    this.#tell({});
  }

  /** What is heard now is not wanted any more. */
  #stop(): void {
    const child = this.#child;
    this.#child = null;
    this.#over();
    child?.kill('SIGKILL');
  }

  #tell(shares: Record<SongId, number>): void {
    this.#shares = shares;
    this.#toldAt = Date.now();
    this.#host.tell(shares);
  }

  async #take(answer: EarAnswer): Promise<void> {
    const job = this.#job;
    if (!job || job.order.hear !== answer.hear) return;
    if ('share' in answer) {
      this.#shares = { [job.songId]: answer.share };
      if (Date.now() - this.#toldAt >= TELL_MS) this.#tell(this.#shares);
      return;
    }
    job.answered = true;
    const saved = await ('trouble' in answer ? this.#failed(job, answer.trouble) : this.#done(job, answer)).then(
      () => true,
      (error: unknown) => {
        this.#host.log.warn({ err: error }, 'what was heard could not be kept; it is heard again later');
        return false;
      },
    );
    this.#over();
    // A full disk, a database that is away: again in a while, not at once.
    if (!saved) return void setTimeout(() => this.look(), AGAIN_MS).unref();
    this.#idle = setTimeout(() => this.#rest(), IDLE_MS);
    this.#idle.unref();
    this.look();
  }

  #rest(): void {
    if (this.#job) return;
    this.#child?.kill();
    this.#child = null;
  }

  async #done({ showId, songId, hash }: Job, { whole, tags }: HeardAnswer): Promise<void> {
    await this.#keepPicture(hash, whole.picture);
    this.#wanted.delete(hash);
    this.#died.delete(hash);
    const song = await this.#songNow(showId, songId);
    if (!song || song.blob !== hash || song.heard !== null) return;
    const named = tags.title !== '' && song.name === nameOfFile(song.file);
    await this.#host.save(
      showId,
      {
        ...song,
        name: named ? tags.title : song.name,
        artist: song.artist || tags.artist,
        album: song.album || tags.album,
        lengthS: whole.lengthS,
        heard: whole.heard,
        fault: null,
      },
      `Heard ${song.name}`,
    );
  }

  async #failed({ showId, songId, hash }: Job, fault: SongFault): Promise<void> {
    this.#wanted.delete(hash);
    this.#died.delete(hash);
    const song = await this.#songNow(showId, songId);
    if (song && song.heard === null) await this.#host.save(showId, { ...song, fault }, `Could not hear ${song.name}`);
  }

  async #songNow(showId: ShowId, songId: SongId): Promise<SongRecord | null> {
    const open = await this.#host.open();
    return open?.showId === showId ? (getRecord(open.document, 'song', songId) ?? null) : null;
  }

  #pictureFile(hash: BlobHash): string {
    return join(this.#folder, `${hash}.${EAR}.json`);
  }

  async #keepPicture(hash: BlobHash, picture: SongPicture): Promise<void> {
    await mkdir(this.#folder, { recursive: true });
    const file = this.#pictureFile(hash);
    await writeFile(`${file}.new`, JSON.stringify(picture));
    await rename(`${file}.new`, file);
  }

  /** The picture of a song, as JSON. Throws FaultError (NOT_HEARD) where there is none yet: then it is made. */
  async picture(hash: BlobHash): Promise<Uint8Array> {
    try {
      return await readFile(this.#pictureFile(hash));
    } catch {
      this.#wanted.add(hash);
      this.look();
      throw new FaultError({
        code: 'NOT_HEARD',
        path: 'hash',
        message: 'this song has not been heard here yet',
        received: hash,
        remedy: 'Ask again when it has been heard.',
      });
    }
  }

  /** Takes away pictures of files that are not kept any more, and those that an earlier ear made. */
  async tidy(known: (hash: BlobHash) => Promise<boolean>): Promise<void> {
    for (const name of await readdir(this.#folder).catch(() => [])) {
      const ear = Number(/^[0-9a-f]{64}\.(\d+)\.json$/.exec(name)?.[1] ?? EAR);
      if (ear < EAR || !(await known(name.slice(0, 64)))) await rm(join(this.#folder, name), { force: true });
    }
  }

  close(): void {
    this.#closed = true;
    if (this.#idle) clearTimeout(this.#idle);
    const child = this.#child;
    this.#child = null;
    child?.kill('SIGKILL');
  }
}

const diedOf = (code: number | null, signal: string | null): SongFault => ({
  code: 'SOUND_NOT_HEARD',
  message: `hearing it ended early (${signal ?? `code ${code}`}); perhaps it is too long for the memory of this machine`,
  remedy: 'Hear it again, or cut it into shorter pieces.',
});
