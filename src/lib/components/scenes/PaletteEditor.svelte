<script lang="ts">
  import { fromHex, toHex } from '$core/colour/convert.ts';
  import { mixtureOf, mixtureValues } from '$core/colour/mixture.ts';
  import { attributeInfo } from '$core/attributes.ts';
  import type { PaletteRecord } from '$core/records/index.ts';
  import type { PlainValues, UnitValues } from '$core/records/scene.ts';
  import type { LitId } from '$core/ids.ts';
  import { storedPalette, usersOf } from '$core/show/live/store.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import { valueWords } from './scene-words.ts';

  /** What a palette says: of all, of single profiles, of single units. Every scene that refers to it follows. */
  let { palette }: { palette: PaletteRecord } = $props();
  const app = getApp();
  const put = (fields: Partial<PaletteRecord>): boolean =>
    app.live.edit(`Change palette ${palette.name}`, { put: [{ ...palette, ...fields }], remove: [] });
  const mixture = $derived.by(() => {
    const colour = mixtureOf(palette.all);
    return colour && toHex(colour);
  });
  const setMixture = (hex: string): boolean =>
    put({ all: { ...palette.all, ...mixtureValues(fromHex(hex)) }, colour: hex });
  const rows = $derived([
    ...Object.entries(palette.profiles).map(([id, values]) => {
      const profile = app.rig.profile(id);
      return {
        id,
        where: 'profiles' as const,
        name: profile ? `every ${profile.maker} ${profile.model}` : id,
        values: values as PlainValues,
      };
    }),
    ...Object.entries(palette.units).map(([id, values]) => ({
      id,
      where: 'units' as const,
      name: app.rig.lit(id)?.name ?? id,
      values: values as PlainValues,
    })),
  ]);
  function takeOut(where: 'profiles' | 'units', id: string): void {
    const next = { ...palette[where] } as Record<string, PlainValues>;
    delete next[id];
    put({ [where]: next });
  }
  function storeHand(): void {
    const hand = structuredClone($state.snapshot(app.hand.values)) as Record<LitId, UnitValues>;
    if (put(storedPalette(app.live.document, palette.family, hand))) app.hand.letGo();
  }
  const users = $derived(usersOf(app.live.document, palette.id));
  const words = (values: PlainValues): { key: string; text: string }[] =>
    Object.entries(values).map(([key, value]) => ({
      key,
      text: `${attributeInfo(key)?.words ?? key}: ${valueWords(value)}`,
    }));
  const general = $derived(words(palette.all).filter(({ key }) => !mixture || !key.startsWith('ColorRGB')));
</script>

<div class="editor">
  <div class="acts">
    <Button disabled={app.selection.lit.length === 0} onclick={() => app.hand.applyPalette(palette)}
      >Set on the selection</Button
    >
    <Button disabled={app.hand.unitIds.length === 0} onclick={storeHand}>Store hand here</Button>
  </div>
  <section>
    <h3>For all</h3>
    {#if mixture}
      <label class="mix"
        ><input type="color" value={mixture} onchange={(e) => setMixture(e.currentTarget.value)} /> Mixed colour
        <span class="num">{mixture}</span>; colour wheels take the nearest slot</label
      >
    {/if}
    <div class="chips">
      {#each general as { key, text } (key)}<span class="chip">{text}</span>{/each}
    </div>
    {#if !mixture && general.length === 0}<p class="quiet">Nothing is said of all.</p>{/if}
  </section>
  <section>
    <h3>Differences</h3>
    {#each rows as row (row.id)}
      <div class="row">
        <span class="name">{row.name}</span>
        <span class="chips"
          >{#each words(row.values) as { key, text } (key)}<span class="chip">{text}</span>{/each}</span
        >
        <Button kind="bare" aria-label="Take {row.name} out" onclick={() => takeOut(row.where, row.id)}
          ><X size={14} /></Button
        >
      </div>
    {:else}
      <p class="quiet">None: it is the same for everybody.</p>
    {/each}
  </section>
  <section>
    <h3>Used in</h3>
    <div class="chips">
      {#each users as user (user.id)}
        <button type="button" class="chip link" onclick={() => openIn('/scenes', user.id)}>{user.name}</button>
      {:else}<p class="quiet">Nothing refers to it yet.</p>{/each}
    </div>
  </section>
</div>

<style>
  .editor {
    padding: 8px 16px 24px;
    overflow: auto;
    flex: 1;
    display: flex;
    flex-direction: column;
    gap: 16px;
  }
  .acts,
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .mix {
    display: flex;
    gap: 10px;
    align-items: center;
    padding: 4px 0 8px;
  }
  .mix input {
    width: 64px;
    height: 34px;
    padding: 0;
    border: 1px solid var(--line-strong);
    background: none;
  }
  .chip {
    padding: 2px 10px;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--panel);
    font-size: 12.5px;
  }
  .link:hover {
    background: var(--hover);
  }
  .row {
    display: grid;
    grid-template-columns: 220px 1fr auto;
    gap: 8px;
    align-items: center;
    min-height: 34px;
    border-bottom: 1px solid var(--line);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
