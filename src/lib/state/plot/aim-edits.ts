import { MISSED_DEG } from '$core/aim/table.ts';
import { areHeads, axesOf } from '$core/aim/axes.ts';
import { solutionFor } from '$core/aim/solutions.ts';
import { headsIn } from '$core/aim/target.ts';
import { usualAims, USUAL_FOLDER, type UsualFrom } from '$core/aim/usual.ts';
import type { AimId, LitId } from '$core/ids.ts';
import { namesCountedOn, nextNumber } from '$core/naming.ts';
import { make, type AimRecord, type UnitRecord } from '$core/records/index.ts';
import type { Correction, Where } from '$core/records/aim.ts';
import type { UnitValues } from '$core/records/scene.ts';
import { removalOf } from '$core/rules/removal.ts';
import { clamp } from '$core/units.ts';
import type { App } from '../app.svelte.ts';
import { plural } from '../words.ts';
import type { PlotDesk } from './plot-desk.svelte.ts';

/** Kinds of aims, as they are called. */
export const AIM_WORDS: Readonly<Record<Where['is'], string>> = {
  point: 'Point',
  pair: 'Mirrored pair',
  spread: 'Line or arc',
  ring: 'Ring',
  direction: 'Direction',
  home: 'Home',
};

/** An aim of a kind, in the middle of what it stands on, as a person makes a new one. */
export function freshWhere(is: Where['is']): Where {
  const at = { x: 0, y: 0, z: 0 };
  switch (is) {
    case 'point':
      return { is, at };
    case 'pair':
      return { is, at: { x: 2, y: 0, z: 0 }, middleX: 0, crossing: false };
    case 'spread':
      return { is, from: { x: -2, y: 0, z: 0 }, to: { x: 2, y: 0, z: 0 }, bowM: 0 };
    case 'ring':
      return { is, at, radiusM: 2, fromDeg: 0 };
    case 'direction':
      return { is, turnDeg: 0, riseDeg: 20, fanDeg: 0 };
    case 'home':
      return { is };
  }
}

export function addAim(app: App, desk: PlotDesk, is: Where['is']): void {
  const { aims } = app.rig;
  const [name] = namesCountedOn(
    `${AIM_WORDS[is]} #`,
    1,
    aims.map((a) => a.name),
  );
  const aim = make('aim', { id: app.newId('aim'), number: nextNumber(aims), name: name!, where: freshWhere(is) });
  if (!app.live.edit(`Put in ${aim.name}`, { put: [aim], remove: [] })) return;
  desk.aim = aim.id;
  desk.editingAim = true;
  desk.tab = 'aims';
}

export const putAim = (app: App, does: string, aim: AimRecord): boolean =>
  app.live.edit(`${does} ${aim.name}`, { put: [aim], remove: [] });

export const removeAim = (app: App, aim: AimRecord): boolean =>
  app.live.edit(`Take ${aim.name} away`, removalOf(app.live.document, [aim.id]));

/** Makes the usual aims, or sets them anew. */
export function makeUsual(app: App, from: UsualFrom): boolean {
  const put = usualAims(app.live.document, from, () => app.newId('aim'));
  return app.live.edit('Make the usual aims', { put, remove: [] });
}

/** The heads that go to an aim when its tile is pressed: those that are selected, else those that take part. */
function headsFor(app: App, aim: AimRecord): readonly UnitRecord[] {
  const chosen = areHeads(app.live.document, app.acting);
  return chosen.length > 0 ? chosen : headsIn(app.live.document, aim);
}

/** Heads that cannot reach an aim, the worst first, with how far they miss. */
export function missesOf(app: App, aim: AimRecord, heads: readonly UnitRecord[]): { unit: UnitRecord; deg: number }[] {
  return heads
    .flatMap((unit) => {
      const deg = solutionFor(app.live.document, unit.id, aim.id)?.missDeg ?? 0;
      return deg > MISSED_DEG ? [{ unit, deg }] : [];
    })
    .sort((a, b) => b.deg - a.deg);
}

