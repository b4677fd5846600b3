<script lang="ts">
  import { attributeInfo, splitAttributeKey } from '$core/profile/attributes.ts';
  import { toHex } from '$core/colour/convert.ts';
  import type { LitId } from '$core/ids.ts';
  import { homeless } from '$core/profile/impact.ts';
  import type { ModeLayout } from '$core/profile/layout.ts';
  import type { SceneRecord } from '$core/records/index.ts';
  import type { AttributeValue, UnitValues } from '$core/records/scene.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { parseNumber } from '$core/numbers.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Field from '../Field.svelte';
  import Mark from '../Mark.svelte';

  /** What is in a scene: units down, exactly the attributes that were touched across. */
  let { scene }: { scene: SceneRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<SceneRecord>): boolean =>
    app.live.edit(label, { put: [{ ...scene, ...fields }], remove: [] });
  const seconds = (label: string, key: 'fadeInMs' | 'fadeOutMs', text: string): string | null => {
    const value = parseNumber(text);
    if (value === null || value < 0 || value > 3600) return 'Give 0 to 3600 seconds.';
    put(`${label} of ${scene.name}`, { [key]: Math.round(value * 1000) });
    return null;
  };
  const rows = $derived(
    Object.entries(scene.values)
      .flatMap(([id, values]) => {
        const lit = app.rig.lit(id);
        return lit ? [{ id: id as LitId, ...lit, values: values as UnitValues }] : [];
      })
      .sort((a, b) => a.unit.number - b.unit.number || (a.part?.number ?? 0) - (b.part?.number ?? 0)),
  );
  /** Colour parts are one chip; single cells of an attribute are one chip with their count. */
  interface Chip {
    readonly keys: readonly string[];
    readonly text: string;
    readonly value: string;
    readonly swatch: string | null;
  }
  /** Why the first of these values cannot be sent by its unit now; null when all can. Such values are kept. */
  function aside(layout: ModeLayout, values: UnitValues, keys: readonly string[]): string | null {
    for (const key of keys) {
      const why = homeless(layout, key, values[key]);
      if (why !== null) return why;
    }
    return null;
  }
  function chipsOf(values: UnitValues): Chip[] {
    const chips: Chip[] = [];
    const { ColorRGB_Red: r, ColorRGB_Green: g, ColorRGB_Blue: b } = values;
    if (typeof r === 'number' && typeof g === 'number' && typeof b === 'number')
      chips.push({
        keys: ['ColorRGB_Red', 'ColorRGB_Green', 'ColorRGB_Blue'],
        text: 'Colour',
        value: toHex({ r, g, b }),
        swatch: toHex({ r, g, b }),
      });
    const cells = new Map<string, string[]>();
    for (const [key, value] of Object.entries(values)) {
      const { attribute, cell } = splitAttributeKey(key);
      if (cell > 0) {
        const group = attribute.startsWith('ColorRGB') ? 'Colour' : attribute;
        cells.set(group, [...(cells.get(group) ?? []), key]);
      } else if (!attribute.startsWith('ColorRGB'))
        chips.push({
          keys: [key],
          text: attributeInfo(attribute)?.words ?? attribute,
          value: words(value),
          swatch: null,
        });
    }
    for (const [group, keys] of cells) {
      const count = new Set(keys.map((k) => splitAttributeKey(k).cell)).size;
      chips.push({
        keys,
        text: group === 'Colour' ? 'Colour' : (attributeInfo(group)?.words ?? group),
        value: `${count} cells`,
        swatch: null,
      });
    }
    return chips;
  }
  const words = (value: AttributeValue): string =>
    typeof value === 'number' ? `${Math.round(value * 100)} %` : value.range;
  function takeOut(id: LitId, keys: readonly string[]): void {
    const values = { ...scene.values } as Record<string, UnitValues>;
    const own = Object.fromEntries(Object.entries(values[id] ?? {}).filter(([key]) => !keys.includes(key)));
    if (Object.keys(own).length === 0) delete values[id];
    else values[id] = own;
    put(`Take out of ${scene.name}`, { values });
  }
  /** Adds what is by hand now; the rest of the scene stays. */
  function addHand(): void {
    const values = { ...scene.values } as Record<string, UnitValues>;
    for (const [id, own] of Object.entries(app.hand.values)) values[id] = { ...values[id], ...own };
    if (put(`Store into ${scene.name}`, { values })) app.hand.letGo();
  }
  /** Takes the scene into the hand, to change it and store it again. */
  function intoHand(): void {
    app.live.setHand(scene.values as Record<string, UnitValues>);
    app.selection.set(rows.flatMap((r) => (r.part ? [] : [r.unit.id])));
    app.selection.parts = rows.flatMap((r) => (r.part ? [r.part.id] : []));
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
    <Field
      label="Priority (0-200)"
      numeric
      value={scene.priority}
      save={(t) => {
        const value = parseNumber(t);
        if (value === null || !Number.isInteger(value) || value < 0 || value > 200)
          return 'Give a whole number from 0 to 200.';
        put(`Priority of ${scene.name}`, { priority: value });
        return null;
      }}
    />
    <div class="acts">
      <Button
        kind={handUnits > 0 ? 'main' : 'plain'}
        disabled={handUnits === 0}
        title="Adds what is by hand to this scene"
        onclick={addHand}>Store hand here</Button
      >
      <Button disabled={rows.length === 0} title="Takes the scene's values into the hand" onclick={intoHand}
        >Into the hand</Button
      >
    </div>
  </div>
  {#if rows.length === 0}
    <p class="quiet empty">
      This scene touches nothing yet. Select units, change them by hand in the tail, then <i>Store hand here</i>.
    </p>
  {:else}
    <table>
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
                {#each chipsOf(values) as chip (chip.keys[0])}
                  {@const why = aside(layout, values, chip.keys)}
                  <span
                    class="chip"
                    class:aside={why !== null}
                    title={why ? `Kept aside, not sent: ${why}` : undefined}
                  >
                    {#if why !== null}<Mark kind="look" title="kept aside: {why}" />{/if}
                    {#if chip.swatch}<i style:background={chip.swatch}></i>{/if}<span class="quiet">{chip.text}</span>
                    {chip.swatch ? '' : chip.value}
                    <button
                      type="button"
                      aria-label="Take {chip.text} of {name} out"
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
  }
  .times {
    display: grid;
    grid-template-columns: 110px 110px 120px 1fr;
    gap: 12px;
    align-items: end;
    padding-bottom: 12px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .empty {
    padding: 20px 0;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
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
