import { getRecord } from '../document/change.ts';
import type { Mood } from '../records/profile.ts';
import { beatAt, msAt, type LiveState } from '../show/index.ts';
import { barBeats } from '../show/live/bar.ts';
import { songAt, type SongOn } from '../show/live/songs.ts';
import type { Auto } from '../show/live/state.ts';
import { gridOf } from '../song/grid.ts';
import { BUILD_STAGES, leant, phraseOf, planSong, type Moment, type Phrase, type Troupe } from './plan.ts';
import type { SongRecord } from '../records/song.ts';

/** What goes on at a moment: which phrase, since and until when (ms), and what comes after it. */
export interface Going {
  /** What of the music it is: another one is another phrase. */
  readonly key: string;
  readonly phrase: Phrase;
  readonly ms: number;
  readonly untilMs: number | null;
  readonly then: string | null;
}

/** Where nothing is known of the music. */
const UNKNOWN_MOOD: Mood = 'easy';
/** An ear that announced no beat for so long hears none, ms. */
const NO_BEAT_MS = 10_000;
/** A build that is heard live grows by a stage in so many bars. */
const STAGE_BARS = 2;
/** Live, a mood that comes back within so many bars has the ideas and colours it had. */
const AGAIN_BARS = 64;
/** What has no end of its own is looked at again after so long, ms. */
const LONG_MS = 600_000;

/** What goes on in the music that a show hears at a moment. */
export function goingOf(troupe: Troupe, live: LiveState, auto: Auto, nowMs: number): Going {
  const { document } = troupe;
  if (auto.hold && auto.now?.moment) return heldOf(troupe, auto.now.moment, auto.now.ms);
  const since = silentSince(live);
  const over = since === null ? null : since + troupe.taste.silence.afterS * 1000;
  if (over !== null && nowMs >= over) return silenceOf(troupe, over);
  const { song } = live;
  const record = song && getRecord(document, 'song', song.songId);
  if (song?.playing && record && gridOf(record).beats.length >= 2) return knownOf(troupe, song, record, nowMs);
  const going = liveOf(troupe, live, nowMs);
  return over !== null && over < (going.untilMs ?? Infinity)
    ? { ...going, untilMs: over, then: 'what is seen in silence' }
    : going;
}

/** Since when there is no music: a song that stands, or an ear that hears nothing. Null: there is some, or nobody knows. */
function silentSince({ song, ear }: LiveState): number | null {
  if (song?.playing) return null;
  if (ear?.says) return ear.says.silent ? ear.says.ms : null;
  return song && !ear ? song.ms : null;
}

/** The plans of songs, while neither the show nor what is asked of it changes. */
const plans = new WeakMap<SongRecord, { readonly troupe: Troupe; readonly plan: readonly Phrase[] }>();
function planIn(troupe: Troupe, song: SongRecord): readonly Phrase[] {
  const kept = plans.get(song);
  if (kept?.troupe === troupe) return kept.plan;
  const plan = planSong(troupe, song);
  plans.set(song, { troupe, plan });
  return plan;
}

function knownOf(troupe: Troupe, song: SongOn, record: SongRecord, nowMs: number): Going {
  const at = songAt(song, nowMs);
  const plan = planIn(troupe, record);
  const index = Math.max(
    0,
    plan.findLastIndex(({ from }) => from <= at + 1e-3),
  );
  const phrase = plan[index]!;
  const loopEnd = song.loop && at < song.loop.to ? song.loop.to : Infinity;
  // When the song was at its beginning; in a loop as if this round were the first.
  const beginMs = loopEnd < Infinity ? nowMs - at * 1000 : song.ms - song.at * 1000;
  return {
    key: `${song.songId} ${phrase.from}`,
    phrase,
    ms: beginMs + phrase.from * 1000,
    untilMs: beginMs + Math.min(phrase.to, loopEnd) * 1000,
    then: plan[index + 1]?.why ?? null,
  };
}

