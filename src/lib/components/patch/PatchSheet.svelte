<script lang="ts">
  import { isSevere } from '$core/patch/clash.ts';
  import type { UnitId } from '$core/ids.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { isOutdated } from '$core/sheet/columns.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import Check from '@lucide/svelte/icons/check';
  import Mark from '../Mark.svelte';
  import Sheet from '../Sheet.svelte';
  import TagMark from './TagMark.svelte';

  /** All units as a sheet: the columns that are wanted, written in place. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();

  const WIDTHS: Readonly<Record<string, number>> = {
    number: 46,
    name: 122,
    profile: 160,
    mode: 84,
    patch: 70,
    last: 66,
    absolute: 82,
    follows: 110,
    footprint: 48,
    expected: 98,
    switches: 110,
    menu: 80,
    output: 130,
    line: 96,
    place: 56,
    port: 60,
    groups: 130,
    area: 110,
    tag: 90,
    x: 64,
    y: 64,
    z: 74,
    notes: 150,
    done: 74,
    doneBy: 90,
    doneAt: 128,
    state: 100,
  };
  /** Where something is wrong the words for it take room from the others. */
  const FAULTY: Readonly<Record<string, number>> = { name: 106, profile: 120, mode: 72, state: 175 };
  const faulty = $derived(app.rig.clashesById.size > 0);
  const columns = $derived(
    desk.columns.map((c) => ({
      key: c.key,
      title: c.title,
      about: c.about,
      width: (faulty ? FAULTY[c.key] : undefined) ?? WIDTHS[c.key] ?? 100,
      grow: c.key === 'name' || c.key === 'state' || c.key === 'notes',
      numeric: c.numeric ?? false,
      editable: c.written,
      text: (u: UnitRecord) => c.text(desk.facts, u),
    })),
  );
  function select(ids: readonly string[], how: 'set' | 'toggle'): void {
    if (how === 'set') app.selection.set(ids as UnitId[]);
    else for (const id of ids as UnitId[]) app.selection.toggle(id);
  }
</script>

<Sheet
  label="Patch sheet"
  {columns}
  rows={desk.rows}
  sort={desk.sort}
  sortBy={(key) => desk.sortBy(key)}
  selected={(id) => app.selection.has(id as UnitId)}
  {select}
  save={(row, key, text, all) => desk.save(row, key, text, all)}
  copy={(range) => desk.copy(range)}
  paste={(text, html, range) => desk.paste(text, html, range)}
  fill={(range) => desk.fill(range)}
  clear={(range) => desk.clear(range)}
  selectAll={() => app.selectAll()}
  several={app.selection.several}
>
  {#snippet cell(row, column)}
    {#if column.key === 'state'}
      {@const clashes = desk.facts.faults().get(row.id) ?? []}
      {#if clashes.length > 0}
        {@const severe = clashes.some(isSevere)}
        <span class={severe ? 'wrong' : 'look'} title={clashes.map((c) => c.message).join('\n')}
          ><Mark kind={severe ? 'wrong' : 'look'} />
          {(clashes.find(isSevere) ?? clashes[0]!).message}{clashes.length > 1 ? ` (+${clashes.length - 1})` : ''}</span
        >
      {/if}
    {:else if column.key === 'done' && row.walk}
      {@const old = isOutdated(desk.facts, row)}
      <span class="tick" class:look={old || row.walk.state === 'skipped'} title={column.text(row)}
        >{#if row.walk.state === 'done' && !old}<Check size={14} aria-hidden="true" />{:else}<Mark
            kind="look"
          />{/if}{column.text(row)}</span
      >
    {:else if column.key === 'tag'}
      {@const tag = row.tag ? desk.facts.tags().get(row.tag) : undefined}
      {#if tag}<TagMark {tag} />{/if}
    {:else if column.key === 'patch' && column.text(row) === ''}<span class="quiet">none</span>
    {:else if column.key === 'patch' && row.relation}
      <span class="follows" title={desk.facts.profile(row) ? 'Follows another unit' : ''}
        >{'twinOf' in row.relation ? '=' : '↳'} {column.text(row)}</span
      >
    {:else}{column.text(row)}{/if}
  {/snippet}
  {#snippet empty()}
    <div class="empty quiet">
      {#if app.rig.units.length === 0}
        <p>No units yet.</p>
        <p>
          Choose a profile in the <a href="/kit">Kit</a> and add the first ones, or bring in the sheet you have: paste it
          here with its headings, or import a CSV or XLSX file.
        </p>
      {:else}<p>No unit matches the filter.</p>{/if}
    </div>
  {/snippet}
</Sheet>

<style>
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
  .tick {
    display: inline-flex;
    gap: 4px;
    align-items: center;
  }
  .follows {
    color: var(--amber-text);
  }
  .empty {
    padding: 30px 8px;
    display: grid;
    gap: 8px;
    max-width: 460px;
  }
  a {
    color: var(--amber-text);
  }
</style>
