<script lang="ts">
  import type { ImportReport } from '$lib/state/kit/kit.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';

  /** What came of bringing a file of profiles in: what went wrong first, with its reason, above everything else. */
  let { report, close }: { report: ImportReport; close: () => void } = $props();
  const failed = $derived(report.failed !== null);
</script>

<section class:failed role={failed ? 'alert' : 'status'} aria-label="Import of {report.file}">
  <div class="head">
    <p>
      {#if failed}
        <b>▲ {report.file} was not imported.</b> {report.failed}
      {:else}
        <b>{report.file}:</b>
        {report.said}
      {/if}
    </p>
    <Button kind="bare" aria-label="Close" title="Close" onclick={close}><X size={16} /></Button>
  </div>
  {#if report.faults.length > 0}
    <ul>
      {#each report.faults as line, i (i)}<li>▲ {line}</li>{/each}
    </ul>
  {/if}
  {#if report.notKept.length > 0}
    <details>
      <summary>{plural(report.notKept.length, 'thing')} of that file not kept</summary>
      <ul>
        {#each report.notKept as line, i (i)}<li>{line}</li>{/each}
      </ul>
    </details>
  {/if}
</section>

<style>
  section {
    margin: 0 16px 8px;
    padding: 8px 8px 8px 12px;
    border: 1px solid var(--line-strong);
    border-left: 4px solid var(--amber);
    border-radius: var(--radius);
    background: var(--raised);
  }
  .failed {
    border-left-color: var(--wrong);
  }
  .head {
    display: flex;
    gap: 12px;
    align-items: start;
    justify-content: space-between;
  }
  p {
    margin: 4px 0;
  }
  ul {
    margin: 4px 0;
    padding-left: 4px;
    list-style: none;
    max-height: 24vh;
    overflow: auto;
    font-size: 13px;
  }
  details {
    font-size: 13px;
  }
</style>
