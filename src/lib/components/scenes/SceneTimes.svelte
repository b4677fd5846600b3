<script lang="ts">
  import { splitAttributeKey } from '$core/attributes.ts';
  import type { SceneRecord } from '$core/records/index.ts';
  import type { AttributeTime } from '$core/records/scene.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveSeconds } from '$lib/state/entry.ts';
  import Check from '../Check.svelte';
  import Field from '../Field.svelte';
  import { columnsOf, type Column } from './scene-words.ts';

  /** Fades and delays of single attributes; empty fields are as the scene says. */
  let { scene }: { scene: SceneRecord } = $props();
  const app = getApp();
  const columns = $derived(
    columnsOf(
      Object.values(scene.values).flatMap((own) => Object.keys(own).map((k) => splitAttributeKey(k).attribute)),
    ),
  );
  const timeOf = (column: Column): AttributeTime => scene.times[column.attributes[0]!] ?? {};
  function put(column: Column, fields: Partial<AttributeTime>): void {
    const times = { ...scene.times };
    for (const attribute of column.attributes) {
      const next = Object.fromEntries(
        Object.entries({ ...times[attribute], ...fields }).filter(([, v]) => v !== undefined && v !== false),
      );
      if (Object.keys(next).length > 0) times[attribute] = next;
      else delete times[attribute];
    }
    app.live.edit(`Times of ${column.text} in ${scene.name}`, { put: [{ ...scene, times }], remove: [] });
  }
  function save(column: Column, key: 'fadeInMs' | 'fadeOutMs' | 'delayMs', text: string): string | null {
    if (text.trim() === '') return (put(column, { [key]: undefined }), null);
    return saveSeconds(text, (ms) => put(column, { [key]: ms }), 'Give 0 to 3600 seconds, or nothing.');
  }
  const shown = (ms: number | undefined): string | number => (ms === undefined ? '' : ms / 1000);
</script>

{#if columns.length === 0}<p class="quiet">The scene touches nothing yet.</p>{:else}
  <table>
    <thead><tr><th>Attribute</th><th>Delay</th><th>Fade in</th><th>Fade out</th><th></th></tr></thead>
    <tbody>
      {#each columns as column (column.key)}
        {@const time = timeOf(column)}
        <tr>
          <td>{column.text}</td>
          {#each [['delayMs', 'Delay', scene.delayMs], ['fadeInMs', 'Fade in', scene.fadeInMs], ['fadeOutMs', 'Fade out', scene.fadeOutMs]] as const as [key, label, usual] (key)}
            <td
              ><Field
                hideLabel
                label="{label} of {column.text}"
                numeric
                suffix="s"
                value={shown(time[key])}
                placeholder={String(usual / 1000)}
                save={(t) => save(column, key, t)}
              /></td
            >
          {/each}
          <td><Check label="jumps" checked={time.snap ?? false} change={(snap) => put(column, { snap })} /></td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}

<style>
  table {
    border-collapse: collapse;
    max-width: 640px;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
    padding: 4px 8px;
  }
  td {
    padding: 3px 8px;
    border-top: 1px solid var(--line);
  }
</style>
