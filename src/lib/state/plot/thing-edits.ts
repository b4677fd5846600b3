import type { ThingId } from '$core/ids.ts';
import { nextNumber } from '$core/naming.ts';
import { tidyPlace, type Place3, type Point } from '$core/plot/paper.ts';
import { make, type ThingRecord, type UnitRecord } from '$core/records/index.ts';
import type { ThingModel, ThingShape } from '$core/records/thing.ts';
import { isSame } from '$core/plot/vector.ts';
import { POINTED } from '$core/room/focus.ts';
import { lookingAt } from '$core/room/moving.ts';
import { storedThings } from '$core/room/hang.ts';
import { USUAL_HEIGHT_M, USUAL_SIZE } from '$core/room/thing-parts.ts';
import { removalOf } from '$core/rules/removal.ts';
import type { App } from '../app.svelte.ts';
import { plural } from '../words.ts';
import type { PlotDesk } from './plot-desk.svelte.ts';

/** What a thing is called, for lists and names. */
export const THING_WORDS: Readonly<Record<ThingShape, string>> = {
  box: 'Box',
  cylinder: 'Cylinder',
  platform: 'Platform',
  truss: 'Truss',
  stand: 'Stand',
  booth: 'Booth',
  loudspeaker: 'Loudspeaker',
  screen: 'Screen',
  wall: 'Wall',
  marker: 'Floor marker',
  person: 'Person',
  model: 'Model',
};

/** Edits of things; each is one edit and one undo, and what hangs on them goes along. */
export function storeThings(app: App, does: string, things: readonly ThingRecord[]): boolean {
  const change = storedThings(app.live.document, things);
  if (change.put.length === 0) return false;
  const what = things.length === 1 ? things[0]!.name : plural(things.length, 'thing');
  return app.live.edit(`${does} ${what}`, change);
}

/** Puts a new thing into the middle of the room, or where one looks on the plan. */
export function addThing(app: App, desk: PlotDesk, shape: ThingShape, at: Point = { x: 0, y: 0 }): void {
  putIn(app, desk, shape, { size: USUAL_SIZE[shape], position: tidyPlace({ ...at, z: USUAL_HEIGHT_M[shape] ?? 0 }) });
}

/** Puts a model into the middle of the room, as large as its file says: across, deep and high, metres. */
export function addModel(app: App, desk: PlotDesk, model: ThingModel, size: readonly [number, number, number]): void {
  const [widthM, depthM, heightM] = size.map((m) => Math.min(1000, Math.max(0.01, Math.round(m * 1000) / 1000)));
  const name = model.file
    .replace(/\.[^.]*$/, '')
    .trim()
    .slice(0, 100);
  putIn(app, desk, 'model', {
    model,
    size: { widthM: widthM!, depthM: depthM!, heightM: heightM! },
    colour: '#ffffff',
    ...(name ? { name } : {}),
  });
}

function putIn(
  app: App,
  desk: PlotDesk,
  shape: ThingShape,
  fields: Pick<ThingRecord, 'size'> & Partial<ThingRecord>,
): void {
  const number = nextNumber(app.rig.things);
  const same = app.rig.things.filter((t) => t.shape === shape).length;
  const thing = make('thing', {
    id: app.newId('thing'),
    number,
    name: `${THING_WORDS[shape]} ${same + 1}`,
    shape,
    ...fields,
  });
  if (!app.live.edit(`Put in ${thing.name}`, { put: [thing], remove: [] })) return;
  desk.thing = thing.id;
  desk.tab = 'things';
}

export function removeThing(app: App, id: ThingId): void {
  const thing = app.rig.things.find((t) => t.id === id);
  if (thing) app.live.edit(`Take ${thing.name} away`, removalOf(app.live.document, [id]));
}

/** Hangs the selected units on a thing, or takes them off; they stay where they are. */
export function hangSelection(app: App, thing: ThingRecord | null): void {
  const put = app.acting.flatMap((id) => {
    const unit = app.rig.unit(id);
    return unit && unit.hungOn !== (thing?.id ?? null) ? [{ ...unit, hungOn: thing?.id ?? null }] : [];
  });
  if (put.length === 0) return;
  const what = put.length === 1 ? put[0]!.name : plural(put.length, 'unit');
  app.live.edit(thing ? `Hang ${what} on ${thing.name}` : `Take ${what} down`, { put, remove: [] });
}

/** The selected units turned to a place: lamps lean to it, others (unless `lamps` alone) turn their front to it. */
function turnedTo(app: App, target: Place3, lamps: boolean): UnitRecord[] {
  return app.acting.flatMap((id) => {
    const unit = app.rig.unit(id);
    if (!unit) return [];
    const pointed = POINTED.has(app.rig.profile(unit.profileId)?.fixtureKind ?? 'other');
    if (lamps && !pointed) return [];
    const turned = lookingAt(unit, target, pointed);
    return isSame(turned.rotation, unit.rotation) ? [] : [turned];
  });
}

/** The selected fixed lamps, turned so that their light meets a place; those that meet it already stay out. */
export const pointedUnits = (app: App, target: Place3): UnitRecord[] => turnedTo(app, target, true);

/** The selected units turned to a place as one edit; locked ones stay. False where nothing was to do. */
export function lookAtSelection(app: App, target: Place3): boolean {
  const put = turnedTo(app, target, false).filter((unit) => !unit.locked);
  if (put.length === 0) return false;
  const what = put.length === 1 ? put[0]!.name : plural(put.length, 'unit');
  return app.live.edit(`Point ${what}`, { put, remove: [] });
}
