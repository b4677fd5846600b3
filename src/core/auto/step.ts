import { getRecord, type Document } from '../document/change.ts';
import type { Mood } from '../records/profile.ts';
import type { SongRecord } from '../records/song.ts';
import { beatAt, msAt, type LiveState } from '../show/index.ts';
import { AUTO_OUT_MS } from '../show/live/auto.ts';
import { songAt } from '../show/live/songs.ts';
import { AUTO_LIMIT, type Auto } from '../show/live/state.ts';
import { gridOf } from '../song/grid.ts';
import { planOf, planSong, type Phrase } from './plan.ts';
import { leaving, playsOf } from './plays.ts';
import { guessRoles, rolesOf, type Roles } from './roles.ts';

/** Without a song that is known: the mood, bars of so many beats, and bars after which something changes. */
const [UNKNOWN_MOOD, BAR_BEATS, UNKNOWN_BARS] = ['easy', 4, 8] as const;

const roles = new WeakMap<Document, Roles>();
function rolesIn(document: Document): Roles {
  const known = roles.get(document) ?? rolesOf(guessRoles(document));
  roles.set(document, known);
  return known;
}

interface Planned extends Pick<Auto, 'seed' | 'mood'> {
  readonly document: Document;
  readonly plan: readonly Phrase[];
}
const plans = new WeakMap<SongRecord, Planned>();

/** The plan of a song; kept while neither the show nor what is asked of it changes. */
function keptPlan(document: Document, song: SongRecord, { seed, mood }: Auto): readonly Phrase[] {
  const kept = plans.get(song);
  if (kept?.document === document && kept.seed === seed && kept.mood === mood) return kept.plan;
  const plan = planOf(song, rolesIn(document), seed, mood);
  plans.set(song, { document, seed, mood, plan });
  return plan;
}

/** A phrase that goes on at a moment: since and until when (ms), and what comes after it. */
interface Going {
  readonly key: string;
  readonly phrase: Phrase;
  readonly ms: number;
  readonly untilMs: number | null;
  readonly then: string | null;
}

function goingOf(document: Document, live: LiveState, auto: Auto, nowMs: number): Going {
  const { song } = live;
  const record = song && getRecord(document, 'song', song.songId);
  if (!song?.playing || !record || gridOf(record).beats.length < 2)
    return unknownOf(live, auto, nowMs, rolesIn(document));
  const at = songAt(song, nowMs);
  const plan = keptPlan(document, record, auto);
  const index = Math.max(
    0,
    plan.findLastIndex(({ from }) => from <= at + 1e-3),
  );
  const phrase = plan[index]!;
  const loopEnd = song.loop && at < song.loop.to ? song.loop.to : Infinity;
  // When the song was at its beginning; in a loop as if this round were the first.
  const beginMs = loopEnd < Infinity ? nowMs - at * 1000 : song.ms - song.at * 1000;
  return {
    key: `${song.songId} ${phrase.from} ${phrase.mood} ${auto.seed}`,
    phrase,
    ms: beginMs + phrase.from * 1000,
    untilMs: beginMs + Math.min(phrase.to, loopEnd) * 1000,
    then: plan[index + 1]?.why ?? null,
  };
}

/** Music that nobody knows beforehand: phrases of the show's own bars. */
function unknownOf({ tempo }: LiveState, auto: Auto, nowMs: number, own: Roles): Going {
  const mood: Mood = auto.mood ?? UNKNOWN_MOOD;
  const beats = BAR_BEATS * UNKNOWN_BARS;
  const number = Math.floor(beatAt(tempo, nowMs) / beats + 1e-6);
  const ms = msAt(tempo, number * beats);
  const untilMs = msAt(tempo, (number + 1) * beats);
  const grid = { beats: [0, 1], places: [0, 1], metres: [4, 4], bars: [1, 1] };
  const section = { at: 0, name: `part ${Math.floor(number / 4)}`, mood, turn: null };
  const [phrase] = planSong({ grid, roles: own, seed: auto.seed }, [section], (untilMs - ms) / 1000);
  const turned = Object.fromEntries(
    Object.entries(phrase!.cast).map(([role, cast]) => [role, { ...cast, turn: (cast.turn + number) % 4 }]),
  );
  return {
    key: `${number} ${mood} ${auto.seed}`,
    phrase: { ...phrase!, cast: turned, why: auto.mood ? `${mood}, held` : 'no song is known: it goes by the tempo' },
    ms,
    untilMs,
    then: 'another phrase',
  };
}

/** What runs by itself at a moment; the same state where nothing changes. It is to be looked at again at `now.untilMs`. */
export function stepAuto(document: Document, live: LiveState, nowMs: number): LiveState {
  const { auto } = live;
  // Frozen it stands like all else that plays.
  if (!auto || live.frozen) return live;
  const left = auto.plays.filter(
    ({ releasedAt, fadeOutMs }) => releasedAt === null || nowMs < releasedAt + (fadeOutMs ?? 0),
  );
  if (!auto.on) {
    if (left.length === auto.plays.length && left.length > 0) return live;
    return { ...live, auto: left.length > 0 ? { ...auto, plays: left } : null };
  }
  const { key, phrase, ms, untilMs, then } = goingOf(document, live, auto, nowMs);
  if (auto.now?.key === key) {
    const moved = Math.abs((auto.now.untilMs ?? 0) - (untilMs ?? 0)) >= 5;
    if (!moved && left.length === auto.plays.length) return live;
    return { ...live, auto: { ...auto, plays: left, now: { ...auto.now, untilMs } } };
  }
  const begun = playsOf(phrase, rolesIn(document), ms, Math.round(beatAt(live.tempo, ms)));
  // What is come upon in its middle comes in as if it began now.
  const plays = begun.map((play) => (nowMs - ms > 500 ? { ...play, startedAt: nowMs, fadeInMs: AUTO_OUT_MS } : play));
  const now = { key, mood: phrase.mood, why: phrase.why, ms, untilMs, then };
  return { ...live, auto: { ...auto, plays: [...leaving(left, phrase, nowMs), ...plays].slice(-AUTO_LIMIT), now } };
}

/** When it is to be looked at again, ms; null: when something changes. */
export function autoDueMs({ auto, frozen }: LiveState): number | null {
  if (!auto || frozen) return null;
  const outs = auto.plays.flatMap(({ releasedAt, fadeOutMs }) =>
    releasedAt === null ? [] : [releasedAt + (fadeOutMs ?? 0)],
  );
  const dues = [...outs, ...(auto.on && auto.now?.untilMs ? [auto.now.untilMs] : [])];
  return dues.length > 0 ? Math.min(...dues) : null;
}
