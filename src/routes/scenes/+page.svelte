<script lang="ts">
  import { nextNumber } from '$core/naming.ts';
  import { make, type AnyRecord } from '$core/records/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Removed from '$lib/components/Removed.svelte';
  import Step from '$lib/components/Step.svelte';
  import ChaseEditor from '$lib/components/scenes/ChaseEditor.svelte';
  import EffectEditor from '$lib/components/scenes/EffectEditor.svelte';
  import Library from '$lib/components/scenes/Library.svelte';
  import PaletteEditor from '$lib/components/scenes/PaletteEditor.svelte';
  import PasteScenes from '$lib/components/scenes/PasteScenes.svelte';
  import PlayableDetails from '$lib/components/scenes/PlayableDetails.svelte';
  import SceneEditor from '$lib/components/scenes/SceneEditor.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { Opened } from '$lib/state/opened.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';

  const app = getApp();
  const opened = new Opened('open', () => [...app.rig.playables, ...app.rig.palettes]);
  const chosen = $derived(opened.record);
  const TITLES = { scene: 'Scene', chase: 'Chase', effect: 'Effect', palette: 'Palette' } as const;

  function add(record: AnyRecord & { name: string }): void {
    if (app.live.edit(`New ${record.kind} ${record.name}`, { put: [record], remove: [] })) opened.open(record.id);
  }
  function newScene(): void {
    const number = nextNumber(app.rig.scenes);
    add(make('scene', { id: app.newId('scene'), number, name: `Scene ${number}` }));
  }
  function newChase(): void {
    const number = nextNumber(app.rig.chases);
    add(make('chase', { id: app.newId('chase'), number, name: `Chase ${number}` }));
  }
  function newEffect(): void {
    const number = nextNumber(app.rig.effects);
    const on = [...app.selection.lit];
    add(make('effect', { id: app.newId('effect'), number, name: `Effect ${number}`, on, parts: [{ does: 'level' }] }));
  }
</script>

<Step title="Scenes" detailsTitle={chosen ? TITLES[chosen.kind] : 'Details'}>
  {#snippet tools()}
    <Button onclick={newScene}><Plus size={16} /> Scene</Button>
    <Button onclick={newChase}><Plus size={16} /> Chase</Button>
    <Button onclick={newEffect}><Plus size={16} /> Effect</Button>
    <PasteScenes />
    <span class="quiet">A scene holds exactly what was touched.</span>
  {/snippet}
  <div class="panes">
    <Library chosen={chosen?.id} open={(id) => opened.open(id)} />
    {#if chosen}
      {#key chosen.id}
        {#if chosen.kind === 'scene'}<SceneEditor scene={chosen} />
        {:else if chosen.kind === 'chase'}<ChaseEditor chase={chosen} />
        {:else if chosen.kind === 'effect'}<EffectEditor record={chosen} />
        {:else}<PaletteEditor palette={chosen} />{/if}
      {/key}
    {:else if opened.removed !== null}
      <Removed what="scene" name={opened.removed} list="the list" />
    {:else}
      <p class="quiet first">
        Nothing here yet. Select units, touch something ready in the tail, and press <i>Store</i>.
      </p>
    {/if}
  </div>
  {#snippet details()}
    {#if chosen}{#key chosen.id}<PlayableDetails item={chosen} />{/key}
    {:else}<p class="quiet">{opened.removed !== null ? 'Nothing is open.' : 'Nothing here yet.'}</p>{/if}
  {/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
  .first {
    padding: 24px;
  }
  @media (max-width: 760px) {
    .panes {
      flex-direction: column;
      overflow-y: auto;
    }
  }
</style>
