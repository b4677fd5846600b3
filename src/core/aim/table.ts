import type { Document } from '../document/change.ts';
import type { AimRecord, UnitRecord } from '../records/index.ts';
import { axesOf, headsOf, sentFor } from './axes.ts';
import { aimsOf, solutionFor, type Solution } from './solutions.ts';
import { headsIn } from './target.ts';

/** A miss smaller than this is none that anybody sees, degrees. */
export const MISSED_DEG = 0.1;

/** What one head does for one aim. */
export interface AimLine {
  readonly unit: UnitRecord;
  readonly aim: AimRecord;
  readonly solution: Solution;
  readonly panDmx: number | null;
  readonly tiltDmx: number | null;
  /** It takes part in the aim; others could be sent there. */
  readonly takesPart: boolean;
}

/** All heads and all aims, heads by number and aims in their order. */
export function aimTable(document: Document): AimLine[] {
  const heads = [...headsOf(document)].sort((a, b) => a.number - b.number);
  const aims = [...aimsOf(document)].sort((a, b) => a.number - b.number);
  return aims.flatMap((aim) => {
    const taking = new Set(headsIn(document, aim).map(({ id }) => id));
    return heads.flatMap((unit) => {
      const solution = solutionFor(document, unit.id, aim.id);
      const axes = axesOf(document, unit);
      if (!solution || !axes) return [];
      return [{ unit, aim, solution, ...sentFor(axes, unit, solution), takesPart: taking.has(unit.id) }];
    });
  });
}

/** Of those that take part, the ones that miss; the worst first. */
export const outOfReach = (document: Document): AimLine[] =>
  aimTable(document)
    .filter(({ takesPart, solution }) => takesPart && solution.missDeg > MISSED_DEG)
    .sort((a, b) => b.solution.missDeg - a.solution.missDeg);
