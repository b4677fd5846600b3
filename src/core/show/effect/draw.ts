import type { Merging } from '../play/merge.ts';
import { drawAim } from './aim.ts';
import { drawColours } from './colour-ways.ts';
import { clamp01 } from '../../units.ts';
import { combineDrawings, combineValues } from './combine.ts';
import type { EffectPartProgram, EffectProgram } from './compile.ts';
import { drawWave } from './levels.ts';
import { drawPixels } from './pixels.ts';
import { isPlain, PLAIN, shaped, type Shape } from './shape.ts';
import { emptySpan, wholeSpan } from './span.ts';
import { drawStraight } from './straight.ts';
import { triangle } from './turns.ts';
import { writeRows } from './write.ts';

/** Turns a part has made when the effect has made `turns`; a part that bounces goes there and back in two. */
function turnsOf({ part }: EffectPartProgram, turns: number): number {
  const own = turns * part.times;
  return part.direction === 'forward' ? own : part.direction === 'backward' ? -own : triangle(own / 2);
}

/**
 * Lays an effect over what is there. `turns` since it began; `weight` 0-1 of its fade; `compared` where a later layer of
 * the same rank compares its levels; `shape` is what curves make of it. Values that come out as no number are left out. Allocates nothing that stays.
 */
export function applyEffect(
  into: Merging,
  program: EffectProgram,
  turns: number,
  rank: number,
  weight: number,
  compared = true,
  shape: Readonly<Shape> = PLAIN,
): void {
  const { parts } = program;
  if (program.doesLevel || program.doesColour) {
    const at = turnsOf(parts[0]!, turns);
    if (program.straight && weight >= 1 && isPlain(shape) && Number.isFinite(at))
      drawStraight(into, program, parts[0]!, at, rank, compared);
    else {
      drawRows(program, turns, shape);
      if (shape.hue !== 0 && program.doesColour) turnHues(program.rgb, shape.hue);
      writeRows(into, program, rank, weight, compared);
    }
  }
  for (let p = 0; p < parts.length; p++)
    if (parts[p]!.part.does === 'aim')
      drawAim(into.current, program, parts[p]!, turnsOf(parts[p]!, turns), weight, shape.size);
}

/** Colours of rows turned round the grey axis, in linear light: their brightness stays nearly as it is. In place. */
function turnHues(rgb: Float32Array, turns: number): void {
  const cos = Math.cos(turns * 2 * Math.PI);
  const sin = Math.sin(turns * 2 * Math.PI) / Math.sqrt(3);
  const [own, next, last] = [cos + (1 - cos) / 3, (1 - cos) / 3 - sin, (1 - cos) / 3 + sin];
  for (let i = 0; i < rgb.length; i += 3) {
    const [r, g, b] = [rgb[i]!, rgb[i + 1]!, rgb[i + 2]!];
    rgb[i] = clamp01(own * r + next * g + last * b);
    rgb[i + 1] = clamp01(last * r + own * g + next * b);
    rgb[i + 2] = clamp01(next * r + last * g + own * b);
  }
}

const span = emptySpan();

/** All parts, one over the other, into the rows of the effect. */
function drawRows(program: EffectProgram, turns: number, shape: Readonly<Shape>): void {
  const { parts, light } = program;
  light.fill(1);
  let first = true;
  for (let p = 0; p < parts.length; p++) {
    const own = shaped(parts[p]!, shape);
    const { does } = own.part;
    const at = turnsOf(own, turns);
    if (does === 'level') levels(program, own, at);
    else if (does === 'colour') colours(program, own, at, first);
    else if (does === 'pixels') pixels(program, own, at, first);
    if (does === 'colour' || does === 'pixels') first = false;
  }
}

function levels({ light, rgb, own }: EffectProgram, { part, behind, sparkle }: EffectPartProgram, turns: number): void {
  if (part.does !== 'level') return;
  drawWave(part, behind, turns, wholeSpan(span, own.light, rgb), sparkle);
  combineValues(part.combine, light, own.light, part.offset, part.size);
}

function colours({ light, rgb, own }: EffectProgram, drawn: EffectPartProgram, turns: number, first: boolean): void {
  const { part } = drawn;
  if (part.does !== 'colour') return;
  // The first goes straight into the row.
  drawColours(part, drawn, turns, wholeSpan(span, light, first ? rgb : own.rgb));
  if (!first) combineValues(part.combine, rgb, own.rgb);
}

function pixels(program: EffectProgram, drawn: EffectPartProgram, turns: number, first: boolean): void {
  const { part } = drawn;
  if (part.does !== 'pixels') return;
  const { own, rgb, light } = program;
  const mask = part.combine === 'through' || part.combine === 'cut';
  if (first && !mask) {
    drawPixels(drawn, drawn.behind, turns, wholeSpan(span, light, rgb));
    if (part.size !== 1) combineValues('over', light, light, 0, part.size);
    return;
  }
  drawPixels(drawn, drawn.behind, turns, wholeSpan(span, own.light, own.rgb));
  // Where nothing was drawn before, the mask has a colour of its own to show.
  if (first) rgb.set(own.rgb);
  combineDrawings(part.combine, program, own, part.size);
}