/** What brings each of these heads to an aim: of the axes that it has. */
export function valuesTo(app: App, aimId: AimId, heads: readonly UnitRecord[]): Record<LitId, UnitValues> {
  return Object.fromEntries(
    heads.map((unit) => {
      const axes = axesOf(app.live.document, unit);
      const to = { aim: aimId };
      return [unit.id, { ...(axes?.panRange ? { Pan: to } : {}), ...(axes?.tiltRange ? { Tilt: to } : {}) }];
    }),
  );
}

/** Sends heads to an aim by hand; they light up where they are dark. False where there is nobody to send. */
export function sendTo(app: App, aim: AimRecord): boolean {
  const heads = headsFor(app, aim);
  if (heads.length === 0) {
    app.live.tell('note', 'No head takes part in it', 'Choose heads, or say under Takes part who does.');
    return false;
  }
  app.hand.setAll(valuesTo(app, aim.id, heads));
  const misses = missesOf(app, aim, heads);
  const [first] = misses;
  if (first)
    app.live.tell(
      'note',
      misses.length === 1
        ? `${first.unit.number} ${first.unit.name} cannot reach ${aim.name}`
        : `${plural(misses.length, 'head')} cannot reach ${aim.name}`,
      misses
        .slice(0, 4)
        .map(({ unit, deg }) => `${unit.number} ${unit.name} misses by ${Math.round(deg * 10) / 10}°`)
        .join('; '),
    );
  return true;
}

/** A chase from aim to aim, in their order. */
export function chaseOf(app: App, name: string, aims: readonly AimRecord[]): void {
  const steps = aims.flatMap((aim) => {
    const heads = headsFor(app, aim);
    return heads.length > 0 ? [{ name: aim.name, values: valuesTo(app, aim.id, heads) }] : [];
  });
  if (steps.length === 0) return void app.live.tell('note', 'No head takes part in these aims', 'Choose heads first.');
  const chase = make('chase', {
    id: app.newId('chase'),
    number: nextNumber(app.rig.chases),
    name: `From aim to aim: ${name}`.slice(0, 100),
    timeUnit: 'beats',
    fade: 4,
    hold: 4,
    steps,
  });
  if (app.live.edit(`Make ${chase.name}`, { put: [chase], remove: [] }))
    app.live.tell('note', `${chase.name} is in the scenes`, `${plural(steps.length, 'step')} of 8 beats.`);
}

/** An aim with another correction of some heads; one of nothing is let go. */
export function corrected(aim: AimRecord, by: ReadonlyMap<`unit:${string}`, Correction>): AimRecord {
  const corrections = { ...aim.corrections };
  const within = (deg: number): number => clamp(Math.round(deg * 1000) / 1000, -180, 180);
  for (const [id, { pan, tilt }] of by) {
    if (pan === 0 && tilt === 0) delete corrections[id];
    else corrections[id] = { pan: within(pan), tilt: within(tilt) };
  }
  return { ...aim, corrections };
}

/** Aims (in their order) by folder; the top first. */
export function byFolder(aims: readonly AimRecord[]): [folder: string, aims: AimRecord[]][] {
  const folders = new Map<string, AimRecord[]>();
  for (const aim of aims) {
    const list = folders.get(aim.folder);
    if (list) list.push(aim);
    else folders.set(aim.folder, [aim]);
  }
  const rank = (folder: string): string => (folder === '' ? '' : folder === USUAL_FOLDER ? '\u0001' : folder);
  return [...folders].sort(([a], [b]) => (rank(a) < rank(b) ? -1 : 1));
}

/** Changes places with the one before or after it in its folder. */
export function moveInOrder(app: App, aim: AimRecord, by: -1 | 1): void {
  const list = app.rig.aims.filter((a) => a.folder === aim.folder);
  const other = list[list.findIndex((a) => a.id === aim.id) + by];
  if (!other) return;
  const put = [
    { ...aim, number: other.number },
    { ...other, number: aim.number },
  ];
  app.live.edit(`Move ${aim.name} in the order`, { put, remove: [] });
}
