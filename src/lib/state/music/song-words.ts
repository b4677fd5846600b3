import type { SongRecord } from '$core/records/song.ts';
import type { Mood } from '$core/records/profile.ts';
import { bpmOf, gridOf, metreOf, sectionsOf } from '$core/song/grid.ts';

/** Minutes and seconds of a moment: 3:07; with tenths or thousandths where they are wanted. */
export function clockText(seconds: number, digits = 0): string {
  const scale = 10 ** digits;
  const whole = Math.round(Math.max(0, seconds) * scale) / scale;
  const minutes = Math.floor(whole / 60);
  const rest = (whole - minutes * 60).toFixed(digits).padStart(digits > 0 ? 3 + digits : 2, '0');
  return `${minutes}:${rest}`;
}

/** How far a song is. */
export type SongState =
  | { readonly is: 'heard' | 'waiting' | 'off' }
  | { readonly is: 'hearing'; readonly share: number }
  | { readonly is: 'fault'; readonly words: string };

export function stateOf(song: SongRecord, hearing: Readonly<Record<string, number>>): SongState {
  const share = hearing[song.id];
  if (share !== undefined) return { is: 'hearing', share };
  if (song.heard) return { is: 'heard' };
  if (song.fault) return { is: 'fault', words: `${song.fault.message}. ${song.fault.remedy}` };
  return { is: song.listen ? 'waiting' : 'off' };
}

/** Tempo, metre and mood as they stand in the list; empty where they are not known. */
export interface SongFacts {
  readonly bpm: string;
  readonly metre: string;
  readonly mood: Mood | null;
}
const facts = new WeakMap<SongRecord, SongFacts>();

export function factsOf(song: SongRecord): SongFacts {
  const kept = facts.get(song);
  if (kept) return kept;
  const grid = gridOf(song);
  const bpm = bpmOf(grid);
  const metres = new Set(grid.metres);
  const own = {
    bpm: bpm === null ? '' : String(Math.round(bpm * 10) / 10),
    metre: grid.beats.length === 0 ? '' : metres.size > 1 ? 'changes' : `${metreOf(grid)}/4`,
    mood: moodOf(song),
  };
  facts.set(song, own);
  return own;
}

/** The mood most of a song has. */
function moodOf(song: SongRecord): Mood | null {
  const sections = sectionsOf(song);
  const spent = new Map<Mood, number>();
  sections.forEach(({ at, mood }, i) => {
    const until = sections[i + 1]?.at ?? song.lengthS ?? at;
    spent.set(mood, (spent.get(mood) ?? 0) + until - at);
  });
  return [...spent].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
