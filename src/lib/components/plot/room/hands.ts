import type { ThingId, UnitId } from '$core/ids.ts';
import { tidyPlace, type Place3 } from '$core/plot/paper.ts';
import { plus } from '$core/plot/vector.ts';
import type { Handle } from '$core/room/moving.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import { aimSelection } from '$lib/state/plot/aim-hand.ts';
import { pointedUnits, storeThings } from '$lib/state/plot/thing-edits.ts';
import { REACH_PX } from './handles.ts';
import { chosenThing, roomMove, type RoomMove } from './moves.ts';
import type { RoomScene } from './scene.ts';

/** A pointer that moved less than this did not move, pixels. */
const STILL_PX = 5;
/** So long a press is held until the chosen lamps point at its spot. */
const HOLD_MS = 550;
/** A finger covers more than a mouse points at. */
const TOUCH_PX = 12;

interface At {
  readonly x: number;
  readonly y: number;
}
interface Host {
  readonly app: App;
  readonly desk: PlotDesk;
  readonly scene: () => RoomScene | null;
  readonly size: () => { readonly width: number; readonly height: number };
  /** Lamps were pointed at what is there in the picture. */
  readonly pointed: (at: At) => void;
}

/**
 * What pointers and keys do to what hangs and stands in the room: choose by a press, drag what is chosen along the floor
 * (with Shift along the wall one looks at), lift and turn it by its handles, point lamps by a press that is held.
 */
export class RoomHands {
  readonly #host: Host;
  #pressed: At | null = null;
  #holding: ReturnType<typeof setTimeout> | undefined;
  #move: { readonly pointer: number; readonly on: RoomMove; begun: boolean } | null = null;

  constructor(host: Host) {
    this.#host = host;
  }

  /** Before the view takes a press: what is chosen, and its handles, are taken by it. */
  readonly take = (event: PointerEvent): void => {
    const scene = this.#host.scene();
    if (!scene || event.button !== 0 || !event.isPrimary) return;
    const at = local(event);
    const found = this.#grip(scene, at, event.pointerType === 'touch' ? REACH_PX + TOUCH_PX : REACH_PX, event.shiftKey);
    const on = found && roomMove(this.#host.app, this.#host.desk, found.handle, found.ray, found.grabbed);
    if (!on) return;
    this.#move = { pointer: event.pointerId, on, begun: false };
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    this.down(event);
    event.stopPropagation();
  };

  #grip(
    scene: RoomScene,
    at: At,
    reachPx: number,
    shift: boolean,
  ): { handle: Handle; ray: ReturnType<RoomScene['rayAt']>; grabbed: Place3 } | null {
    const { app, desk } = this.#host;
    const [across, up] = this.#onPicture(at);
    const ray = scene.rayAt(across, up);
    const anchor = chosenThing(desk)?.position ?? desk.chosenUnits.at(-1)?.position;
    if (!anchor) return null;
    // Seen edge-on a ring goes right through what it turns: there the body is meant. The knob is nobody's else.
    const handle = scene.handleAt(at, this.#host.size(), reachPx);
    if (handle === 'height') return { handle, ray, grabbed: anchor };
    const id = scene.at(across, up);
    const mine =
      id !== null && (id === chosenThing(desk)?.id || (!chosenThing(desk) && app.acting.includes(id as UnitId)));
    const spot = mine ? scene.spotAt(across, up) : null;
    if (spot) return { handle: shift ? 'wall' : 'floor', ray, grabbed: spot };
    return handle && { handle, ray, grabbed: anchor };
  }

  readonly down = (event: PointerEvent): void => {
    this.#pressed = local(event);
    clearTimeout(this.#holding);
    if (event.button === 0 && event.isPrimary) this.#holding = setTimeout(this.#hold, HOLD_MS);
    else if (!event.isPrimary) this.#pressed = null;
  };

  readonly moved = (event: PointerEvent): void => {
    const at = local(event);
    if (this.#pressed && Math.hypot(at.x - this.#pressed.x, at.y - this.#pressed.y) >= STILL_PX)
      clearTimeout(this.#holding);
    const move = this.#move;
    const scene = this.#host.scene();
    if (!move || !scene || move.pointer !== event.pointerId) return;
    const still = this.#pressed && Math.hypot(at.x - this.#pressed.x, at.y - this.#pressed.y) < STILL_PX;
    if (still && !move.begun) return;
    move.begun = true;
    move.on.to(scene.rayAt(...this.#onPicture(at)), event.altKey);
  };

  /** A press that does not move chooses what it is on. */
  readonly up = (event: PointerEvent): void => {
    const at = local(event);
    clearTimeout(this.#holding);
    const move = this.#move;
    this.#move = null;
    const still = this.#pressed && Math.hypot(at.x - this.#pressed.x, at.y - this.#pressed.y) < STILL_PX;
    this.#pressed = null;
    if (move?.begun) return move.on.end();
    move?.on.cancel();
    const scene = this.#host.scene();
    if (!still || !scene || event.button !== 0) return;
    this.#choose(scene.at(...this.#onPicture(at)), event.shiftKey || event.ctrlKey || event.metaKey);
  };

  #choose(id: UnitId | ThingId | null, adds: boolean): void {
    const { app, desk } = this.#host;
    if (id?.startsWith('thing:')) {
      // What stands in the room is chosen while its panel is open; else it is only in the way.
      if (desk.tab === 'things') desk.thing = id as ThingId;
      return;
    }
    const more = adds || app.selection.several;
    if (id && more) app.selection.toggle(id as UnitId);
    else if (id) app.selection.set([id as UnitId]);
    else if (!more) app.selection.clear();
  }

  readonly cancel = (): void => {
    clearTimeout(this.#holding);
    this.#pressed = null;
    this.#move?.on.cancel();
    this.#move = null;
  };

  readonly #hold = (): void => {
    const at = this.#pressed;
    const { app, desk } = this.#host;
    const scene = this.#host.scene();
    if (!scene || !at || app.acting.length === 0 || this.#move?.begun) return;
    const spot = scene.spotAt(...this.#onPicture(at));
    if (!spot) return;
    this.cancel();
    const lamps = pointedUnits(app, tidyPlace(spot));
    const turned = lamps.length > 0 && desk.store('Point', lamps);
    const aimed = aimSelection(app, spot);
    if (turned || aimed) this.#host.pointed(at);
    else if (lamps.length === 0)
      app.live.tell(
        'note',
        'Nothing here can be pointed',
        'Choose lamps or heads, then press and hold the spot they are to meet.',
      );
  };

  /** Moves what is chosen by steps of the grid: across, deep and high. False where nothing is. */
  step(x: number, y: number, z: number): boolean {
    const { app, desk } = this.#host;
    const stepM = desk.set.gridM || 0.1;
    const by = { x: x * stepM, y: y * stepM, z: z * stepM };
    const thing = chosenThing(desk);
    if (thing)
      return (
        !desk.isFixed(thing) && storeThings(app, 'Move', [{ ...thing, position: tidyPlace(plus(thing.position, by)) }])
      );
    const units = desk.chosenUnits.map((unit) => ({ ...unit, position: tidyPlace(plus(unit.position, by)) }));
    return units.length > 0 && desk.store('Move', units);
  }

  /** -1 to 1 across and up. */
  #onPicture({ x, y }: At): [number, number] {
    const { width, height } = this.#host.size();
    return [(x / width) * 2 - 1, 1 - (y / height) * 2];
  }
}

function local(event: PointerEvent): At {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  return { x: event.clientX - box.left, y: event.clientY - box.top };
}
