import { z } from 'zod';
import type { Listening } from '../../music/listening.ts';
import type { Document } from '../../document/change.ts';
import { bpmSchema, levelSchema } from '../../records/common.ts';
import { MOODS } from '../../records/profile.ts';
import { SECTION_TURNS } from '../../records/song.ts';
import { BPM_LIMITS, clamp, modulo } from '../../units.ts';
import { beatsPerBar } from './bar.ts';
import { beatAt, bpmAround, steady, type BeatMap } from '../play/beat-map.ts';

/** The tempo of the show follows sound that somebody listens to: beats come in as they are announced. */

/** Which ear: of a page (`page:KEY`), of this machine's sound card (`server:DEVICE`), or the stand-in (`standin`). */
export const earSourceSchema = z.string().regex(/^(page:[0-9a-z]{1,60}|server:[\w:,=.-]{1,120}|standin)$/, {
  message: 'must be "page:KEY", "server:DEVICE" or "standin"',
});
/** Beats of a bar, where the ear is sure of them. */
const metreSchema = z.int().min(1).max(16).nullable().default(null);
const ratioSchema = z.union([z.literal(0.5), z.literal(1), z.literal(2)]);

export const earSchema = z.strictObject({
  source: earSourceSchema,
  /** The tempo stays as it is, whatever is heard. */
  hold: z.boolean().default(false),
  /** Beats of the show for each that is heard: what was heard half or twice as fast is set right by it. */
  ratio: ratioSchema.default(1),
  /** The beats that were announced last, ms: the tempo is told from them. */
  heard: z.array(z.number()).max(12).default([]),
  /** A row of firsts of bars that lie elsewhere than ours: so many beats later, so often. */
  ones: z.strictObject({ off: z.number(), count: z.int() }).default({ off: 0, count: 0 }),
  /** The tempo somebody tapped, beats a minute: it decides between half and double. */
  tapped: bpmSchema.nullable().default(null),
  /** Somebody said where bars begin: that counts for good. */
  oneSet: z.boolean().default(false),
  /** What goes on in the music, and since when (ms, and the beat of the show). */
  says: z
    .strictObject({
      silent: z.boolean(),
      mood: z.enum(MOODS).nullable(),
      turn: z.enum(SECTION_TURNS).nullable(),
      metre: metreSchema,
      ms: z.number(),
      beat: z.number(),
    })
    .nullable()
    .default(null),
});
export type EarOn = z.infer<typeof earSchema>;

/** A beat that comes, as an ear announced it: when (ms of the show's clock), which of its bar (1 the first), how fast. */
const heardBeatSchema = z.strictObject({
  do: z.literal('heardBeat'),
  source: earSourceSchema,
  at: z.number(),
  beat: z.int().min(1).max(16).nullable(),
  bpm: bpmSchema,
  confidence: levelSchema,
});
export type HeardBeat = z.infer<typeof heardBeatSchema>;

/** What an ear hears of the music, said when it changes: silence, a mood, a build, a drop or a break. */
const earSaysSchema = z.strictObject({
  do: z.literal('earSays'),
  source: earSourceSchema,
  silent: z.boolean(),
  mood: z.enum(MOODS).nullable(),
  turn: z.enum(SECTION_TURNS).nullable(),
  metre: metreSchema,
});
export type EarSays = z.infer<typeof earSaysSchema>;

/** What of a report of an ear is said to the show: null where it is known, or another ear is on. */
export function saysOf(source: string, { state, mood, turn, metre }: Listening, on: EarOn | null): EarSays | null {
  if (on?.source !== source) return null;
  const silent = state === 'silent';
  const before = on.says;
  if (before && before.silent === silent && before.mood === mood && before.turn === turn && before.metre === metre)
    return null;
  return { do: 'earSays', source, silent, mood, turn, metre };
}

export const EAR_COMMANDS = [
  /** The tempo follows this ear from now on; null: none. */
  z.strictObject({ do: z.literal('ear'), source: earSourceSchema.nullable() }),
  z.strictObject({ do: z.literal('earHold'), on: z.boolean() }),
  z.strictObject({ do: z.literal('earRatio'), ratio: ratioSchema }),
  heardBeatSchema,
  earSaysSchema,
] as const;
type EarCommand = z.infer<(typeof EAR_COMMANDS)[number]>;

/** So many announced beats tell the tempo. */
const TOLD_BY = 9;
/** Beats this far from even (of a beat) begin a new row. */
const UNEVEN = 0.2;
/** Part of what the show is off that each beat takes up, over so many beats. */
const [TAKEN, OVER_BEATS] = [0.5, 2];
/** So many firsts of bars in a row that lie elsewhere move ours there. */
const ONES = 4;
/** What comes more than this (ms) too late or too early is no announcement. */
const NEAR_MS = 3000;
/** A tapped tempo decides between half and double where one of them is this near to it. */
const TAP_NEAR = 0.12;

/** What of a live state the ear changes. */
interface EarState {
  readonly ear: EarOn | null;
  readonly tempo: BeatMap;
  readonly song: { readonly playing: boolean } | null;
}
type Apply<D extends EarCommand['do']> = <S extends EarState>(
  state: S,
  command: Extract<EarCommand, { do: D }>,
  at: { readonly now: { readonly ms: number }; readonly document: Document },
) => S;

