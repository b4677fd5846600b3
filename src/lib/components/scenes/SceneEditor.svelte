<script lang="ts">
  import { splitAttributeKey } from '$core/attributes.ts';
  import { plainValues } from '$core/palette/resolve.ts';
  import type { LitId } from '$core/ids.ts';
  import type { SceneRecord } from '$core/records/index.ts';
  import type { UnitValues } from '$core/records/scene.ts';
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveSeconds, saveWhole } from '$lib/state/entry.ts';
  import { storedInto, type Values } from '$core/show/live/store.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Tabs from '../Tabs.svelte';
  import NoLight from './NoLight.svelte';
  import ReuseMenu from './ReuseMenu.svelte';
  import SceneGrid from './SceneGrid.svelte';
  import SceneTimes from './SceneTimes.svelte';
  import { columnsOf, keysIn, shownIn, whyAside } from './scene-words.ts';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';

  /** What is in a scene: units down, exactly the attributes that were touched across. */
  let { scene }: { scene: SceneRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<SceneRecord>): boolean =>
    app.live.edit(label, { put: [{ ...scene, ...fields }], remove: [] });
  let view = $state<'units' | 'grid' | 'times'>('units');
  const seconds = (label: string, key: 'fadeInMs' | 'fadeOutMs' | 'delayMs', text: string): string | null =>
    saveSeconds(text, (ms) => void put(`${label} of ${scene.name}`, { [key]: ms }));
  const values = $derived(scene.values as Values);
  const rows = $derived(
    app.rig.litRows(Object.keys(values) as LitId[]).map((row) => ({ ...row, values: values[row.id]! })),
  );
  const chipsOf = (id: LitId, values: UnitValues) => {
    const plain = plainValues(app.live.document, id, values);
    return columnsOf(Object.keys(values).map((key) => splitAttributeKey(key).attribute)).flatMap((column) => {
      const shown = shownIn(values, plain, column, (id) => app.rig.referenceName(id));
      return shown ? [{ ...shown, keys: keysIn(values, column), words: column.text }] : [];
    });
  };
  function takeOut(id: LitId, keys: readonly string[]): void {
    const out = Object.fromEntries(keys.map((key) => [key, values[id]![key]!]));
    put(`Take out of ${scene.name}`, { values: storedInto(values, { [id]: out }, 'takeOut') });
  }
  /** Takes the scene into the hand, to change it and store it again. */
  function intoHand(): void {
    app.live.setHand(scene.values as Record<string, UnitValues>);
    app.selection.setLit(rows.map((r) => r.id));
  }
  const handUnits = $derived(app.hand.unitIds.length);
</script>

