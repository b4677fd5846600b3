<script lang="ts">
  import type { AttributeFamily } from '$core/attributes.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { HandAttribute } from '$lib/state/scenes/hand.svelte.ts';
  import AimChips from './AimChips.svelte';
  import ColourPad from './ColourPad.svelte';
  import HandControl from './HandControl.svelte';
  import PaletteChips from './PaletteChips.svelte';
  import ReadyPads from './ReadyPads.svelte';
  import RunningEffects from './RunningEffects.svelte';

  const app = getApp();
  const hand = app.hand;
  type TabKey = 'ready' | 'running' | AttributeFamily;
  const FAMILIES: readonly { family: AttributeFamily; text: string }[] = [
    { family: 'colour', text: 'Colour' },
    { family: 'aim', text: 'Aim' },
    { family: 'beam', text: 'Beam' },
    { family: 'effect', text: 'Effect' },
    { family: 'control', text: 'Control' },
  ];
  const levels = $derived(hand.attributes.filter((a) => a.family === 'level'));
  const of = (family: TabKey): HandAttribute[] => hand.attributes.filter((a) => a.family === family);
  const tabs = $derived<readonly { key: TabKey; text: string }[]>([
    { key: 'ready', text: 'Ready' },
    ...(hand.effects.length > 0 ? [{ key: 'running' as const, text: `Running ${hand.effects.length}` }] : []),
    ...FAMILIES.filter(
      ({ family }) => of(family).length > 0 || (family === 'colour' && hand.colourUnits.length > 0),
    ).map(({ family, text }) => ({ key: family, text })),
  ]);
  const running = $derived(hand.effects.flatMap((p) => (p.spec ? [JSON.stringify(p.spec.parts)] : [])));
  $effect(() => {
    void hand.attributes;
    void hand.readSent();
    const timer = setInterval(() => void hand.readSent(), 200);
    return () => clearInterval(timer);
  });
  let wanted = $state<TabKey>('ready');
  const tab = $derived(tabs.some((t) => t.key === wanted) ? wanted : tabs[0]!.key);
  const touched = (key: TabKey): boolean =>
    app.selection.lit.some((id) =>
      Object.keys(hand.values[id] ?? {}).some(
        (k) => of(key).some((a) => k.startsWith(a.attribute)) || (key === 'colour' && k.startsWith('ColorRGB')),
      ),
    );
  function keys(event: KeyboardEvent): void {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (step === 0) return;
    const next = (tabs.findIndex((t) => t.key === tab) + step + tabs.length) % tabs.length;
    wanted = tabs[next]!.key;
    const buttons = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=tab]');
    buttons[next]?.focus();
  }
</script>

<div class="hand" class:resting={app.selection.lit.length === 0} class:tall={app.tailTall}>
  {#if app.selection.lit.length === 0}
    <span class="quiet">Groups</span>
    <div class="groups">
      {#each app.rig.groups as group (group.id)}
        <button type="button" onclick={() => app.selection.set(app.rig.membersOf(group.id))}
          >{group.name} <span class="num quiet">{app.rig.membersOf(group.id).length}</span></button
        >
      {/each}
    </div>
  {:else}
    <section class="levels" aria-label="Level">
      {#each levels as attribute (attribute.attribute)}<HandControl {attribute} />{/each}
      {#if levels.length === 0}<p class="quiet">No level on these units.</p>{/if}
    </section>
    <section class="rest">
      <div role="tablist" aria-label="Attributes" tabindex="-1" onkeydown={keys}>
        {#each tabs as { key, text } (key)}
          <button
            type="button"
            role="tab"
            aria-selected={key === tab}
            tabindex={key === tab ? 0 : -1}
            onclick={() => (wanted = key)}
          >
            {text}{#if touched(key)}<span class="dot" title="changed by hand">⧓</span>{/if}
          </button>
        {/each}
      </div>
      <div class="controls" role="tabpanel" aria-label={tabs.find((t) => t.key === tab)?.text}>
        {#if tab === 'ready'}
          <ReadyPads
            sections={hand.ready}
            {running}
            apply={(look) => hand.apply(look)}
            play={(preset) => hand.playPreset(preset)}
          />
        {:else if tab === 'running'}
          <RunningEffects />
        {:else}
          {#if tab === 'colour' && hand.colourUnits.length > 0}<ColourPad />{/if}
          {#if tab === 'aim'}<AimChips />{/if}
          {#if tab !== 'control'}<PaletteChips family={tab} />{/if}
          <div class="grid">
            {#each of(tab) as attribute (attribute.attribute)}<HandControl {attribute} />{/each}
          </div>
        {/if}
      </div>
    </section>
  {/if}
</div>

<style>
  .hand {
    display: flex;
    gap: 16px;
    height: var(--hand);
    padding: 0 14px 1px;
    border-top: 1px solid var(--line);
    min-width: 0;
  }
  .hand.tall {
    height: 260px;
  }
  .hand.resting {
    padding: 7px 14px;
  }
  .groups {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    overflow-y: auto;
    align-content: start;
    flex: 1;
  }
  .groups button {
    min-height: 34px;
    padding: 4px 12px;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: var(--radius);
  }
  .groups button:hover {
    background: var(--hover);
  }
  .levels {
    width: 230px;
    flex: none;
    overflow-y: auto;
    display: flex;
    flex-direction: column;
    gap: 4px;
    padding-top: 6px;
  }
  .rest {
    flex: 1;
    min-width: 0;
    display: flex;
    flex-direction: column;
  }
  [role='tablist'] {
    display: flex;
    gap: 2px;
    border-bottom: 1px solid var(--line);
  }
  [role='tab'] {
    border: 0;
    background: none;
    padding: 2px 12px;
    color: var(--quiet);
    border-bottom: 2px solid transparent;
  }
  [role='tab'][aria-selected='true'] {
    color: var(--text);
    border-bottom-color: var(--amber);
  }
  .dot {
    color: var(--amber-text);
    margin-left: 5px;
    font-size: 11px;
  }
  .controls {
    display: flex;
    gap: 18px;
    flex: 1;
    min-height: 0;
    overflow: auto;
    padding-top: 2px;
  }
  .grid {
    flex: 1 0 200px;
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
    align-content: start;
    gap: 4px 18px;
    min-width: 0;
  }
  @media (max-width: 760px) {
    .hand {
      flex-direction: column;
      height: 220px;
      overflow-y: auto;
    }
    .levels {
      width: auto;
    }
  }
</style>
