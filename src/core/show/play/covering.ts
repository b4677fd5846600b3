import { eachSlotOfEffect } from '../effect/compile.ts';
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

const reachedBits = (program: Program, slotCount: number): Bits =>
  bitsOf(slotCount, (visit) => {
    if (program.type === 'effect') eachSlotOfEffect(program, visit);
    else program.slots.forEach(visit);
  });

function kept(into: WeakMap<Program, Bits>, program: Program, make: () => Bits): Bits {
  let bits = into.get(program);
  if (!bits) into.set(program, (bits = make()));
  return bits;
}

/** Whether a layer at full takes the place of what is below it: only an effect does that for sure. */
const replaces = (program: Program): boolean =>
  program.type === 'effect' &&
  program.levels === 'over' &&
  program.scaled === null &&
  (program.doesLevel || program.doesColour);

/** Slots whose value, while the layer is at full, has nothing to do with what is below. */
const replacedBits = (program: Program, slotCount: number): Bits =>
  bitsOf(slotCount, (visit) => {
    if (program.type !== 'effect') return;
    const { elements, doesLevel, doesColour } = program;
    for (let i = 0; i < elements.count; i++) {
      const [level, colour] = [elements.level[i]!, elements.colour[i]!];
      if (doesLevel && level >= 0) visit(level);
      if (doesColour && colour >= 0) for (let c = 0; c < 3; c++) visit(colour + c);
    }
    if (!doesLevel) return;
    elements.opens.forEach(visit);
    elements.above.forEach(visit);
  });

const isWithin = (bits: Bits, whole: Bits): boolean => bits.every((word, i) => (word & ~whole[i]!) === 0);

/** A layer as far as covering goes. */
interface Laid {
  readonly program: Program;
  readonly rank: number;
}

/** True where levels of a program are compared with what was below its rank. */
const compares = (program: Program): boolean => program.type !== 'effect' || program.levels === 'highest';

/** For each layer, in the order they are laid: whether a later one of its rank compares levels with what was below that. */
export const comparedLater = (layers: readonly Laid[]): boolean[] =>
  layers.map(({ rank }, i) => layers.some((later, j) => j > i && later.rank === rank && compares(later.program)));

/**
 * For each layer the later ones that hide it whole while they are at full. One whose levels a still later layer compares
 * with what was below hides nobody: what is below is part of that then. Linear in the slots for each pair.
 */
export function coveredBy(layers: readonly Laid[], slotCount: number): number[][] {
  const compared = comparedLater(layers);
  const covers = layers.map(({ program }) => replaces(program));
  return layers.map(({ program }, i) => {
    const found: number[] = [];
    for (let j = i + 1; j < layers.length; j++) {
      const over = layers[j]!;
      if (!covers[j] || compared[j]) continue;
      const own = kept(reached, program, () => reachedBits(program, slotCount));
      const theirs = kept(replaced, over.program, () => replacedBits(over.program, slotCount));
      if (isWithin(own, theirs)) found.push(j);
    }
    return found;
  });
}
