import { toHex } from '$core/colour/convert.ts';
import { mixtureOf } from '$core/colour/mixture.ts';
import type { UnitValues } from '$core/records/scene.ts';

/** A colour for a scene's pad: the mean of the colours it sets, bright enough to be seen; amber when it sets none. */
export function averageColour(values: Readonly<Record<string, UnitValues>>): string {
  let [r, g, b, n] = [0, 0, 0, 0];
  for (const unit of Object.values(values)) {
    const mixture = mixtureOf(unit);
    if (!mixture) continue;
    r += mixture.r;
    g += mixture.g;
    b += mixture.b;
    n++;
  }
  const most = Math.max(r, g, b);
  if (n === 0 || most <= 0) return '#ffb347';
  return toHex({ r: r / most, g: g / most, b: b / most });
}
