import { applyLevel, keepBelow, setLevel, type Merging } from '../play/merge.ts';
import type { EffectProgram } from './compile.ts';
import { HUES, SATURATIONS } from './wheel-table.ts';

/** Writes the rows of an effect (light and colour of each element) to the attribute values of the frame. */
export function writeRows(
  into: Merging,
  program: EffectProgram,
  rank: number,
  weight: number,
  compared: boolean,
): void {
  const { current } = into;
  if (program.doesLevel) writeLevels(into, program, rank, weight, compared);
  if (program.doesColour) {
    writeColours(current, program, weight);
    writeWheels(current, program);
  } else if (program.folds) dimColours(current, program, weight);
}

/** Light goes to the levels of elements; what stands over them opens. */
function writeLevels(into: Merging, program: EffectProgram, rank: number, weight: number, compared: boolean): void {
  const { levels: merge, scaled, elements } = program;
  const { runs, opens, openAt, above } = elements;
  const { current } = into;
  const whole = program.baseLight ?? 1;
  for (let i = 0; i < opens.length; i++) current[opens[i]!] = openAt[i]!;
  for (let i = 0; i < above.length; i++) setLevel(into, above[i]!, whole, rank, weight);
  if (scaled !== null) return writeByHand(into, program, scaled, rank, weight);
  for (let r = 0; r < runs.level.length; r++) {
    const slot = runs.level[r]!;
    if (slot < 0) continue;
    const from = runs.from[r]!;
    const count = runs.from[r + 1]! - from;
    if (merge === 'scale') scaleRun(current, slot, program.light, from, count, whole, weight);
    else if (merge === 'highest') highestRun(into, slot, program.light, from, count, whole, rank, weight);
    else {
      if (compared) keepBelow(into, slot, count, rank);
      setRun(current, slot, program.light, from, count, whole, weight);
    }
  }
}

/** No light where it came out as no number. */
const lightOr0 = (light: number): number => (light >= 0 ? light : 0);

function scaleRun(
  current: Float32Array,
  slot: number,
  light: Float32Array,
  from: number,
  count: number,
  whole: number,
  weight: number,
): void {
  for (let i = 0; i < count; i++)
    current[slot + i] = current[slot + i]! * (1 + (lightOr0(light[from + i]! * whole) - 1) * weight);
}

function highestRun(
  into: Merging,
  slot: number,
  light: Float32Array,
  from: number,
  count: number,
  whole: number,
  rank: number,
  weight: number,
): void {
  for (let i = 0; i < count; i++) applyLevel(into, slot + i, lightOr0(light[from + i]! * whole), rank, weight);
}

function setRun(
  current: Float32Array,
  slot: number,
  light: Float32Array,
  from: number,
  count: number,
  whole: number,
  weight: number,
): void {
  for (let i = 0, at = slot; i < count; i++, at++) {
    const below = current[at]!;
    current[at] = below + (lightOr0(light[from + i]! * whole) - below) * weight;
  }
}

/** An effect by hand scales the levels by hand. */
function writeByHand(into: Merging, program: EffectProgram, scaled: Uint8Array, rank: number, weight: number): void {
  const { light, levels: merge, elements } = program;
  const { current } = into;
  const whole = program.baseLight ?? 1;
  for (let i = 0; i < elements.level.length; i++) {
    const slot = elements.level[i]!;
    if (slot < 0) continue;
    const lit = lightOr0(light[i]! * whole);
    if (merge === 'scale' || scaled[i] === 1) current[slot] = current[slot]! * (1 + (lit - 1) * weight);
    else if (merge === 'highest') applyLevel(into, slot, lit, rank, weight);
    else setLevel(into, slot, lit, rank, weight);
  }
}

/** Colours go where they belong, with the light in them where an element has no level of its own. */
function writeColours(current: Float32Array, { light, rgb, elements, doesLevel }: EffectProgram, weight: number): void {
  const { runs } = elements;
  for (let r = 0; r < runs.colour.length; r++) {
    const slot = runs.colour[r]!;
    if (slot < 0) continue;
    const from = runs.from[r]!;
    const count = runs.from[r + 1]! - from;
    const folded = doesLevel && runs.level[r]! < 0 ? light : null;
    if (weight >= 1 && !folded) setColours(current, slot, rgb, from, count);
    else mixColours(current, slot, rgb, folded, from, count, weight);
  }
}

function setColours(current: Float32Array, slot: number, rgb: Float32Array, from: number, count: number): void {
  for (let i = 0, at = from * 3, to = slot; i < count; i++, at += 3, to += 3) {
    // What is no number leaves the colour as it is.
    if (!(rgb[at]! + rgb[at + 1]! + rgb[at + 2]! >= 0)) continue;
    current[to] = rgb[at]!;
    current[to + 1] = rgb[at + 1]!;
    current[to + 2] = rgb[at + 2]!;
  }
}

function mixColours(
  current: Float32Array,
  slot: number,
  rgb: Float32Array,
  light: Float32Array | null,
  from: number,
  count: number,
  weight: number,
): void {
  const share = Math.min(1, weight);
  for (let i = 0, at = from * 3, to = slot; i < count; i++, at += 3, to += 3) {
    const fold = light ? lightOr0(light[from + i]!) : 1;
    const red = rgb[at]! * fold;
    const green = rgb[at + 1]! * fold;
    const blue = rgb[at + 2]! * fold;
    if (!(red + green + blue >= 0)) continue;
    if (share === 1) {
      current[to] = red;
      current[to + 1] = green;
      current[to + 2] = blue;
      continue;
    }
    current[to] = current[to]! + (red - current[to]!) * share;
    current[to + 1] = current[to + 1]! + (green - current[to + 1]!) * share;
    current[to + 2] = current[to + 2]! + (blue - current[to + 2]!) * share;
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
