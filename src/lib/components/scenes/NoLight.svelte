<script lang="ts">
  import { givesNoLight, unlitIn, withLight } from '$core/show/live/bring-light.ts';
  import type { SceneRecord } from '$core/records/index.ts';
  import type { LitId } from '$core/ids.ts';
  import type { Values } from '$core/show/live/store.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Mark from '../Mark.svelte';

  /** Says of a scene that gives no light that it is so, and lights it; nothing where there is nothing to say. */
  let { scene, brief = false }: { scene: SceneRecord; brief?: boolean } = $props();
  const app = getApp();
  const unlit = $derived<LitId[]>(unlitIn(app.live.document, scene.values as Values));
  const none = $derived(unlit.length > 0 && givesNoLight(app.live.document, scene.values as Values));
  function light(): void {
    const values = withLight(app.live.document, scene.values as Values);
    app.live.edit(`Light ${scene.name}`, { put: [{ ...scene, values }], remove: [] });
  }
</script>

{#if none || (unlit.length > 0 && !brief)}
  <p class="nolight">
    <Mark kind="look" />
    <span>
      {#if none}<b>Gives no light:</b> nothing in it has a level.{:else}
        {plural(unlit.length, 'unit')} in it {unlit.length === 1 ? 'has' : 'have'} no level: lit only by what plays below.{/if}
    </span>
    <Button
      kind={none && !brief ? 'main' : 'plain'}
      title="Gives {plural(unlit.length, 'unit')} of {scene.name} their light at full"
      onclick={light}>Light {unlit.length === 1 ? 'it' : 'them'}</Button
    >
  </p>
{/if}

<style>
  .nolight {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    margin: 0;
  }
</style>
