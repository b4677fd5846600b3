<script lang="ts">
  import { likelyFrom } from '$core/aim/usual.ts';
  import type { AreaId, ThingId } from '$core/ids.ts';
  import type { Where } from '$core/records/aim.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { addAim, AIM_WORDS, byFolder, chaseOf, makeUsual, sendTo } from '$lib/state/plot/aim-edits.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import AimTile from '../AimTile.svelte';
  import AimEditor from './AimEditor.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  let is = $state<Where['is']>('point');
  const folders = $derived(byFolder(app.rig.aims));
  const chosen = $derived(app.rig.aims.find((a) => a.id === desk.aim));
  const likely = $derived(likelyFrom(app.live.document));
  let floor = $state<AreaId | '' | null>(null);
  let booth = $state<ThingId | '' | null>(null);
  const floorId = $derived(floor === null ? likely.floorId : floor || null);
  const boothId = $derived(booth === null ? likely.boothId : booth || null);
  const drawn = $derived(app.rig.areas.filter((a) => a.outline));
  const KINDS = Object.entries(AIM_WORDS).map(([value, text]) => ({ value: value as Where['is'], text }));
  const NOTHING = { value: '' as const, text: 'the room' };
</script>

<div class="row">
  <Button kind={app.rig.aims.length === 0 ? 'main' : 'plain'} onclick={() => makeUsual(app, { floorId, boothId })}
    >Make the usual aims</Button
  >
  <a href="/aims">Correct and true up</a>
  <a href="/tonight">Tonight’s room</a>
</div>
<details>
  <summary>from {drawn.find((a) => a.id === floorId)?.name ?? 'the room'}</summary>
  <Beside>
    <Choice
      label="Floor"
      value={floorId ?? ''}
      options={[NOTHING, ...drawn.map((a) => ({ value: a.id, text: a.name }))]}
      choose={(id) => (floor = id)}
    />
    <Choice
      label="Booth"
      value={boothId ?? ''}
      options={[NOTHING, ...app.rig.things.map((t) => ({ value: t.id, text: t.name }))]}
      choose={(id) => (booth = id)}
    />
  </Beside>
</details>
<div class="row">
  <Choice label="New aim" value={is} options={KINDS} choose={(kind) => (is = kind)} />
  <Button onclick={() => addAim(app, desk, is)}>Put in</Button>
</div>
{#if chosen}
  <details class="chosen" bind:open={desk.editingAim}>
    <summary>{chosen.name}: change it</summary>
    <div class="fields">
      {#key chosen.id}<AimEditor {desk} aim={chosen} />{/key}
    </div>
  </details>
{/if}
{#if folders.length === 0}
  <p class="quiet">An aim is a place that heads can point at. Nobody has to turn pan and tilt for it.</p>
{/if}
{#each folders as [folder, aims] (folder)}
  <div class="head">
    <h3>{folder || 'Aims'}</h3>
    {#if aims.length > 1}
      <Button kind="bare" onclick={() => chaseOf(app, folder || 'all', aims)}>Chase of these</Button>
    {/if}
  </div>
  <div class="tiles" role="group" aria-label="Aims{folder ? ` in ${folder}` : ''}">
    {#each aims as aim (aim.id)}
      <AimTile
        {aim}
        pressed={desk.aim === aim.id}
        title="Send heads to {aim.name}"
        press={() => {
          desk.aim = aim.id;
          sendTo(app, aim);
        }}
      />
    {/each}
  </div>
{/each}

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    align-items: end;
    gap: 8px;
  }
  summary {
    color: var(--quiet);
    font-size: 12.5px;
  }
  details[open] summary {
    padding-bottom: 6px;
  }
  .chosen summary {
    color: var(--amber-text);
    font-size: inherit;
  }
  .fields {
    display: grid;
    gap: 10px;
    padding-bottom: 10px;
    border-bottom: 1px solid var(--line);
  }
  .head {
    display: flex;
    align-items: center;
    justify-content: space-between;
  }
  .tiles {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(68px, 1fr));
    gap: 6px;
  }
</style>
