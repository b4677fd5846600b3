import { axesOf } from '$core/aim/axes.ts';
import { seenFrom, volumesOf } from '$core/aim/keep-out.ts';
import { leftBy } from '$core/aim/seen.ts';
import type { LitId } from '$core/ids.ts';
import { readAxis } from '$core/patch/readout.ts';
import { ownDirection, USUAL_BEAM_DEG } from '$core/plot/beam.ts';
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
    const at = (axis: 'pan' | 'tilt', range: number): number =>
      range === 0 ? 0 : (readAxis(unit, reader, axis, frames, range) - 0.5) * range;
    const way = ownDirection(
      axes.joint,
      at('pan', axes.panRange?.rangeDeg ?? 0),
      at('tilt', axes.tiltRange?.rangeDeg ?? 0),
    );
    const { beamDeg = USUAL_BEAM_DEG } = app.rig.profile(unit.profileId)?.physical ?? {};
    const by = volumes.filter(
      (volume) => leftBy(seenFrom(volume, axes.standing), way.x, way.y, way.z, (beamDeg * Math.PI) / 360) < 0.99,
    );
    if (by.length === 0) continue;
    held++;
    for (const { name } of by) names.add(name);
  }
  return held === 0 ? '' : `${plural(held, 'head')} held back: never in the eyes on ${[...names].join(', ')}`;
}
