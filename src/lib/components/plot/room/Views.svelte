<script lang="ts">
  import { VIEWPOINTS, type Viewpoint, type ViewpointKey } from '$core/room/viewpoints.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { dropView, keepView, nameView } from '$lib/state/plot/view-edits.ts';
  import Camera from '@lucide/svelte/icons/camera';
  import X from '@lucide/svelte/icons/x';
  import Button from '../../Button.svelte';
  import NameField from '../../NameField.svelte';
  import Pop from '../../Pop.svelte';

  /** From where the room is looked at: ready places, and own ones that are kept with the show. */
  interface Props {
    look: (from: ViewpointKey) => void;
    go: (to: Viewpoint) => void;
    here: () => Viewpoint | null;
  }
  let { look, go, here }: Props = $props();
  const app = getApp();
  const WORDS: Readonly<Record<ViewpointKey, string>> = {
    audience: 'Audience',
    front: 'Front',
    side: 'Side',
    above: 'Above',
    booth: 'Booth',
  };
  const own = $derived(app.rig.show?.viewpoints ?? []);
  function keep(key?: string): void {
    const from = here();
    if (from) keepView(app, from, key);
  }
</script>

<div class="from" role="group" aria-label="Look from">
  {#each VIEWPOINTS as from (from)}
    <Button kind="bare" onclick={() => look(from)}>{WORDS[from]}</Button>
  {/each}
  {#each own as view (view.key)}
    <Button kind="bare" onclick={() => go(view)}>{view.name}</Button>
  {/each}
  <Pop label="Own views" side="bottom" align="start">
    {#snippet button(props)}
      <Button kind="bare" title="Own views" aria-label="Own views" {...props}><Camera size={16} /></Button>
    {/snippet}
    <strong>Own views</strong>
    {#each own as view (view.key)}
      <div class="row">
        <NameField value={view.name} save={(name) => nameView(app, view.key, name)} />
        <Button title="The view as it is now, under this name" onclick={() => keep(view.key)}>As now</Button>
        <Button kind="bare" aria-label="Take away {view.name}" onclick={() => dropView(app, view.key)}
          ><X size={16} /></Button
        >
      </div>
    {:else}
      <p class="quiet">Turn the room to where you like it, and keep that.</p>
    {/each}
    <Button kind="main" disabled={own.length >= 24} onclick={() => keep()}>Keep this view</Button>
  </Pop>
</div>

<style>
  .from {
    position: absolute;
    left: 8px;
    top: 8px;
    max-width: calc(100% - 16px);
    display: flex;
    flex-wrap: wrap;
    gap: 2px;
    background: #10151ecc;
    border-radius: 6px;
  }
  .row {
    display: grid;
    grid-template-columns: 1fr auto auto;
    gap: 6px;
    align-items: end;
  }
</style>
