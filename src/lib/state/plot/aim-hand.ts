import { MISSED_DEG } from '$core/aim/table.ts';
import { aimValues, axesOf } from '$core/aim/axes.ts';
import { solve } from '$core/aim/solve.ts';
import type { LitId } from '$core/ids.ts';
import type { Place3 } from '$core/plot/paper.ts';
import type { UnitValues } from '$core/records/scene.ts';
import type { App } from '../app.svelte.ts';
import { plural } from '../words.ts';

/**
 * Points the selected heads at a place, by hand: pan and tilt of each are worked out from where it is and how it hangs.
 * Those that cannot reach it go as near as they can, and it is said. False where nothing can be pointed.
 */
export function aimSelection(app: App, target: Place3): boolean {
  const values: Record<string, UnitValues> = {};
  const misses: { readonly called: string; readonly deg: number }[] = [];
  for (const id of app.acting) {
    const unit = app.rig.unit(id);
    const axes = unit && axesOf(app.live.document, unit);
    const found = axes && solve(axes, axes.standing, target);
    if (!unit || !axes || !found) continue;
    values[id] = aimValues(axes, found);
    if (found.missDeg > MISSED_DEG) misses.push({ called: `${unit.number} ${unit.name}`, deg: found.missDeg });
  }
  if (Object.keys(values).length === 0) return false;
  app.hand.setAll(values as Record<LitId, UnitValues>);
  const [first] = misses;
  if (first)
    app.live.tell(
      'note',
      misses.length === 1 ? `${first.called} cannot reach it` : `${plural(misses.length, 'head')} cannot reach it`,
      misses
        .map(({ called, deg }) => `${called} misses by ${Math.round(deg * 10) / 10}°`)
        .slice(0, 4)
        .join('; '),
    );
  return true;
}
