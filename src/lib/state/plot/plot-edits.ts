import { clamp } from '$core/units.ts';
import type { UnitId } from '$core/ids.ts';
import { nextNumber } from '$core/naming.ts';
import { parentFor } from '$core/patch/areas.ts';
import { newUnits } from '$core/edits/add.ts';
import { numbered, putOn, spotsOf, type Numbering, type Pattern, type Spot } from '$core/plot/arrange.ts';
import type { Point } from '$core/plot/paper.ts';
import type { Corner } from '$core/polygon.ts';
import { make, type ProfileRecord, type ShowRecord, type UnitRecord } from '$core/records/index.ts';
import type { Prop } from '$core/records/prop.ts';
import type { App } from '../app.svelte.ts';
import type { PlotDesk } from './plot-desk.svelte.ts';
import { plural } from '../words.ts';

/** As many as a show takes. */
const MOST_GUIDES = 100;

/** Edits of the plot that more than one gesture or panel makes; each is one edit and one undo. */

/** A new area with this outline; it lies in the smallest area that holds it whole, and takes in those it holds. */
export function drawArea(app: App, desk: PlotDesk, outline: readonly Corner[]): void {
  const number = nextNumber(app.rig.areas);
  const area = make('area', {
    id: app.newId('area'),
    number,
    name: `Area ${number}`,
    outline: [...outline],
    parentId: parentFor(app.live.document, outline),
  });
  if (!app.live.edit(`Draw ${area.name}`, { put: [area], remove: [] })) return;
  desk.area = area.id;
  desk.tab = 'areas';
  desk.use('select');
}

/** A line to snap to; of very many the oldest go. */
export function addPlotGuide(app: App, guide: ShowRecord['guides'][number]): boolean {
  const { show } = app.rig;
  if (!show) return false;
  const guides = [...show.guides, guide].slice(-MOST_GUIDES);
  return app.live.edit('Add a guide', { put: [{ ...show, guides }], remove: [] });
}

/** How a selection is spread over a pattern. */
export interface PatternChoice {
  readonly kind: 'between' | 'line' | 'rectangle' | 'circle';
  readonly columns: number;
  readonly face: boolean;
  readonly sweepDeg: number;
  readonly order: Numbering;
}

/** The pattern between two points of the paper for so many units. */
export function patternFor(choice: PatternChoice, count: number, from: Point, to: Point): Pattern {
  switch (choice.kind) {
    case 'between':
      return { pattern: 'between', from, to, count };
    case 'line': {
      // The second point is where the second unit goes: the rest follow at the same distance.
      return { pattern: 'line', from, step: { x: to.x - from.x, y: to.y - from.y }, count };
    }
    case 'rectangle': {
      const columns = Math.max(1, Math.min(choice.columns, count));
      const rows = Math.ceil(count / columns);
      const dx = columns > 1 ? (to.x - from.x) / (columns - 1) : 0;
      const dy = rows > 1 ? (from.y - to.y) / (rows - 1) : 0;
      return { pattern: 'rectangle', from, columns, rows, dx, dy };
    }
    case 'circle': {
      const radius = Math.hypot(to.x - from.x, to.y - from.y);
      const startDeg = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
      return { pattern: 'circle', centre: from, radius, count, startDeg, sweepDeg: choice.sweepDeg, face: choice.face };
    }
  }
}

/** The unlocked part of the selection on the pattern that is chosen, from one point to another. */
export function patternSpots(desk: PlotDesk, from: Point, to: Point): UnitRecord[] {
  const units = desk.chosenUnits.filter((u) => !desk.isLocked(u));
  const choice = desk.pattern;
  const spots = spotsOf(patternFor(choice, units.length, from, to)).slice(0, units.length);
  return putOn(desk.side, units, numbered(spots, choice.order, choice.columns));
}

/** What a click on the paper adds. */
export interface Placing {
  /** The profile or the kind of prop that was chosen, and what it is called. */
  readonly id: string;
  readonly called: string;
  readonly profile: ProfileRecord;
  readonly mode: string;
  readonly prop: Prop | null;
  readonly names: string;
  readonly count: number;
}

/**
 * Where new units would go: in the pattern chosen from one point to another; without a second one in a row about the
 * point, moved into the room where it would stick out of it.
 */
export function placeSpots(desk: PlotDesk, from: Point, to: Point | null): Spot[] {
  const count = desk.placing?.count ?? 0;
  const choice = desk.pattern;
  const long = (count - 1) * desk.placingStepM;
  const [left, right] = desk.acrossRoom;
  const x = clamp(from.x - long / 2, left, Math.max(left, right - long));
  const row: Pattern = { pattern: 'line', from: { x, y: from.y }, step: { x: desk.placingStepM, y: 0 }, count };
  const spots = spotsOf(to ? patternFor(choice, count, from, to) : row).slice(0, count);
  return numbered(spots, choice.order, choice.columns);
}

/** Adds units of the kind that is being placed, addressed after the last and numbered on; they become the selection. */
export function placeUnits(app: App, desk: PlotDesk, from: Point, to: Point | null): void {
  const { placing } = desk;
  if (!placing) return;
  const { profile, mode, prop, names, count } = placing;
  const fresh = newUnits(
    app.live.document,
    { profile, mode, prop, names, count, firstNumber: nextNumber(app.rig.units) },
    () => app.newId('unit'),
  );
  const units = putOn(desk.side, fresh, placeSpots(desk, from, to));
  const put = [...desk.kit.recordsFor(profile), ...units];
  const what = units.length === 1 ? units[0]!.name : plural(units.length, 'unit');
  if (!app.live.edit(`Place ${what}`, { put, remove: [] })) return;
  app.selection.set(units.map((u) => u.id));
  // The next press chooses: nobody wants a second row by touching the first.
  desk.use('select');
}

/** The selection along a drawn path. */
export function alongPath(desk: PlotDesk, points: readonly Point[]): UnitRecord[] {
  const units = desk.chosenUnits.filter((u) => !desk.isLocked(u));
  const spots = spotsOf({ pattern: 'path', points, count: units.length });
  return putOn(desk.side, units, numbered(spots, desk.pattern.order));
}

/** Units put around a point of the paper in a row, half a metre apart or as wide as they are: dropped from a list. */
export function dropUnits(desk: PlotDesk, ids: readonly UnitId[], at: Point, app: App): void {
  const units = ids.flatMap((id) => app.rig.unit(id) ?? []);
  const step = Math.max(0.5, ...units.map((u) => desk.widthOf(u) + 0.1));
  const spots = spotsOf({
    pattern: 'line',
    from: { x: at.x - ((units.length - 1) * step) / 2, y: at.y },
    step: { x: step, y: 0 },
    count: units.length,
  });
  desk.store('Place', putOn(desk.side, units, spots));
}
