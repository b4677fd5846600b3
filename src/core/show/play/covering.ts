import { drawingOf } from './drawing.ts';
import type { Program } from './program.ts';

/**
 * Which layers another one hides. One bit for each attribute slot; kept as long as the program is.
 */
type Bits = Uint32Array;
const reached = new WeakMap<Program, Bits>();
const replaced = new WeakMap<Program, Bits>();

function bitsOf(slotCount: number, visitAll: (visit: (slot: number) => void) => void): Bits {
  const bits = new Uint32Array((slotCount + 31) >> 5);
  visitAll((slot) => (bits[slot >> 5] = bits[slot >> 5]! | (1 << (slot & 31))));
  return bits;
}

function kept(into: WeakMap<Program, Bits>, program: Program, make: () => Bits): Bits {
  let bits = into.get(program);
  if (!bits) into.set(program, (bits = make()));
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

/**
 * For each layer the later ones that hide it whole while they are at full. One whose levels a still later layer compares
 * with what was below hides nobody: what is below is part of that then. Linear in the slots for each pair.
 */
export function coveredBy(layers: readonly Laid[], slotCount: number): number[][] {
  const compared = comparedLater(layers);
  const replaces = layers.map(({ program }) => drawingOf(program).replaces(program));
  return layers.map(({ program }, i) => {
    const found: number[] = [];
    for (let j = i + 1; j < layers.length; j++) {
      const over = layers[j]!;
      const visited = replaces[j];
      if (!visited || compared[j]) continue;
      const own = kept(reached, program, () =>
        bitsOf(slotCount, (visit) => drawingOf(program).touches(program, visit)),
      );
      const theirs = kept(replaced, over.program, () => bitsOf(slotCount, visited));
      if (isWithin(own, theirs)) found.push(j);
    }
    return found;
  });
}
