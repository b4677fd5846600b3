import { aimHandles, isShaping, withHandle, type AimHandle } from '$core/aim/handles.ts';
import { PAPER_AXES, tidyPlace, toPaper, type Point } from '$core/plot/paper.ts';
import type { AimRecord } from '$core/records/index.ts';
import { putAim } from '$lib/state/plot/aim-edits.ts';
import { MOVED_PX, snapped, type Drag, type Ground } from './drag.ts';
import { toPlan, toScreen } from './view.ts';

/** Gestures on aims: what is seen of them on a paper is dragged along it. */

const NEAR_PX = 11;

interface Grabbed {
  readonly aim: AimRecord;
  readonly handle: AimHandle;
}

/** The handle of an aim under a screen point; that of the chosen one first. */
export function aimAt({ app, desk, view, size }: Ground, at: Point): Grabbed | null {
  let best: Grabbed | null = null;
  let least = NEAR_PX;
  for (const aim of desk.aims) {
    const chosen = desk.aim === aim.id;
    for (const handle of aimHandles(app.live.document, aim)) {
      if (!chosen && isShaping(handle)) continue;
      const on = toScreen(view, size, toPaper(desk.side, handle.place));
      const away = Math.hypot(on.x - at.x, on.y - at.y) - (chosen ? 4 : 0);
      if (away < least) [best, least] = [{ aim, handle }, away];
    }
  }
  return best;
}

/** Moves a handle of an aim along the paper; one press without moving chooses the aim. */
export function aimMove(ground: Ground, { aim, handle }: Grabbed, from: Point): Drag {
  const { app, desk, view, size } = ground;
  const [across, up] = PAPER_AXES[desk.side];
  let now: AimRecord | null = null;
  return {
    move(p, event) {
      if (!now && Math.hypot(p.x - from.x, p.y - from.y) < MOVED_PX) return;
      const to = snapped(ground, toPlan(view, size, p), event);
      const place = tidyPlace({ ...handle.place, [across]: to.x, [up]: to.y });
      now = withHandle(app.live.document, aim, handle.key, place);
      desk.trialAim = now;
    },
    end() {
      desk.trialAim = null;
      if (now) putAim(app, 'Move', now);
    },
    cancel: () => (desk.trialAim = null),
  };
}
