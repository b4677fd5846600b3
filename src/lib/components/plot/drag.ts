import type { UnitId } from '$core/ids.ts';
import { hits, type Body } from '$core/plot/body.ts';
import { inBox, inLoop } from '$core/plot/choose.ts';
import { PAPER_AXES, tidy, type Place3, type Point } from '$core/plot/paper.ts';
import { applied, inRoom, rotationOf, transposed } from '$core/plot/rotation.ts';
import { snap } from '$core/plot/snap.ts';
import { pulled, shapeHandles } from '$core/prop/handles.ts';
import type { BackdropRecord, UnitRecord } from '$core/records/index.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import { addPlotGuide, patternSpots, placeSpots, placeUnits } from '$lib/state/plot/plot-edits.ts';
import { aimAt, aimMove } from './drag-aims.ts';
import { areaBox, areaCorner, areaMove, smallestAt } from './drag-areas.ts';
import { thingAt, thingMove } from './drag-things.ts';
import { RULER_PX } from './paint-paper.ts';
import { turnHandle } from './paint-units.ts';
import { toPlan, toScreen, type Canvas, type View } from './view.ts';

/** The paper a gesture is made on. */
export interface Ground {
  readonly app: App;
  readonly desk: PlotDesk;
  readonly view: View;
  readonly size: Canvas;
  /** Draws the loop or box of a choice, screen points; null ends it. */
  mark(points: readonly Point[] | null): void;
  look(view: View): void;
}

/** A gesture from press to release. Nothing is stored before `end`; `cancel` leaves all as it was. */
export interface Drag {
  move(at: Point, event: PointerEvent): void;
  end(event: PointerEvent): void;
  cancel(): void;
}

export const MOVED_PX = 4;
const NEAR_PX = 9;
const adds = (event: PointerEvent): boolean => event.shiftKey || event.ctrlKey || event.metaKey;
const close = (a: Point, b: Point): boolean => Math.hypot(a.x - b.x, a.y - b.y) <= NEAR_PX;

/** The topmost unit under a screen point. */
export function unitAt({ desk, view, size }: Ground, p: Point): Body | null {
  const at = toPlan(view, size, p);
  const margin = 7 / view.scale;
  for (let i = desk.bodies.length - 1; i >= 0; i--)
    if (hits(desk.side, desk.bodies[i]!, at, margin)) return desk.bodies[i]!;
  return null;
}

/** The gesture that begins at a screen point with the tool in use; null where a press does nothing. */
export function beginDrag(ground: Ground, at: Point, event: PointerEvent): Drag | null {
  const { desk } = ground;
  switch (desk.tool) {
    case 'select':
      return (
        onRuler(ground, at) ?? onHandle(ground, at) ?? onThing(ground, at, event) ?? choosing(ground, at, event, 'box')
      );
    case 'lasso':
      return choosing(ground, at, event, 'loop');
    case 'area':
      return areaBox(ground, at);
    case 'pattern':
      return pattern(ground, at);
    case 'outline':
    case 'path':
    case 'scale':
      return corner(ground, at);
    case 'place':
      return placing(ground, at);
  }
}

/** A new guide, drawn out of a ruler. */
function onRuler({ app, desk, view, size }: Ground, at: Point): Drag | null {
  const level = at.y < RULER_PX;
  if (!desk.set.rulers || (!level && at.x >= RULER_PX) || (level && at.x < RULER_PX)) return null;
  const axis = PAPER_AXES[desk.side][level ? 1 : 0];
  let where: number | null = null;
  return {
    move(p) {
      const place = toPlan(view, size, p);
      where = tidy(Math.round((level ? place.y : place.x) * 20) / 20);
      desk.caught = level ? { x: null, y: where } : { x: where, y: null };
    },
    end() {
      desk.caught = { x: null, y: null };
      if (where === null) return;
      addPlotGuide(app, { axis, at: where });
    },
    cancel: () => (desk.caught = { x: null, y: null }),
  };
}

function onHandle(ground: Ground, at: Point): Drag | null {
  const { desk, view, size } = ground;
  const turn = turnHandle(view, size, desk.chosen);
  if (turn && close(turn, at)) return turning(ground);
  const one = desk.chosen.length === 1 ? desk.chosen[0]! : null;
  if (one && desk.tab === 'prop' && !desk.isLocked(one.unit))
    for (const { key, at: where } of handlesOf(ground, one)) if (close(where, at)) return pulling(ground, one, key, at);
  const area = desk.tab === 'areas' ? ground.app.rig.areas.find((a) => a.id === desk.area) : undefined;
  if (area?.outline && !area.locked && desk.side === 'plan') {
    const i = area.outline.findIndex((c) => close(toScreen(view, size, c), at));
    if (i >= 0) return areaCorner(ground, area, area.outline, i);
  }
  return null;
}

