<script lang="ts">
  import { attributeInfo } from '$core/profile/attributes.ts';
  import { guessAttribute } from '$core/profile/guess.ts';
  import type { ProfileEditor } from '$lib/state/profile-editor.svelte.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Button from '../../Button.svelte';

  /** The channels of a profile; each can stand in several modes. */
  let { editor }: { editor: ProfileEditor } = $props();
  let name = $state('');
  let fault = $state<string | null>(null);
  const channels = $derived(editor.profile?.channels ?? []);
  function add(): void {
    const text = name.trim() || `Channel ${channels.length + 1}`;
    fault = editor.addChannel(text, guessAttribute(text), 8);
    if (fault === null) name = '';
  }
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
<form
  onsubmit={(e) => {
    e.preventDefault();
    add();
  }}
>
  <input aria-label="Name of a new channel" bind:value={name} placeholder="New channel: Zoom" maxlength="100" />
  <Button type="submit"><Plus size={15} /> Add</Button>
</form>
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
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
</style>
