<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import PathPill from './PathPill.svelte';

  /** The signal path: what plays, the universes, and for each where it goes, link by link. */
  let { desk }: { desk: LinesDesk } = $props();
  const app = getApp();
  const path = $derived(desk.path);
  const MOST = 60;
  let all = $state(false);
  const shown = $derived(all ? path.universes : path.universes.slice(0, MOST));
</script>

<div class="path" role="group" aria-label="Signal path">
  <div class="head">
    <PathPill link={path.playing} {desk} />
    <PathPill link={path.engine} {desk} last />
    <p class="key quiet" aria-hidden="true">
      <span><i class="live"></i>works</span><span><i class="unproved"></i>no answer to tell</span><span
        ><i class="doubt"></i>worth a look</span
      ><span><i class="dead"></i>broken</span><span><i class="idle"></i>idle or off</span>
    </p>
  </div>
  <div class="columns quiet">
    <span>Universe</span><span>Output</span><span>Way</span><span>Device and port</span><span>Line and units</span>
  </div>
  {#each shown as universe (universe.universe)}
    <section aria-label={universe.link.title}>
      <div class="universe"><PathPill link={universe.link} {desk} last={universe.legs.length === 0} /></div>
      <div class="legs fan" class:many={universe.legs.length > 1}>
        {#each universe.legs as leg (leg.key)}
          <div class="leg">
            <PathPill link={leg.output} {desk} />
            <PathPill link={leg.network} {desk} last={leg.devices.length === 0} />
            <div class="stack">
              {#each leg.devices as { device, port } (device.key)}
                <div class="two">
                  <PathPill link={device} {desk} /><PathPill link={port} {desk} last={leg.lines.length === 0} />
                </div>
              {/each}
            </div>
            <div class="stack fan" class:many={leg.lines.length > 1}>
              {#each leg.lines as line (line.lineId)}
                <div class="lamp">
                  <PathPill link={line.link} {desk} last />
                  <button
                    type="button"
                    class="pick"
                    title="Select these units"
                    onclick={() => app.selection.set(line.unitIds)}>{line.unitIds.length}</button
                  >
                </div>
              {/each}
            </div>
          </div>
        {/each}
      </div>
    </section>
  {:else}
    <p class="quiet">No universes yet: patch units, then give their universe an output.</p>
  {/each}
  {#if path.universes.length > shown.length}
    <button type="button" class="more" onclick={() => (all = true)}>Show all {path.universes.length} universes</button>
  {/if}
</div>

<style>
  .path {
    --cols: 126px minmax(0, 1fr);
    display: grid;
    gap: 10px;
    padding: 4px 16px 24px;
    overflow: auto;
    align-content: start;
    min-width: 0;
  }
  .head {
    display: grid;
    grid-template-columns: minmax(0, 280px) minmax(0, 330px) 1fr;
    align-items: center;
  }
  .key {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    justify-content: flex-end;
    font-size: 12px;
    padding-left: 16px;
  }
  .key span {
    display: inline-flex;
    align-items: center;
    gap: 5px;
  }
  i {
    width: 20px;
    border-top: 2px solid var(--amber);
  }
  i.unproved {
    border-top-style: dotted;
  }
  i.doubt {
    border-top: 2px dashed var(--look);
  }
  i.dead {
    border-top-color: var(--wrong);
    width: 8px;
    margin-right: 12px;
  }
  i.idle {
    border-top: 1px dashed var(--line-strong);
  }
  .columns,
  .leg {
    display: grid;
    grid-template-columns: minmax(130px, 1.25fr) minmax(84px, 0.75fr) minmax(220px, 2.2fr) minmax(120px, 1.15fr);
  }
  .columns {
    grid-template-columns: 126px minmax(130px, 1.25fr) minmax(84px, 0.75fr) minmax(220px, 2.2fr) minmax(120px, 1.15fr);
    font-size: 12px;
    border-bottom: 1px solid var(--line-strong);
    padding-bottom: 3px;
  }
  section {
    display: grid;
    grid-template-columns: var(--cols);
    border-bottom: 1px solid var(--line);
    padding-bottom: 10px;
  }
  .universe {
    display: grid;
    align-content: start;
  }
  .legs {
    display: grid;
    gap: 6px;
    min-width: 0;
  }
  .leg {
    align-items: start;
    min-width: 0;
  }
  /* Where one wire becomes several: a stub to each, and the stem they hang on. */
  .many {
    padding-left: 14px;
  }
  .many > :global(*) {
    position: relative;
  }
  .many > :global(*)::before {
    content: '';
    position: absolute;
    left: -14px;
    top: 24px;
    width: 14px;
    border-top: 2px solid var(--line-strong);
  }
  .many > :global(*)::after {
    content: '';
    position: absolute;
    left: -14px;
    top: -6px;
    bottom: 0;
    border-left: 2px solid var(--line-strong);
  }
  .many > :global(*:first-child)::after {
    top: 24px;
  }
  .many > :global(*:last-child)::after {
    bottom: auto;
    height: 31px;
  }
  .stack {
    display: grid;
    gap: 6px;
    min-width: 0;
  }
  .two {
    display: grid;
    grid-template-columns: 1.15fr 1fr;
    min-width: 0;
  }
  .lamp {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 4px;
    align-items: center;
  }
  .pick {
    border: 1px solid var(--line);
    border-radius: 999px;
    background: none;
    min-width: 30px;
    min-height: 30px;
    font-family: var(--mono);
    font-size: 12px;
  }
  .pick:hover {
    background: var(--hover);
  }
  .more {
    justify-self: start;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 12px;
  }
  @media (max-width: 760px) {
    .columns {
      display: none;
    }
    .head,
    section,
    .leg {
      grid-template-columns: minmax(0, 1fr);
      gap: 6px;
    }
    .legs {
      padding-left: 14px;
    }
    .two {
      gap: 6px;
    }
  }
</style>
