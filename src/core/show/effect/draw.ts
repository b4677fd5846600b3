import type { Combine } from '../../records/effect.ts';
import { HUES, SATURATIONS } from './wheel-table.ts';
import type { EffectPartProgram, EffectProgram } from './compile.ts';
import { gradientAt, hueAt, walkAt } from './colours.ts';
import { drawWave } from './levels.ts';
import { pathAt } from './paths.ts';
import { drawPixels } from './pixels.ts';
import { sine, triangle } from './turns.ts';
import { applyLevel, setLevel, type Merging } from '../merge.ts';

/** Turns a part has made when the effect has made `turns`; a part that bounces goes there and back in two. */
function turnsOf({ part }: EffectPartProgram, turns: number): number {
  const own = turns * part.times;
  return part.direction === 'forward' ? own : part.direction === 'backward' ? -own : triangle(own / 2);
}

/**
 * Lays an effect over what is there. `turns` since it began; `weight` 0-1 of its fade. Values that come out as no
 * number are left out. Allocates nothing.
 */
export function applyEffect(into: Merging, program: EffectProgram, turns: number, rank: number, weight: number): void {
  const { parts, light, doesLevel, doesColour } = program;
  if (doesLevel || doesColour) {
    light.fill(1);
    let first = true;
    for (let p = 0; p < parts.length; p++) {
      const own = parts[p]!;
      const at = turnsOf(own, turns);
      if (own.part.does === 'level') levels(program, own, at);
      else if (own.part.does === 'colour') colours(program, own, at, first);
      else if (own.part.does === 'pixels') pixels(program, own, at, first);
      if (own.part.does === 'colour' || own.part.does === 'pixels') first = false;
    }
    write(into, program, rank, weight);
  }
  for (let p = 0; p < parts.length; p++)
    if (parts[p]!.part.does === 'aim') aim(into, program, parts[p]!, turns, weight);
}

/** A value of a part with that of the parts before it. */
const combined = (combine: Combine, before: number, v: number): number =>
  combine === 'over'
    ? v
    : combine === 'add'
      ? Math.min(1, before + v)
      : combine === 'brightest'
        ? Math.max(before, v)
        : combine === 'through'
          ? before * v
          : before * (1 - v);

function levels(program: EffectProgram, { part, behind }: EffectPartProgram, turns: number): void {
  if (part.does !== 'level') return;
  const { light, own } = program;
  const { size, offset, combine } = part;
  drawWave(part, behind, turns, own.light);
  for (let i = 0; i < light.length; i++) {
    const value = offset + size * own.light[i]!;
    const v = value > 1 ? 1 : value < 0 ? 0 : value;
    const before = light[i]!;
    light[i] = combined(combine, before, v);
  }
}

const one = new Float32Array(3);

function colours(program: EffectProgram, own: EffectPartProgram, turns: number, first: boolean): void {
  const { part, behind, index, table } = own;
  if (part.does !== 'colour') return;
  const { elements, rgb } = program;
  for (let i = 0; i < elements.count; i++) {
    const at = turns - behind[i]! + part.offset;
    // The first goes straight into the row.
    const into = first ? rgb : one;
    const place = first ? i * 3 : 0;
    if (part.way === 'hue') hueAt(table, at, into, place);
    else if (part.way === 'gradient') gradientAt(table, at, into, place);
    else if (part.way === 'walk') walkAt(table, at, part.size, into, place);
    else walkAt(table, at + (index[i]! % 2) / 2, part.size * 0.5, into, place);
    if (!first) mix(rgb, i * 3, part.combine);
  }
}

/** Lays the colour in `one` over a colour of the row. */
function mix(rgb: Float32Array, at: number, combine: Combine): void {
  for (let c = 0; c < 3; c++) {
    const v = one[c]!;
    const before = rgb[at + c]!;
    rgb[at + c] = combined(combine, before, v);
  }
}

function pixels(program: EffectProgram, part: EffectPartProgram, turns: number, first: boolean): void {
  if (part.part.does !== 'pixels') return;
  const { own, rgb, light } = program;
  const { combine, size } = part.part;
  const mask = combine === 'through' || combine === 'cut';
  if (first && !mask) {
    drawPixels(part, part.behind, turns, program);
    for (let i = 0; i < light.length; i++) light[i] = size * light[i]!;
    return;
  }
  drawPixels(part, part.behind, turns, own);
  // Where nothing was drawn before, the mask has a colour of its own to show.
  if (first) rgb.set(own.rgb);
  for (let i = 0; i < light.length; i++) {
    const v = size * own.light[i]!;
    if (mask) light[i] = light[i]! * (combine === 'through' ? v : 1 - v);
    else lay(program, i, v, combine);
  }
}

/** Lays the own colour of an element at light `v` over what it shows; afterwards colour and light are of both. */
function lay({ light, rgb, own }: EffectProgram, element: number, v: number, combine: Combine): void {
  const at = element * 3;
  const before = light[element]!;
  let most = 0;
  for (let c = at; c < at + 3; c++) {
    const below = rgb[c]! * before;
    const above = own.rgb[c]! * v;
    const both =
      combine === 'over'
        ? below * (1 - v) + above
        : combine === 'add'
          ? Math.min(1, below + above)
          : Math.max(below, above);
    rgb[c] = both;
    if (both > most) most = both;
  }
  light[element] = most;
  if (most > 0) for (let c = at; c < at + 3; c++) rgb[c] = rgb[c]! / most;
}

