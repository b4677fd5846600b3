<script lang="ts">
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../../Button.svelte';
  import Panel from './Panel.svelte';

  /** What a change does to units and scenes, before it is made. */
  let { editor }: { editor: ProfileEditor } = $props();
  const impact = $derived(editor.asking?.impact);
  const resized = $derived(impact?.units.filter((u) => u.footprintAfter !== u.footprintBefore && !u.modeGone) ?? []);
  const stuck = $derived(impact?.units.filter((u) => u.modeGone) ?? []);
  const lost = $derived(impact?.scenes.filter((s) => s.lost.length > 0) ?? []);
</script>

{#if editor.asking && impact}
  <Panel title="{editor.asking.label}: this profile is in use" close={() => editor.cancel()}>
    {#if stuck.length > 0}
      <p class="wrong">
        ▲ {plural(stuck.length, 'unit')}
        {stuck.length === 1 ? 'is' : 'are'} in the mode that would go:
        {stuck.map((u) => `${u.unit.number} ${u.unit.name}`).join(', ')}. Give {stuck.length === 1 ? 'it' : 'them'} another
        mode first.
      </p>
    {/if}
    {#if resized.length > 0}
      <p>
        {plural(resized.length, 'unit')} will take another number of slots and keep the first address:
        {resized.map((u) => `${u.unit.number} ${u.unit.name} (${u.footprintBefore} → ${u.footprintAfter})`).join(', ')}.
        Overlaps are marked in the Patch.
      </p>
    {/if}
    {#if lost.length > 0}
      <p>
        Some values have no home any more. They are kept aside in their scenes and are sent again when it comes back:
      </p>
      <ul>
        {#each lost as scene (scene.sceneId)}
          <li>
            <b>{scene.name}</b>
            {#each scene.lost.slice(0, 8) as value (`${value.unit}${value.key}`)}
              <span>{value.unit}, {value.words}: {value.why}</span>
            {/each}
            {#if scene.lost.length > 8}<span class="quiet">and {scene.lost.length - 8} more</span>{/if}
          </li>
        {/each}
      </ul>
    {/if}
    <p class="quiet">Everything else goes with its attribute, wherever its slot is now. Undo brings it all back.</p>
    <div class="foot">
      <Button onclick={() => editor.cancel()}>Leave it as it is</Button>
      <Button kind="main" disabled={stuck.length > 0} onclick={() => editor.confirm()}>Change it</Button>
    </div>
  </Panel>
{/if}

<style>
  .wrong {
    color: var(--wrong);
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    max-height: 260px;
    overflow: auto;
  }
  li {
    display: grid;
    padding: 6px 0;
    border-bottom: 1px solid var(--line);
    font-size: 13px;
  }
  .foot {
    display: flex;
    justify-content: flex-end;
    gap: 8px;
  }
</style>
