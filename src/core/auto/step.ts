import type { Document } from '../document/change.ts';
import { beatAt, msAt, type LiveState } from '../show/index.ts';
import { AUTO_OUT_MS } from '../show/live/auto.ts';
import { barBeats } from '../show/live/bar.ts';
import { AUTO_LIMIT, type Auto } from '../show/live/state.ts';
import { seedOf } from './dice.ts';
import { goingOf, lostMs, type Going } from './going.ts';
import { askedOf, isDark, troupeOf, type Troupe } from './plan.ts';
import { castWords, playsOf, turnedTo } from './plays.ts';

/** What is come upon this late (ms) comes in as if it began now. */
const LATE_MS = 500;

/** The last troupe of a document: kept while the show and what is asked are the same. */
const troupes = new WeakMap<Document, { readonly key: string; readonly troupe: Troupe; readonly rig: number }>();
function troupeIn(document: Document, auto: Auto): { readonly troupe: Troupe; readonly rig: number } {
  const asked = askedOf(auto);
  const key = JSON.stringify(asked);
  const kept = troupes.get(document);
  if (kept?.key === key) return kept;
  const troupe = troupeOf(document, asked);
  const made = { key, troupe, rig: seedOf(troupe.places.map(({ roles }) => JSON.stringify(roles))) };
  troupes.set(document, made);
  return made;
}

/** Names what is played, so that another is told: the music, and what is made of it on which units. */
function keyOf({ key, phrase }: Going, rig: number): string {
  const { colours, cast, places, mood, scene, moment } = phrase;
  return `${key} ${seedOf([JSON.stringify([colours, cast, places, mood, scene, moment.stage]), rig]).toString(36)}`;
}

/** What waits for a bar line, ms: what was asked for, and another mood that is heard live. Null: nothing does. */
function waitsUntil(document: Document, live: LiveState, auto: Auto, nowMs: number): number | null {
  const { ear, song, tempo } = live;
  const says = song?.playing ? null : ear?.says;
  const bar = barBeats(live, document);
  // A drop is not waited for, nor is silence.
  const heard =
    says && !says.silent && says.turn !== 'drop' ? msAt(tempo, Math.ceil(says.beat / bar - 1e-6) * bar) : -Infinity;
  const wait = Math.max(auto.fromMs ?? -Infinity, heard);
  return wait > nowMs + 1 ? wait : null;
}

/** What runs by itself at a moment; the same state where nothing changes. It is to be looked at again when `autoDueMs` says. */
export function stepAuto(document: Document, live: LiveState, nowMs: number): LiveState {
  const { auto } = live;
  // Frozen it stands like all else that plays.
  if (!auto || live.frozen) return live;
  const left = auto.plays.filter(
    ({ releasedAt, fadeOutMs }) => releasedAt === null || nowMs < releasedAt + (fadeOutMs ?? 0),
  );
  const gone = left.length < auto.plays.length;
  if (!auto.on) {
    // What was asked of it is kept for the next time.
    const stays = left.length > 0 || isAsked(auto);
    return stays && !gone ? live : { ...live, auto: stays ? { ...auto, plays: left } : null };
  }
  const wait = auto.now && waitsUntil(document, live, auto, nowMs);
  if (auto.now && wait !== null) {
    const same = Math.abs((auto.now.untilMs ?? 0) - wait) < 5;
    return same && !gone ? live : { ...live, auto: { ...auto, plays: left, now: { ...auto.now, untilMs: wait } } };
  }
  const { troupe, rig } = troupeIn(document, auto);
  const going = goingOf(troupe, live, auto, nowMs);
  const { phrase, ms, untilMs, then } = going;
  const key = keyOf(going, rig);
  if (auto.now?.key === key) {
    const moved = Math.abs((auto.now.untilMs ?? 0) - (untilMs ?? 0)) >= 5 || auto.now.why !== phrase.why;
    if (!moved && !gone && auto.fromMs === null) return live;
    const now = { ...auto.now, untilMs, why: phrase.why, then };
    return { ...live, auto: { ...auto, plays: left, now, fromMs: null } };
  }
  const begun = playsOf(phrase, troupe, ms, Math.round(beatAt(live.tempo, ms)));
  const fromAsked = auto.fromMs !== null && nowMs - auto.fromMs < LATE_MS;
  const plays = begun.map((play) =>
    nowMs - ms > LATE_MS ? { ...play, startedAt: nowMs, fadeInMs: fromAsked ? play.fadeInMs : AUTO_OUT_MS } : play,
  );
  const now = {
    key,
    mood: phrase.mood,
    section: phrase.moment.section.name,
    moment: { ...phrase.moment, snares: [...phrase.moment.snares] },
    why: isDark(phrase) && phrase.fade !== 0 ? 'nothing of it may play: see what Auto may play' : phrase.why,
    ms,
    untilMs,
    then,
    colours: [...phrase.colours],
    cast: castWords(phrase, document, troupe.places[0]!.roles),
  };
  const all = turnedTo(left, phrase, plays, nowMs).slice(-AUTO_LIMIT);
  return { ...live, auto: { ...auto, plays: all, now, fromMs: null } };
}

const isAsked = ({ mood, lean, colours, roles, places, variantId }: Auto): boolean =>
  mood !== null ||
  lean !== 0 ||
  colours !== null ||
  roles !== null ||
  variantId !== null ||
  Object.keys(places).length > 0;

/** When it is to be looked at again, ms; null: when something changes. */
export function autoDueMs({ auto, frozen, ear, song }: LiveState, nowMs: number): number | null {
  if (!auto || frozen) return null;
  const outs = auto.plays.flatMap(({ releasedAt, fadeOutMs }) =>
    releasedAt === null ? [] : [releasedAt + (fadeOutMs ?? 0)],
  );
  const lost = song?.playing ? null : lostMs(ear);
  const dues = [...outs];
  if (auto.on && auto.now?.untilMs) dues.push(auto.now.untilMs);
  if (auto.on && lost !== null && lost > nowMs) dues.push(lost);
  return dues.length > 0 ? Math.min(...dues) : null;
}
