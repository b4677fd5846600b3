import type { EffectProgram } from './compile.ts';

/** Visits all attribute slots an effect may write to; some twice. */
export function eachSlotOfEffect(
  { elements, doesLevel, doesColour, heads }: EffectProgram,
  visit: (slot: number) => void,
): void {
  const { level, colour, above, opens, wheels } = elements;
  for (let i = 0; i < elements.count; i++) {
    if (doesLevel && level[i]! >= 0) visit(level[i]!);
    if (colour[i]! >= 0 && (doesColour || (doesLevel && level[i]! < 0)))
      for (let c = 0; c < 3; c++) visit(colour[i]! + c);
  }
  if (doesLevel) {
    above.forEach(visit);
    opens.forEach(visit);
  }
  if (doesColour) for (const { slot } of wheels) visit(slot);
  for (const { pan, tilt } of heads) for (const slot of [pan, tilt]) if (slot >= 0) visit(slot);
}