<div class="editor">
  <div class="times">
    <Field
      label="Fade in"
      numeric
      suffix="s"
      value={scene.fadeInMs / 1000}
      save={(t) => seconds('Fade in', 'fadeInMs', t)}
    />
    <Field
      label="Fade out"
      numeric
      suffix="s"
      value={scene.fadeOutMs / 1000}
      save={(t) => seconds('Fade out', 'fadeOutMs', t)}
    />
    <Field label="Delay" numeric suffix="s" value={scene.delayMs / 1000} save={(t) => seconds('Delay', 'delayMs', t)} />
    <Field
      label="Priority (0-200)"
      numeric
      value={scene.priority}
      save={(t) => saveWhole(t, 0, 200, (priority) => void put(`Priority of ${scene.name}`, { priority }))}
    />
    <Choice
      label="Mood"
      value={scene.mood ?? ''}
      options={[{ value: '', text: 'none' }, ...MOODS.map((m) => ({ value: m as string, text: m }))]}
      choose={(m) => put(`Mood of ${scene.name}`, { mood: m === '' ? null : (m as Mood) })}
    />
    <div class="acts">
      <Button
        kind={handUnits > 0 ? 'main' : 'plain'}
        disabled={handUnits === 0}
        title="Adds what is by hand to this scene"
        onclick={() => app.hand.storeInto(scene, 'add', true)}>Store hand here</Button
      >
      <Button disabled={rows.length === 0} title="Takes the scene's values into the hand" onclick={intoHand}
        >Into the hand</Button
      >
      <ReuseMenu {scene} />
    </div>
  </div>
  <NoLight {scene} />
  <Tabs
    label="How it is shown"
    tabs={[
      ['units', 'Units'],
      ['grid', 'Grid'],
      ['times', 'Times by attribute'],
    ]}
    value={view}
    choose={(v) => (view = v)}
  />
  {#if view === 'grid'}
    <SceneGrid {scene} />
  {:else if view === 'times'}
    <SceneTimes {scene} />
  {:else if rows.length === 0}
    <p class="quiet empty">
      This scene touches nothing yet. Select units, change them by hand in the tail, then <i>Store hand here</i>.
    </p>
  {:else}
    <table class="plain">
      <thead><tr><th class="n">No.</th><th>Unit</th><th>In this scene: only what was touched</th></tr></thead>
      <tbody>
        {#each rows as { id, unit, part, name, layout, values } (id)}
          <tr>
            <td class="n num quiet">{unit.number}</td>
            <td
              ><button
                type="button"
                class="unit"
                class:on={part ? app.selection.hasPart(part.id) : app.selection.has(unit.id)}
                onclick={(e) =>
                  part
                    ? app.selection.pickPart(part.id, e)
                    : app.selection.click(
                        unit.id,
                        e,
                        rows.map((r) => r.unit.id),
                      )}>{name}</button
              ></td
            >
            <td>
              <span class="chips">
                {#each chipsOf(id, values) as chip (chip.keys[0])}
                  {@const why = whyAside(layout, values, chip.keys)}
                  <span
                    class="chip"
                    class:aside={why !== null}
                    title={why ? `Kept aside, not sent: ${why}` : undefined}
                  >
                    {#if why !== null}<Mark kind="look" title="kept aside: {why}" />{/if}
                    {#if chip.swatch}<i style:background={chip.swatch}></i>{/if}<span class="quiet">{chip.words}</span>
                    {chip.palette ?? (chip.swatch ? '' : chip.text)}
                    <button
                      type="button"
                      aria-label="Take {chip.words} of {name} out"
                      title="Take out"
                      onclick={() => takeOut(id, chip.keys)}><X size={12} /></button
                    >
                  </span>
                {/each}
              </span>
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</div>

<style>
  .aside {
    border-style: dashed;
  }
  .editor {
    padding: 8px 16px 24px;
    overflow: auto;
    flex: 1;
    min-width: 0;
    display: flex;
    flex-direction: column;
    gap: 6px;
  }
  .times {
    display: grid;
    grid-template-columns: repeat(5, minmax(84px, 120px));
    gap: 12px;
    align-items: end;
    padding-bottom: 12px;
  }
  @media (max-width: 760px) {
    .times {
      grid-template-columns: 1fr 1fr;
    }
  }
  .acts {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .empty {
    padding: 20px 0;
  }
  th {
    padding: 4px 8px;
    border-bottom: 1px solid var(--line-strong);
  }
  td {
    padding: 3px 8px;
    border-bottom: 1px solid var(--line);
  }
  .n {
    text-align: right;
    width: 48px;
  }
  .unit {
    border: 0;
    background: none;
    padding: 4px 6px;
    border-radius: 4px;
    text-align: left;
    white-space: nowrap;
  }
  .unit:hover {
    background: var(--hover);
  }
  .on {
    background: var(--amber-wash);
    color: var(--amber-text);
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 5px;
  }
  .chip {
    display: inline-flex;
    align-items: center;
    gap: 5px;
    border: 1px solid var(--line);
    border-radius: 4px;
    padding-left: 7px;
    background: var(--panel);
    white-space: nowrap;
  }
  .chip button {
    display: grid;
    place-items: center;
    width: 24px;
    height: 24px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  .chip button:hover {
    color: var(--wrong);
  }
  i {
    width: 14px;
    height: 14px;
    border-radius: 3px;
    border: 1px solid var(--line-strong);
  }
</style>
