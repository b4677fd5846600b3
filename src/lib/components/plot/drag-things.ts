import { movedOnPaper, tidyPlace, type Point } from '$core/plot/paper.ts';
import { contains, surfaceOf } from '$core/polygon.ts';
import type { ThingRecord } from '$core/records/index.ts';
import { carried, hungOn } from '$core/room/hang.ts';
import { outlineOf } from '$core/room/outline.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import { storeThings } from '$lib/state/plot/thing-edits.ts';
import { snap } from '$core/plot/snap.ts';
import { MOVED_PX, type Drag, type Ground } from './drag.ts';

/** Gestures on what stands in the room. */

/** The thing with the smallest outline under a point of the paper. */
export function thingAt(desk: PlotDesk, at: Point): ThingRecord | undefined {
  const hit = desk.things.flatMap((thing) => {
    const outline = outlineOf(desk.side, thing);
    return outline.length > 2 && contains(outline, at) ? [{ thing, surface: surfaceOf(outline) }] : [];
  });
  return hit.sort((a, b) => a.surface - b.surface)[0]?.thing;
}

/** Moves a thing along the paper, and with it what hangs on it. */
export function thingMove({ app, desk, view }: Ground, thing: ThingRecord, from: Point): Drag {
  const hanging = hungOn(app.live.document, thing.id);
  let now: ThingRecord | null = null;
  const put = (): void => {
    desk.trialThing = null;
    desk.trial = new Map();
  };
  return {
    move(p, event) {
      if (!now && Math.hypot(p.x - from.x, p.y - from.y) < MOVED_PX) return;
      const by = { x: (p.x - from.x) / view.scale, y: (from.y - p.y) / view.scale };
      const caught = event.altKey
        ? by
        : snap(by, { ...desk.snapTo(view, new Set()), guidesX: [], guidesY: [], units: [] });
      now = { ...thing, position: tidyPlace(movedOnPaper(desk.side, thing.position, caught)) };
      desk.trialThing = now;
      desk.trial = new Map(hanging.map((unit) => [unit.id, carried(unit, thing, now!)]));
    },
    end() {
      put();
      if (now) storeThings(app, 'Move', [now]);
    },
    cancel: put,
  };
}
