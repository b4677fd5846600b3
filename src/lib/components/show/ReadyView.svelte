<script lang="ts">
  import type { LitId } from '$core/ids.ts';
  import { readyFor } from '$core/ready/ready.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import ReadyPads from '../hand/ReadyPads.svelte';

  /** Ready looks and effects for a group with one touch: nothing programmed, nothing stored. */
  const app = getApp();
  const running = $derived(app.hand.effects.flatMap((p) => (p.spec ? [JSON.stringify(p.spec.parts)] : [])));
  const same = (ids: readonly string[]): boolean =>
    ids.length > 0 && ids.length === app.selection.lit.length && ids.every((id) => app.selection.has(id as never));
  const all = $derived(app.rig.units.map((u) => u.id));
  /** Where nobody is chosen it is for everybody. */
  const nobody = $derived(app.selection.lit.length === 0);
  const whom = $derived<readonly LitId[]>(nobody ? all : app.selection.lit);
  const sections = $derived(nobody ? readyFor(app.live.document, all) : app.hand.ready);
</script>

<div class="view">
  <div class="groups" role="group" aria-label="For whom">
    <button type="button" aria-pressed={nobody || same(all)} onclick={() => app.selection.set(all)}
      >Everybody <span class="num quiet">{all.length}</span></button
    >
    {#each app.rig.groups as group (group.id)}
      {@const ids = app.rig.membersOf(group.id)}
      <button type="button" aria-pressed={same(ids)} onclick={() => app.selection.set(ids)}
        >{group.name} <span class="num quiet">{ids.length}</span></button
      >
    {/each}
  </div>
  {#if all.length === 0}
    <p class="quiet">There are no units in this show yet. <a href="/kit">Choose fixtures in the Kit</a>.</p>
  {:else}
    <div class="wide">
      <ReadyPads
        {sections}
        {running}
        apply={(look) => app.hand.apply(look)}
        play={(preset) => app.hand.playPreset(preset, whom)}
      />
    </div>
  {/if}
</div>

<style>
  .view {
    flex: 1;
    overflow: auto;
    padding: 8px 16px 24px;
    display: grid;
    gap: 14px;
    align-content: start;
  }
  .groups {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .groups button {
    min-height: 36px;
    padding: 4px 14px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
  }
  .groups [aria-pressed='true'] {
    border-color: var(--amber);
    background: var(--amber-wash);
  }
  .wide :global(.ready) {
    gap: 12px;
  }
  .wide :global(.ready .pads) {
    gap: 8px;
  }
  .wide :global(.ready h3) {
    line-height: 44px;
  }
  .wide :global(.ready .pad) {
    min-height: 44px;
    padding: 4px 14px;
    max-width: 190px;
    font-size: 14px;
  }
</style>
