<script lang="ts">
  import { attributeInfo } from '$core/profile/attributes.ts';
  import { layoutOf } from '$core/patch/of-document.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';

  /** Any universe's 512 slots as they are sent now, with who owns each. */
  const app = getApp();
  let wanted = $state<number | null>(null);
  const universe = $derived(
    wanted !== null && app.live.universes.includes(wanted) ? wanted : (app.live.universes[0] ?? 1),
  );
  let percent = $state(false);
  let canvas = $state<HTMLCanvasElement>();
  let width = $state(0);
  let at = $state(0);
  const COLUMNS = 32;
  const ROWS = 16;
  const CELL_H = 21;
  interface Owner {
    readonly unit: string;
    readonly number: number;
    readonly what: string;
    readonly band: number;
  }
  /** Owner of each slot; where two share one, the one that is written last. */
  const owners = $derived.by((): (Owner | null)[] => {
    const found: (Owner | null)[] = new Array<Owner | null>(512).fill(null);
    app.rig.units.forEach((unit, band) => {
      const layout = layoutOf(app.rig.profile(unit.profileId), unit.mode);
      const spans = app.rig.patchedById.get(unit.id)?.spans ?? [];
      for (const { channel, cell, offsets } of layout.channels) {
        offsets.forEach((offset, byte) => {
          let left = offset;
          for (const span of spans) {
            const length = span.to - span.from + 1;
            if (left < length) {
              const index = span.from + left - 1;
              const what = `${channel.name || (attributeInfo(channel.attribute)?.words ?? '')}${cell > 0 ? ` cell ${cell}` : ''}${byte > 0 ? ' fine' : ''}`;
              if (span.universe === universe && index < 512)
                found[index] = { unit: unit.name, number: unit.number, what, band };
              break;
            }
            left -= length;
          }
        });
      }
    });
    return found;
  });
  const value = (v: number): string => (percent ? String(Math.round((v / 255) * 100)) : String(v));
  let shown = $state(0);
  function paint(): void {
    const g = canvas?.getContext('2d');
    if (!g || width === 0) return;
    const slots = app.live.frames.get(universe);
    const ratio = window.devicePixelRatio || 1;
    const w = width / COLUMNS;
    const style = getComputedStyle(document.documentElement);
    const ink = (name: string): string => style.getPropertyValue(name).trim();
    const [panel, raised, text, quiet, amber, line] = [
      '--panel',
      '--raised',
      '--text',
      '--quiet',
      '--amber',
      '--line-strong',
    ].map(ink) as [string, string, string, string, string, string];
    g.setTransform(ratio, 0, 0, ratio, 0, 0);
    g.clearRect(0, 0, width, ROWS * CELL_H);
    g.font = '10.5px "Atkinson Hyperlegible Mono Variable", monospace';
    g.textAlign = 'right';
    for (let i = 0; i < 512; i++) {
      const x = (i % COLUMNS) * w;
      const y = Math.floor(i / COLUMNS) * CELL_H;
      const owner = owners[i];
      const v = slots?.[i] ?? 0;
      g.fillStyle = owner ? (owner.band % 2 ? raised : ink('--hover')) : panel;
      g.fillRect(x, y, w - 1, CELL_H - 1);
      if (v > 0) {
        g.fillStyle = amber;
        g.globalAlpha = 0.16 + (v / 255) * 0.34;
        g.fillRect(x, y, w - 1, CELL_H - 1);
        g.globalAlpha = 1;
      }
      if (!owner && v === 0) continue;
      g.fillStyle = v > 0 ? text : quiet;
      g.fillText(value(v), x + w - 3.5, y + 14.5);
    }
    g.strokeStyle = line;
    for (let i = 0; i < 512; i++) {
      const before = i > 0 ? owners[i - 1] : null;
      if (owners[i]?.unit === before?.unit) continue;
      const x = (i % COLUMNS) * w;
      const y = Math.floor(i / COLUMNS) * CELL_H;
      g.beginPath();
      g.moveTo(x - 0.5, y);
      g.lineTo(x - 0.5, y + CELL_H - 1);
      g.stroke();
    }
    g.strokeStyle = amber;
    g.lineWidth = 2;
    g.strokeRect((at % COLUMNS) * w, Math.floor(at / COLUMNS) * CELL_H, w - 1, CELL_H - 1);
    g.lineWidth = 1;
    shown = slots?.[at] ?? 0;
  }
  $effect(() => {
    void [owners, percent, at, app.theme];
    if (!canvas || width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    if (canvas.width !== Math.round(width * ratio)) {
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(ROWS * CELL_H * ratio);
    }
    paint();
  });
  $effect(() => app.live.onFrame(paint));
  const MOVES: Readonly<Record<string, number>> = {
    ArrowLeft: -1,
    ArrowRight: 1,
    ArrowUp: -COLUMNS,
    ArrowDown: COLUMNS,
  };
  function key(event: KeyboardEvent): void {
    const move = MOVES[event.key];
    if (!move) return;
    event.preventDefault();
    at = Math.min(511, Math.max(0, at + move));
  }
  function point(event: PointerEvent): void {
    const box = canvas!.getBoundingClientRect();
    const column = Math.floor(((event.clientX - box.left) / box.width) * COLUMNS);
    const row = Math.floor(((event.clientY - box.top) / box.height) * ROWS);
    if (column >= 0 && column < COLUMNS && row >= 0 && row < ROWS) at = row * COLUMNS + column;
  }
</script>

<section aria-label="Monitor">
  <header>
    <h2>Monitor</h2>
    <Choice
      hideLabel
      label="Universe"
      value={String(universe)}
      options={app.live.universes.map((u) => ({ value: String(u), text: `Universe ${u}` }))}
      choose={(u) => (wanted = Number(u))}
    />
    <Button pressed={percent} onclick={() => (percent = !percent)}>{percent ? 'percent' : '0-255'}</Button>
    <p class="owner" aria-live="polite">
      <b class="num">{universe}.{at + 1}</b>
      <span class="num" data-testid="monitor-value">{value(shown)}{percent ? ' %' : ''}</span>
      {#if owners[at]}<span class="num quiet">{owners[at]!.number}</span>
        {owners[at]!.unit}: {owners[at]!.what}{:else}<span class="quiet">nobody's</span>{/if}
    </p>
  </header>
  <div bind:clientWidth={width} class="grid">
    <canvas
      bind:this={canvas}
      style:width="{width}px"
      style:height="{ROWS * CELL_H}px"
      tabindex="0"
      aria-label="512 slots of universe {universe}; arrow keys move, the line above tells value and owner"
      onpointermove={point}
      onpointerdown={point}
      onkeydown={key}
    ></canvas>
  </div>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
  }
  header {
    display: flex;
    gap: 10px;
    align-items: center;
    flex-wrap: wrap;
  }
  .owner {
    flex: 1;
    min-width: 240px;
  }
  canvas {
    display: block;
    cursor: crosshair;
  }
</style>
