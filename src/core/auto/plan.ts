import type { Mood } from '../records/profile.ts';
import type { SongRecord, SongSection } from '../records/song.ts';
import { gridOf, sectionsOf, type Grid } from '../song/grid.ts';
import { coloursOf } from './colours.ts';
import { Dice } from './dice.ts';
import { IDEAS } from './ideas.ts';
import { ROLES, type Role, type Roles } from './roles.ts';

/** What plays of a role: which idea, and which of its variants. */
export interface Cast {
  readonly idea: string;
  readonly turn: number;
}

/** A stretch in which nothing changes but what runs by itself. Times in seconds of the song, beats by their number. */
export interface Phrase {
  readonly from: number;
  readonly to: number;
  readonly fromBeat: number;
  readonly mood: Mood;
  readonly section: string;
  readonly colours: readonly string[];
  readonly cast: Readonly<Partial<Record<Role, Cast>>>;
  /** How long it takes to come in, seconds. */
  readonly fade: number;
  readonly why: string;
}

/** Bars after which something changes within a section. */
const PHRASE_BARS: Readonly<Record<Mood, number>> = { calm: 16, easy: 8, lively: 8, strong: 8, peak: 4 };
/** Roles that take part in each mood; others rest. */
const PLAYING: Readonly<Record<Mood, readonly Role[]>> = {
  calm: ['wash', 'wash2', 'pixels'],
  easy: ['wash', 'wash2', 'pixels', 'beams', 'effects'],
  lively: ['wash', 'wash2', 'pixels', 'beams', 'effects'],
  strong: ['wash', 'wash2', 'pixels', 'beams', 'effects', 'whites'],
  peak: ['wash', 'wash2', 'pixels', 'beams', 'effects', 'whites'],
};
const QUIET_FADE_BEATS = 4;
/** A build grows from the wash to all, one role after the other. */
const BUILD: readonly Role[] = ['wash', 'wash2', 'pixels', 'beams', 'effects'];

interface Planning {
  readonly grid: Grid;
  readonly roles: Roles;
  readonly seed: number;
}

/**
 * The light of a song that is known: phrases on bar lines within its sections, each section by its mood. Sections of one name
 * have one idea and one set of colours; a build grows, a beat before a drop is dark, a break rests. The same seed gives the
 * same plan. A song without beats is one phrase of its first mood.
 */
export function planSong(
  { grid, roles, seed }: Planning,
  sections: readonly SongSection[],
  lengthS: number,
): readonly Phrase[] {
  const { beats, places } = grid;
  const bars = beats.flatMap((at, i) => (places[i] === 0 ? [{ at, beat: i }] : []));
  const named = sections.length > 0 ? sections : [{ at: 0, name: 'A', mood: 'easy' as const, turn: null }];
  const found: Phrase[] = [];
  for (const [i, section] of named.entries()) {
    const until = named[i + 1]?.at ?? lengthS;
    const starts = bars.filter(({ at }) => at >= section.at - NEAR_S && at < until - NEAR_S);
    const first = { at: i === 0 ? 0 : (starts[0]?.at ?? section.at), beat: starts[0]?.beat ?? 0 };
    const own = phrasesOf(section, [first, ...starts.slice(1)], until, { grid, roles, seed });
    if (section.turn === 'drop') darken(found, grid);
    found.push(...own);
  }
  return found;
}

/** The plan of a song as it is heard and set right; with a mood that is held, all of it in that. */
export function planOf(song: SongRecord, roles: Roles, seed: number, held: Mood | null = null): readonly Phrase[] {
  const grid = gridOf(song);
  const sections = sectionsOf(song).map((section) => ({ ...section, mood: held ?? section.mood }));
  return planSong({ grid, roles, seed }, sections, song.lengthS ?? (grid.beats.at(-1) ?? 0) + 2);
}

/** Sections begin so near to their bar, seconds. */
const NEAR_S = 0.15;

function phrasesOf(
  section: SongSection,
  starts: readonly { readonly at: number; readonly beat: number }[],
  until: number,
  { grid, roles, seed }: Planning,
): Phrase[] {
  const { mood, name, turn } = section;
  const step = turn === 'build' ? Math.max(1, Math.floor(starts.length / BUILD.length)) : PHRASE_BARS[mood];
  // What is left over at the end of a section goes with the phrase before.
  const cuts = starts.filter((_, k) => k % step === 0 && (k === 0 || starts.length - k >= Math.min(step, 2)));
  const hue = new Dice(seed, 'hue').next() * 360 + new Dice(seed, name, 'hue').next() * 200;
  const colours = coloursOf(new Dice(seed, name, mood, 'colours'), mood, hue);
  return cuts.map(({ at, beat }, k): Phrase => {
    const to = cuts[k + 1]?.at ?? until;
    const beatS = (grid.beats[beat + 1] ?? at + 0.5) - (grid.beats[beat] ?? at);
    const quiet = mood === 'calm' || turn === 'break';
    return {
      from: at,
      to,
      fromBeat: beat,
      mood,
      section: name,
      colours,
      cast: castOf(section, k, cuts.length, roles, seed),
      fade: quiet ? Math.min(QUIET_FADE_BEATS * beatS, (to - at) / 2) : turn === 'drop' && k === 0 ? 0 : beatS,
      why: whyOf(section, k),
    };
  });
}

function castOf(
  { mood, name, turn }: SongSection,
  k: number,
  count: number,
  roles: Roles,
  seed: number,
): Phrase['cast'] {
  const cast: Partial<Record<Role, Cast>> = {};
  const grown = turn === 'build' ? BUILD.slice(0, 1 + Math.round(((BUILD.length - 1) * (k + 1)) / count)) : null;
  const playing = turn === 'break' ? PLAYING.calm : PLAYING[mood];
  const awake = playing.filter((role) => roles[role].length > 0 && (!grown || grown.includes(role)));
  // Whatever a rig is made of, something of it gives light.
  const least = ROLES.find((role) => role !== 'house' && roles[role].length > 0);
  for (const role of awake.length > 0 ? awake : least ? [least] : []) {
    if (role === 'house') continue;
    const ideas = IDEAS[role];
    const own = turn === 'break' ? 'calm' : mood;
    const fits = ideas.filter(({ moods }) => moods.includes(own));
    const { key } = new Dice(seed, name, own, role).of(fits.length > 0 ? fits : ideas);
    cast[role] = { idea: key, turn: (Math.floor(new Dice(seed, name, role, 'turn').next() * 4) + k) % 4 };
  }
  return cast;
}

const whyOf = ({ name, mood, turn }: SongSection, k: number): string =>
  k > 0 ? `another phrase of ${name}` : turn ? `${name}: a ${turn}, ${mood}` : `${name} begins, ${mood}`;

/** The last beat before a drop is dark. */
function darken(phrases: Phrase[], { beats }: Grid): void {
  const last = phrases.at(-1);
  if (!last) return;
  const beat = beats.findLastIndex((at) => at < last.to - NEAR_S);
  const from = beats[beat];
  if (from === undefined || from <= last.from) return;
  phrases[phrases.length - 1] = { ...last, to: from };
  phrases.push({ ...last, from, fromBeat: beat, cast: {}, fade: 0, why: 'dark for a beat before the drop' });
}
