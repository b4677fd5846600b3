import { axesOf, steeringOf } from '../../aim/axes.ts';
import { solutionFor } from '../../aim/solutions.ts';
import { ownWay, type Steering } from '../../aim/steer.ts';
import { getRecord, type Document } from '../../document/change.ts';
import type { UnitId } from '../../ids.ts';
import { lengthOf, minus } from '../../plot/vector.ts';
import type { ChaseStep } from '../../records/chase.ts';
import { aimIn, type UnitValues } from '../../records/scene.ts';
import type { CompiledRig } from '../rig/rig.ts';

/** A step that points somewhere without a place there points so far, metres. */
const USUAL_M = 6;

/** A head on its way from step to step along straight lines in the room. */
export interface Traveller {
  readonly steering: Steering;
  /** Columns of its pan and tilt in the chase's table. */
  readonly pan: number;
  readonly tilt: number;
  /** Where each step points, in its own frame: three numbers a step, NaN where the step does not say both axes. */
  readonly places: Float64Array;
}

/** Own values of what a step shows; null for what moves by itself. */
function valuesOf(document: Document, step: ChaseStep): Readonly<Record<string, UnitValues>> | null {
  if (step.values) return step.values;
  return (step.sceneId && getRecord(document, 'scene', step.sceneId)?.values) ?? null;
}

/** How far away a step points with a head, metres. */
function distanceOf(document: Document, unitId: UnitId, steering: Steering, values: UnitValues | undefined): number {
  const aim = aimIn(values);
  const target = aim && solutionFor(document, unitId, aim)?.target;
  return target?.is === 'place' ? Math.max(0.1, lengthOf(minus(target.place, steering))) : USUAL_M;
}

/** The heads of a chase that can go straight. `table` and `slots` are those of its program. */
export function travellersOf(
  rig: CompiledRig,
  document: Document,
  steps: readonly ChaseStep[],
  { slots, table }: { readonly slots: Uint32Array; readonly table: Float32Array },
): Traveller[] {
  const columns = new Map(Array.from(slots, (slot, i) => [slot, i]));
  const values = steps.map((step) => valuesOf(document, step));
  const way = new Float64Array(3);
  const found: Traveller[] = [];
  for (const unit of rig.units.values()) {
    const [panSlot, tiltSlot] = [unit.slots.get('Pan'), unit.slots.get('Tilt')];
    if (!panSlot || !tiltSlot || unit.id !== unit.unitId) continue;
    const [pan, tilt] = [columns.get(unit.base + panSlot.slot), columns.get(unit.base + tiltSlot.slot)];
    const record = getRecord(document, 'unit', unit.unitId);
    const axes = record && axesOf(document, record);
    if (pan === undefined || tilt === undefined || !axes) continue;
    const steering = steeringOf(axes);
    const places = new Float64Array(steps.length * 3).fill(NaN);
    for (let s = 0; s < steps.length; s++) {
      const [p, t] = [table[s * slots.length + pan]!, table[s * slots.length + tilt]!];
      if (p !== p || t !== t) continue;
      const far = distanceOf(document, unit.unitId, steering, values[s]?.[unit.id]);
      ownWay(axes.joint, p * steering.panRange + steering.panZero, t * steering.tiltRange + steering.tiltZero, way);
      for (let k = 0; k < 3; k++) places[s * 3 + k] = way[k]! * far;
    }
    found.push({ steering, pan, tilt, places });
  }
  return found;
}
