import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Sound } from '../../../src/core/music/sound.ts';
import { seeded } from '../../../src/core/random.ts';
import { DRY, synthesise, type Note } from '../../../src/sound/synth.ts';
import { midiOf } from './midi.ts';
import type { Hit, Score } from './score.ts';

/** Sampled instruments from Debian's packages; only the bench and the training of the ear need them. */
const FONTS = [
  ['/usr/share/sounds/sf2/FluidR3_GM.sf2', 0.5],
  ['/usr/share/sounds/sf2/TimGM6mb.sf2', 0.25],
  ['/usr/share/sounds/sf2/OPL-3_FM_128M.sf2', 0.15],
  ['/usr/share/sounds/sf3/MuseScore_General_Lite.sf3', 0.1],
] as const;
/** Whether what plays them is installed. */
export const bandIsHere = (): boolean => FONTS.every(([file]) => existsSync(file)) && existsSync('/usr/bin/fluidsynth');
export const BAND_RATE = 22_050;

/** Our own drums for keys of General MIDI. */
const OWN_DRUMS: Readonly<Record<number, Note['as']>> = {
  36: 'kick',
  38: 'snare',
  37: 'clap',
  39: 'clap',
  42: 'hat',
  44: 'hat',
  46: 'open',
  49: 'open',
  51: 'hat',
  45: 'kick',
};

/** Plays a score and makes a recording of it: a fifth with our own drums, the rest of it as chance has it. */
export function record(score: Score, seed: number): Sound {
  const random = seeded(seed ^ 0x5eed);
  const chip = score.style === 'chip';
  const ownDrums = chip || random() < 0.22;
  const drums = score.hits.filter(({ program }) => program === null);
  const rest = score.hits.filter(({ program }) => program !== null);
  const out = new Float32Array(Math.ceil(score.seconds * BAND_RATE));
  const add = (samples: Float32Array, gain: number): void => {
    const level = Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / Math.max(1, samples.length));
    if (level < 1e-6) return;
    for (let i = 0; i < Math.min(out.length, samples.length); i++) out[i] = out[i]! + (samples[i]! / level) * gain;
  };
  // Drums stand in the mix as chance has it: from far behind to far in front.
  const loud = 0.08 * 2 ** (random() * 2.4 - 1.1);
  if (chip) add(synthesise({ notes: rest.map(chipNote), seconds: score.seconds }, DRY, seed).samples, 0.1);
  else add(sampled(rest, fontOf(random())), 0.1);
  if (ownDrums) add(synthesise({ notes: drums.flatMap(ownDrum), seconds: score.seconds }, DRY, seed).samples, loud);
  else add(sampled(drums, fontOf(random())), loud);
  return { rate: BAND_RATE, samples: mixed(out, random) };
}

const chipNote = ({ at, long, loud, note }: Hit): Note => ({
  at,
  as: note < 50 ? 'bass' : 'lead',
  loud,
  hz: 440 * 2 ** ((note - 69) / 12),
  long,
});
const ownDrum = ({ at, loud, note }: Hit): Note[] => [{ at, as: OWN_DRUMS[note] ?? 'hat', loud, hz: 60, long: 0.1 }];

function fontOf(chance: number): string {
  let sum = 0;
  return (FONTS.find(([, share]) => chance < (sum += share)) ?? FONTS[0])[0];
}

function sampled(hits: readonly Hit[], font: string): Float32Array {
  if (hits.length === 0) return new Float32Array(0);
  const folder = mkdtempSync(path.join(tmpdir(), 'amber-band-'));
  try {
    const [midi, raw] = [path.join(folder, 'a.mid'), path.join(folder, 'a.raw')];
    writeFileSync(midi, midiOf(hits));
    const args = ['-ni', '-q', '-g', '0.4', '-R', '0', '-C', '0', '-r', String(BAND_RATE)];
    execFileSync('fluidsynth', [...args, '-O', 's16', '-T', 'raw', '-F', raw, font, midi], { stdio: 'ignore' });
    const bytes = readFileSync(raw);
    const both = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.length >> 1);
    return Float32Array.from({ length: both.length >> 1 }, (_, i) => (both[2 * i]! + both[2 * i + 1]!) / 65_536);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A recording: tone, room, compression, saturation, noise, people, a fade; each as chance has it. */
function mixed(samples: Float32Array, random: () => number): Float32Array {
  let out = samples;
  if (random() < 0.5) out = tilted(out, (random() - 0.5) * 1.4);
  if (random() < 0.4) out = echoed(out, 0.2 + random() * 1.2, 0.1 + random() * 0.6, random);
  if (random() < 0.5) out = squeezed(out, 0.3 + random() * 0.6);
  const drive = random() < 0.4 ? 1 + random() * 5 : 0;
  if (drive > 0) out = out.map((x) => Math.tanh(x * drive) / drive);
  const noise = random() < 0.35 ? 10 ** (-3.4 + random() * 1.6) : 0;
  if (noise > 0) out = out.map((x) => x + (random() * 2 - 1) * noise);
  if (random() < 0.1) out = talkedOver(out, random);
  if (random() < 0.08) {
    const fade = BAND_RATE * (3 + random() * 8);
    out = out.map((x, i) => x * Math.min(1, i / fade));
  }
  return out;
}

/** More of the treble and less of the bass, or the other way round. */
function tilted(samples: Float32Array, by: number): Float32Array {
  let low = 0;
  return samples.map((x) => {
    low += 0.18 * (x - low);
    return low * (1 - by) + (x - low) * (1 + by);
  });
}

/** A room of so many seconds: four combs and two all-passes. */
function echoed(samples: Float32Array, seconds: number, wet: number, random: () => number): Float32Array {
  const sum = new Float32Array(samples.length);
  for (let k = 0; k < 4; k++) {
    const delay = Math.floor(BAND_RATE * (0.029 + 0.017 * random()));
    const back = 10 ** ((-3 * delay) / BAND_RATE / seconds);
    const line = new Float32Array(delay);
    let damp = 0;
    for (let i = 0, at = 0; i < samples.length; i++, at = at + 1 === delay ? 0 : at + 1) {
      const y = line[at]!;
      damp += 0.6 * (y - damp);
      line[at] = samples[i]! + damp * back;
      sum[i] = sum[i]! + y * 0.25;
    }
  }
  return samples.map((x, i) => x * (1 - wet * 0.4) + sum[i]! * wet);
}

/** What is loud is held down, as a compressor does. */
function squeezed(samples: Float32Array, by: number): Float32Array {
  let envelope = 0;
  return samples.map((x) => {
    const now = Math.abs(x);
    envelope += (now > envelope ? 0.01 : 0.0004) * (now - envelope);
    return x * (0.1 / (0.1 + envelope)) ** by;
  });
}

/** Somebody talks: syllables of a humming noise that come and go. */
function talkedOver(samples: Float32Array, random: () => number): Float32Array {
  const out = samples.slice();
  let at = Math.floor(random() * BAND_RATE * 5);
  while (at < out.length) {
    const long = Math.floor(BAND_RATE * (0.08 + random() * 0.2));
    const pitch = 90 + random() * 120;
    let low = 0;
    for (let i = 0; i < long && at + i < out.length; i++) {
      low += 0.25 * (random() * 2 - 1 + (((i * pitch) / BAND_RATE) % 1) - 0.5 - low);
      out[at + i] = out[at + i]! + low * 0.35 * Math.sin((Math.PI * i) / long);
    }
    at += long + Math.floor(BAND_RATE * (random() < 0.12 ? 1 + random() * 2 : 0.02 + random() * 0.12));
  }
  return out;
}
