/**
 * Type-ahead over a list of things by their words. Every word of a query must begin a word of the thing, or two of its
 * words written as one (`movinghead`); a word that nothing begins with may have one typing error (`dimer`). Built once;
 * a search touches only the things that match.
 */
export interface WordIndex {
  /** All words in order, and for each the places of the things that have it, ascending. */
  readonly words: readonly string[];
  readonly places: readonly Uint32Array[];
}

/** Words of one thing: `phrases` are kept together, so that neighbours can be written as one word. */
export interface Described {
  readonly phrases: readonly string[];
}

/** Lower case, without accents, cut at everything that is neither letter nor digit. */
export const searchWords = (text: string): string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '');

export function indexWords(things: readonly Described[]): WordIndex {
  const lists = new Map<string, number[]>();
  const note = (word: string, place: number): void => {
    const list = lists.get(word);
    if (!list) lists.set(word, [place]);
    else if (list.at(-1) !== place) list.push(place);
  };
  const cut = new Map<string, string[]>();
  const wordsOf = (phrase: string): string[] => {
    let words = cut.get(phrase);
    if (!words) cut.set(phrase, (words = searchWords(phrase)));
    return words;
  };
  things.forEach(({ phrases }, place) => {
    for (const phrase of phrases) {
      const words = wordsOf(phrase);
      words.forEach((word, i) => {
        note(word, place);
        const next = words[i + 1];
        if (next !== undefined) note(word + next, place);
      });
    }
  });
  const words = [...lists.keys()].sort();
  return { words, places: words.map((word) => Uint32Array.from(lists.get(word)!)) };
}

/** Places of things that a word of a query finds. */
export interface WordHits {
  readonly lists: readonly Uint32Array[];
  /** True where nothing begins with the word, and these have it with one letter wrong, missing, too many or swapped. */
  readonly mistyped: boolean;
}

const LEAST_FOR_ERRORS = 4;

export function findWord(index: WordIndex, word: string): WordHits {
  const exact = beginning(index, word);
  if (exact.length > 0 || word.length < LEAST_FOR_ERRORS || /\d/.test(word)) return { lists: exact, mistyped: false };
  // The first letter is seldom the wrong one, but it may be: all words are looked at, each only to its first misfit.
  const lists = index.places.filter((_, i) => beginsNearly(index.words[i]!, word));
  return { lists, mistyped: lists.length > 0 };
}

/** The places of all words that begin with `start`: a stretch of the sorted words. */
function beginning(index: WordIndex, start: string): Uint32Array[] {
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

/** True where `have` begins with `wanted`, but for one letter wrong, missing, too many, or two swapped. */
export function beginsNearly(have: string, wanted: string): boolean {
  let at = 0;
  while (at < wanted.length && have[at] === wanted[at]) at++;
  if (at === wanted.length) return true;
  const rest = wanted.slice(at + 1);
  return (
    // One wrong, one too many in what was typed, one left out of it, two swapped.
    have.startsWith(rest, at + 1) ||
    (have.startsWith(rest, at) && have.length >= wanted.length - 1) ||
    have.startsWith(wanted.slice(at), at + 1) ||
    (have[at] === wanted[at + 1] && have[at + 1] === wanted[at] && have.startsWith(wanted.slice(at + 2), at + 2))
  );
}
