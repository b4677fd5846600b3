<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import { numberedNames, nextNumber } from '$core/naming.ts';
  import { make } from '$core/records/index.ts';
  import { Opened } from '$lib/state/opened.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Button from '../Button.svelte';
  import GroupEditor from './GroupEditor.svelte';
  import AreasLines from './AreasLines.svelte';
  import Removed from '../Removed.svelte';
  import Tags from './Tags.svelte';
  import TagMark from './TagMark.svelte';

  /** Groups, colour tags, areas and lines: what units are gathered by. */
  const app = getApp();
  const opened = new Opened('group', () => app.rig.groups);
  const chosen = $derived(opened.record);
  const letterOf = $derived(new Map([...app.rig.letters].map(([letter, group]) => [group.id, letter])));
  const tags = $derived(new Map((app.rig.show?.tags ?? []).map((t) => [t.key, t])));

  function create(rule: boolean): void {
    const number = nextNumber(app.rig.groups);
    const id = app.newId('group');
    const name = numberedNames('Group #', 1, number)[0]!;
    const unitIds = rule ? [] : [...app.selection.ids];
    const blank = { profileId: null, areaId: null, tag: null, every: 1, from: 1, order: 'number' as const };
    const group = make('group', { id, number, name, unitIds, rule: rule ? blank : null });
    if (app.live.edit(`New group: ${name}`, { put: [group], remove: [] })) opened.open(id);
  }
</script>

<div class="view">
  <section aria-label="Groups" class="list">
    <header>
      <h2>Groups</h2>
      <Button onclick={() => create(false)}
        ><Plus size={16} />
        {app.selection.ids.length > 0 ? `Of ${plural(app.selection.ids.length, 'unit')}` : 'Empty'}</Button
      >
      <Button onclick={() => create(true)}><Plus size={16} /> By rule</Button>
    </header>
    <ul class="rows">
      {#each app.rig.groups as group (group.id)}
        {@const tag = group.tag ? tags.get(group.tag) : undefined}
        <li>
          <button
            type="button"
            class:on={group.id === chosen?.id}
            aria-pressed={group.id === chosen?.id}
            onclick={(e) => {
              opened.open(group.id);
              const ids = app.rig.membersOf(group.id);
              if (e.shiftKey || e.ctrlKey || e.metaKey) app.selection.add(ids);
              else app.selection.set(ids);
            }}
          >
            <kbd class="num">{letterOf.get(group.id) ?? ''}</kbd>
            <span class="grow">{group.name}</span>
            {#if tag}<TagMark {tag} bare />{/if}
            {#if group.rule}<span class="quiet">by rule</span>{/if}
            <span class="num quiet">{app.rig.membersOf(group.id).length}</span>
          </button>
        </li>
      {:else}<li class="quiet">No groups yet. Select units and make one of them, or let a rule gather them.</li>{/each}
    </ul>
    <p class="quiet">Press G and then the letter to select a group from anywhere.</p>
    <Tags />
  </section>
  <section aria-label="Group" class="edit">
    {#if chosen}{#key chosen.id}<GroupEditor group={chosen} />{/key}
    {:else if opened.removed !== null}<Removed what="group" name={opened.removed} list="the list" />{/if}
  </section>
  <section aria-label="Areas and lines" class="edit"><AreasLines /></section>
</div>

<style>
  .view {
    display: grid;
    grid-template-columns: minmax(220px, 1fr) minmax(220px, 1fr) minmax(220px, 1fr);
    gap: 20px;
    padding: 4px 16px 16px;
    overflow: auto;
    min-height: 0;
    flex: 1;
    align-items: start;
  }
  .list,
  .edit {
    display: grid;
    gap: 10px;
    align-content: start;
    min-width: 0;
  }
  header {
    display: flex;
    gap: 6px;
    align-items: center;
    flex-wrap: wrap;
  }
  h2 {
    flex: 1;
  }
  li button {
    min-height: 32px;
  }
  .grow {
    flex: 1;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  kbd {
    width: 22px;
    text-align: center;
    color: var(--amber-text);
  }
  @media (max-width: 1000px) {
    .view {
      grid-template-columns: 1fr;
    }
  }
</style>
