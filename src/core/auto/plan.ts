import { getRecord, type Document } from '../document/change.ts';
import type { AimId, SceneId } from '../ids.ts';
import { MOODS, type Mood } from '../records/profile.ts';
import type { SongRecord, SongSection } from '../records/song.ts';
import { PLAYED_ROLES, type PlayedRole } from '../records/variant.ts';
import type { Auto } from '../show/live/state.ts';
import { gridOf, sectionsOf, type Grid } from '../song/grid.ts';
import { clamp } from '../units.ts';
import { goodAims } from './aims.ts';
import { coloursOf } from './colours.ts';
import { Dice } from './dice.ts';
import { ideasFor } from './own.ts';
import { placesOf, type Place, type PlaceId } from './roles.ts';
import { Taste } from './taste.ts';

/** What plays of a role: which idea, and which of its variants. */
export interface Cast {
  readonly idea: string;
  readonly turn: number;
}
export type Casts = Readonly<Partial<Record<PlayedRole, Cast>>>;

/** What plays on the units of a place. `id` null: on all that have nothing of their own. */
export interface PlaceCast {
  readonly id: PlaceId | null;
  readonly mood: Mood;
  readonly cast: Casts;
}

/** The music of a phrase. */
export interface Moment {
  readonly section: Pick<SongSection, 'name' | 'mood' | 'turn'>;
  /** The number of the phrase in its section. */
  readonly k: number;
  /** How far a build has grown, 0-1; null where nothing builds. */
  readonly stage: number | null;
  /** Beats of its bars, and on which of them (0 the first) a snare falls. */
  readonly metre: number;
  readonly snares: readonly number[];
  /** How long a beat is, seconds. */
  readonly beatS: number;
}

/** A stretch in which nothing changes but what runs by itself. Times in seconds of the song, beats by their number. */
export interface Phrase {
  readonly from: number;
  readonly to: number;
  readonly fromBeat: number;
  readonly moment: Moment;
  /** The mood it is played in. */
  readonly mood: Mood;
  readonly colours: readonly string[];
  readonly cast: Casts;
  /** Places with a mood of their own. */
  readonly places: readonly PlaceCast[];
  /** A scene that plays in place of all that; mostly none. */
  readonly scene?: SceneId | null;
  /** How long it takes to come in, seconds. */
  readonly fade: number;
  readonly why: string;
}

/** A build grows from the wash to all, one role after the other. */
const BUILD: readonly PlayedRole[] = ['wash', 'wash2', 'pixels', 'beams', 'effects'];
export const BUILD_STAGES = BUILD.length;
const QUIET_FADE_BEATS = 4;
const USUAL_METRE = 4;

/** What is asked of Auto by hand. */
export type Asked = Pick<Auto, 'seed' | 'mood' | 'lean' | 'colours' | 'roles' | 'places' | 'variantId' | 'others'>;
export const NOTHING_ASKED: Asked = {
  seed: 1,
  mood: null,
  lean: 0,
  colours: null,
  roles: null,
  places: {},
  variantId: null,
  others: {},
};

export const askedOf = ({ seed, mood, lean, colours, roles, places, variantId, others }: Asked): Asked => ({
  seed,
  mood,
  lean,
  colours,
  roles,
  places,
  variantId,
  others,
});

/** The rig of a show, what may play on it, and what is asked: all that a plan is made of but the music. */
export interface Troupe {
  readonly document: Document;
  readonly places: readonly Place[];
  readonly taste: Taste;
  readonly asked: Asked;
  readonly aims: readonly AimId[];
}
export function troupeOf(document: Document, asked: Asked): Troupe {
  const variant = asked.variantId ? getRecord(document, 'variant', asked.variantId) : undefined;
  return {
    document,
    places: placesOf(document, asked.places),
    taste: new Taste(variant ?? null),
    asked,
    aims: goodAims(document),
  };
}

type Music = Pick<Phrase, 'from' | 'to' | 'fromBeat'>;

/** The mood that is asked for where the music has another: held, or some steps more or less. */
export function leant(mood: Mood, asked: Pick<Asked, 'mood' | 'lean'>): Mood {
  return asked.mood ?? MOODS[clamp(MOODS.indexOf(mood) + asked.lean, 0, MOODS.length - 1)]!;
}

