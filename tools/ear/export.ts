import { closeSync, mkdirSync, openSync, writeFileSync, writeSync } from 'node:fs';
import path from 'node:path';
import { harmonyChanges, HARMONY, PastHarmony } from '../../src/core/music/harmony.ts';
import { BANDS, features } from '../../src/core/music/features.ts';
import { StreamFeatures } from '../../src/core/music/stream-features.ts';
import { composeBand } from '../../bench/music/band/score.ts';
import { record } from '../../bench/music/band/render.ts';
import { STYLES } from '../../bench/music/band/styles.ts';

/**
 * Writes what the networks learn from: `node --import tsx tools/ear/export.ts FOLDER ROUNDS PART PARTS`. A piece of every style a
 * round; even seeds alone. For each piece a file of 32-bit numbers, frames x (BANDS + HARMONY), as the ear hears songs
 * (`.song`) and as it hears live (`.live`), and its truth (`.json`).
 */
const [folder = '', rounds = '1', part = '0', parts = '1'] = process.argv.slice(2);
mkdirSync(folder, { recursive: true });
const WIDTH = BANDS + HARMONY;

function save(file: string, rows: Float32Array): void {
  const open = openSync(file, 'w');
  writeSync(open, new Uint8Array(rows.buffer, rows.byteOffset, rows.byteLength));
  closeSync(open);
}

let n = 0;
for (let round = 0; round < Number(rounds); round++)
  for (const style of Object.keys(STYLES)) {
    const index = n++;
    if (index % Number(parts) !== Number(part)) continue;
    const seed = 100_000 + index * 2;
    const score = composeBand(seed, style);
    const sound = record(score, seed);
    const name = path.join(folder, String(index).padStart(4, '0'));

    const { frames, mel, chroma, bass } = features(sound);
    const harmony = harmonyChanges(chroma, bass);
    const song = new Float32Array(frames * WIDTH);
    for (let f = 0; f < frames; f++) {
      song.set(mel.subarray(f * BANDS, (f + 1) * BANDS), f * WIDTH);
      const h = Math.min(harmony.length / HARMONY - 1, f >> 1) * HARMONY;
      song.set(harmony.subarray(h, h + HARMONY), f * WIDTH + BANDS);
    }
    save(`${name}.song`, song);

    const stream = new StreamFeatures(sound.rate);
    const past = new PastHarmony();
    const heard = stream.feed(sound.samples);
    const live = new Float32Array(heard.length * WIDTH);
    let change = new Float32Array(HARMONY);
    heard.forEach((frame, f) => {
      if (f % 2 === 0) change = new Float32Array(past.next(frame.chroma, frame.bass));
      live.set(frame.mel, f * WIDTH);
      live.set(change, f * WIDTH + BANDS);
    });
    save(`${name}.live`, live);
    const { beats, downbeats, sections, metre } = score;
    writeFileSync(`${name}.json`, JSON.stringify({ style, metre, beats, downbeats, sections }));
  }
