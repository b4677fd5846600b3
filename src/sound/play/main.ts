/**
 * The process that plays songs on a sound card of this machine, through `aplay` (alsa-utils). The pipe to it is kept full: so
 * what lies between us and the ear is always as much, and the card tells its own time by when it takes more.
 */
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, promises, rmSync } from 'node:fs';
import { constants, setPriority, tmpdir } from 'node:os';
import path from 'node:path';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { CardClock, CardFeed, type Stereo } from '../../core/show/live/card-feed.ts';
import type { SongFault } from '../../core/records/song.ts';
import { decodeStereo } from '../decode.ts';
import { troubleOf } from '../trouble.ts';
import type { PlayOrder, PlaySaid } from './messages.ts';

const RATE = 48_000;
/** Frames of a block: one page of memory of two channels of 32 bit, of which a pipe holds sixteen. */
const [BLOCK, PAGES] = [512, 16];
/** What the card itself holds. */
const BUFFER_MS = 100;
const QUEUED_MS = ((BLOCK * PAGES) / RATE) * 1000 + BUFFER_MS;
/** A block that is taken sooner than this found room, ms. */
const AT_ONCE_MS = 1;
const REPORT_MS = 500;
const CLICK_EVERY_MS = 1000;
const CLICK_S = 0.05;

const notPlayed = (name: string, why: string): SongFault => ({
  code: 'SOUND_BROKEN',
  message: `${name} cannot be played (${why})`,
  remedy: 'Add the file again.',
});
const say = (said: PlaySaid): void => void process.send?.(said);
/** The clock of the machine since it was started: the same for all of its processes, ms. */
const monotonic = (): number => Number(process.hrtime.bigint() / 1000n) / 1000;

if (isMainThread) {
  try {
    setPriority(constants.priority.PRIORITY_HIGH);
  } catch {
    // Then it plays at the priority it has.
  }
  let player: Player | null = null;
  process.on('message', (order: PlayOrder) => {
    player ??= new Player(order.device);
    player.set(order);
  });
} else {
  const { file, name } = workerData as { file: string; name: string };
  const answer = await promises
    .readFile(file)
    .then((bytes) => decodeStereo(new Uint8Array(bytes), name, RATE))
    .catch((error: unknown) => troubleOf(error, (why) => notPlayed(name, why)));
  const moved = 'left' in answer ? [answer.left.buffer as ArrayBuffer, answer.right.buffer as ArrayBuffer] : [];
  parentPort!.postMessage(answer, moved);
}

/** Songs as samples, decoded beside what plays; the last two are kept. */
class Sounds {
  readonly #kept = new Map<string, Stereo | 'coming'>();
  readonly #come: () => void;

  constructor(come: () => void) {
    this.#come = come;
  }

  of(file: string, name: string): Stereo | null {
    const known = this.#kept.get(file);
    if (known !== undefined) return known === 'coming' ? null : known;
    this.#kept.set(file, 'coming');
    const worker = new Worker(new URL(import.meta.url), { workerData: { file, name } });
    worker.on('message', (answer: Stereo | SongFault) => {
      if (!('left' in answer)) return say({ trouble: answer });
      this.#kept.set(file, answer);
      this.#come();
    });
    worker.on('error', ({ message }) => say({ trouble: notPlayed(name, message) }));
    return null;
  }

  /** Lets go of all but these. */
  keep(files: readonly string[]): void {
    for (const file of this.#kept.keys())
      if (!files.includes(file) && this.#kept.get(file) !== 'coming') this.#kept.delete(file);
  }
}

class Player {
  readonly #feed = new CardFeed(RATE);
  readonly #clock = new CardClock(RATE);
  readonly #sounds = new Sounds(() => this.#lay());
  #order: PlayOrder | null = null;

  constructor(device: string) {
    const folder = mkdtempSync(path.join(tmpdir(), 'amber-play-'));
    const pipe = path.join(folder, 'sound');
    execFileSync('mkfifo', ['-m', '600', pipe]);
    const args = ['-q', '-D', device, '-t', 'raw', '-f', 'S32_LE', '-c', '2', '-r', String(RATE)];
    const aplay = spawn('aplay', [...args, `--buffer-time=${BUFFER_MS * 1000}`, pipe], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    // Killed, since a process waits at its end for what it still writes: into a pipe that nobody reads.
    const end = (): void => {
      aplay.kill('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
      process.kill(process.pid, 'SIGKILL');
    };
    for (const signal of ['SIGTERM', 'SIGINT', 'disconnect'] as const) process.on(signal, end);
    let words = '';
    aplay.stderr.on('data', (piece: Buffer) => (words = (words + piece.toString()).slice(-300)));
    const over = (why: string): void => {
      say({
        trouble: {
          code: 'CARD_AWAY',
          message: `the sound card ${device} cannot be played on (${why.trim().replace(/\s+/g, ' ')})`,
          remedy: 'Look at its cable, or choose another; it is tried again. “aplay -l” lists the cards.',
        },
      });
      // What was said has to get out before.
      setTimeout(end, 50);
    };
    aplay.on('error', (error) =>
      over(
        (error as { code?: string }).code === 'ENOENT' ? 'aplay is not installed: install alsa-utils' : error.message,
      ),
    );
    aplay.on('close', (code) => over(words || `it ended with ${code}`));
    void this.#run(pipe).catch((error: Error) => over(error.message));
    setInterval(() => {
      const { off } = this.#feed;
      say({ offMs: off === null ? null : Math.round(off * 10_000) / 10 });
    }, REPORT_MS);
  }

  set(order: PlayOrder): void {
    this.#order = order;
    this.#lay();
  }

  #lay(): void {
    const { songs, level } = this.#order!;
    this.#sounds.keep(songs.map((song) => song.path));
    this.#feed.set(
      songs.flatMap(({ on, fromMs, path: file, name }) => {
        const sound = this.#sounds.of(file, name);
        return sound ? [{ on, fromMs, sound }] : [];
      }),
      level,
    );
  }

  async #run(pipe: string): Promise<void> {
    const file = await promises.open(pipe, 'w');
    const bytes = Buffer.alloc(BLOCK * 8);
    for (let frames = 0; ; frames += BLOCK) {
      const known = this.#clock.known && this.#order;
      const earMs = known ? this.#clock.at(frames) + QUEUED_MS + known.delayMs + known.clockMs : 0;
      const block = known ? this.#feed.block(BLOCK, earMs) : new Float32Array(BLOCK * 2);
      if (known && known.clicks) addClicks(block, earMs);
      for (let i = 0; i < block.length; i++)
        bytes.writeInt32LE(Math.round(Math.max(-1, Math.min(1, block[i]!)) * 0x7fff_ffff), i * 4);
      const begun = monotonic();
      await file.write(bytes);
      // It had to wait: all before it was taken, and filled both pipe and card.
      if (monotonic() - begun > AT_ONCE_MS) this.#clock.took(frames, begun);
    }
  }
}

function addClicks(block: Float32Array, earMs: number): void {
  for (let i = 0; i < block.length; i += 2) {
    const since = ((earMs + (i / 2 / RATE) * 1000) % CLICK_EVERY_MS) / 1000;
    if (since > CLICK_S) continue;
    const x = 0.35 * Math.sin(2 * Math.PI * 1760 * since) * (1 - since / CLICK_S) ** 2;
    block[i] = block[i]! + x;
    block[i + 1] = block[i + 1]! + x;
  }
}
