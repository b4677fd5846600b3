import { clamp01 } from '../../units.ts';
import type { Span } from './span.ts';
import { exactPlace } from './exact.ts';
import { beatAt, msAt, type BeatMap } from './beat-map.ts';
import type { Dark, Play } from '../live/state.ts';

/** Time it takes to go dark and to come back. */
export const DARK_MS = 500;

/** Level of Dark at a moment: 1 light, 0 dark, a straight line of 0.5 s between. */
export function darkLevel(dark: Dark, nowMs: number): number {
  const to = dark.on ? 0 : 1;
  const at = clamp01((nowMs - dark.at) / DARK_MS);
  return dark.from + (to - dark.from) * at;
}

/** How something counts its own time. */
export type Pace = Pick<Span, 'beats' | 'rate'>;

/** Where a chase (seconds or beats since its start) or an effect (turns) stands, from the clock it was last set by. */
export function positionOf(
  play: Pick<Play, 'clock' | 'speed' | 'startedAt' | 'startedBeat' | 'exact'>,
  pace: Pace,
  nowMs: number,
  beat: number,
): number {
  const { clock, exact } = play;
  const passed = pace.beats
    ? beat - (clock ? clock.beat : play.startedBeat)
    : ((nowMs - (clock ? clock.ms : play.startedAt)) / 1000) * (exact?.pace ?? 1);
  if (exact) return exactPlace({ exact, clock }, passed * pace.rate * play.speed, nowMs);
  return (clock ? clock.at : 0) + passed * pace.rate * play.speed;
}

/** How long ago (ms) something that ends by itself came to its end; -1 while it runs and for what goes on. */
export function endedMsAgo(
  play: Pick<Play, 'clock' | 'speed' | 'startedAt' | 'startedBeat' | 'exact'>,
  program: Span,
  tempo: BeatMap,
  nowMs: number,
): number {
  if (program.length === null || play.speed <= 0) return -1;
  const beat = beatAt(tempo, nowMs);
  const over = positionOf(play, program, nowMs, beat) - program.length;
  if (over < 0) return -1;
  return program.beats ? nowMs - msAt(tempo, beat - over / play.speed) : (over / play.speed) * 1000;
}

/** Fades and delay of something that plays: its own, else those of its program; a flash has none. */
const fadeIn = (play: Fading, program: Span): number => (play.flash ? 0 : (play.fadeInMs ?? program.fadeInMs));
const fadeOut = (play: Fading, program: Span): number => (play.flash ? 0 : (play.fadeOutMs ?? program.fadeOutMs));
type Fading = Pick<Play, 'startedAt' | 'releasedAt' | 'fadeInMs' | 'fadeOutMs' | 'flash' | 'exact'>;

/** Level 0-1 of something that plays: its fade in, then its fade out once it has been let go or has run through. */
export function playLevel(play: Fading, program: Span, nowMs: number, endedMsAgo = -1): number {
  const released = play.releasedAt ?? (endedMsAgo >= 0 ? nowMs - endedMsAgo : Infinity);
  // A block of a song begins where it stands.
  const delay = play.flash || play.exact ? 0 : program.delayMs;
  return fadeLevel(play.startedAt + delay, fadeIn(play, program), released, fadeOut(play, program), nowMs);
}

/** Level 0-1 that rises from one moment on and, once released, falls from wherever it was. */
export function fadeLevel(fromMs: number, inMs: number, releasedMs: number, outMs: number, nowMs: number): number {
  if (nowMs < releasedMs) return rising(fromMs, inMs, nowMs);
  if (outMs <= 0) return 0;
  return rising(fromMs, inMs, releasedMs) * clamp01(1 - (nowMs - releasedMs) / outMs);
}

/** True once nothing of it is left: it was let go or ended, and its longest fade is over. */
export function isOver(play: Play, program: Span, tempo: BeatMap, nowMs: number): boolean {
  const ended = endedMsAgo(play, program, tempo, nowMs);
  if (play.releasedAt === null && ended < 0) return false;
  const since = play.releasedAt === null ? ended : nowMs - play.releasedAt;
  return since >= Math.max(fadeOut(play, program), play.flash ? 0 : program.longestOutMs);
}

const rising = (startedAt: number, fadeInMs: number, nowMs: number): number =>
  nowMs < startedAt ? 0 : fadeInMs <= 0 ? 1 : clamp01((nowMs - startedAt) / fadeInMs);
