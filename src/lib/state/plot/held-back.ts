import { axesOf, type AxisRange } from '$core/aim/axes.ts';
import { leftOf, volumesOf } from '$core/aim/keep-out.ts';
import type { LitId } from '$core/ids.ts';
import { readAxis } from '$core/patch/readout.ts';
import type { App } from '../app.svelte.ts';
import { plural } from '../words.ts';

/** In words which of these heads are held back by what their beams keep out of, by what is sent now; empty for none. */
export function heldBackWords(app: App, ids: readonly LitId[]): string {
  const { document, frames } = app.live;
  const volumes = volumesOf(document);
  if (volumes.length === 0) return '';
  const names = new Set<string>();
  let held = 0;
  for (const id of ids) {
    const unit = app.rig.unit(id);
    const axes = unit && axesOf(document, unit);
    const reader = unit && app.rig.readers.get(unit.id);
    if (!unit || !axes || !reader) continue;
    const at = (axis: 'pan' | 'tilt', range: AxisRange | null): number =>
      range ? (readAxis(unit, reader, axis, frames, range.rangeDeg) - 0.5) * range.rangeDeg : 0;
    const stand = { pan: at('pan', axes.panRange), tilt: at('tilt', axes.tiltRange) };
    const by = leftOf(document, unit, axes, volumes, stand).filter(({ left }) => left < 0.99);
    if (by.length === 0) continue;
    held++;
    for (const { name } of by) names.add(name);
  }
  return held === 0 ? '' : `${plural(held, 'head')} held back: never in the eyes on ${[...names].join(', ')}`;
}
