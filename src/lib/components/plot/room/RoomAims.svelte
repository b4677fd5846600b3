<script lang="ts">
  import { isShaping, withHandle, type AimHandle } from '$core/aim/handles.ts';
  import { tidyPlace, type Place3 } from '$core/plot/paper.ts';
  import type { AimRecord } from '$core/records/index.ts';
  import { heightOn, onPlane, type Ray } from '$core/room/moving.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { putAim, sendTo } from '$lib/state/plot/aim-edits.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import { ARROWS } from '../../arrows.ts';

  /**
   * Aims over the picture of the room: a mark at each of their places. While they are looked at they are chosen by a press,
   * dragged along the level they lie in (with Shift up and down), and moved by keys.
   */
  interface Props {
    desk: PlotDesk;
    /** Places of the picture are worked out anew when this changes. */
    seen: number;
    onPicture: (place: Place3) => { readonly x: number; readonly y: number } | null;
    /** The ray through a point of the window. */
    rayAt: (clientX: number, clientY: number) => Ray | null;
  }
  let { desk, seen, onPicture, rayAt }: Props = $props();
  const app = getApp();
  const live = $derived(desk.tab === 'aims');
  const marks = $derived.by(() => {
    void seen;
    return desk.drawnAims.flatMap(({ aim, chosen, handles }) =>
      handles.flatMap((handle) => {
        if (!chosen && isShaping(handle)) return [];
        const at = onPicture(handle.place);
        return at && at.x > 0 && at.x < 1 && at.y > 0 && at.y < 1 ? [{ aim, chosen, handle, at }] : [];
      }),
    );
  });

  let drag: { aim: AimRecord; handle: AimHandle; from: { x: number; y: number }; now: AimRecord | null } | null = null;
  /** Where a ray meets the level of a place, or (lifting) how high it passes the place. */
  function met(ray: Ray, place: Place3, lift: boolean): Place3 | null {
    if (!lift) return onPlane(ray, place, { x: 0, y: 0, z: 1 });
    const z = heightOn(ray, place);
    return z === null ? null : { ...place, z: Math.max(0, z) };
  }
  function down(event: PointerEvent, aim: AimRecord, handle: AimHandle): void {
    if (!live || event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    desk.aim = aim.id;
    drag = { aim, handle, from: { x: event.clientX, y: event.clientY }, now: null };
  }
  function move(event: PointerEvent): void {
    if (!drag) return;
    if (!drag.now && Math.hypot(event.clientX - drag.from.x, event.clientY - drag.from.y) < 5) return;
    const ray = rayAt(event.clientX, event.clientY);
    const place = ray && met(ray, drag.handle.place, event.shiftKey);
    if (!place) return;
    drag.now = withHandle(app.live.document, drag.aim, drag.handle.key, tidyPlace(place));
    desk.trialAim = drag.now;
  }
  function up(): void {
    const ended = drag;
    drag = null;
    desk.trialAim = null;
    if (ended?.now) putAim(app, 'Move', ended.now);
    else if (ended) sendTo(app, ended.aim);
  }
  const LIFTS: Readonly<Record<string, number>> = { PageUp: 1, PageDown: -1 };
  function key(event: KeyboardEvent, aim: AimRecord, { key: handle, place }: AimHandle): void {
    const [step, lift] = [ARROWS[event.key], LIFTS[event.key]];
    if ((!step && !lift) || !live) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? 1 : 0.1;
    const { x, y } = step ?? { x: 0, y: 0 };
    const to = { x: place.x + x * by, y: place.y + y * by, z: Math.max(0, place.z + (lift ?? 0) * by) };
    putAim(app, 'Move', withHandle(app.live.document, aim, handle, to));
  }
</script>

<div class="aims" class:live>
  {#each marks as { aim, chosen, handle, at } (`${aim.id} ${handle.key}`)}
    <button
      type="button"
      class:chosen
      class:small={isShaping(handle)}
      style:left="{at.x * 100}%"
      style:top="{at.y * 100}%"
      style:--tint={aim.colour}
      tabindex={live ? 0 : -1}
      aria-label="{aim.name}{handle.key === 'at' || handle.key === 'from' ? '' : `, ${handle.key}`}"
      onpointerdown={(e) => down(e, aim, handle)}
      onpointermove={move}
      onpointerup={up}
      onpointercancel={() => {
        drag = null;
        desk.trialAim = null;
      }}
      onkeydown={(e) => key(e, aim, handle)}
      onclick={(e) => {
        // By keys: a press of the pointer has done it already.
        if (e.detail === 0 && live) {
          desk.aim = aim.id;
          sendTo(app, aim);
        }
      }}
      ><i></i>{#if chosen && (handle.key === 'at' || handle.key === 'from')}<span>{aim.name}</span>{/if}</button
    >
  {/each}
</div>

<style>
  .aims {
    position: absolute;
    inset: 0;
    overflow: hidden;
    pointer-events: none;
    opacity: 0.35;
  }
  .live {
    opacity: 1;
  }
  button {
    position: absolute;
    width: 24px;
    height: 24px;
    margin: -12px;
    padding: 0;
    border: 0;
    background: none;
    display: grid;
    place-items: center;
    touch-action: none;
  }
  .live button {
    pointer-events: auto;
    cursor: grab;
  }
  i {
    width: 9px;
    height: 9px;
    transform: rotate(45deg);
    border: 1.5px solid var(--tint);
    background: #05070b80;
  }
  .chosen i {
    border-color: #ffb347;
  }
  .small i {
    transform: none;
    width: 8px;
    height: 8px;
  }
  span {
    position: absolute;
    left: 20px;
    white-space: nowrap;
    color: #ffb347;
    font-size: 12.5px;
    text-shadow: 0 0 4px #000;
  }
</style>
