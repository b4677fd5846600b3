import type { UnitId } from '$core/ids.ts';
import { tidyPlace, type Place3 } from '$core/plot/paper.ts';
import type { Standing } from '$core/plot/rotation.ts';
import { minus, plus } from '$core/plot/vector.ts';
import type { ThingRecord, UnitRecord } from '$core/records/index.ts';
import { carried, hungOn } from '$core/room/hang.ts';
import {
  angleOn,
  axisOf,
  caughtBy,
  facedWall,
  heightOn,
  isTurn,
  onPlane,
  turnsBy,
  type Handle,
  type Ray,
  type TurnHandle,
} from '$core/room/moving.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import { storeThings } from '$lib/state/plot/thing-edits.ts';

/** Gestures in the room on what was chosen: tried while the hand moves, stored as one edit when it lets go. */

/** Turns catch on every so many degrees; with Alt they are free. */
const CATCH_DEG = 5;

/** A gesture that goes on. */
export interface RoomMove {
  /** `free`: caught by nothing. */
  to(ray: Ray, free: boolean): void;
  end(): void;
  cancel(): void;
}

/** What a gesture changes: units, or one thing with what hangs on it. */
interface Subject {
  readonly anchor: Standing;
  /** Shows how it would be. */
  attempt(change: (of: Standing) => Standing): void;
  store(does: string): void;
  drop(): void;
}

function unitsOf(desk: PlotDesk, units: readonly UnitRecord[]): Subject | null {
  const free = units.filter((unit) => !desk.isLocked(unit));
  const anchor = free.at(-1);
  if (!anchor) return null;
  let trial = new Map<UnitId, UnitRecord>();
  return {
    anchor,
    attempt(change) {
      trial = new Map(free.map((unit) => [unit.id, { ...unit, ...change(unit) }]));
      desk.trial = trial;
    },
    store(does) {
      desk.trial = new Map();
      desk.store(does, [...trial.values()]);
    },
    drop: () => void (desk.trial = new Map()),
  };
}

function thingOf(app: App, desk: PlotDesk, thing: ThingRecord): Subject | null {
  if (desk.isFixed(thing)) return null;
  const hanging = hungOn(app.live.document, thing.id);
  let now = thing;
  const drop = (): void => {
    desk.trialThing = null;
    desk.trial = new Map();
  };
  return {
    anchor: thing,
    attempt(change) {
      now = { ...thing, ...change(thing) };
      desk.trialThing = now;
      desk.trial = new Map(hanging.map((unit) => [unit.id, carried(unit, thing, now)]));
    },
    store(does) {
      drop();
      storeThings(app, does, [now]);
    },
    drop,
  };
}

/** What would be moved: the chosen thing while its panel is open, else the selected units. Null for nothing that may. */
export function subjectOf(app: App, desk: PlotDesk): Subject | null {
  const thing = chosenThing(desk);
  return thing ? thingOf(app, desk, thing) : unitsOf(desk, desk.chosenUnits);
}
export const chosenThing = (desk: PlotDesk): ThingRecord | undefined =>
  desk.tab === 'things' ? desk.things.find((t) => t.id === desk.thing) : undefined;

/** Begins a gesture with a handle where a ray points; null where it leads nowhere. `grabbed`: the place that is held. */
export function roomMove(app: App, desk: PlotDesk, handle: Handle, first: Ray, grabbed: Place3): RoomMove | null {
  const subject = subjectOf(app, desk);
  if (!subject) return null;
  const tried = isTurn(handle) ? turn(subject, handle, first) : shift(subject, desk, handle, first, grabbed);
  if (!tried) return null;
  let moved = false;
  return {
    to(ray, free) {
      const change = tried(ray, free);
      if (!change) return;
      moved = true;
      subject.attempt(change);
    },
    end: () => (moved ? subject.store(isTurn(handle) ? 'Turn' : 'Move') : subject.drop()),
    cancel: () => subject.drop(),
  };
}

type Tried = (ray: Ray, free: boolean) => ((of: Standing) => Standing) | null;

function shift(
  { anchor }: Subject,
  desk: PlotDesk,
  handle: 'floor' | 'wall' | 'height',
  first: Ray,
  grabbed: Place3,
): Tried | null {
  const normal = handle === 'floor' ? { x: 0, y: 0, z: 1 } : facedWall(first);
  const met = (ray: Ray): Place3 | null => {
    if (handle !== 'height') return onPlane(ray, grabbed, normal);
    const z = heightOn(ray, anchor.position);
    return z === null ? null : { ...anchor.position, z };
  };
  const start = met(first);
  if (!start) return null;
  return (ray, free) => {
    const now = met(ray);
    if (!now) return null;
    const by = caughtBy(minus(now, start), anchor.position, free ? 0 : desk.set.gridM);
    return (of) => ({ rotation: of.rotation, position: tidyPlace(plus(of.position, by)) });
  };
}

function turn({ anchor }: Subject, handle: TurnHandle, first: Ray): Tried | null {
  const axis = axisOf(anchor, handle);
  const start = angleOn(first, anchor.position, axis);
  if (start === null) return null;
  return (ray, free) => {
    const now = angleOn(ray, anchor.position, axis);
    if (now === null) return null;
    const deg = free ? now - start : Math.round((now - start) / CATCH_DEG) * CATCH_DEG;
    return (of) => ({ position: of.position, rotation: turnsBy(of.rotation, handle, deg) });
  };
}
