<script lang="ts">
  import { attributeInfo } from '$core/attributes.ts';
  import { channelNames, coarseOf, isUnwritten } from '$core/profile/write.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';

  /** The channels of a profile, written or pasted in the order of the manual; each can stand in several modes. */
  let { editor }: { editor: ProfileEditor } = $props();
  let name = $state('');
  let fault = $state<string | null>(null);
  const unwritten = $derived(editor.profile !== undefined && isUnwritten(editor.profile));
  const channels = $derived(unwritten ? [] : (editor.profile?.channels ?? []));
  /** While nothing uses the profile and it has one mode, its channels are that mode, in this order. */
  let chosen = $state<boolean | null>(null);
  const intoMode = $derived(chosen ?? (editor.profile?.modes.length === 1 && editor.usedBy.length === 0));
  /** The channel that what is typed would be the fine byte of; asked about before it is added. */
  let asking = $state<string | null>(null);
  const coarse = $derived(asking === null ? undefined : coarseOf(channels, asking));

  function put(names: readonly string[], apart = false): void {
    fault = editor.addChannels(names, intoMode ? (editor.mode ?? null) : null, apart);
    if (fault !== null) return;
    name = '';
    asking = null;
  }
  function add(): void {
    const text = name.trim() || `Channel ${channels.length + 1}`;
    if (coarseOf(channels, text)) asking = text;
    else put([text]);
  }
  function paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/[\r\n]/.test(text.trim())) return;
    event.preventDefault();
    const names = channelNames(text).slice(0, MOST);
    if (names.length > 0) put(names);
  }
  const MOST = 512;
  const focus = (node: HTMLElement): void => node.querySelector('button')?.focus();
</script>

<div class="list" role="listbox" aria-label="Channels of the profile">
  {#each channels as channel (channel.key)}
    <button
      type="button"
      role="option"
      aria-selected={channel.key === editor.channel?.key}
      onclick={() => (editor.channelKey = channel.key)}
    >
      <span>{channel.name}</span>
      <span class="quiet">{channel.bits > 8 ? `${channel.bits} bit` : ''}</span>
      <span class="quiet words">{attributeInfo(channel.attribute)?.words ?? channel.attribute}</span>
    </button>
  {/each}
</div>
{#if unwritten}
  <p class="quiet">Write the channels in the order of the manual, or paste them, one a line.</p>
{/if}
<form
  onsubmit={(e) => {
    e.preventDefault();
    add();
  }}
>
  <input
    aria-label="Name of a new channel"
    bind:value={name}
    oninput={() => (asking = null)}
    onpaste={paste}
    placeholder="New channel: Zoom"
    maxlength="100"
  />
  <Button type="submit"><Plus size={15} /> Add</Button>
</form>
{#if coarse && asking !== null}
  <div class="ask" role="group" aria-label="Fine byte" use:focus>
    <p>“{asking}” is the {coarse.bits === 16 ? 'ultra fine' : 'fine'} byte of {coarse.name}.</p>
    <Button kind="main" onclick={() => put([asking!])}>{coarse.name} of {coarse.bits + 8} bit</Button>
    <Button onclick={() => put([asking!], true)}>A channel of its own</Button>
  </div>
{/if}
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
{#if editor.mode && !unwritten}
  <Check label="Also at the end of {editor.mode.name}" checked={intoMode} change={(v) => (chosen = v)} />
{/if}
{#if editor.channel && channels.length > 1}
  <Button kind="bare" onclick={() => (fault = editor.removeChannel(editor.channel!.key))}
    ><Trash2 size={15} /> Remove {editor.channel.name}</Button
  >
{/if}

<style>
  .list {
    display: grid;
    overflow: auto;
    min-height: 0;
    align-content: start;
  }
  .list button {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0 8px;
    text-align: left;
    padding: 4px 10px;
    border: 0;
    border-left: 3px solid transparent;
    background: none;
    line-height: 1.3;
  }
  .list button:hover {
    background: var(--hover);
  }
  .list [aria-selected='true'] {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .words {
    grid-column: 1 / -1;
    font-size: 12px;
  }
  form {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 6px;
  }
  input {
    min-width: 0;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 4px 8px;
  }
  .fault {
    color: var(--wrong);
  }
  .ask {
    display: grid;
    gap: 6px;
    padding: 8px 10px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
  }
  .ask p {
    margin: 0;
  }
</style>
