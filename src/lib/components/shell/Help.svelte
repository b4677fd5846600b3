<script lang="ts">
  import { page } from '$app/state';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { SHELL_SHORTCUTS } from '$lib/state/shortcuts.ts';
  import Button from '../Button.svelte';

  const app = getApp();
  const OWN: Readonly<Record<string, readonly (readonly [string, string])[]>> = {
    '/patch': [
      ['Arrow keys', 'Move through the sheet; in the map from unit to unit'],
      ['Enter or typing', 'Edit the cell'],
      ['Ctrl+Enter', 'Write it into all selected units'],
      ['Shift+Arrow', 'Mark several cells'],
      ['Ctrl+D', 'Fill down, counting'],
      ['Ctrl+C / Ctrl+V', 'Copy to and paste from a spreadsheet'],
      ['Alt+Arrow', 'In the map: move the selection by a slot or a row'],
      ['Delete', 'Remove the selected units'],
    ],
    '/lines': [
      ['Arrow keys', 'From tab to tab; in the monitor from slot to slot (Home, End)'],
      ['Space, then arrows', 'Cables: take a unit by its handle and put it elsewhere'],
      ['Enter', 'Takes what was typed; empty in a trial fader lets the slot go'],
    ],
    '/plot': [
      ['Arrow keys', 'Move the selection by 0.1 m (Shift: 1 m)'],
      ['Space+drag', 'Move the paper'],
      ['Wheel, + and -', 'Zoom'],
      ['0 and .', 'Show everything; show the selection'],
      ['Alt while dragging', 'Free of grid, guides and other units'],
      ['Enter, Backspace', 'Drawing corner by corner: end it, take one back'],
      ['Two presses', 'On an area: look at it'],
      ['Delete', 'Remove the selected units'],
    ],
  };
  const own = $derived(OWN[page.url.pathname] ?? []);
</script>

{#if app.helpOpen}
  <div class="help" role="dialog" aria-label="Shortcuts">
    <h2>Shortcuts</h2>
    <dl>
      {#each [...own, ...SHELL_SHORTCUTS] as [keys, does] (keys)}<dt class="num">{keys}</dt>
        <dd>{does}</dd>{/each}
    </dl>
    <Button onclick={() => (app.helpOpen = false)}>Close</Button>
  </div>
{/if}

<style>
  .help {
    position: fixed;
    right: 20px;
    top: 64px;
    z-index: 45;
    padding: 16px;
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    box-shadow: 0 10px 40px rgb(0 0 0 / 45%);
    display: grid;
    gap: 10px;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 4px 16px;
    margin: 0;
  }
  dt {
    color: var(--amber-text);
  }
  dd {
    margin: 0;
  }
</style>
