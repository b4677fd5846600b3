import { aimHandles, aimLine, type AimHandle } from '$core/aim/handles.ts';
import { solutionFor } from '$core/aim/solutions.ts';
import { MISSED_DEG } from '$core/aim/table.ts';
import { headsIn } from '$core/aim/target.ts';
import type { Document } from '$core/document/change.ts';
import type { AimId } from '$core/ids.ts';
import type { Place3 } from '$core/plot/paper.ts';
import { plus, times } from '$core/plot/vector.ts';
import type { AimRecord } from '$core/records/index.ts';

/** An aim as it is drawn: its handles and line, and from which heads to where it is shown how they look. */
export interface DrawnAim {
  readonly aim: AimRecord;
  readonly chosen: boolean;
  readonly handles: readonly AimHandle[];
  readonly line: readonly Place3[];
  readonly rays: readonly { readonly from: Place3; readonly to: Place3; readonly misses: boolean }[];
}

/** A direction is drawn so far from its head, metres. */
const WAY_M = 2;

/** Aims as they are drawn; of the chosen one also how its heads look at it. */
export const drawnAims = (document: Document, aims: readonly AimRecord[], chosenId: AimId | null): DrawnAim[] =>
  aims.map((aim) => {
    const chosen = aim.id === chosenId;
    return {
      aim,
      chosen,
      handles: aimHandles(document, aim),
      line: aimLine(document, aim),
      rays: chosen ? raysOf(document, aim) : [],
    };
  });

const raysOf = (document: Document, aim: AimRecord): DrawnAim['rays'] =>
  headsIn(document, aim).flatMap((unit) => {
    const found = solutionFor(document, unit.id, aim.id);
    if (!found || found.target.is === 'home') return [];
    const { target, missDeg } = found;
    const to = target.is === 'place' ? target.place : plus(unit.position, times(target.way, WAY_M));
    return [{ from: unit.position, to, misses: missDeg > MISSED_DEG }];
  });
