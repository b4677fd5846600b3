<script lang="ts">
  import { nextNumber } from '$core/patch/naming.ts';
  import { make } from '$core/records/index.ts';
  import { isPlaying } from '$core/show/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import Step from '$lib/components/Step.svelte';
  import ChaseEditor from '$lib/components/scenes/ChaseEditor.svelte';
  import SceneEditor from '$lib/components/scenes/SceneEditor.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Copy from '@lucide/svelte/icons/copy';
  import Play from '@lucide/svelte/icons/play';
  import Plus from '@lucide/svelte/icons/plus';
  import Square from '@lucide/svelte/icons/square';
  import Trash2 from '@lucide/svelte/icons/trash-2';

  const app = getApp();
  const all = $derived([...app.rig.scenes, ...app.rig.chases]);
  const chosen = $derived(all.find((p) => p.id === app.chosen.playable) ?? all[0]);
  const playing = $derived(chosen && app.live.live ? isPlaying(app.live.live, chosen.id) : false);
  const usedIn = $derived(
    chosen?.kind === 'scene' ? app.rig.chases.filter((c) => c.steps.some((s) => s.sceneId === chosen.id)) : [],
  );

  function newScene(): void {
    const number = nextNumber(app.rig.scenes);
    const scene = make('scene', { id: app.newId('scene'), number, name: `Scene ${number}` });
    if (app.live.edit(`New scene ${scene.name}`, { put: [scene], remove: [] })) app.chosen.playable = scene.id;
  }
  function newChase(): void {
    const number = nextNumber(app.rig.chases);
    const chase = make('chase', { id: app.newId('chase'), number, name: `Chase ${number}` });
    if (app.live.edit(`New chase ${chase.name}`, { put: [chase], remove: [] })) app.chosen.playable = chase.id;
  }
  function duplicate(): void {
    if (!chosen) return;
    const peers: readonly { number: number }[] = chosen.kind === 'scene' ? app.rig.scenes : app.rig.chases;
    const number = nextNumber(peers);
    const name = `${chosen.name.slice(0, 92)} copy`;
    const copy =
      chosen.kind === 'scene'
        ? { ...chosen, id: app.newId('scene'), number, name }
        : { ...chosen, id: app.newId('chase'), number, name };
    if (app.live.edit(`Duplicate ${chosen.name}`, { put: [copy], remove: [] })) app.chosen.playable = copy.id;
  }
  function rename(text: string): string | null {
    const name = text.trim();
    if (name === '' || name.length > 100) return 'Give a name of 1 to 100 characters.';
    app.live.edit(`Rename ${chosen!.name}`, { put: [{ ...chosen!, name }], remove: [] });
    return null;
  }
</script>

<Step title="Scenes" detailsTitle={chosen?.kind === 'chase' ? 'Chase' : 'Scene'}>
  {#snippet tools()}
    <Button onclick={newScene}><Plus size={16} /> Scene</Button>
    <Button onclick={newChase}><Plus size={16} /> Chase</Button>
    <span class="quiet">Change units in the tail, then Store: a scene holds exactly what was touched.</span>
  {/snippet}
  <div class="panes">
    <nav aria-label="Scenes and chases">
      {#snippet entry(item: (typeof all)[number])}
        {@const on = app.live.live ? isPlaying(app.live.live, item.id) : false}
        <li class:chosen={item.id === chosen?.id}>
          <button
            type="button"
            class="pick"
            aria-current={item.id === chosen?.id}
            onclick={() => (app.chosen.playable = item.id)}
            ><i style:background={item.colour}></i><span>{item.name}</span></button
          >
          <button
            type="button"
            class="play"
            class:on
            aria-pressed={on}
            aria-label="{on ? 'Let go' : 'Play'} {item.name}"
            onclick={() => app.live.command({ do: on ? 'release' : 'play', target: item.id })}
          >
            {#if on}<Square size={14} fill="currentColor" />{:else}<Play size={14} />{/if}
          </button>
        </li>
      {/snippet}
      <h3>Scenes</h3>
      <ul>
        {#each app.rig.scenes as item (item.id)}{@render entry(item)}{/each}
      </ul>
      {#if app.rig.scenes.length === 0}<p class="quiet">
          None yet. Select units, change them in the tail, and Store.
        </p>{/if}
      <h3>Chases</h3>
      <ul>
        {#each app.rig.chases as item (item.id)}{@render entry(item)}{/each}
      </ul>
      {#if app.rig.chases.length === 0}<p class="quiet">None yet.</p>{/if}
    </nav>
    {#if chosen}
      {#key chosen.id}
        {#if chosen.kind === 'scene'}<SceneEditor scene={chosen} />{:else}<ChaseEditor chase={chosen} />{/if}
      {/key}
    {/if}
  </div>
  {#snippet details()}
    {#if chosen}
      <Button
        kind={playing ? 'plain' : 'main'}
        pressed={playing || undefined}
        onclick={() => app.live.command({ do: playing ? 'release' : 'play', target: chosen.id })}
      >
        {#if playing}<Square size={16} fill="currentColor" /> Let go{:else}<Play size={16} /> Play{/if}
      </Button>
      <Field label="Name" value={chosen.name} save={rename} />
      <label class="tint"
        >Colour of its pad <input
          type="color"
          value={chosen.colour}
          onchange={(e) =>
            app.live.edit(`Colour of ${chosen.name}`, {
              put: [{ ...chosen, colour: e.currentTarget.value }],
              remove: [],
            })}
        /></label
      >
      {#if chosen.kind === 'scene'}
        <p class="quiet">
          {plural(Object.keys(chosen.values).length, 'unit')}. {usedIn.length > 0
            ? `Used in ${usedIn.map((c) => c.name).join(', ')}.`
            : 'Used in no chase.'}
        </p>
      {/if}
      <div class="row">
        <Button onclick={duplicate}><Copy size={16} /> Duplicate</Button>
        <Button kind="wrong" onclick={() => app.remove(`Remove ${chosen.name}`, [chosen.id])}
          ><Trash2 size={16} /> Remove</Button
        >
      </div>
      {#if usedIn.length > 0}<p class="quiet">
          Removing it takes its steps out of {usedIn.map((c) => c.name).join(', ')}; undo brings them back.
        </p>{/if}
    {:else}
      <p class="quiet">Nothing here yet.</p>
    {/if}
  {/snippet}
</Step>

<style>
  .panes {
    display: flex;
    flex: 1;
    min-height: 0;
  }
  nav {
    width: 230px;
    flex: none;
    overflow-y: auto;
    padding: 0 8px 16px 16px;
    border-right: 1px solid var(--line);
  }
  h3 {
    padding: 8px 0 4px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: flex;
    border-left: 3px solid transparent;
  }
  li.chosen {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .pick {
    display: flex;
    align-items: center;
    gap: 8px;
    flex: 1;
    min-width: 0;
    min-height: 34px;
    border: 0;
    background: none;
    text-align: left;
    padding: 0 6px;
  }
  .pick span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .pick:hover {
    background: var(--hover);
  }
  i {
    width: 12px;
    height: 12px;
    border-radius: 3px;
    flex: none;
  }
  .play {
    display: grid;
    place-items: center;
    width: 36px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  .play:hover {
    color: var(--text);
  }
  .play.on {
    color: var(--amber-text);
  }
  .tint {
    display: flex;
    align-items: center;
    justify-content: space-between;
    color: var(--quiet);
  }
  input[type='color'] {
    width: 52px;
    height: 28px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
  }
  .row {
    display: flex;
    gap: 8px;
  }
</style>
