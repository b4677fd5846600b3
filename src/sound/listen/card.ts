import { spawn, type ChildProcess } from 'node:child_process';
import type { Hearer } from './hearer.ts';

/** A sound card that went away is looked for again after so long, ms. */
const AGAIN_MS = 3000;
const RATE = 44_100;

/** Listens to a sound card of this machine through `arecord` (alsa-utils), until it is ended. Returns how to end it. */
export function listenToCard(device: string, hearer: Hearer): () => void {
  let child: ChildProcess | null = null;
  let timer: NodeJS.Timeout | null = null;
  let ended = false;
  const begin = (): void => {
    let said = '';
    const own = spawn(
      'arecord',
      [
        '-q',
        '-D',
        device,
        '-t',
        'raw',
        '-f',
        'S16_LE',
        '-c',
        '1',
        '-r',
        String(RATE),
        '--period-time=20000',
        '--buffer-time=100000',
      ],
      { stdio: ['ignore', 'pipe', 'pipe'] },
    );
    child = own;
    let odd: Buffer = Buffer.alloc(0);
    own.stdout.on('data', (piece: Buffer) => {
      const bytes = odd.length > 0 ? Buffer.concat([odd, piece]) : piece;
      const count = bytes.length >> 1;
      const block = new Float32Array(count);
      for (let i = 0; i < count; i++) block[i] = bytes.readInt16LE(i * 2) / 32_768;
      odd = bytes.subarray(count * 2);
      if (count > 0) hearer.hear(block, RATE);
    });
    own.stderr.on('data', (piece: Buffer) => (said = (said + piece.toString()).slice(-300)));
    const over = (why: string): void => {
      if (ended || child !== own) return;
      child = null;
      hearer.trouble({
        code: 'CARD_AWAY',
        message: `the sound card ${device} cannot be listened to (${why.trim().replace(/\s+/g, ' ')})`,
        remedy: 'Look at its cable; it is tried again every three seconds. “arecord -l” lists the cards.',
      });
      timer = setTimeout(begin, AGAIN_MS);
    };
    own.on('error', (error) =>
      over(
        (error as { code?: string }).code === 'ENOENT' ? 'arecord is not installed: install alsa-utils' : error.message,
      ),
    );
    own.on('exit', (code) => over(said || `it ended with ${code}`));
  };
  begin();
  return () => {
    ended = true;
    if (timer) clearTimeout(timer);
    child?.kill();
  };
}
