import type { AreaId } from '$core/ids.ts';
import { tidy, type Point } from '$core/plot/paper.ts';
import { surfaceOf, contains, crossesItself, type Corner } from '$core/polygon.ts';
import { snap } from '$core/plot/snap.ts';
import type { AreaRecord } from '$core/records/index.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import { drawArea } from '$lib/state/plot/plot-edits.ts';
import { MOVED_PX, snapped, type Drag, type Ground } from './drag.ts';
import { toPlan, toScreen } from './view.ts';

/** Gestures that draw and change areas. */

/** The drawn area with the fewest square metres under a point. */
export function smallestAt(areas: readonly AreaRecord[], at: Point): AreaRecord | undefined {
  const hit = areas.filter((a) => a.outline && contains(a.outline, at));
  return hit.sort((a, b) => surfaceOf(a.outline!) - surfaceOf(b.outline!))[0];
}

export function areaBox(ground: Ground, at: Point): Drag {
  const { app, desk, view, size, mark } = ground;
  let box: Corner[] = [];
  const from = toPlan(view, size, at);
  return {
    move(p, event) {
      const [a, b] = [from, toPlan(view, size, p)].map((q) => snapped(ground, q, event)) as [Point, Point];
      box = [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }].map(({ x, y }) => ({ x: tidy(x), y: tidy(y) }));
      mark(box.map((c) => toScreen(view, size, c)));
    },
    end() {
      mark(null);
      if (box.length === 4 && !crossesItself(box)) drawArea(app, desk, box);
    },
    cancel: () => mark(null),
  };
}

export function areaMove({ app, desk, view, size, mark }: Ground, area: AreaRecord, from: Point): Drag {
  const shifted = (p: Point): Corner[] =>
    area.outline!.map((c) => ({
      x: tidy(c.x + (p.x - from.x) / view.scale),
      y: tidy(c.y - (p.y - from.y) / view.scale),
    }));
  let now: Corner[] | null = null;
  return {
    move(p) {
      if (!now && Math.hypot(p.x - from.x, p.y - from.y) < MOVED_PX) return;
      now = shifted(p);
      mark(now.map((c) => toScreen(view, size, c)));
    },
    end() {
      mark(null);
      if (now) reshape(app, desk, area.id, now, 'Move');
    },
    cancel: () => mark(null),
  };
}

export function areaCorner(
  { app, desk, view, size, mark }: Ground,
  area: AreaRecord,
  outline: readonly Corner[],
  i: number,
): Drag {
  let now: Corner[] | null = null;
  return {
    move(p, event) {
      const to = toPlan(view, size, p);
      const { x, y } = event.altKey ? to : snap(to, desk.snapTo(view, new Set()));
      now = outline.map((c, k) => (k === i ? { x: tidy(x), y: tidy(y) } : c));
      mark(now.map((c) => toScreen(view, size, c)));
    },
    end() {
      mark(null);
      if (now) reshape(app, desk, area.id, now, 'Shape');
    },
    cancel: () => mark(null),
  };
}

function reshape(app: App, desk: PlotDesk, id: AreaId, outline: Corner[], does: string): void {
  const area = app.rig.areas.find((a) => a.id === id);
  if (!area) return;
  if (crossesItself(outline))
    return app.live.tell('error', 'The outline would cross itself', 'It stays as it was: drag the corner elsewhere.');
  app.live.edit(`${does} ${area.name}`, { put: [{ ...area, outline }], remove: [] });
  desk.area = id;
}
