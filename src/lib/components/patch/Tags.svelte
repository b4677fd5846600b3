<script lang="ts">
  import { newTag } from '$core/sheet/tags.ts';
  import { TAG_SHAPES, type Tag } from '$core/records/show.ts';
  import type { AnyRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import TagMark from './TagMark.svelte';

  /** Colour tags of the show: a colour, a shape and a name. */
  const app = getApp();
  const tags = $derived(app.rig.show?.tags ?? []);

  function put(label: string, next: readonly Tag[], more: readonly AnyRecord[] = []): void {
    const { show } = app.rig;
    if (show) app.live.edit(label, { put: [{ ...show, tags: [...next] }, ...more], remove: [] });
  }
  function add(): void {
    put('New colour tag', [...tags, newTag(tags, `Tag ${tags.length + 1}`)]);
  }
  const change = (key: string, fields: Partial<Tag>): void =>
    put(
      'Colour tag',
      tags.map((t) => (t.key === key ? { ...t, ...fields } : t)),
    );
  /** Takes the tag away from everything that has it, in the same step. */
  function remove(key: string): void {
    const units = app.rig.units.filter((u) => u.tag === key).map((u) => ({ ...u, tag: null }));
    const areas = app.rig.areas.filter((a) => a.tag === key).map((a) => ({ ...a, tag: null }));
    const groups = app.rig.groups
      .filter((g) => g.tag === key || g.rule?.tag === key)
      .map((g) => ({
        ...g,
        tag: g.tag === key ? null : g.tag,
        // A rule about a tag that is gone would let everybody in: what it held stays as a list.
        ...(g.rule?.tag === key ? { rule: null, unitIds: [...app.rig.membersOf(g.id)] } : {}),
      }));
    put(
      'Delete a colour tag',
      tags.filter((t) => t.key !== key),
      [...units, ...areas, ...groups],
    );
  }
</script>

<header>
  <h2>Colour tags</h2>
  <Button disabled={tags.length >= 24} onclick={add}><Plus size={16} /> Tag</Button>
</header>
{#each tags as tag (tag.key)}
  <div class="tag">
    <TagMark {tag} bare />
    <Field
      label="Name of the tag {tag.name}"
      hideLabel
      value={tag.name}
      save={(t) =>
        t.trim() === '' || t.length > 100 ? 'Give it a name.' : (change(tag.key, { name: t.trim() }), null)}
    />
    <input
      type="color"
      aria-label="Colour of {tag.name}"
      value={tag.colour}
      onchange={(e) => change(tag.key, { colour: e.currentTarget.value })}
    />
    <Button kind="bare" aria-label="Delete the tag {tag.name}" onclick={() => remove(tag.key)}><X size={14} /></Button>
    <span></span>
    <Choice
      label="Shape of {tag.name}"
      hideLabel
      value={tag.shape}
      options={TAG_SHAPES.map((s) => ({ value: s, text: s }))}
      choose={(shape) => change(tag.key, { shape })}
    />
  </div>
{:else}<p class="quiet">A tag marks units with a colour and a shape: “spare”, “to be rented”, “night one”.</p>{/each}

<style>
  header {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
  .tag {
    display: grid;
    grid-template-columns: 18px 1fr 40px 32px;
    gap: 6px;
    align-items: center;
  }
  input[type='color'] {
    width: 40px;
    height: 30px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
  }
</style>