/** The phrase of a moment of music: what plays on whom, in which colours. */
export function phraseOf(troupe: Troupe, moment: Moment, music: Music): Phrase {
  const { asked, places } = troupe;
  const { section, beatS, k } = moment;
  const mood = leant(section.mood, asked);
  const quiet = mood === 'calm' || section.turn === 'break';
  const cast = (place: Place): PlaceCast => {
    const own = place.mood ?? mood;
    return { id: place.id, mood: own, cast: castOf(troupe, { ...moment, section: { ...section, mood: own } }, place) };
  };
  const [rest, ...others] = places;
  return {
    ...music,
    moment,
    mood,
    colours: coloursFor(troupe, section.name, mood),
    cast: cast(rest!).cast,
    places: others.map(cast),
    fade: quiet
      ? Math.min(QUIET_FADE_BEATS * beatS, (music.to - music.from) / 2)
      : section.turn === 'drop' && k === 0
        ? 0
        : beatS,
    why: whyOf(section, mood, k, asked),
  };
}

function coloursFor({ taste, asked }: Troupe, name: string, mood: Mood): readonly string[] {
  if (asked.colours && asked.colours.length > 0) return asked.colours;
  const { seed } = asked;
  const other = asked.others[name] ?? 0;
  if (taste.colours.length > 0) {
    // Two neighbours of those that somebody chose.
    const at = Math.floor(new Dice(seed, name, other, 'colours').next() * taste.colours.length);
    return [...new Set([0, 1].map((step) => taste.colours[(at + step) % taste.colours.length]!))];
  }
  const hue = new Dice(seed, 'hue').next() * 360 + new Dice(seed, name, other, 'hue').next() * 200;
  return coloursOf(new Dice(seed, name, mood, other, 'colours'), mood, hue);
}

function castOf({ document, taste, asked }: Troupe, moment: Moment, { roles }: Place): Casts {
  const { section, k, stage } = moment;
  const { name, turn } = section;
  const own = turn === 'break' ? 'calm' : section.mood;
  const wanted = PLAYED_ROLES.filter((role) => roles[role].length > 0 && (asked.roles?.includes(role) ?? true));
  const grown = stage === null ? null : BUILD.slice(0, 1 + Math.round((BUILD.length - 1) * stage));
  const awake = wanted.filter((role) => taste.plays(own, role) && (grown?.includes(role) ?? true));
  const cast: Partial<Record<PlayedRole, Cast>> = {};
  const { seed } = asked;
  const other = asked.others[name] ?? 0;
  // Whatever a rig is made of, something of it gives light.
  for (const role of awake.length > 0 ? awake : wanted.slice(0, 1)) {
    const may = taste.may(ideasFor(document, role, roles), own, role);
    if (may.length === 0) continue;
    // Another take of a section is another idea, where there is one.
    const first = Math.floor(new Dice(seed, name, own, role).next() * may.length);
    const { every } = taste.slot(own, role);
    // What builds grows and is not turned round.
    const turned = every === 0 || stage !== null ? 0 : Math.floor(k / every);
    cast[role] = {
      idea: may[(first + other) % may.length]!.key,
      turn: (Math.floor(new Dice(seed, name, role, 'turn').next() * 4) + turned + other) % 4,
    };
  }
  return cast;
}

function whyOf({ name, mood, turn }: Moment['section'], own: Mood, k: number, asked: Asked): string {
  const why = k > 0 ? `another phrase of ${name}` : turn ? `${name}: a ${turn}, ${mood}` : `${name} begins, ${mood}`;
  return own === mood ? why : `${why}, ${asked.mood ? `held at ${own}` : `leant to ${own}`}`;
}

/** Sections begin so near to their bar, seconds. */
const NEAR_S = 0.15;

/**
 * The light of a song that is known: phrases on bar lines within its sections, each section by its mood. Sections of one name
 * have one idea and one set of colours; a build grows, a beat before a drop is dark, a break rests. The same seed gives the
 * same plan. A song without beats is one phrase of its first mood.
 */
