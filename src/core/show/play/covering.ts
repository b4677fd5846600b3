import { drawingOf } from './drawing.ts';
import type { Program } from './program.ts';

/**
 * Which layers another one hides. One bit for each attribute slot; kept as long as the program is.
 */
interface Bits {
  readonly words: Uint32Array;
  /** The first and the last word that has any; an empty set has none. */
  readonly first: number;
  readonly last: number;
}
type Visit = (slot: number) => void;
const reached = new WeakMap<Program, Bits>();
const besideLevels = new WeakMap<Program, Bits>();
const replaced = new WeakMap<Program, Bits>();

function bitsOf(slotCount: number, visitAll: (visit: Visit) => void): Bits {
  const words = new Uint32Array((slotCount + 31) >> 5);
  let [first, last] = [words.length, -1];
  visitAll((slot) => {
    const word = slot >> 5;
    words[word] = words[word]! | (1 << (slot & 31));
    if (word < first) first = word;
    if (word > last) last = word;
  });
  return { words, first, last };
}

function isWithin({ words, first, last }: Bits, whole: Bits): boolean {
  // Most layers lie on other units: then they are told apart by where they begin and end.
  if (last < 0) return true;
  if (first < whole.first || last > whole.last) return false;
  for (let i = first; i <= last; i++) if ((words[i]! & ~whole.words[i]!) !== 0) return false;
  return true;
}

/** A layer as far as covering goes. */
interface Laid {
  readonly program: Program;
  readonly rank: number;
}

/** For each layer, in the order they are laid: whether a later one of its rank compares levels with what was below that. */
export function comparedLater(layers: readonly Laid[]): boolean[] {
  const found = new Array<boolean>(layers.length);
  // From the last on: whether any that was met of each rank compares.
  const ranks = new Set<number>();
  for (let i = layers.length - 1; i >= 0; i--) {
    const { rank, program } = layers[i]!;
    found[i] = ranks.has(rank);
    if (drawingOf(program).compares(program)) ranks.add(rank);
  }
  return found;
}

/** What hides a layer, while it is at full: places of later layers. */
export interface Covering {
  /** Each of these hides it whole. */
  readonly coveredBy: number[];
  /** Each of these hides all but its levels. */
  readonly restCoveredBy: number[];
}

/**
 * For each layer what hides it. One whose levels a still later layer compares with what was below hides no levels: what is
 * below is part of that then. Linear in the slots for each pair.
 */
export function coverings(
  layers: readonly Laid[],
  slotCount: number,
  compared: readonly boolean[] = comparedLater(layers),
): Covering[] {
  const replaces = layers.map(({ program }) => drawingOf(program).replaces(program));
  const kept = (into: WeakMap<Program, Bits>, program: Program, visitAll: (visit: Visit) => void): Bits => {
    let bits = into.get(program);
    if (!bits) into.set(program, (bits = bitsOf(slotCount, visitAll)));
    return bits;
  };
  return layers.map(({ program }, i) => {
    const { touches, rest } = drawingOf(program);
    const beside = rest(program);
    const found: Covering = { coveredBy: [], restCoveredBy: [] };
    for (let j = i + 1; j < layers.length; j++) {
      const visited = replaces[j];
      if (!visited) continue;
      const theirs = kept(replaced, layers[j]!.program, visited);
      if (
        !compared[j] &&
        isWithin(
          kept(reached, program, (visit) => touches(program, visit)),
          theirs,
        )
      )
        found.coveredBy.push(j);
      else if (beside && isWithin(kept(besideLevels, program, beside), theirs)) found.restCoveredBy.push(j);
    }
    return found;
  });
}
