<script lang="ts">
  import { isPlaying } from '$core/show/index.ts';
  import { usersOf } from '$core/show/live/store.ts';
  import type { PaletteRecord, SceneRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import type { PlayableRecord } from '$lib/state/rig.svelte.ts';
  import { nextNumber } from '$core/naming.ts';
  import { saveSeconds, saveWhole } from '$lib/state/entry.ts';
  import { PAD_SIDE, takePicture } from '$lib/state/pictures/picture-upload.ts';
  import { plural } from '$lib/state/words.ts';
  import Copy from '@lucide/svelte/icons/copy';
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import ImportFile from '../ImportFile.svelte';
  import Mark from '../Mark.svelte';
  import NameField from '../NameField.svelte';
  import TagMark from '../patch/TagMark.svelte';

  /** What is true of a scene, chase, effect or palette apart from what it does. */
  let { item }: { item: PlayableRecord | PaletteRecord } = $props();
  const app = getApp();
  type Item = PlayableRecord | PaletteRecord;
  const put = (label: string, fields: Partial<Item>): boolean =>
    app.live.edit(`${label} of ${item.name}`, { put: [{ ...item, ...fields } as Item], remove: [] });
  const playing = $derived(item.kind !== 'palette' && app.live.live ? isPlaying(app.live.live, item.id) : false);
  const users = $derived(usersOf(app.live.document, item.id));
  const tags = $derived(app.rig.show?.tags ?? []);
  const pictures = $derived([...app.live.document.values()].filter((r) => r.kind === 'picture'));
  function saveFolder(text: string): string | null {
    const folder = text
      .split('/')
      .map((part) => part.trim())
      .filter((part) => part !== '')
      .join('/');
    if (folder.length > 200 || folder.split('/').length > 6) return 'At most six folders, 200 characters.';
    put('Folder', { folder });
    return null;
  }
  const peers = (): readonly { number: number }[] =>
    ({ scene: app.rig.scenes, chase: app.rig.chases, effect: app.rig.effects, palette: app.rig.palettes })[item.kind];
  function duplicate(): void {
    const copy = {
      ...item,
      id: app.newId(item.kind),
      number: nextNumber(peers()),
      name: `${item.name.slice(0, 92)} copy`,
    } as Item;
    if (app.live.edit(`Duplicate ${item.name}`, { put: [copy], remove: [] })) openIn('/scenes', copy.id);
  }
  let busy = $state(false);
  let fault = $state('');
  /** A picture from a file goes into the show, small, and onto the pad. */
  async function facePicture(file: File): Promise<void> {
    busy = true;
    fault = '';
    try {
      const picture = await takePicture(file, app.newId('picture'), PAD_SIDE);
      const record = { ...item, pictureId: picture.id } as Item;
      app.live.edit(`Picture of ${item.name}`, { put: [picture, record], remove: [] });
    } catch (error) {
      fault = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  const units = $derived(item.kind === 'scene' ? Object.keys((item as SceneRecord).values).length : 0);
</script>

{#if item.kind !== 'palette'}
  <Button
    kind={playing ? 'plain' : 'main'}
    pressed={playing || undefined}
    onclick={() => app.live.command({ do: playing ? 'release' : 'play', target: item.id })}
  >
    {#if playing}<Square size={16} fill="currentColor" /> Let go{:else}<Play size={16} /> Play{/if}
  </Button>
{/if}
<NameField
  value={item.name}
  save={(name) => void app.live.edit(`Rename ${item.name}`, { put: [{ ...item, name } as Item], remove: [] })}
/>
<div class="pair">
  <Field
    label="Number"
    numeric
    value={item.number}
    save={(t) => saveWhole(t, 1, 99_999, (number) => void put('Number', { number }))}
  />
  <label class="tint"
    >Colour <input
      type="color"
      value={item.colour}
      onchange={(e) => put('Colour', { colour: e.currentTarget.value })}
    /></label
  >
</div>
{#if item.kind === 'chase' || item.kind === 'effect'}
  <div class="pair">
    <Field
      label="Fade in"
      numeric
      suffix="s"
      value={item.fadeInMs / 1000}
      save={(t) => saveSeconds(t, (fadeInMs) => void put('Fade in', { fadeInMs }))}
    />
    <Field
      label="Fade out"
      numeric
      suffix="s"
      value={item.fadeOutMs / 1000}
      save={(t) => saveSeconds(t, (fadeOutMs) => void put('Fade out', { fadeOutMs }))}
    />
  </div>
  <Field
    label="Priority (0-200)"
    numeric
    value={item.priority}
    save={(t) => saveWhole(t, 0, 200, (priority) => void put('Priority', { priority }))}
  />
{/if}
<Field label="Folder" value={item.folder} placeholder="such as Disco/Slow" save={saveFolder} />
{#if item.kind !== 'palette'}
  <Choice
    label="Only in the area"
    value={item.areaId ?? ''}
    options={[
      { value: '', text: 'the whole rig' },
      ...app.rig.areas.map((a) => ({ value: a.id as string, text: a.name })),
    ]}
    choose={(v) => put('Area', { areaId: (v || null) as PlayableRecord['areaId'] })}
  />
  {#if pictures.length > 0}
    <Choice
      label="On its pad"
      value={item.pictureId ?? ''}
      options={[
        { value: '', text: 'what it looks like' },
        ...pictures.map((p) => ({ value: p.id as string, text: p.name })),
      ]}
      choose={(v) => put('Picture', { pictureId: (v || null) as PlayableRecord['pictureId'] })}
    />
  {/if}
  <div class="row">
    <ImportFile
      text="Picture on its pad…"
      accept="image/png,image/jpeg,image/webp,image/svg+xml"
      {busy}
      take={(file) => void facePicture(file)}
    />
  </div>
  {#if fault}<p class="fault" role="alert"><Mark kind="wrong" /> {fault}</p>{/if}
{/if}
{#if tags.length > 0}
  <fieldset>
    <legend>Tags</legend>
    {#each tags as tag (tag.key)}
      {#snippet mark()}<TagMark {tag} />{/snippet}
      <Check
        label={mark}
        checked={item.tags.includes(tag.key)}
        change={(on) =>
          put('Tags', { tags: on ? [...item.tags, tag.key].slice(0, 8) : item.tags.filter((k) => k !== tag.key) })}
      />
    {/each}
  </fieldset>
{/if}
<p class="quiet">
  {item.kind === 'scene' ? `${plural(units, 'unit')}. ` : ''}{users.length > 0
    ? `Used in ${users
        .slice(0, 6)
        .map((u) => u.name)
        .join(', ')}${users.length > 6 ? ` and ${users.length - 6} more` : ''}.`
    : 'Used in nothing else.'}
</p>
<div class="row">
  <Button onclick={duplicate}><Copy size={16} /> Duplicate</Button>
  <Button kind="wrong" onclick={() => app.remove(`Remove ${item.name}`, [item.id])}><Trash2 size={16} /> Remove</Button>
</div>
{#if users.length > 0}
  <p class="quiet">
    {item.kind === 'palette'
      ? 'Removing it writes its values into what uses it; undo brings it back.'
      : `Removing it takes its steps out of ${users.map((u) => u.name).join(', ')}; undo brings them back.`}
  </p>
{/if}

<style>
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
    align-items: end;
  }
  .tint {
    display: grid;
    gap: 3px;
    color: var(--quiet);
    font-size: 12.5px;
  }
  input[type='color'] {
    width: 100%;
    height: 32px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
  }
  fieldset {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 14px;
    border: 0;
    margin: 0;
    padding: 0;
  }
  legend {
    padding: 0;
    color: var(--quiet);
    font-size: 12.5px;
  }
  .row {
    display: flex;
    gap: 8px;
  }
  .fault {
    margin: 0;
    color: var(--wrong);
  }
</style>
