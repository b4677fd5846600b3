<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import { ARROWS } from '../arrows.ts';

  /**
   * A pad that moves something across and up: dragged, by arrow keys (with Shift ten steps), by the wheel, or by its buttons.
   * `move` gets how far in steps (a step is 1); `end` when a gesture is over.
   */
  interface Props {
    label: string;
    /** Words in the middle of the pad. */
    text: string;
    /** Steps that a drag over the whole pad makes. */
    across: number;
    move: (x: number, y: number) => void;
    end: () => void;
  }
  let { label, text, across, move, end }: Props = $props();
  let last: { x: number; y: number } | null = null;
  let pad = $state<HTMLElement>();

  function down(event: PointerEvent): void {
    if (event.button !== 0) return;
    pad!.focus({ preventScroll: true });
    pad!.setPointerCapture(event.pointerId);
    last = { x: event.clientX, y: event.clientY };
  }
  function moved(event: PointerEvent): void {
    if (!last) return;
    const wide = pad!.getBoundingClientRect().width;
    const scale = across / wide;
    move((event.clientX - last.x) * scale, (last.y - event.clientY) * scale);
    last = { x: event.clientX, y: event.clientY };
  }
  function up(): void {
    if (!last) return;
    last = null;
    end();
  }
  function step(x: number, y: number): void {
    move(x, y);
    end();
  }
  function key(event: KeyboardEvent): void {
    const by = ARROWS[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const times = event.shiftKey ? 10 : 1;
    move(by.x * times, by.y * times);
  }
  let rolled: ReturnType<typeof setTimeout> | undefined;
  function wheel(event: WheelEvent): void {
    event.preventDefault();
    const by = -Math.sign(event.deltaY || event.deltaX);
    move(event.shiftKey ? by : 0, event.shiftKey ? 0 : by);
    clearTimeout(rolled);
    // A wheel has no end of its own.
    rolled = setTimeout(end, 400);
  }
</script>

<div class="nudge">
  <button type="button" class="up" aria-label="{label}: up" onclick={() => step(0, 1)}><ArrowUp size={22} /></button>
  <button type="button" class="left" aria-label="{label}: left" onclick={() => step(-1, 0)}
    ><ArrowLeft size={22} /></button
  >
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    bind:this={pad}
    class="pad"
    role="application"
    aria-label="{label}: drag, or use the arrow keys"
    tabindex="0"
    onpointerdown={down}
    onpointermove={moved}
    onpointerup={up}
    onpointercancel={up}
    onkeydown={key}
    onkeyup={(e) => ARROWS[e.key] && end()}
    onwheel={wheel}
  >
    <span>{text}</span>
  </div>
  <button type="button" class="right" aria-label="{label}: right" onclick={() => step(1, 0)}
    ><ArrowRight size={22} /></button
  >
  <button type="button" class="down" aria-label="{label}: down" onclick={() => step(0, -1)}
    ><ArrowDown size={22} /></button
  >
</div>

<style>
  .nudge {
    display: grid;
    grid-template: '. up .' 52px 'left pad right' minmax(150px, 240px) '. down .' 52px / 52px minmax(150px, 320px) 52px;
    gap: 6px;
    justify-content: center;
  }
  .up {
    grid-area: up;
  }
  .down {
    grid-area: down;
  }
  .left {
    grid-area: left;
  }
  .right {
    grid-area: right;
  }
  button {
    display: grid;
    place-items: center;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: 10px;
    touch-action: manipulation;
  }
  button:hover {
    background: var(--hover);
  }
  .pad {
    grid-area: pad;
    display: grid;
    place-items: center;
    touch-action: none;
    user-select: none;
    border: 1px solid var(--line);
    border-radius: 14px;
    background:
      linear-gradient(var(--line), var(--line)) center / 1px 100% no-repeat,
      linear-gradient(var(--line), var(--line)) center / 100% 1px no-repeat,
      var(--panel);
    cursor: grab;
  }
  .pad:active {
    cursor: grabbing;
    border-color: var(--amber);
  }
  span {
    padding: 4px 10px;
    border-radius: 8px;
    background: var(--panel);
    text-align: center;
    font-size: 13px;
    white-space: pre-line;
    pointer-events: none;
  }
</style>
