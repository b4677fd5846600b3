import { drawingOf } from './drawing.ts';
import type { Program } from './program.ts';

/**
 * Which layers another one hides. One bit for each attribute slot; kept as long as the program is.
 */
type Bits = Uint32Array;
type Visit = (slot: number) => void;
const reached = new WeakMap<Program, Bits>();
const besideLevels = new WeakMap<Program, Bits>();
const replaced = new WeakMap<Program, Bits>();

function bitsOf(slotCount: number, visitAll: (visit: Visit) => void): Bits {
  const bits = new Uint32Array((slotCount + 31) >> 5);
  visitAll((slot) => (bits[slot >> 5] = bits[slot >> 5]! | (1 << (slot & 31))));
  return bits;
}

const isWithin = (bits: Bits, whole: Bits): boolean => bits.every((word, i) => (word & ~whole[i]!) === 0);

/** A layer as far as covering goes. */
interface Laid {
  readonly program: Program;
  readonly rank: number;
}

/** For each layer, in the order they are laid: whether a later one of its rank compares levels with what was below that. */
export const comparedLater = (layers: readonly Laid[]): boolean[] =>
  layers.map(({ rank }, i) =>
    layers.some((later, j) => j > i && later.rank === rank && drawingOf(later.program).compares(later.program)),
  );

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
export function coverings(layers: readonly Laid[], slotCount: number): Covering[] {
  const compared = comparedLater(layers);
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
