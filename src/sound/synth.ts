import { seeded } from '../core/random.ts';
import type { Sound } from '../core/music/sound.ts';

/** One note of an instrument of ours: when (s), how loud (0-1), how high (Hz) and how long (s). */
export interface Note {
  readonly at: number;
  readonly as: 'kick' | 'snare' | 'hat' | 'open' | 'clap' | 'bass' | 'chord' | 'lead' | 'pluck' | 'pad';
  readonly loud: number;
  readonly hz: number;
  readonly long: number;
}
interface Played {
  readonly notes: readonly Note[];
  readonly seconds: number;
}

/** What is made of the finished sound. */
export interface Mix {
  readonly room: boolean;
  readonly noise: number;
  readonly drive: number;
}
export const DRY: Mix = { room: false, noise: 0, drive: 1 };

/** Plays a piece with instruments of our own. */
export function synthesise(piece: Played, mix: Mix = DRY, seed = 1, rate = 22_050): Sound {
  const out = new Float32Array(Math.ceil((piece.seconds + 1) * rate));
  const random = seeded(seed);
  const noise = Float32Array.from({ length: rate }, () => random() * 2 - 1);
  for (const note of piece.notes) play(out, note, rate, noise, Math.floor(random() * rate));
  if (mix.room) echo(out, rate, random);
  for (let i = 0; i < out.length; i++) {
    const x = out[i]! * 0.35 * mix.drive + (mix.noise > 0 ? (random() * 2 - 1) * mix.noise : 0);
    out[i] = Math.tanh(x);
  }
  return { rate, samples: out };
}

function play(
  out: Float32Array,
  { at, as, loud, hz, long }: Note,
  rate: number,
  noise: Float32Array,
  from: number,
): void {
  const begin = Math.floor(at * rate);
  const seconds =
    as === 'kick'
      ? 0.25
      : as === 'snare' || as === 'clap'
        ? 0.18
        : as === 'hat'
          ? 0.05
          : as === 'open'
            ? 0.2
            : long + 0.08;
  const count = Math.min(Math.floor(seconds * rate), out.length - begin);
  let [low, phase] = [0, 0];
  for (let i = 0; i < count; i++) {
    const t = i / rate;
    const hiss = noise[(from + i) % noise.length]!;
    let x = 0;
    switch (as) {
      case 'kick':
        phase += (45 + 95 * Math.exp(-t * 38)) / rate;
        x = Math.sin(2 * Math.PI * phase) * Math.exp(-t * 14) + (t < 0.004 ? hiss * 0.4 : 0);
        break;
      case 'snare':
        x = (hiss * 0.7 + Math.sin(2 * Math.PI * 190 * t) * 0.5) * Math.exp(-t * 22);
        break;
      case 'clap':
        x = hiss * 0.8 * Math.exp(-((t * 1000) % 11) * 0.12) * Math.exp(-t * 24);
        break;
      case 'hat':
      case 'open':
        low += 0.55 * (hiss - low);
        x = (hiss - low) * Math.exp(-t * (as === 'hat' ? 70 : 16)) * 0.7;
        break;
      case 'bass': {
        phase += hz / rate;
        const saw = 2 * (phase - Math.floor(phase)) - 1;
        low += 0.12 * (saw - low);
        x = low * 1.5 * gate(t, long, 0.006);
        break;
      }
      case 'chord': {
        phase += hz / rate;
        const saw = 2 * (phase - Math.floor(phase)) - 1;
        low += 0.3 * (saw - low);
        x = low * gate(t, long, 0.008) * Math.exp(-t * 1.5) * 0.6;
        break;
      }
      case 'lead':
        phase += (hz * (1 + 0.004 * Math.sin(2 * Math.PI * 5 * t))) / rate;
        x = (phase - Math.floor(phase) < 0.4 ? 0.5 : -0.5) * gate(t, long, 0.01) * 0.6;
        break;
      case 'pluck':
        phase += hz / rate;
        x =
          (Math.sin(2 * Math.PI * phase) + 0.4 * Math.sin(4 * Math.PI * phase)) *
          Math.exp(-t * 5) *
          gate(t, long, 0.003);
        break;
      case 'pad':
        phase += hz / rate;
        x = (Math.sin(2 * Math.PI * phase) + 0.3 * Math.sin(2 * Math.PI * phase * 2.003)) * gate(t, long, 0.12) * 0.5;
        break;
    }
    out[begin + i] = out[begin + i]! + x * loud;
  }
}

const gate = (t: number, long: number, rise: number): number =>
  Math.min(1, t / rise) * (t < long ? 1 : Math.max(0, 1 - (t - long) / 0.08));

/** A room: echoes that fall off. */
function echo(out: Float32Array, rate: number, random: () => number): void {
  const taps = Array.from({ length: 14 }, (_, i) => ({
    after: Math.floor((0.011 + 0.03 * i + random() * 0.02) * rate),
    loud: 0.4 * Math.exp(-i * 0.22),
  }));
  const dry = out.slice();
  for (const { after, loud } of taps)
    for (let i = after; i < out.length; i++) out[i] = out[i]! + dry[i - after]! * loud;
}
