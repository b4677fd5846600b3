import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { resampled, type Sound } from '../../core/music/sound.ts';
import { decodeSound } from '../decode.ts';
import type { Hearer } from './hearer.ts';

/** Blocks come as from a sound card, ms; between two songs there is silence, seconds. */
const BLOCK_MS = 20;
const GAP_S = 3;
const RATE = 22_050;

/** The simulated music source: plays the songs of a folder one after the other, for ever. Returns how to end it. */
export function listenToStandin(folder: string, hearer: Hearer): () => void {
  let timer: NodeJS.Timeout | null = null;
  let ended = false;
  void loaded(folder).then(
    (songs) => {
      if (ended) return;
      if (songs.length === 0) return hearer.trouble(nothing(folder));
      const begun = performance.now();
      const all = joined(songs);
      let given = 0;
      timer = setInterval(() => {
        const due = Math.floor(((performance.now() - begun) / 1000) * RATE);
        for (; given < due;) {
          const from = given % all.length;
          const block = all.subarray(from, Math.min(all.length, from + due - given));
          hearer.hear(block, RATE);
          given += block.length;
        }
      }, BLOCK_MS);
    },
    () => hearer.trouble(nothing(folder)),
  );
  return () => {
    ended = true;
    if (timer) clearInterval(timer);
  };
}

const nothing = (folder: string) => ({
  code: 'NO_STANDIN_SONGS',
  message: `the stand-in has no songs to play (${folder})`,
  remedy: 'Start once with the demo: its songs are played into that folder.',
});

async function loaded(folder: string): Promise<Sound[]> {
  const names = readdirSync(folder)
    .filter((name) => name.endsWith('.wav'))
    .sort();
  return Promise.all(
    names.map(async (name) =>
      resampled(await decodeSound(new Uint8Array(readFileSync(join(folder, name))), name), RATE),
    ),
  );
}

/** One after the other, with silence between. */
function joined(songs: readonly Sound[]): Float32Array {
  const gap = GAP_S * RATE;
  const all = new Float32Array(songs.reduce((sum, { samples }) => sum + samples.length + gap, 0));
  let at = 0;
  for (const { samples } of songs) {
    all.set(samples, at);
    at += samples.length + gap;
  }
  return all;
}
