import { keepBelow, type Merging } from '../play/merge.ts';
import { drawColours } from './colour-ways.ts';
import { combineValues } from './combine.ts';
import type { EffectPartProgram, EffectProgram } from './compile.ts';
import { drawWave } from './levels.ts';
import { drawPixels } from './pixels.ts';
import { emptySpan } from './span.ts';

/**
 * Whether an effect can be drawn straight into the frame, without rows of its own in between, once it is in at full: one
 * part that takes the place of what is below, on elements with nothing to open, turn or fold.
 */
export function isStraight({
  parts,
  levels,
  elements,
  scaled,
  doesColour,
  folds,
}: Omit<EffectProgram, 'straight'>): boolean {
  const [only] = parts;
  if (parts.length !== 1 || !only || levels !== 'over' || scaled || folds) return false;
  if (elements.opens.length > 0 || elements.above.length > 0) return false;
  if (doesColour && elements.wheels.length > 0) return false;
  const { does, combine } = only.part;
  if (does === 'level') return combine === 'over' || combine === 'through';
  return does === 'colour' || (does === 'pixels' && combine !== 'through' && combine !== 'cut');
}

const span = emptySpan();

/**
 * Draws an effect that is straight over what is there. `compared`: levels of a later layer of the same rank are compared
 * with what was below this rank, so that has to be kept.
 */
export function drawStraight(
  into: Merging,
  program: EffectProgram,
  own: EffectPartProgram,
  turns: number,
  rank: number,
  compared: boolean,
): void {
  const { runs } = program.elements;
  for (let r = 0; r < runs.level.length; r++) {
    const level = runs.level[r]!;
    const colour = runs.colour[r]!;
    span.from = runs.from[r]!;
    span.to = runs.from[r + 1]!;
    // What an element does not have is drawn where nobody looks.
    span.light = level < 0 ? program.light : into.current;
    span.lightAt = level < 0 ? span.from : level;
    span.rgb = colour < 0 ? program.rgb : into.current;
    span.rgbAt = colour < 0 ? span.from * 3 : colour;
    const count = span.to - span.from;
    if (level >= 0 && program.doesLevel && compared) keepBelow(into, level, count, rank);
    drawPart(own, turns);
    if (level >= 0 && program.doesLevel) dim(program, own, level, count, into.current);
  }
}

function drawPart(own: EffectPartProgram, turns: number): void {
  const { part } = own;
  if (part.does === 'level') drawWave(part, own.behind, turns, span, own.sparkle);
  else if (part.does === 'colour') drawColours(part, own, turns, span);
  else drawPixels(own, own.behind, turns, span);
}

/** What was drawn under the size of the part and the level of the effect. */
function dim(
  program: EffectProgram,
  { part }: EffectPartProgram,
  level: number,
  count: number,
  current: Float32Array,
): void {
  const whole = program.baseLight ?? 1;
  if (part.does === 'colour') return void current.fill(whole, level, level + count);
  if (part.does === 'aim') return;
  const offset = part.does === 'level' ? part.offset : 0;
  if (offset === 0 && part.size === 1 && whole === 1) return;
  const row = current.subarray(level, level + count);
  combineValues('over', row, row, offset, part.size);
  if (whole !== 1) combineValues('over', row, row, 0, whole);
}
