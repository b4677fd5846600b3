import { axesOf, steeringOf } from '../../aim/axes.ts';
import { solutionFor } from '../../aim/solutions.ts';
import type { Steering } from '../../aim/steer.ts';
import { getRecord, type Document } from '../../document/change.ts';
import type { LitId, UnitId } from '../../ids.ts';
import type { AimPart } from '../../records/effect.ts';

/** A head that moves round a place: how it is steered, and the aim it moves round (null: wherever it points). */
export interface Walker {
  readonly steering: Steering;
  readonly round: {
    readonly pan: number;
    readonly tilt: number;
    /** The place it points at, or null for a direction. */
    readonly place: Float64Array | null;
  } | null;
}

/** Whether a part needs to know where heads are. */
export const walks = (part: AimPart): boolean => part.in === 'metres' || part.round !== null;

/** How each of these is steered; null for what cannot move. */
export function walkersOf(document: Document, part: AimPart, ids: readonly (LitId | null)[]): (Walker | null)[] {
  return ids.map((id) => {
    const unit = id && getRecord(document, 'unit', id);
    const axes = unit ? axesOf(document, unit) : null;
    if (!axes) return null;
    const found = part.round && solutionFor(document, id as UnitId, part.round);
    const place = found?.target.is === 'place' ? found.target.place : null;
    return {
      steering: steeringOf(axes),
      round: found
        ? { pan: found.pan, tilt: found.tilt, place: place && Float64Array.of(place.x, place.y, place.z) }
        : null,
    };
  });
}
