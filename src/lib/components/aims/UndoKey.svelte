<script lang="ts">
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Button from '../Button.svelte';

  /** Undo for pages that stand alone. */
  const app = getApp();
  const last = $derived(app.live.history.undo);
</script>

<Button
  kind="bare"
  disabled={last === null}
  aria-label="Undo"
  title={last ? `Undo: ${last}` : 'Nothing to undo'}
  onclick={() => app.live.undo()}><Undo2 size={20} /></Button
>
