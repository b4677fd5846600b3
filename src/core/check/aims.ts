import { axesOf } from '../aim/axes.ts';
import { leftOf, volumesOf } from '../aim/keep-out.ts';
import { solutionFor } from '../aim/solutions.ts';
import { MISSED_DEG } from '../aim/table.ts';
import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { AimId, Id, UnitId } from '../ids.ts';
import { USUAL_PAN_DEG, USUAL_TILT_DEG } from '../plot/beam.ts';
import type { ChaseRecord, SceneRecord, UnitRecord } from '../records/index.ts';
import { aimIn, type UnitValues } from '../records/scene.ts';

/** Something of aims that will not be as it was meant. */
export interface AimFault {
  readonly code: 'AIM_OUT_OF_REACH' | 'AIM_AT_HEAD' | 'BEAMS_KEPT_OUT' | 'KEEP_OUT_OFF' | 'NO_RANGES';
  readonly title: string;
  readonly message: string;
  readonly unitIds: readonly UnitId[];
  readonly playableId?: Id;
}

/** Which heads something programmed sends to which aims. */
interface Use {
  readonly record: SceneRecord | ChaseRecord;
  readonly unitId: UnitId;
  readonly aimId: AimId;
}

function* usesOf(document: Document): Iterable<Use> {
  const values = function* (record: Use['record'], list: Readonly<Record<string, UnitValues>>): Iterable<Use> {
    for (const [id, own] of Object.entries(list)) {
      const aimId = aimIn(own);
      if (aimId) yield { record, unitId: id as UnitId, aimId };
    }
  };
  for (const scene of recordsOf(document, 'scene')) yield* values(scene, scene.values);
  for (const chase of recordsOf(document, 'chase'))
    for (const step of chase.steps) if (step.values) yield* values(chase, step.values);
}

/** A keep-out that leaves less than this of a level is told. */
const MOSTLY_DARK = 0.5;

const called = (unit: UnitRecord): string => `${unit.number} ${unit.name}`;
const few = (list: readonly string[]): string =>
  list.slice(0, 4).join(', ') + (list.length > 4 ? ` and ${list.length - 4} more` : '');

/** What is worth telling of aims that are used, and of what beams keep out of. */
export function aimFaults(document: Document): AimFault[] {
  const missing = new Map<AimId, Map<UnitId, number>>();
  const atHead = new Map<AimId, Set<UnitId>>();
  const held = new Map<Id, { record: Use['record']; units: Set<UnitId>; volumes: Set<string> }>();
  const used = new Set<UnitId>();
  const volumes = volumesOf(document);
  for (const { record, unitId, aimId } of usesOf(document)) {
    const found = solutionFor(document, unitId, aimId);
    const unit = getRecord(document, 'unit', unitId);
    const axes = unit && axesOf(document, unit);
    if (!found || !axes) continue;
    used.add(unitId);
    if (found.missDeg > MISSED_DEG) into(missing, aimId).set(unitId, found.missDeg);
    if (found.atHead) atHead.set(aimId, (atHead.get(aimId) ?? new Set()).add(unitId));
    for (const { name, left } of leftOf(document, unit, axes, volumes, found)) {
      if (left >= MOSTLY_DARK) continue;
      const entry = held.get(record.id) ?? { record, units: new Set(), volumes: new Set() };
      entry.units.add(unitId);
      entry.volumes.add(name);
      held.set(record.id, entry);
    }
  }
  return [
    ...[...missing].map(([id, units]): AimFault => {
      const worst = [...units].sort((a, b) => b[1] - a[1]);
      const words = worst.map(
        ([unitId, deg]) => `${called(getRecord(document, 'unit', unitId)!)} by ${Math.round(deg * 10) / 10}°`,
      );
      const title = getRecord(document, 'aim', id)!.name;
      return { code: 'AIM_OUT_OF_REACH', title, message: `is missed by ${few(words)}`, unitIds: [...units.keys()] };
    }),
    ...[...atHead].map(([id, units]): AimFault => ({
      code: 'AIM_AT_HEAD',
      title: getRecord(document, 'aim', id)!.name,
      message: `is at ${few([...units].map((u) => called(getRecord(document, 'unit', u)!)))} itself: no way leads there`,
      unitIds: [...units],
    })),
    ...[...held.values()].map(({ record, units, volumes: names }): AimFault => ({
      code: 'BEAMS_KEPT_OUT',
      title: record.name,
      message: `${units.size} ${units.size === 1 ? 'head stays' : 'heads stay'} dark or dim: ${units.size === 1 ? 'its beam meets' : 'their beams meet'} ${few([...names])}`,
      unitIds: [...units],
      playableId: record.id,
    })),
    ...off(document),
    ...rangeless(document, used),
  ];
}

function into<K, V>(map: Map<K, Map<UnitId, V>>, key: K): Map<UnitId, V> {
  let found = map.get(key);
  if (!found) map.set(key, (found = new Map()));
  return found;
}

const off = (document: Document): AimFault[] =>
  [...recordsOf(document, 'area'), ...recordsOf(document, 'thing')].flatMap(({ keepOut, name }) =>
    keepOut && !keepOut.on
      ? [{ code: 'KEEP_OUT_OFF' as const, title: name, message: 'its keep-out is off on purpose', unitIds: [] }]
      : [],
  );

/** Heads that follow aims by a range that nobody has said: they may point elsewhere. */
function rangeless(document: Document, used: ReadonlySet<UnitId>): AimFault[] {
  const found = new Map<string, { title: string; units: UnitId[] }>();
  for (const id of used) {
    const unit = getRecord(document, 'unit', id)!;
    const profile = getRecord(document, 'profile', unit.profileId);
    const { panDeg, tiltDeg } = profile?.physical ?? {};
    if (!profile || (panDeg !== undefined && tiltDeg !== undefined)) continue;
    const entry = found.get(profile.id) ?? { title: `${profile.maker} ${profile.model}`, units: [] };
    entry.units.push(id);
    found.set(profile.id, entry);
  }
  return [...found.values()].map(({ title, units }) => ({
    code: 'NO_RANGES' as const,
    title,
    message: `its profile does not say how far it pans and tilts: ${USUAL_PAN_DEG}° and ${USUAL_TILT_DEG}° are taken`,
    unitIds: units,
  }));
}
