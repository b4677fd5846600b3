<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import ClipboardPaste from '@lucide/svelte/icons/clipboard-paste';
  import Copy from '@lucide/svelte/icons/copy';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import Hand from '@lucide/svelte/icons/hand';
  import HelpCircle from '@lucide/svelte/icons/circle-question-mark';
  import Button from '../Button.svelte';
  import Pop from '../Pop.svelte';

  /** What can be done with values by hand besides storing them. */
  const app = getApp();
  const none = $derived(app.selection.lit.length === 0);
  const copied = $derived(app.hand.clip.length);
  const touched = $derived(app.selection.lit.some((id) => app.hand.values[id]));
</script>

<Pop label="Hand" width={250}>
  {#snippet button(props)}
    <Button {...props} kind="bare" disabled={none && copied === 0} aria-label="More for the selection" title="More"
      ><Ellipsis size={18} /></Button
    >
  {/snippet}
  {#snippet children(close)}
    <Button
      disabled={none}
      title="What the selection looks like now, whoever sets it, comes into the hand"
      onclick={() => {
        void app.hand.takePlaying();
        close();
      }}><Hand size={16} /> Take what is playing</Button
    >
    <Button
      disabled={!touched}
      onclick={() => {
        app.hand.copy();
        close();
      }}><Copy size={16} /> Copy values by hand</Button
    >
    <Button
      disabled={none || copied === 0}
      onclick={() => {
        app.hand.paste();
        close();
      }}><ClipboardPaste size={16} /> Paste on the selection</Button
    >
    <Button disabled={none} onclick={() => ((app.whyOpen = true), close())}
      ><HelpCircle size={16} /> Who sets this, and why</Button
    >
  {/snippet}
</Pop>
