import { getRecord, type Document } from '../document/change.ts';
import { layoutOfUnit } from '../patch/of-document.ts';
import { jointOf, USUAL_PAN_DEG, USUAL_TILT_DEG } from '../plot/beam.ts';
import type { UnitRecord } from '../records/index.ts';
import { clamp } from '../units.ts';
import type { Axes, Solved, Travel } from './solve.ts';

/** The largest value of an axis as 16 bit. */
export const FULL_16 = 65_535;

/** What the axes of a unit can do, by its profile; null for what has neither pan nor tilt in its mode. */
export function axesOf(document: Document, unit: UnitRecord): Axes | null {
  const profile = getRecord(document, 'profile', unit.profileId);
  const attributes = new Set(layoutOfUnit(document, unit).channels.map(({ channel }) => channel.attribute));
  const [pans, tilts] = [attributes.has('Pan'), attributes.has('Tilt')];
  if (!pans && !tilts) return null;
  const { panDeg = USUAL_PAN_DEG, tiltDeg = USUAL_TILT_DEG } = profile?.physical ?? {};
  return {
    joint: jointOf(profile),
    pan: pans ? [-panDeg / 2, panDeg / 2] : [0, 0],
    tilt: tilts ? [-tiltDeg / 2, tiltDeg / 2] : [0, 0],
  };
}

const fractionOf = (deg: number, [from, to]: Travel): number => clamp((deg - from) / (to - from), 0, 1);

/** What is programmed for it: pan and tilt 0-1 of their ranges, of the axes that it has. */
export function aimValues({ pan, tilt }: Axes, solved: Pick<Solved, 'pan' | 'tilt'>): Record<string, number> {
  const at = (deg: number, travel: Travel): number => Math.round(fractionOf(deg, travel) * 1e6) / 1e6;
  return {
    ...(pan[1] > pan[0] ? { Pan: at(solved.pan, pan) } : {}),
    ...(tilt[1] > tilt[0] ? { Tilt: at(solved.tilt, tilt) } : {}),
  };
}

/** What is sent for it on each axis, 16 bit (0-65535); null for an axis that it has not. */
export function sentFor(
  { pan, tilt }: Axes,
  { invertPan, invertTilt }: Pick<UnitRecord, 'invertPan' | 'invertTilt'>,
  solved: Pick<Solved, 'pan' | 'tilt'>,
): { readonly panDmx: number | null; readonly tiltDmx: number | null } {
  const sent = (deg: number, travel: Travel, inverted: boolean): number | null => {
    if (travel[1] <= travel[0]) return null;
    const fraction = fractionOf(deg, travel);
    return Math.round((inverted ? 1 - fraction : fraction) * FULL_16);
  };
  return { panDmx: sent(solved.pan, pan, invertPan), tiltDmx: sent(solved.tilt, tilt, invertTilt) };
}
