<script lang="ts">
  import { toast } from 'svelte-sonner';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { createProfile, isLibrary, openEditor, type Kit } from '$lib/state/kit.svelte.ts';
  import { exportGdtf, exportProfiles, importProfiles } from '$lib/state/profile-files.ts';
  import { ProfileEditor } from '$lib/state/profile-editor.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Download from '@lucide/svelte/icons/download';
  import Pencil from '@lucide/svelte/icons/pencil';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../Button.svelte';
  import ImportFile from '../ImportFile.svelte';
  import ImpactPanel from './edit/ImpactPanel.svelte';

  /** What can be done with a profile: copy and change it, take a newer one, give it away, bring others in. */
  let { profile, kit }: { profile: ProfileRecord; kit: Kit } = $props();
  const app = getApp();
  const own = $derived(!isLibrary(profile));
  const units = $derived(app.rig.units.filter((u) => u.profileId === profile.id));
  const newer = $derived(kit.newer(profile));
  /** Newer revisions out of an imported file. */
  let offered = $state.raw<readonly ProfileRecord[]>([]);
  const all = $derived([...(newer ? [newer] : []), ...offered]);
  let taking = $state('');
  const editor = new ProfileEditor(app, () => taking);
  /** Takes a newer revision; what it does to units and scenes is shown before. */
  function take(next: ProfileRecord): void {
    taking = next.id;
    fault = editor.save(`Revision ${next.revision}`, next);
    offered = offered.filter((p) => p.id !== next.id);
  }
  let notKept = $state<readonly string[]>([]);
  let fault = $state<string | null>(null);

  /** An own copy. Units already in the rig go over to it when asked. */
  function copy(withUnits: boolean): void {
    const id = app.newId('profile');
    const copied: ProfileRecord = { ...profile, id, model: `${profile.model.slice(0, 90)} (own)`, revision: 1 };
    const moved = withUnits ? units.map((u) => ({ ...u, profileId: id })) : [];
    if (app.live.edit(`Copy ${profile.model}`, { put: [copied, ...moved], remove: [] })) openEditor(id);
  }
  async function bring(file: File): Promise<void> {
    fault = null;
    notKept = [];
    try {
      const found = await importProfiles(file, kit.profiles, app.rig.profiles, () => app.newId('profile'));
      notKept = found.notKept;
      offered = found.newer;
      if (found.put.length > 0) {
        if (!app.live.edit(`Import ${plural(found.put.length, 'profile')}`, { put: found.put, remove: [] })) return;
        openIn('/kit', found.put[0]!.id);
      } else if (found.same[0]) openIn('/kit', found.same[0].id);
      toast(`${plural(found.put.length, 'profile')} imported`, {
        description:
          found.same.length > 0 ? `${plural(found.same.length, 'profile')} here already, the same.` : undefined,
      });
    } catch (error) {
      fault = (error as Error).message;
    }
  }
</script>

<div class="actions">
  {#each all as next (next.id)}
    <Button kind="main" onclick={() => take(next)}
      >Take revision {next.revision} of {next.model} (here: {app.rig.profile(next.id)?.revision ?? 'none'})</Button
    >
  {/each}
  {#if own}
    <Button onclick={() => openEditor(profile.id)}><Pencil size={15} /> Change profile</Button>
  {:else}
    <Button onclick={() => copy(false)}><Pencil size={15} /> Own copy</Button>
    {#if units.length > 0}
      <Button title="The {plural(units.length, 'unit')} in the rig use the copy" onclick={() => copy(true)}
        >Own copy for the {plural(units.length, 'unit')}</Button
      >
    {/if}
  {/if}
  <Button onclick={() => createProfile(app)}><Plus size={15} /> New profile</Button>
  <Button onclick={() => exportGdtf(profile)}><Download size={15} /> GDTF</Button>
  <Button
    title="The favourites, or this profile where there are none"
    onclick={() => {
      const marked = kit.profiles.filter((p) => kit.favourites.has(p.id));
      exportProfiles(marked.length > 0 ? marked : [profile]);
    }}><Download size={15} /> {kit.favourites.size > 0 ? 'Favourites as file' : 'As file'}</Button
  >
  <ImportFile
    text="Import GDTF or profiles"
    accept=".gdtf,.kitepro,application/zip"
    take={(file) => void bring(file)}
  />
  {#if own && units.length === 0}
    <Button kind="bare" onclick={() => app.remove(`Remove profile ${profile.model}`, [profile.id])}
      ><Trash2 size={15} /> Remove</Button
    >
  {/if}
</div>
<ImpactPanel {editor} />
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
{#if notKept.length > 0}
  <details>
    <summary>{plural(notKept.length, 'thing')} of that file not kept</summary>
    <ul>
      {#each notKept as line (line)}<li>{line}</li>{/each}
    </ul>
  </details>
{/if}

<style>
  .actions {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .fault {
    color: var(--wrong);
  }
  details {
    font-size: 13px;
  }
  ul {
    margin: 4px 0;
    padding-left: 18px;
    max-height: 180px;
    overflow: auto;
  }
</style>
