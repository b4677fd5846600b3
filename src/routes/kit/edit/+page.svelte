<script lang="ts">
  import { page } from '$app/state';
  import Button from '$lib/components/Button.svelte';
  import MoodMatrix from '$lib/components/kit/MoodMatrix.svelte';
  import About from '$lib/components/kit/edit/About.svelte';
  import ChannelForm from '$lib/components/kit/edit/ChannelForm.svelte';
  import ChannelList from '$lib/components/kit/edit/ChannelList.svelte';
  import ImpactPanel from '$lib/components/kit/edit/ImpactPanel.svelte';
  import ModeEditor from '$lib/components/kit/edit/ModeEditor.svelte';
  import TryIt from '$lib/components/kit/edit/TryIt.svelte';
  import { isUnwritten } from '$core/profile/write.ts';
  import { keptAside } from '$core/patch/impact.ts';
  import Step from '$lib/components/Step.svelte';
  import Tabs from '$lib/components/Tabs.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { plural } from '$lib/state/words.ts';

  const app = getApp();
  const editor = new ProfileEditor(app, () => page.url.searchParams.get('id') ?? '');
  const profile = $derived(editor.profile);
  const TABS = [
    ['about', 'About'],
    ['channels', 'Channels'],
    ['modes', 'Modes'],
    ['moods', 'Moods'],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>('channels');
  let tryIt = $state<TryIt>();
  const names = $derived(new Set(editor.usedBy.map((u) => u.name)));
  const kept = $derived(names.size > 0 ? keptAside(app.live.document).filter((v) => names.has(v.unit)) : []);
</script>

<Step title={profile ? profile.model : 'Profile'} detailsTitle="Try it">
  {#snippet tools()}
    {#if profile}
      <Tabs label="Parts of the profile" tabs={TABS} value={tab} choose={(t) => (tab = t)} />
      {#if editor.usedBy.length > 0}<span class="quiet">used by {plural(editor.usedBy.length, 'unit')}</span>{/if}
    {/if}
    <a class="back" href="/kit">Back to the Kit</a>
  {/snippet}
  {#if kept.length > 0}
    <details class="kept">
      <summary
        >▲ {plural(kept.length, 'value')} in scenes kept aside: the units have no such attribute or range now</summary
      >
      <ul>
        {#each kept as value (`${value.scene}${value.unit}${value.key}`)}
          <li><b>{value.scene}</b>, {value.unit}, {value.key}: {value.why}</li>
        {/each}
      </ul>
    </details>
  {/if}
  {#if !profile}
    <p class="none">
      There is no such profile in this show. It may have been undone or removed. <a href="/kit">Go to the Kit</a>.
    </p>
  {:else if tab === 'channels'}
    <div class="panes">
      <nav aria-label="Channels"><ChannelList {editor} /></nav>
      <div class="body">
        {#if editor.channel && !isUnwritten(profile)}
          {#key editor.channel.key}
            <ChannelForm
              {editor}
              channel={editor.channel}
              tryValue={(value) => tryIt?.show(editor.channel!.key, value)}
            />
          {/key}
        {/if}
      </div>
    </div>
  {:else}
    <div class="body alone">
      {#if tab === 'about'}<About {editor} {profile} />
      {:else if tab === 'modes' && editor.mode}{#key editor.mode.key}<ModeEditor {editor} mode={editor.mode} />{/key}
      {:else if tab === 'moods'}<MoodMatrix {profile} save={(moods) => void editor.set('Moods', { moods })} />{/if}
    </div>
  {/if}
  {#snippet details()}
    {#if profile && editor.mode}
      {#if profile.modes.length > 1}
        <div class="modes">
          {#each profile.modes as mode (mode.key)}
            <Button pressed={mode.key === editor.mode.key} onclick={() => (editor.modeKey = mode.key)}
              >{mode.name}</Button
            >
          {/each}
        </div>
      {/if}
      <TryIt bind:this={tryIt} {editor} {profile} modeKey={editor.mode.key} />
    {/if}
  {/snippet}
</Step>
<ImpactPanel {editor} />

<style>
  .kept {
    padding: 6px 16px;
    color: var(--look);
    font-size: 13px;
    max-height: 30%;
    overflow: auto;
  }
  .back {
    margin-left: auto;
    color: var(--amber-text);
  }
  .panes {
    display: grid;
    grid-template-columns: 210px minmax(0, 1fr);
    flex: 1;
    min-height: 0;
  }
  nav {
    display: flex;
    flex-direction: column;
    gap: 8px;
    min-height: 0;
    padding: 8px 8px 12px;
    border-right: 1px solid var(--line);
  }
  .body {
    display: flex;
    flex-direction: column;
    gap: 12px;
    padding: 10px 16px 24px;
    overflow: auto;
    min-height: 0;
  }
  .alone {
    flex: 1;
  }
  .none {
    padding: 24px 16px;
  }
  .modes {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  @media (max-width: 760px) {
    .panes {
      grid-template-columns: 1fr;
      overflow: auto;
    }
    nav {
      border-right: 0;
    }
  }
</style>
