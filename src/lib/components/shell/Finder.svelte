<script lang="ts">
  import { Command, Dialog } from 'bits-ui';
  import { goto } from '$app/navigation';
  import { parseAddress } from '$core/patch/address.ts';
  import { isPlaying } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { sendTo } from '$lib/state/plot/aim-edits.ts';
  import { FOOT, STEPS } from './steps.ts';
  import { LINES_TABS } from '$lib/state/lines/lines-desk.svelte.ts';

  interface Found {
    readonly id: string;
    readonly text: string;
    readonly hint: string;
    readonly act: () => void;
  }
  const app = getApp();
  let query = $state('');
  const MOST = 40;

  /** Units by name, number or address; scenes and chases; aims; steps and actions. */
  const found = $derived.by((): Found[] => {
    const words = query.trim().toLowerCase().split(/\s+/).filter(Boolean);
    const matches = (text: string): boolean => words.every((w) => text.toLowerCase().includes(w));
    const place = parseAddress(query);
    const units = app.rig.units
      .filter((u) => {
        if (words.length === 0) return false;
        if (
          place.ok &&
          app.rig.patchedById
            .get(u.id)
            ?.spans.some(
              (s) =>
                s.universe === place.value.universe && s.from <= place.value.address && s.to >= place.value.address,
            )
        )
          return true;
        return matches(`${u.number} ${u.name} ${app.rig.addressText(u.id)}`);
      })
      .map((u): Found => ({
        id: u.id,
        text: `${u.number} ${u.name}`,
        hint: app.rig.addressText(u.id) || 'no address',
        act: () => app.selection.set([u.id]),
      }));
    const plays = app.rig.playables
      .filter((p) => matches(p.name))
      .map((p): Found => {
        const on = app.live.live ? isPlaying(app.live.live, p.id) : false;
        return {
          id: p.id,
          text: p.name,
          hint: on ? `playing ${p.kind}: let go` : `play ${p.kind}`,
          act: () => void app.live.command({ do: on ? 'release' : 'play', target: p.id }),
        };
      });
    const aims = (words.length === 0 ? [] : app.rig.aims)
      .filter((a) => matches(a.name))
      .map((a): Found => ({ id: a.id, text: a.name, hint: 'send heads there', act: () => void sendTo(app, a) }));
    const steps = [...STEPS, ...FOOT]
      .filter((s) => matches(s.name))
      .map((s): Found => ({ id: s.path, text: s.name, hint: 'go to step', act: () => void goto(s.path) }));
    const tabs = LINES_TABS.filter(([, text]) => matches(`Lines: ${text}`)).map(([tab, text]): Found => ({
      id: `lines ${tab}`,
      text: `Lines: ${text}`,
      hint: 'go there',
      act: () => void goto(`/lines?tab=${tab}`),
    }));
    const actions: Found[] = [
      { id: 'aims', text: 'Correct aims, true up heads', hint: 'go there', act: () => void goto('/aims') },
      {
        id: 'auto',
        text: 'Auto: light that follows the music',
        hint: app.auto.on ? 'end it' : 'begin',
        act: () => void app.live.command({ do: 'auto', on: !app.auto.on }),
      },
      {
        id: 'auto page',
        text: 'Auto: what it plays, plan of a song, what may play',
        hint: 'go there',
        act: () => void goto('/show?view=auto'),
      },
      { id: 'tonight', text: 'Tonight’s room', hint: 'go there', act: () => void goto('/tonight') },
      { id: 'undo', text: 'Undo', hint: 'Ctrl+Z', act: () => void app.live.undo() },
      { id: 'redo', text: 'Redo', hint: 'Ctrl+Shift+Z', act: () => void app.live.redo() },
      { id: 'letgo', text: 'Let everything by hand go', hint: 'L', act: () => app.hand.letGo() },
      {
        id: 'release',
        text: 'Fade out everything that plays',
        hint: 'action',
        act: () => void app.live.command({ do: 'releaseAll' }),
      },
      {
        id: 'all',
        text: 'Select all units that are shown',
        hint: 'Ctrl+A',
        act: () => app.selectAll(),
      },
      {
        id: 'theme',
        text: 'Change between dark and light theme',
        hint: 'action',
        act: () => app.setTheme(app.theme === 'dark' ? 'light' : 'dark'),
      },
    ].filter((a) => matches(a.text));
    return [...units, ...plays, ...aims, ...steps, ...tabs, ...actions].slice(0, MOST);
  });

  function choose(item: Found): void {
    app.finderOpen = false;
    query = '';
    item.act();
  }
</script>

<Dialog.Root bind:open={app.finderOpen}>
  <Dialog.Portal>
    <Dialog.Overlay class="finder-overlay" />
    <Dialog.Content class="finder" aria-label="Find">
      <Dialog.Title class="visually-hidden">Find</Dialog.Title>
      <Command.Root shouldFilter={false} label="Find">
        <Command.Input
          bind:value={query}
          placeholder="Unit, number, address such as 3.145, scene or action"
          aria-label="Find"
        />
        <Command.List>
          {#each found as item (item.id)}
            <Command.Item value={item.id} onSelect={() => choose(item)}
              ><span>{item.text}</span><span class="quiet num">{item.hint}</span></Command.Item
            >
          {:else}
            <p class="quiet none">Nothing by that name, number or address.</p>
          {/each}
        </Command.List>
      </Command.Root>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.finder-overlay) {
    position: fixed;
    inset: 0;
    background: rgb(0 0 0 / 45%);
    z-index: 50;
  }
  :global(.finder) {
    position: fixed;
    top: 12vh;
    left: 50%;
    translate: -50% 0;
    width: min(560px, 94vw);
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: 10px;
    box-shadow: 0 16px 50px rgb(0 0 0 / 50%);
    overflow: hidden;
    z-index: 51;
  }
  :global(.finder input) {
    width: 100%;
    border: 0;
    border-bottom: 1px solid var(--line);
    background: transparent;
    padding: 14px 16px;
    font-size: 16px;
    outline: none;
  }
  :global(.finder [data-command-list]) {
    max-height: 50vh;
    overflow: auto;
  }
  :global(.finder [data-command-item]) {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding: 9px 16px;
    cursor: pointer;
  }
  :global(.finder [data-command-item][data-selected]) {
    background: var(--amber-wash);
    box-shadow: inset 3px 0 var(--amber);
  }
  .none {
    padding: 14px 16px;
  }
</style>
