import type { ProfileRecord } from '../records/index.ts';
import type { FixtureKind } from '../records/profile.ts';
import { attributeInfo } from '../attributes.ts';
import { footprintOf } from './layout.ts';
import { findWord, indexWords, searchWords, type WordIndex } from './word-index.ts';

export { searchWords } from './word-index.ts';

/**
 * Type-ahead over a library: words of maker, model, kind and what it is used for, modes, channels and attributes
 * (`WordIndex`). A number finds a word, a channel count or a number of circuits or cells: `16 ch` or `16ch` only a
 * channel count.
 */
export interface ProfileIndex {
  readonly profiles: readonly ProfileRecord[];
  readonly index: WordIndex;
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

/** What people call a kind, and what it is used for. */
export const KIND_PURPOSES: Readonly<Record<FixtureKind, string>> = {
  dimmer: 'dimmer, rack, pack, circuits, conventional lamp',
  par: 'par, par can, parcan, flat par, uplight',
  bar: 'bar, batten, wall washer, pixel bar, striplight',
  head: 'moving head, mover, moving light',
  scanner: 'mirror scanner, moving mirror',
  derby: 'rotating effect, party light, mirror ball effect',
  strobe: 'strobe, flash, stroboscope',
  blinder: 'blinder, audience light',
  hazer: 'hazer, haze, fog, smoke machine, mist',
  fan: 'fan, wind machine',
  uv: 'ultraviolet, uv, black light, blacklight',
  laser: 'laser effect',
  motor: 'motor, mirror ball motor, winch',
  relay: 'relay, switch, circuits, switch pack',
  strip: 'pixel strip, led tape, string, lights, roof line, eaves, garland',
  matrix: 'pixel matrix, panel, screen, video',
  lamp: 'smart lamp, bulb, home',
  other: 'other',
};

/** What else an attribute is called. */
const ALSO: readonly (readonly [RegExp, string])[] = [
  [/^Dimmer$/, 'dimmer intensity'],
  [/^ColorAdd_UV$/, 'uv black light'],
  [/^Shutter|^Strobe/, 'strobe shutter'],
  [/^(Haze|Fog)/, 'haze fog smoke'],
  [/^Color\d/, 'color'],
  [/^Gobo/, 'gobo pattern'],
];

/** `kindWords` gives a fixture kind in people's words. */
export function indexProfiles(
  profiles: readonly ProfileRecord[],
  kindWords: (kind: FixtureKind) => string,
): ProfileIndex {
  const footprints = new Map<number, number[]>();
  const attributes = new Map<string, readonly string[]>();
  const wordsOf = (attribute: string): readonly string[] => {
    let words = attributes.get(attribute);
    if (!words) {
      const also = ALSO.flatMap(([pattern, text]) => (pattern.test(attribute) ? [text] : []));
      attributes.set(attribute, (words = [attributeInfo(attribute)?.words ?? '', ...also]));
    }
    return words;
  };
  const described = profiles.map((profile, place) => {
    const { maker, model, fixtureKind, channels, modes, unitNumber } = profile;
    const phrases = [maker, model, kindWords(fixtureKind), ...KIND_PURPOSES[fixtureKind].split(', ')];
    if (unitNumber) phrases.push(`${unitNumber.circuits} circuits`);
    for (const channel of channels) phrases.push(channel.name, ...wordsOf(channel.attribute));
    for (const mode of modes) {
      phrases.push(mode.name);
      for (const slot of mode.slots) if ('cells' in slot) phrases.push(`${slot.cells} cells`);
      const count = footprintOf(mode);
      const list = footprints.get(count);
      if (!list) footprints.set(count, [place]);
      else if (list.at(-1) !== place) list.push(place);
    }
    return { phrases };
  });
  return {
    profiles,
    index: indexWords(described),
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
  const ofCount = (count: number): Uint32Array[] => [index.byFootprint.get(count) ?? new Uint32Array()];
  for (const count of footprints) keep(ofCount(count));
  let mistyped = 0;
  for (const word of words) {
    const hits = findWord(index.index, word);
    if (hits.mistyped) mistyped++;
    keep(/^\d{1,5}$/.test(word) ? [...hits.lists, ...ofCount(Number(word))] : hits.lists);
  }
  const found: { place: number; rank: number }[] = [];
  for (let place = 0; place < marks.length; place++)
    if (marks[place] === step) found.push({ place, rank: mistyped > 0 ? 0 : rankOf(index, place, words) });
  return found.sort((a, b) => a.rank - b.rank || a.place - b.place).map(({ place }) => index.profiles[place]!);
}

function rankOf(index: ProfileIndex, place: number, words: readonly string[]): number {
  let rank = 0;
  for (const word of words) {
    if (index.model[place]!.includes(` ${word}`)) continue;
    rank += index.maker[place]!.includes(` ${word}`) ? 1 : 3;
  }
  return rank;
}
