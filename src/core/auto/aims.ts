import { axesOf } from '../aim/axes.ts';
import { leftOf, volumesOf } from '../aim/keep-out.ts';
import { aimsOf, solutionFor } from '../aim/solutions.ts';
import { MISSED_DEG } from '../aim/table.ts';
import { getRecord, type Document } from '../document/change.ts';
import { remembered } from '../document/remembered.ts';
import type { AimId, UnitId } from '../ids.ts';
import { guessRoles } from './roles.ts';

/** Heads move so far to both sides of an aim, degrees of pan and tilt: that is looked at too. */
const AROUND = [
  [0, 0],
  [-20, 0],
  [20, 0],
  [0, -10],
  [0, 10],
] as const;
/** An aim is good where this much of the light of the heads is left, 0-1. */
const LEAST = 0.6;
/** Of very many heads so many are looked at. */
const HEADS = 24;

/** How much light is left of a head at an aim and around it, 0-1: keep-outs take it, and what is out of reach counts nothing. */
function leftAt(document: Document, id: UnitId, aimId: AimId, volumes: ReturnType<typeof volumesOf>): number | null {
  const unit = getRecord(document, 'unit', id);
  const axes = unit && axesOf(document, unit);
  const found = unit && solutionFor(document, id, aimId);
  if (!axes || !found) return null;
  if (found.missDeg > MISSED_DEG || found.atHead) return 0;
  const lefts = AROUND.map(([pan, tilt]) => {
    const at = { pan: found.pan + pan, tilt: found.tilt + tilt };
    return leftOf(document, unit, axes, volumes, at).reduce((least, { left }) => Math.min(least, left), 1);
  });
  return lefts.reduce((a, b) => a + b, 0) / lefts.length;
}

/** Aims of a show that heads may move round by themselves, by number: in reach, and most of their light stays. */
export const goodAims = remembered(
  ['unit', 'profile', 'group', 'area', 'thing', 'aim', 'part', 'show'],
  (document): readonly AimId[] => {
    const heads = guessRoles(document)
      .filter(({ role }) => role === 'beams')
      .slice(0, HEADS)
      .map(({ id }) => id as UnitId);
    const volumes = volumesOf(document);
    return [...aimsOf(document)]
      .sort((a, b) => a.number - b.number)
      .filter(({ id, where, heads: own }) => {
        if (where.is === 'home' || own !== null) return false;
        const lefts = heads.map((head) => leftAt(document, head, id, volumes)).filter((left) => left !== null);
        return lefts.length > 0 && lefts.reduce((a, b) => a + b, 0) / lefts.length >= LEAST;
      })
      .map(({ id }) => id);
  },
);