/** Handles of a prop's shape on the screen. */
export function handlesOf(
  { desk, view, size }: Pick<Ground, 'desk' | 'view' | 'size'>,
  { unit }: Body,
): { key: string; at: Point }[] {
  if (!unit.prop) return [];
  const [across, up] = PAPER_AXES[desk.side];
  return shapeHandles(unit.prop.shape).map(({ key, place: [x, y, z] }) => {
    const room = inRoom(unit, { x, y, z });
    return { key, at: toScreen(view, size, { x: room[across], y: room[up] }) };
  });
}

/** Pulls a prop into form by one of its handles. */
function pulling({ desk, view }: Ground, { unit }: Body, key: string, from: Point): Drag {
  const handle = shapeHandles(unit.prop!.shape).find((h) => h.key === key)!;
  const [across, up] = PAPER_AXES[desk.side];
  // Into the frame of the prop.
  const back = transposed(rotationOf(unit.rotation));
  const trial = (): UnitRecord | undefined => desk.trial.get(unit.id);
  return {
    move(p) {
      const by: Place3 = { x: 0, y: 0, z: 0, [across]: (p.x - from.x) / view.scale, [up]: (from.y - p.y) / view.scale };
      const { x, y, z } = applied(back, by);
      const [hx, hy, hz] = handle.place;
      const shape = pulled(unit.prop!.shape, key, [hx + x, hy + y, hz + z]);
      desk.trial = new Map([[unit.id, { ...unit, prop: { ...unit.prop!, shape } }]]);
    },
    end() {
      const now = trial();
      desk.trial = new Map();
      if (now) desk.store('Shape', [now]);
    },
    cancel: () => (desk.trial = new Map()),
  };
}

function turning({ desk, view, size }: Ground): Drag {
  const about = desk.middle()!;
  const middle = toScreen(view, size, about);
  let deg = 0;
  return {
    move(p, event) {
      const raw = (Math.atan2(p.x - middle.x, middle.y - p.y) * -180) / Math.PI;
      deg = event.altKey ? Math.round(raw * 10) / 10 : Math.round(raw / 5) * 5;
      desk.trial = new Map(desk.rotated(deg, about).map((u) => [u.id, u]));
    },
    end() {
      desk.trial = new Map();
      if (deg !== 0) desk.rotate(deg, about);
    },
    cancel: () => (desk.trial = new Map()),
  };
}

/** A unit, else (while their panels are open) an area, a thing or a picture. */
function onThing(ground: Ground, at: Point, event: PointerEvent): Drag | null {
  const { app, desk, view, size } = ground;
  // Heads hang over what they point at: while aims are looked at, these are taken first.
  const aim = desk.tab === 'aims' ? aimAt(ground, at) : null;
  if (aim) {
    desk.aim = aim.aim.id;
    return aimMove(ground, aim, at);
  }
  const body = unitAt(ground, at);
  if (body) {
    const { id } = body.unit;
    if (adds(event)) app.selection.toggle(id);
    else if (!app.selection.has(id)) app.selection.set([id]);
    return moving(ground, at, id);
  }
  const place = toPlan(view, size, at);
  if (desk.tab === 'areas' && desk.side === 'plan') {
    const area = smallestAt(app.rig.areas, place);
    if (area) {
      desk.area = area.id;
      return area.locked ? null : areaMove(ground, area, at);
    }
  }
  const thing = desk.tab === 'things' ? thingAt(desk, place) : undefined;
  if (thing) {
    desk.thing = thing.id;
    return desk.isFixed(thing) ? null : thingMove(ground, thing, at);
  }
  const backdrop = desk.tab === 'pictures' ? desk.backdrops.findLast((b) => onBackdrop(app, b, place)) : undefined;
  if (!backdrop) return null;
  desk.backdrop = backdrop.id;
  return backdrop.locked ? null : backdropMove(ground, backdrop, at);
}

function onBackdrop(app: App, { x, y, widthM, turnDeg, pictureId, hidden }: BackdropRecord, at: Point): boolean {
  const picture = app.live.document.get(pictureId);
  if (hidden || picture?.kind !== 'picture') return false;
  const a = (-turnDeg * Math.PI) / 180;
  const [dx, dy] = [at.x - x, at.y - y];
  const local = { x: dx * Math.cos(a) - dy * Math.sin(a), y: dx * Math.sin(a) + dy * Math.cos(a) };
  const heightM = (widthM * picture.heightPx) / picture.widthPx;
  return Math.abs(local.x) <= widthM / 2 && Math.abs(local.y) <= heightM / 2;
}

