<script lang="ts">
  import { Popover } from 'bits-ui';
  import { DEFAULT_COLUMNS, SHEET_COLUMNS } from '$core/sheet/columns.ts';
  import { freeKey } from '$core/profile/keys.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import Columns3 from '@lucide/svelte/icons/columns-3';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';

  /** Which columns the sheet shows, in which order; and views of it that are kept with the show. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  const views = $derived(app.rig.show?.views ?? []);
  const offered = $derived(SHEET_COLUMNS.filter((c) => !c.fileOnly && !desk.keys.includes(c.key)));
  let name = $state('');
  let fault = $state<string | null>(null);

  function move(index: number, by: number): void {
    const keys = [...desk.keys];
    const [key] = keys.splice(index, 1);
    keys.splice(index + by, 0, key!);
    desk.setColumns(keys);
  }
  function keep(): void {
    const { show } = app.rig;
    const wanted = name.trim();
    if (!show) return;
    if (wanted === '' || wanted.length > 100) return void (fault = 'Give the view a name of at most 100 characters.');
    const old = views.find((v) => v.name.toLowerCase() === wanted.toLowerCase());
    if (!old && views.length >= 24) return void (fault = 'A show keeps at most 24 views: delete one first.');
    const keys = views.map((v) => v.key);
    const view = {
      key: old?.key ?? freeKey(wanted, keys, 'view'),
      name: wanted,
      columns: [...desk.keys],
      sort: desk.sort ? { ...desk.sort } : null,
      filter: desk.filter.slice(0, 200),
    };
    app.live.edit(`Keep the view “${wanted.slice(0, 60)}”`, {
      put: [{ ...show, views: [...views.filter((v) => v.key !== view.key), view] }],
      remove: [],
    });
    name = '';
    fault = null;
  }
  function drop(key: string): void {
    const { show } = app.rig;
    if (show)
      app.live.edit('Delete a view', { put: [{ ...show, views: views.filter((v) => v.key !== key) }], remove: [] });
  }
</script>

<Popover.Root>
  <Popover.Trigger class="menu-trigger"><Columns3 size={16} aria-hidden="true" /> Columns</Popover.Trigger>
  <Popover.Portal>
    <Popover.Content sideOffset={6} align="end" class="column-menu" aria-label="Columns and views">
      <div class="two">
        <section aria-label="Columns shown">
          <h3>Shown</h3>
          <ul>
            {#each desk.columns as column, i (column.key)}
              <li>
                <span class="grow">{column.title} <span class="quiet">{column.about}</span></span>
                <Button kind="bare" aria-label="Move {column.title} up" disabled={i === 0} onclick={() => move(i, -1)}
                  ><ArrowUp size={14} /></Button
                >
                <Button
                  kind="bare"
                  aria-label="Move {column.title} down"
                  disabled={i === desk.columns.length - 1}
                  onclick={() => move(i, 1)}><ArrowDown size={14} /></Button
                >
                <Button
                  kind="bare"
                  aria-label="Hide {column.title}"
                  disabled={desk.columns.length === 1}
                  onclick={() => desk.setColumns(desk.keys.filter((k) => k !== column.key))}><X size={14} /></Button
                >
              </li>
            {/each}
          </ul>
        </section>
        <section aria-label="Columns hidden">
          <h3>Not shown</h3>
          <ul>
            {#each offered as column (column.key)}
              <li>
                <button type="button" class="offer" onclick={() => desk.setColumns([...desk.keys, column.key])}
                  >+ {column.title} <span class="quiet">{column.about}</span></button
                >
              </li>
            {/each}
          </ul>
        </section>
      </div>
      <h3>Views</h3>
      <div class="views">
        <Button onclick={() => desk.useView(null)}>As it comes</Button>
        {#each views as view (view.key)}
          <span class="view"
            ><Button onclick={() => desk.useView(view)}>{view.name}</Button><Button
              kind="bare"
              aria-label="Delete the view {view.name}"
              onclick={() => drop(view.key)}><X size={14} /></Button
            ></span
          >
        {/each}
      </div>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <input bind:value={name} placeholder="Name of this view" aria-label="Name of this view" />
        <Button type="submit">Keep</Button>
      </form>
      {#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
      <p class="quiet">
        A view keeps columns ({desk.keys.length} of {SHEET_COLUMNS.length}), order and filter with the show. {DEFAULT_COLUMNS.length}
        columns come with a new one.
      </p>
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  :global(.column-menu) {
    grid-template-columns: minmax(0, 1fr);
    z-index: 40;
    width: min(620px, 94vw);
    max-height: 76vh;
    overflow: auto;
    padding: 14px;
    display: grid;
    gap: 10px;
    background: var(--panel);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    box-shadow: 0 12px 40px rgb(0 0 0 / 45%);
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
    gap: 16px;
  }
  ul {
    list-style: none;
    margin: 4px 0 0;
    padding: 0;
    max-height: 300px;
    overflow: auto;
  }
  li {
    display: flex;
    align-items: center;
    min-height: 30px;
  }
  .grow {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .offer {
    border: 0;
    background: none;
    padding: 4px 0;
    text-align: left;
    width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .offer:hover {
    color: var(--amber-text);
  }
  .views,
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .view {
    display: inline-flex;
  }
  input {
    flex: 1;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 6px 8px;
  }
  .fault {
    color: var(--wrong);
  }
</style>
