<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { exportCsv, exportXlsx } from '$core/sheet/export.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import { fileName, saveFile } from '$lib/state/save-file.ts';
  import { SheetImport } from '$lib/state/patch/sheet-import.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import FileSpreadsheet from '@lucide/svelte/icons/file-spreadsheet';

  /** The sheet in and out: files, the clipboard, the printer. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  let input = $state<HTMLInputElement>();
  const name = $derived(`${fileName(app.rig.show?.name ?? 'Patch')} patch`);

  async function take(file: File): Promise<void> {
    desk.import = await SheetImport.ofFile(app, file);
  }
  async function copy(): Promise<void> {
    const { text, html } = desk.copyAll();
    try {
      await navigator.clipboard.write([
        new ClipboardItem({
          'text/plain': new Blob([text], { type: 'text/plain' }),
          'text/html': new Blob([html], { type: 'text/html' }),
        }),
      ]);
      app.live.tell('note', `Copied ${plural(desk.rows.length, 'row')} with headings`);
    } catch {
      app.live.tell('error', 'The browser does not let this page copy', 'Mark the cells and press Ctrl+C instead.');
    }
  }
  async function pasteHere(): Promise<void> {
    try {
      const text = await navigator.clipboard.readText();
      desk.paste(text, '', { top: 0, bottom: 0, left: 0, right: 0 });
    } catch {
      app.live.tell(
        'error',
        'The browser does not let this page read the clipboard',
        'Click into the sheet and press Ctrl+V instead.',
      );
    }
  }
  const csv = (): void => saveFile(exportCsv(app.live.document), `${name}.csv`, 'text/csv');
  const xlsx = async (): Promise<void> =>
    saveFile(
      await exportXlsx(app.live.document),
      `${name}.xlsx`,
      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    );
  const ITEMS = $derived<readonly (readonly [text: string, act: () => unknown])[]>([
    ['Import CSV or XLSX…', () => input?.click()],
    ['Paste a table from the clipboard', pasteHere],
    ['Copy this table', copy],
    ['Export as CSV', csv],
    ['Export as XLSX', xlsx],
    [
      'Print cards, sheet or labels',
      () => window.open(`/patch/print${app.selection.ids.length > 1 ? '?units=selected' : ''}`, '_blank'),
    ],
  ]);
  function choose(act: () => unknown): void {
    // What is printed is the selection, handed over to the new page.
    sessionStorage.setItem('amber-print', JSON.stringify(app.selection.ids));
    void act();
  }
</script>

<input
  bind:this={input}
  type="file"
  accept=".csv,.tsv,.txt,.xlsx"
  class="visually-hidden"
  aria-label="Import a sheet"
  tabindex="-1"
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = '';
    if (file) void take(file);
  }}
/>
<DropdownMenu.Root>
  <DropdownMenu.Trigger class="menu-trigger"
    ><FileSpreadsheet size={16} aria-hidden="true" /> Files</DropdownMenu.Trigger
  >
  <DropdownMenu.Portal>
    <DropdownMenu.Content class="files-menu" sideOffset={6} align="end">
      {#each ITEMS as [text, act] (text)}
        <DropdownMenu.Item class="files-item" onSelect={() => choose(act)}>{text}</DropdownMenu.Item>
      {/each}
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>

<style>
  :global(.files-menu) {
    z-index: 40;
    min-width: 230px;
    padding: 6px;
    background: var(--panel);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    box-shadow: 0 12px 40px rgb(0 0 0 / 45%);
  }
  :global(.files-item) {
    padding: 8px 10px;
    border-radius: 5px;
    cursor: default;
  }
  :global(.files-item[data-highlighted]) {
    background: var(--hover);
    outline: none;
  }
</style>