/** Moves the selection; what was pressed decides what catches. */
function moving({ app, desk, view }: Ground, from: Point, pressed: UnitId): Drag {
  let moved = false;
  const ids = new Set(app.acting);
  const anchor = app.rig.unit(pressed)!;
  const [across, up] = PAPER_AXES[desk.side];
  const lines = desk.snapTo(view, ids);
  return {
    move(p, event) {
      if (!moved && Math.hypot(p.x - from.x, p.y - from.y) < MOVED_PX) return;
      moved = true;
      const wanted = {
        x: anchor.position[across] + (p.x - from.x) / view.scale,
        y: anchor.position[up] - (p.y - from.y) / view.scale,
      };
      const to = event.altKey ? { ...wanted, onX: null, onY: null } : snap(wanted, lines);
      const drawn = (on: string | null): boolean => on === 'guide' || on === 'unit';
      desk.caught = { x: drawn(to.onX) ? to.x : null, y: drawn(to.onY) ? to.y : null };
      const by = { x: to.x - anchor.position[across], y: to.y - anchor.position[up] };
      desk.trial = new Map(desk.moved(by).map((u) => [u.id, u]));
    },
    end(event) {
      desk.caught = { x: null, y: null };
      const put = [...desk.trial.values()];
      desk.trial = new Map();
      if (moved) desk.store('Move', put.length > 0 ? put : app.acting.flatMap((id) => app.rig.unit(id) ?? []));
      else if (!adds(event)) app.selection.set([pressed]);
    },
    cancel() {
      desk.caught = { x: null, y: null };
      desk.trial = new Map();
    },
  };
}

function choosing(
  { app, desk, view, size, mark }: Ground,
  from: Point,
  event: PointerEvent,
  how: 'box' | 'loop',
): Drag {
  const add = event.shiftKey;
  let points: Point[] = [from];
  return {
    move(p) {
      points = how === 'loop' ? [...points, p] : [from, { x: p.x, y: from.y }, p, { x: from.x, y: p.y }];
      mark(points);
    },
    end() {
      mark(null);
      const paper = points.map((p) => toPlan(view, size, p));
      const ids = how === 'loop' ? inLoop(desk.spots, paper) : inBox(desk.spots, paper[0]!, paper[2] ?? paper[0]!);
      if (add) app.selection.add(ids);
      else app.selection.set(ids);
    },
    cancel: () => mark(null),
  };
}

/** A point of the paper drawn to what is near; Alt lets it free. */
export const snapped = ({ desk, view }: Ground, p: Point, event: PointerEvent): Point =>
  event.altKey ? p : snap(p, desk.snapTo(view, new Set()));

/** A press that is a corner of something drawn point by point. */
function corner(ground: Ground, at: Point): Drag {
  const { desk, view, size } = ground;
  return {
    move: () => undefined,
    end(event) {
      const p = toPlan(view, size, at);
      const first = desk.corners[0];
      if (desk.tool === 'outline' && first && desk.corners.length > 2 && close(toScreen(view, size, first), at))
        return desk.finish();
      const { x, y } = desk.tool === 'scale' ? p : snapped(ground, p, event);
      desk.corners = [...(desk.tool === 'scale' ? desk.corners.slice(-1) : desk.corners), { x: tidy(x), y: tidy(y) }];
    },
    cancel: () => undefined,
  };
}

/** Spreads the selection over a pattern from the point pressed to the point released. */
function pattern(ground: Ground, at: Point): Drag {
  const { desk, view, size } = ground;
  const from = toPlan(view, size, at);
  return {
    move(p, event) {
      const [a, b] = [from, toPlan(view, size, p)].map((q) => snapped(ground, q, event)) as [Point, Point];
      desk.trial = new Map(patternSpots(desk, a, b).map((u) => [u.id, u]));
    },
    end() {
      const put = [...desk.trial.values()];
      desk.trial = new Map();
      if (put.length > 0 && desk.store('Arrange', put)) desk.use('select');
    },
    cancel: () => (desk.trial = new Map()),
  };
}

/** New units: one by a click, several over the pattern from the point pressed to the point released. */
function placing(ground: Ground, at: Point): Drag {
  const { app, desk, view, size, mark } = ground;
  const from = toPlan(view, size, at);
  let to: Point | null = null;
  return {
    move(p, event) {
      if (!to && Math.hypot(p.x - at.x, p.y - at.y) < MOVED_PX) return;
      to = snapped(ground, toPlan(view, size, p), event);
      mark(placeSpots(desk, snapped(ground, from, event), to).map((s) => toScreen(view, size, s)));
    },
    end(event) {
      mark(null);
      placeUnits(app, desk, snapped(ground, from, event), to);
    },
    cancel: () => mark(null),
  };
}

function backdropMove({ app, desk, view, mark }: Ground, backdrop: BackdropRecord, from: Point): Drag {
  let now: BackdropRecord | null = null;
  return {
    move(p) {
      now = {
        ...backdrop,
        x: tidy(backdrop.x + (p.x - from.x) / view.scale),
        y: tidy(backdrop.y - (p.y - from.y) / view.scale),
      };
      desk.trialBackdrop = now;
    },
    end() {
      desk.trialBackdrop = null;
      mark(null);
      if (now) app.live.edit(`Move ${backdrop.name}`, { put: [now], remove: [] });
    },
    cancel: () => (desk.trialBackdrop = null),
  };
}
