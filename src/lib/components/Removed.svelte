<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from './Button.svelte';
  import Mark from './Mark.svelte';

  /** In place of something that was open and has been removed: nothing else takes its place. */
  let { what, name, list }: { what: string; name: string; list?: string } = $props();
  const app = getApp();
</script>

<div class="removed" role="status">
  <p><Mark kind="look" /> <b>{name ? `“${name}”` : `This ${what}`}</b> is not in this show any more.</p>
  <p class="quiet">
    Somebody removed it, or another show was opened. {#if list}Open another from {list}.{/if}
  </p>
  <p class="acts">
    {#if app.live.history.undo?.startsWith('Remove') || app.live.history.undo?.startsWith('Delete')}
      <Button onclick={() => app.live.undo()}>Undo: {app.live.history.undo}</Button>
    {/if}
    <a href="/keep">See the history</a>
  </p>
</div>

<style>
  .removed {
    display: grid;
    gap: 8px;
    padding: 20px;
    align-content: start;
    max-width: 460px;
  }
  .acts {
    display: flex;
    gap: 12px;
    align-items: center;
  }
  a {
    color: var(--amber-text);
  }
</style>
