import type { ProfileRecord } from '../records/index.ts';
import { attributeInfo } from './attributes.ts';
import { footprintOf } from './layout.ts';

/**
 * Type-ahead over a library: an inverted index of words (maker, model, kind, channels, attributes) and of channel
 * counts. Every word of a query must begin a word of the profile; `16 ch` or `16ch` must be the footprint of one of
 * its modes. Built once for a library; a search touches only the profiles that match.
 */
export interface ProfileIndex {
  readonly profiles: readonly ProfileRecord[];
  /** All words in order, and for each the places of the profiles that have it, ascending. */
  readonly words: readonly string[];
  readonly places: readonly Uint32Array[];
  readonly byFootprint: ReadonlyMap<number, Uint32Array>;
  /** For ranking: words of the model, words of the maker. */
  readonly model: readonly string[];
  readonly maker: readonly string[];
}

/** What a query asks for. */
export interface ProfileQuery {
  readonly words: readonly string[];
  readonly footprints: readonly number[];
}

/** Lower case, without accents, cut at everything that is neither letter nor digit. */
export const searchWords = (text: string): string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '');

/** `kindWords` gives a fixture kind in people's words. */
export function indexProfiles(
  profiles: readonly ProfileRecord[],
  kindWords: (kind: ProfileRecord['fixtureKind']) => string,
): ProfileIndex {
  const lists = new Map<string, number[]>();
  const footprints = new Map<number, number[]>();
  const note = <K>(map: Map<K, number[]>, key: K, place: number): void => {
    const list = map.get(key);
    if (!list) map.set(key, [place]);
    else if (list.at(-1) !== place) list.push(place);
  };
  const attributeWords = new Map<string, string[]>();
  const wordsOf = (attribute: string): string[] => {
    let words = attributeWords.get(attribute);
    if (!words) attributeWords.set(attribute, (words = searchWords(attributeInfo(attribute)?.words ?? '')));
    return words;
  };
  profiles.forEach((profile, place) => {
    for (const word of searchWords(`${profile.maker} ${profile.model} ${kindWords(profile.fixtureKind)}`))
      note(lists, word, place);
    for (const channel of profile.channels) {
      for (const word of wordsOf(channel.attribute)) note(lists, word, place);
      for (const word of searchWords(channel.name)) note(lists, word, place);
    }
    for (const mode of profile.modes) note(footprints, footprintOf(mode), place);
  });
  const words = [...lists.keys()].sort();
  return {
    profiles,
    words,
    places: words.map((word) => Uint32Array.from(lists.get(word)!)),
    byFootprint: new Map([...footprints].map(([count, list]) => [count, Uint32Array.from(list)])),
    model: profiles.map((p) => ` ${searchWords(p.model).join(' ')}`),
    maker: profiles.map((p) => ` ${searchWords(p.maker).join(' ')}`),
  };
}

const CHANNELS = /^(ch|chan|channel|channels|slot|slots)$/;

/** Takes a query apart: `14 ch spot zoom` asks for a footprint of 14 and two words. */
export function parseProfileQuery(text: string): ProfileQuery {
  const tokens = searchWords(text);
  const words: string[] = [];
  const footprints: number[] = [];
  for (let i = 0; i < tokens.length; i++) {
    const joined = /^(\d{1,5})ch$/.exec(tokens[i]!);
    const spaced = /^\d{1,5}$/.test(tokens[i]!) && CHANNELS.test(tokens[i + 1] ?? '');
    if (joined) footprints.push(Number(joined[1]));
    else if (spaced) footprints.push(Number(tokens[i++]));
    else words.push(tokens[i]!);
  }
  return { words, footprints };
}

/** Profiles that match all of a query, best first: by model, then by maker, then by the rest; else in their order. */
export function searchProfiles(index: ProfileIndex, text: string): ProfileRecord[] {
  const { words, footprints } = parseProfileQuery(text);
  if (words.length === 0 && footprints.length === 0) return [...index.profiles];
  const marks = new Uint8Array(index.profiles.length);
  let step = 0;
  const keep = (lists: readonly Uint32Array[]): void => {
    for (const list of lists) for (const place of list) if (marks[place] === step) marks[place] = step + 1;
    step++;
  };
  for (const count of footprints) keep([index.byFootprint.get(count) ?? new Uint32Array()]);
  for (const word of words) keep(listsFor(index, word));
  const found: { place: number; rank: number }[] = [];
  for (let place = 0; place < marks.length; place++)
    if (marks[place] === step) found.push({ place, rank: rankOf(index, place, words) });
  return found.sort((a, b) => a.rank - b.rank || a.place - b.place).map(({ place }) => index.profiles[place]!);
}

/** The places of all words that begin with `start`: a stretch of the sorted words. */
function listsFor(index: ProfileIndex, start: string): Uint32Array[] {
  let low = 0;
  let high = index.words.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (index.words[middle]! < start) low = middle + 1;
    else high = middle;
  }
  const lists: Uint32Array[] = [];
  for (let i = low; i < index.words.length && index.words[i]!.startsWith(start); i++) lists.push(index.places[i]!);
  return lists;
}

function rankOf(index: ProfileIndex, place: number, words: readonly string[]): number {
  let rank = 0;
  for (const word of words) {
    if (index.model[place]!.includes(` ${word}`)) continue;
    rank += index.maker[place]!.includes(` ${word}`) ? 1 : 3;
  }
  return rank;
}