/** Music that nobody knows beforehand: by what the ear says of it, or by the tempo alone. */
function liveOf(troupe: Troupe, live: LiveState, nowMs: number): Going {
  const { tempo, ear } = live;
  const bar = barBeats(live, troupe.document);
  const heard = heardIn(live, nowMs);
  const beatS =
    (msAt(tempo, Math.floor(beatAt(tempo, nowMs)) + 1) - msAt(tempo, Math.floor(beatAt(tempo, nowMs)))) / 1000;
  const mood = leant(heard.mood, troupe.asked);
  const bars = heard.turn === 'build' ? STAGE_BARS : troupe.taste.bars(mood, beatS * bar);
  const since = ear?.says ? Math.ceil(ear.says.beat / bar - 1e-6) * bar : 0;
  // A drop opens when it is heard.
  const first = heard.turn === 'drop' && ear?.says ? Math.floor(ear.says.beat) : since;
  const beat = Math.max(beatAt(tempo, nowMs), first);
  const k = Math.max(0, Math.floor((beat - first) / (bars * bar) + 1e-6));
  const fromBeat = first + k * bars * bar;
  const ms = msAt(tempo, fromBeat);
  const untilMs = msAt(tempo, fromBeat + bars * bar);
  const era = Math.floor(first / (AGAIN_BARS * bar)) + Math.floor(k / Math.max(1, AGAIN_BARS / bars));
  const moment: Moment = {
    section: { name: `${heard.mood} ${era}`, mood: heard.mood, turn: heard.turn },
    k,
    stage: heard.turn === 'build' ? Math.min(1, k / (BUILD_STAGES - 1)) : null,
    metre: bar,
    snares: [],
    beatS,
  };
  const phrase = phraseOf(troupe, moment, { from: 0, to: (untilMs - ms) / 1000, fromBeat });
  const held = troupe.asked.mood ? `${troupe.asked.mood}, held` : null;
  return {
    key: `${heard.mood} ${heard.turn} ${first} ${k}`,
    phrase: { ...phrase, why: held ?? heard.why },
    ms,
    untilMs,
    then: heard.turn === 'build' ? 'more of the build' : 'another phrase',
  };
}

interface HeardNow {
  readonly mood: Mood;
  readonly turn: Moment['section']['turn'];
  readonly why: string;
}
function heardIn({ ear, song }: LiveState, nowMs: number): HeardNow {
  const calm = (why: string): HeardNow => ({ mood: 'calm', turn: null, why });
  if (!ear)
    return song
      ? song.playing
        ? { ...calm('no beats were found in this song: it goes by the tempo'), mood: UNKNOWN_MOOD }
        : calm('the song stands')
      : { ...calm('no music is known: it goes by the tempo'), mood: UNKNOWN_MOOD };
  const { says } = ear;
  if (says?.silent) return calm('silence');
  if (nowMs >= (lostMs(ear) ?? Infinity)) return calm('no beat is heard: speech, noise, or nothing comes from the ear');
  if (!says?.mood) return { ...calm('the ear listens itself in: it goes by the tempo'), mood: UNKNOWN_MOOD };
  const { mood, turn } = says;
  return { mood, turn, why: turn ? `a ${turn} is heard` : 'as the ear hears it' };
}

/** When an ear that hears no beat from now on has heard none for long, ms; null where there is no ear. */
export const lostMs = (ear: LiveState['ear']): number | null =>
  ear && Math.max(ear.heard.at(-1) ?? 0, ear.says?.ms ?? 0) + NO_BEAT_MS;

/** What was held goes on for good. */
function heldOf(troupe: Troupe, moment: Moment, ms: number): Going {
  const phrase = phraseOf(troupe, moment, { from: 0, to: LONG_MS / 1000, fromBeat: 0 });
  return { key: 'held', phrase: { ...phrase, why: `${moment.section.name} is held` }, ms, untilMs: null, then: null };
}

/** What is to be seen when there has been no music for a while: a chosen scene, or washes that stand, warm. */
function silenceOf(troupe: Troupe, ms: number): Going {
  const { sceneId } = troupe.taste.silence;
  const scene = sceneId ? getRecord(troupe.document, 'scene', sceneId) : undefined;
  const moment: Moment = {
    section: { name: 'silence', mood: 'calm', turn: null },
    k: 0,
    stage: null,
    metre: 4,
    snares: [],
    beatS: 0.5,
  };
  const quiet: Troupe = { ...troupe, asked: { ...troupe.asked, mood: null, lean: 0, colours: WARM } };
  const phrase = phraseOf(quiet, moment, { from: 0, to: LONG_MS / 1000, fromBeat: 0 });
  return {
    key: `silence ${scene?.id ?? ''}`,
    phrase: {
      ...phrase,
      mood: 'calm',
      cast: scene ? {} : { ...phrase.cast, ...(phrase.cast.wash && { wash: { idea: 'still', turn: 0 } }) },
      places: [],
      scene: scene?.id ?? null,
      fade: SILENCE_FADE_S,
      why: scene ? `silence: ${scene.name}` : 'silence: the washes stand',
    },
    ms,
    untilMs: null,
    then: null,
  };
}
const WARM = ['#ffb469', '#ff9a4a'];
const SILENCE_FADE_S = 4;