function write(into: Merging, program: EffectProgram, rank: number, weight: number): void {
  const { current } = into;
  if (program.doesLevel) writeLevels(into, program, rank, weight);
  if (program.doesColour) {
    writeColours(current, program, weight);
    writeWheels(current, program);
  } else if (program.folds) dimColours(current, program, weight);
}

/** Light goes to the levels of elements; what stands over them opens. */
function writeLevels(into: Merging, program: EffectProgram, rank: number, weight: number): void {
  const { light, levels: merge, scaled, elements } = program;
  const { level, opens, openAt, above } = elements;
  const { current } = into;
  const whole = program.baseLight ?? 1;
  for (let i = 0; i < opens.length; i++) current[opens[i]!] = openAt[i]!;
  for (let i = 0; i < above.length; i++) setLevel(into, above[i]!, whole, rank, weight);
  const scales = merge === 'scale';
  const highest = merge === 'highest';
  for (let i = 0; i < level.length; i++) {
    const slot = level[i]!;
    if (slot < 0) continue;
    const lit = lightOr0(light[i]! * whole);
    if (scales || (scaled !== null && scaled[i] === 1)) current[slot] = current[slot]! * (1 + (lit - 1) * weight);
    else if (highest) applyLevel(into, slot, lit, rank, weight);
    else setLevel(into, slot, lit, rank, weight);
  }
}

/** No light where it came out as no number. */
const lightOr0 = (light: number): number => (light >= 0 ? light : 0);

/** Colours go where they belong, with the light in them where an element has no level of its own. */
function writeColours(current: Float32Array, { light, rgb, elements, folds }: EffectProgram, weight: number): void {
  const { colour, level } = elements;
  for (let i = 0, at = 0; i < colour.length; i++, at += 3) {
    const slot = colour[i]!;
    if (slot < 0) continue;
    const fold = folds && level[i]! < 0 ? lightOr0(light[i]!) : 1;
    const red = rgb[at]! * fold;
    const green = rgb[at + 1]! * fold;
    const blue = rgb[at + 2]! * fold;
    // What is no number leaves the colour as it is.
    if (!(red + green + blue >= 0)) continue;
    if (weight >= 1) {
      current[slot] = red;
      current[slot + 1] = green;
      current[slot + 2] = blue;
      continue;
    }
    current[slot] = current[slot]! + (red - current[slot]!) * weight;
    current[slot + 1] = current[slot + 1]! + (green - current[slot + 1]!) * weight;
    current[slot + 2] = current[slot + 2]! + (blue - current[slot + 2]!) * weight;
  }
}

/** An effect without colours dims those of elements that have no level of their own. */
function dimColours(current: Float32Array, { light, elements }: EffectProgram, weight: number): void {
  const { colour, level } = elements;
  for (let i = 0; i < colour.length; i++) {
    const slot = colour[i]!;
    if (slot < 0 || level[i]! >= 0) continue;
    const keep = 1 + (lightOr0(light[i]!) - 1) * weight;
    current[slot] = current[slot]! * keep;
    current[slot + 1] = current[slot + 1]! * keep;
    current[slot + 2] = current[slot + 2]! * keep;
  }
}

/** Colours as the nearest slot of a wheel: it jumps. */
function writeWheels(current: Float32Array, { elements, rgb }: EffectProgram): void {
  for (let w = 0; w < elements.wheels.length; w++) {
    const wheel = elements.wheels[w]!;
    const { slot, element, table } = wheel;
    const r = rgb[element * 3]!;
    const g = rgb[element * 3 + 1]!;
    const b = rgb[element * 3 + 2]!;
    const high = Math.max(r, g, b);
    if (!(high > 0)) continue;
    const range = high - Math.min(r, g, b);
    const sector =
      range === 0 ? 0 : high === r ? ((g - b) / range + 6) % 6 : high === g ? (b - r) / range + 2 : (r - g) / range + 4;
    // Linear light saturates more than it looks: the square root is near enough to how it is seen.
    const seen = 1 - Math.sqrt(1 - range / high);
    const s = Math.min(SATURATIONS - 1, Math.round((range === high ? 1 : seen) * (SATURATIONS - 1)));
    current[slot] = table[s * HUES + (Math.round((sector / 6) * HUES) % HUES)]!;
  }
}

function aim(into: Merging, program: EffectProgram, own: EffectPartProgram, turns: number, weight: number): void {
  const { part, behind, at: side, table } = own;
  if (part.does !== 'aim') return;
  const moved = turnsOf(own, turns);
  const { current } = into;
  for (let h = 0; h < program.heads.length; h++) {
    const { element, pan, tilt, panPerDeg, tiltPerDeg } = program.heads[h]!;
    const fan = part.path === 'fan';
    const place = moved - behind[element]!;
    // A fan that moves breathes; one that does not stands open.
    const still = fan && (program.rate === 0 || part.times === 0);
    const x = still ? part.panDeg : fan ? part.panDeg * (0.5 + 0.5 * sine(place - 0.25)) : pathAt(table, place, 0);
    const y = fan ? 0 : pathAt(table, place, 1);
    if (pan >= 0) current[pan] = held(current[pan]! + x * side[element]! * panPerDeg * weight, current[pan]!);
    if (tilt >= 0) current[tilt] = held(current[tilt]! + y * tiltPerDeg * weight, current[tilt]!);
  }
}

const held = (value: number, before: number): number => (value >= 1 ? 1 : value >= 0 ? value : value < 0 ? 0 : before);
