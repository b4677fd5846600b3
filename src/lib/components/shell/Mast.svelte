<script lang="ts">
  import { page } from '$app/state';
  import { programmingFaults } from '$core/check/programming.ts';
  import { isSevere } from '$core/patch/clash.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Mark from '../Mark.svelte';
  import { FOOT, STEPS, type StepInfo } from './steps.ts';

  const app = getApp();
  const programming = $derived(programmingFaults(app.live.document));
  /** What is wrong with each step: triangles fail tonight, circles are worth a look. */
  const marks = $derived.by((): Record<string, { wrong: number; look: number }> => {
    const here = app.rig.clashes.filter((c) => c.code !== 'NO_ROUTE');
    const units = new Set(here.filter(isSevere).map((c) => c.unitId));
    const look = new Set(here.filter((c) => !isSevere(c)).map((c) => c.unitId));
    const failing =
      app.live.system.engine?.outputs.filter((o) => o.enabled && o.gateways?.some((g) => g.state === 'lost')).length ??
      0;
    return {
      '/patch': { wrong: units.size, look: look.size },
      '/lines': { wrong: app.rig.unrouted.length, look: failing },
      '/scenes': {
        wrong: programming.filter((f) => f.severe).length,
        look: programming.filter((f) => !f.severe).length,
      },
    };
  });
  /** On a phone the steps lie side by side: the one that is open stays in sight. */
  let nav = $state<HTMLElement>();
  $effect(() => {
    void page.url.pathname;
    nav?.querySelector('[aria-current]')?.scrollIntoView({ inline: 'nearest', block: 'nearest' });
  });
</script>

{#snippet entry(step: StepInfo)}
  {@const Icon = step.icon}
  {@const mark = marks[step.path]}
  <a href={step.path} aria-current={page.url.pathname === step.path ? 'page' : undefined}>
    <Icon size={22} strokeWidth={1.75} aria-hidden="true" />
    <span>{step.name}</span>
    {#if mark && (mark.wrong > 0 || mark.look > 0)}
      <span class="marks">
        {#if mark.wrong > 0}<Mark kind="wrong" count={mark.wrong} title="{mark.wrong} will fail tonight" />{/if}
        {#if mark.look > 0}<Mark kind="look" count={mark.look} title="{mark.look} worth a look" />{/if}
      </span>
    {/if}
  </a>
{/snippet}

<nav aria-label="Steps" bind:this={nav}>
  <div class="group">
    {#each STEPS as step (step.path)}{@render entry(step)}{/each}
  </div>
  <div class="group">
    {#each FOOT as step (step.path)}{@render entry(step)}{/each}
  </div>
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    justify-content: space-between;
    gap: 8px;
    background: var(--panel);
    border-right: 1px solid var(--line);
    overflow-y: auto;
    scrollbar-width: none;
    padding: 4px 0;
  }
  .group {
    display: flex;
    flex-direction: column;
  }
  a {
    display: flex;
    flex-direction: column;
    align-items: center;
    gap: 2px;
    padding: 6px 2px;
    min-height: 52px;
    justify-content: center;
    color: var(--quiet);
    text-decoration: none;
    font-size: 12px;
    border-left: 3px solid transparent;
    border-right: 3px solid transparent;
  }
  a:hover {
    background: var(--hover);
    color: var(--text);
  }
  a[aria-current] {
    color: var(--amber-text);
    border-left-color: var(--amber);
    background: var(--amber-wash);
  }
  .marks {
    display: flex;
    gap: 5px;
  }
  @media (max-height: 760px) {
    a {
      min-height: 46px;
      padding: 3px 2px;
    }
  }
  @media (max-width: 760px) {
    nav {
      flex-direction: row;
      overflow-x: auto;
      border-right: 0;
      border-top: 1px solid var(--line);
    }
    .group {
      flex-direction: row;
    }
    a {
      min-width: 64px;
      border-left: 0;
      border-right: 0;
      border-top: 3px solid transparent;
    }
    a[aria-current] {
      border-top-color: var(--amber);
    }
  }
</style>