export function planSong(troupe: Troupe, song: SongRecord): readonly Phrase[] {
  const grid = gridOf(song);
  const { beats, places } = grid;
  const lengthS = song.lengthS ?? (beats.at(-1) ?? 0) + 2;
  const bars = beats.flatMap((at, i) => (places[i] === 0 ? [{ at, beat: i }] : []));
  const sections = sectionsOf(song);
  const named = sections.length > 0 ? sections : [{ at: 0, name: 'A', mood: 'easy' as const, turn: null }];
  const found: Phrase[] = [];
  for (const [i, section] of named.entries()) {
    const until = named[i + 1]?.at ?? lengthS;
    const starts = bars.filter(({ at }) => at >= section.at - NEAR_S && at < until - NEAR_S);
    const first = { at: i === 0 ? 0 : (starts[0]?.at ?? section.at), beat: starts[0]?.beat ?? 0 };
    const last = found.at(-1);
    // One that begins on its first bar line lets the one before go on until there.
    if (last && last.to !== first.at) found[found.length - 1] = { ...last, to: first.at };
    const own = phrasesOf(troupe, song, section, { grid, starts: [first, ...starts.slice(1)], until });
    if (section.turn === 'drop') darken(found, grid);
    found.push(...own);
  }
  return joined(found.filter(({ from, to }) => to > from));
}

/** Phrases of a section that are the same are one. */
function joined(phrases: readonly Phrase[]): Phrase[] {
  const found: Phrase[] = [];
  for (const phrase of phrases) {
    const last = found.at(-1);
    if (last && last.to === phrase.from && phrase.moment.k > 0 && looksOf(last) === looksOf(phrase))
      found[found.length - 1] = { ...last, to: phrase.to };
    else found.push(phrase);
  }
  return found;
}
const looksOf = ({ mood, colours, cast, places, moment: { section } }: Phrase): string =>
  JSON.stringify([section.name, mood, colours, cast, places]);

interface Within {
  readonly grid: Grid;
  readonly starts: readonly { readonly at: number; readonly beat: number }[];
  readonly until: number;
}

function phrasesOf(troupe: Troupe, song: SongRecord, section: SongSection, { grid, starts, until }: Within): Phrase[] {
  const [start] = starts;
  const metre = grid.metres[start!.beat] ?? USUAL_METRE;
  const beatS = (grid.beats[start!.beat + 1] ?? start!.at + 0.5) - (grid.beats[start!.beat] ?? start!.at);
  const step =
    section.turn === 'build'
      ? Math.max(1, Math.floor(starts.length / BUILD.length))
      : troupe.taste.bars(leant(section.mood, troupe.asked), beatS * metre);
  // What is left over at the end of a section goes with the phrase before.
  const cuts = starts.filter((_, k) => k % step === 0 && (k === 0 || starts.length - k >= Math.min(step, 2)));
  return cuts.map(({ at, beat }, k) =>
    phraseOf(
      troupe,
      {
        section: { name: section.name, mood: section.mood, turn: section.turn },
        k,
        stage: section.turn === 'build' ? (k + 1) / cuts.length : null,
        metre: grid.metres[beat] ?? USUAL_METRE,
        snares: song.heard?.snares ?? [],
        beatS,
      },
      { from: at, to: cuts[k + 1]?.at ?? until, fromBeat: beat },
    ),
  );
}

/** The last beat before a drop is dark. */
function darken(phrases: Phrase[], { beats }: Grid): void {
  const last = phrases.at(-1);
  if (!last) return;
  const beat = beats.findLastIndex((at) => at < last.to - NEAR_S);
  const from = beats[beat];
  if (from === undefined || from <= last.from) return;
  phrases[phrases.length - 1] = { ...last, to: from };
  phrases.push({ ...dark(last), from, fromBeat: beat, why: 'dark for a beat before the drop' });
}

/** The same with nothing to be seen. */
const dark = (phrase: Phrase): Phrase => ({ ...phrase, cast: {}, places: [], fade: 0 });
export const isDark = ({ cast, places, scene }: Phrase): boolean =>
  !scene && Object.keys(cast).length === 0 && places.every((place) => Object.keys(place.cast).length === 0);