export const EAR_APPLIED: { readonly [D in EarCommand['do']]: Apply<D> } = {
  ear: (state, { source }) => ({ ...state, ear: source && earSchema.parse({ source }) }),
  earHold: (state, { on }) => (state.ear ? { ...state, ear: { ...state.ear, hold: on } } : state),
  earRatio(state, { ratio }, { now }) {
    const { ear, tempo } = state;
    if (!ear || ear.ratio === ratio) return state;
    // At once, and with what was tapped before forgotten.
    return {
      ...state,
      ear: { ...ear, ratio, tapped: null },
      tempo: steady(
        clamp((bpmAround(tempo, now.ms) * ratio) / ear.ratio, ...BPM_LIMITS),
        now.ms,
        beatAt(tempo, now.ms),
      ),
    };
  },
  heardBeat: (state, beat, { now, document }) =>
    follow(state, beat, now.ms, state.ear?.says?.metre ?? beatsPerBar(document)),
  earSays(state, { source, silent, mood, turn, metre }, { now }) {
    const { ear, tempo } = state;
    if (!ear || ear.source !== source) return state;
    const was = ear.says;
    const same = was !== null && was.silent === silent && was.mood === mood && was.turn === turn;
    if (same && was.metre === metre) return state;
    // Another metre alone does not begin anything anew.
    const since = same ? { ms: was.ms, beat: was.beat } : { ms: now.ms, beat: beatAt(tempo, now.ms) };
    return { ...state, ear: { ...ear, says: { silent, mood, turn, metre, ...since } } };
  },
};

function follow<S extends EarState>(state: S, said: HeardBeat, nowMs: number, bar: number): S {
  const { ear, tempo, song } = state;
  // A song that plays knows its beats; an ear that was not chosen has nothing to say.
  if (!ear || ear.source !== said.source || song?.playing || Math.abs(said.at - nowMs) > NEAR_MS) return state;
  const heard = rowOf(ear.heard, said);
  const told = toldBy(heard, said.bpm);
  const ratio = ratioFor(ear, told);
  const kept = { ...ear, heard, ratio };
  if (ear.hold) return { ...state, ear: kept };
  const bpm = clamp(told * ratio, ...BPM_LIMITS);
  const unit = ratio === 0.5 ? 0.5 : 1;
  const predicted = beatAt(tempo, said.at);
  const target = Math.round(predicted / unit) * unit;
  const { ones, shift } = onesOf(ear, said, target, ratio === 1 ? bar : null);
  return { ...state, ear: { ...kept, ones }, tempo: pulled(tempo, nowMs, { at: said.at, target, bpm }, shift) };
}

/** The beats of one tempo in a row, the newest last. */
function rowOf(before: readonly number[], { at, bpm }: HeardBeat): number[] {
  const last = before.at(-1);
  if (last === undefined) return [at];
  const beats = ((at - last) * bpm) / 60_000;
  return Math.abs(beats - 1) > UNEVEN ? [at] : [...before, at].slice(-TOLD_BY);
}

/** Beats a minute by a row, the line of least squares through it; by what was said where it is short. */
function toldBy(row: readonly number[], said: number): number {
  const n = row.length;
  if (n < 4) return said;
  const middle = (n - 1) / 2;
  const mean = row.reduce((sum, at) => sum + (at - row[0]!), 0) / n;
  let [over, under] = [0, 0];
  row.forEach((at, i) => {
    over += (i - middle) * (at - row[0]! - mean);
    under += (i - middle) ** 2;
  });
  return 60_000 / (over / under);
}

/** Half, as heard or double: as it was set, but where a tapped tempo says otherwise. */
function ratioFor({ ratio, tapped }: EarOn, told: number): EarOn['ratio'] {
  if (tapped === null) return ratio;
  const fits = ([0.5, 1, 2] as const).find((r) => Math.abs((told * r) / tapped - 1) < TAP_NEAR);
  return fits ?? ratio;
}

/** Where the ear hears the first of the bar often enough, bars move there: by whole beats, at once. */
function onesOf(
  { ones, oneSet }: EarOn,
  { beat }: HeardBeat,
  target: number,
  bar: number | null,
): { ones: EarOn['ones']; shift: number } {
  if (beat !== 1 || oneSet || bar === null) return { ones, shift: 0 };
  const off = modulo(target, bar);
  if (off === 0) return { ones: { off: 0, count: 0 }, shift: 0 };
  const count = off === ones.off ? ones.count + 1 : 1;
  return count >= ONES ? { ones: { off: 0, count: 0 }, shift: bar - off } : { ones: { off, count }, shift: 0 };
}

/** The tempo taken nearer to the line of beats that was heard, without a step: time never stands still or goes back. */
function pulled(
  tempo: BeatMap,
  nowMs: number,
  line: { readonly at: number; readonly target: number; readonly bpm: number },
  shift: number,
): BeatMap {
  const beat = beatAt(tempo, nowMs);
  const over = (OVER_BEATS * 60_000) / line.bpm;
  const there = line.target + ((nowMs + over - line.at) * line.bpm) / 60_000;
  const alone = beat + (over * line.bpm) / 60_000;
  const lands = alone + clamp(there - alone, -0.5, 0.5) * TAKEN;
  return {
    points: [
      { ms: nowMs, beat: beat + shift },
      { ms: nowMs + over, beat: lands + shift },
    ],
    bpm: line.bpm,
  };
}

/** Somebody tapped a tempo, or said that a bar begins: from now on the ear goes by that. */
export function heardByHand<S extends EarState>(
  state: S,
  bpm: number,
  { tap, one }: { tap: boolean; one: boolean },
): S {
  if (!state.ear) return state;
  return {
    ...state,
    ear: {
      ...state.ear,
      heard: [],
      ones: { off: 0, count: 0 },
      tapped: tap ? bpm : state.ear.tapped,
      oneSet: state.ear.oneSet || one,
    },
  };
}
