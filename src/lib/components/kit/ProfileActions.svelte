<script lang="ts">
  import { FaultError } from '$core/faults.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { createProfile, isLibrary, openEditor, type Kit } from '$lib/state/kit/kit.svelte.ts';
  import { exportGdtf, exportProfiles, faultLine, importProfiles } from '$lib/state/kit/profile-files.ts';
  import { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
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
    const nothing = { file: file.name, failed: null, said: '', faults: [], notKept: [] };
    kit.report = null;
    try {
      const found = await importProfiles(file, kit.profiles, app.rig.profiles, () => app.newId('profile'));
      offered = found.newer;
      if (found.put.length > 0) {
        if (!app.live.edit(`Import ${plural(found.put.length, 'profile')}`, { put: found.put, remove: [] })) return;
        openIn('/kit', found.put[0]!.id);
      } else if (found.same[0]) openIn('/kit', found.same[0].id);
      const leftOut = new Set(found.faults.flatMap((line) => /DMXMode "[^"]*"/.exec(line)?.[0] ?? [])).size;
      const said = [
        `${plural(found.put.length, 'profile')} imported.`,
        found.same.length > 0 ? `${plural(found.same.length, 'profile')} here already, the same.` : '',
        found.newer.length > 0 ? `${plural(found.newer.length, 'newer revision')} can be taken below.` : '',
        leftOut > 0 ? `${plural(leftOut, 'mode')} with something that could not be used:` : '',
      ];
      const { faults, notKept } = found;
      kit.report = { ...nothing, said: said.filter(Boolean).join(' '), faults, notKept };
    } catch (error) {
      const [first, ...more] = error instanceof FaultError ? error.faults : [];
      const failed = first ? faultLine(first) : (error as Error).message;
      kit.report = { ...nothing, failed, faults: more.map(faultLine) };
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

<style>
  .actions {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .fault {
    color: var(--wrong);
  }
</style>
