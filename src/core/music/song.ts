import type { BarsFrom, HeardSong } from '../records/song.ts';
import { toBase64 } from '../base64.ts';
import { kept } from '../song/grid.ts';
import { analyse, type Heard, type Told } from './analyse.ts';
import { BANDS, FPS, LOW_BANDS, type Features } from './features.ts';
import { loudnessOf } from './loudness.ts';
import { ONSET_BANDS, onsetsOf, type Onset } from './onsets.ts';
import { snarePlaces } from './snares.ts';
import type { Sound } from './sound.ts';
import { EAR } from './version.ts';

/** What is heard in a song, as records keep it, and what pages draw of it. */
export interface HeardWhole {
  readonly lengthS: number;
  readonly heard: HeardSong;
  readonly picture: SongPicture;
}

/** The picture of a song: columns of its wave, and where something begins. Kept beside the song, and made anew from it. */
export interface SongPicture {
  readonly ear: number;
  /** Columns a second. */
  readonly rate: number;
  /** Four bytes a column, base64: the highest swing, and how much there is low, in the middle and high. */
  readonly columns: string;
  /** Six bytes an onset, base64: its millisecond (32-bit little-endian), its band, its strength. */
  readonly onsets: string;
}

const COLUMN_RATE = FPS * 2;

/** Hears a song whole. */
export function hearSong(sound: Sound, told?: Told): HeardWhole {
  const heard = analyse(sound, told);
  const lengthS = sound.samples.length / sound.rate;
  const onsets = onsetsOf(heard.features);
  return {
    lengthS: kept(lengthS),
    heard: recordOf(heard, onsets, sound, lengthS),
    picture: {
      ear: EAR,
      rate: COLUMN_RATE,
      columns: toBase64(columnsOf(sound, heard.features)),
      onsets: toBase64(onsetBytes(onsets)),
    },
  };
}

function recordOf(heard: Heard, onsets: readonly Onset[], sound: Sound, lengthS: number): HeardSong {
  const within = (at: number): number => kept(Math.min(Math.max(at, 0), lengthS));
  const beats = heard.beats.map(within).filter((at, i, all) => i === 0 || at > all[i - 1]!);
  const bars: BarsFrom[] = heard.bars
    .map(({ at, beats: n }) => ({ at: within(at), beats: n }))
    .filter(({ at }, i, all) => i === 0 || at > all[i - 1]!.at);
  const share = (x: number): number => Math.round(Math.min(1, Math.max(0, x)) * 1000) / 1000;
  return {
    ear: EAR,
    bpm: heard.bpm,
    confidence: {
      beats: share(heard.confidence),
      bars: share(heard.sureOfBars),
      sections: share(heard.sureOfSections),
    },
    beats,
    bars,
    sections: heard.sections.map(({ from, label, mood, turn }) => ({ at: within(from), name: label, mood, turn })),
    snares: snarePlaces(heard.beats, heard.downbeats, heard.metre, onsets),
    loudness: Math.round(loudnessOf(sound) * 10) / 10,
  };
}

/** The wave as bytes: the swing is of full scale, the bands are of the most there is of each. */
function columnsOf({ samples, rate }: Sound, { frames, mel }: Features): Uint8Array {
  const count = Math.max(1, Math.ceil((samples.length / rate) * COLUMN_RATE));
  const bytes = new Uint8Array(count * 4);
  const spans = [
    [0, LOW_BANDS],
    [LOW_BANDS, 36],
    [36, BANDS],
  ] as const;
  const levels = spans.map(([from, to]) => bandLevels(mel, frames, from, to));
  const most = levels.map((list) =>
    Math.max(
      1e-6,
      list.reduce((a, b) => Math.max(a, b), 0),
    ),
  );
  for (let c = 0; c < count; c++) {
    const [from, to] = [Math.floor((c * rate) / COLUMN_RATE), Math.floor(((c + 1) * rate) / COLUMN_RATE)];
    let swing = 0;
    for (let i = from; i < to && i < samples.length; i++) swing = Math.max(swing, Math.abs(samples[i]!));
    bytes[c * 4] = Math.min(255, Math.round(swing * 255));
    const f = Math.min(frames - 1, Math.floor((c * FPS) / COLUMN_RATE));
    for (let k = 0; k < 3; k++) bytes[c * 4 + 1 + k] = Math.round((levels[k]![f]! / most[k]!) * 255);
  }
  return bytes;
}

function bandLevels(mel: Float32Array, frames: number, from: number, to: number): Float32Array {
  const levels = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    let sum = 0;
    for (let b = from; b < to; b++) sum += mel[f * BANDS + b]!;
    levels[f] = sum / (to - from);
  }
  return levels;
}

function onsetBytes(onsets: readonly Onset[]): Uint8Array {
  const bytes = new Uint8Array(onsets.length * 6);
  const view = new DataView(bytes.buffer);
  onsets.forEach(({ at, band, strength }, i) => {
    view.setUint32(i * 6, Math.round(at * 1000), true);
    bytes[i * 6 + 4] = ONSET_BANDS.indexOf(band);
    bytes[i * 6 + 5] = Math.round(strength * 255);
  });
  return bytes;
}
