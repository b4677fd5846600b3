import { MOODS, type Mood } from '../records/profile.ts';
import { clamp } from '../units.ts';

/** Music that is the same throughout spans at least this (natural logarithm): it is lively, not calm here and at its peak there. */
export const LEAST_SPAN = 1.2;

/** Below what so much of a list lies, 0-1. */
export function shareBelow(list: readonly number[], share: number): number {
  const ordered = [...list].sort((a, b) => a - b);
  return ordered[Math.floor(share * (ordered.length - 1))]!;
}

/** Of the five moods, by where an energy lies among those around it; a moment of silence counts little. */
export function moodAmong(energy: number, around: readonly number[]): Mood {
  const [low, high] = [shareBelow(around, 0.1), shareBelow(around, 0.9)];
  const place = 0.5 + (energy - (low + high) / 2) / Math.max(high - low, LEAST_SPAN);
  return MOODS[clamp(Math.floor(place * MOODS.length), 0, MOODS.length - 1)]!;
}
