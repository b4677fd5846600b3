<script lang="ts">
  import { untrack } from 'svelte';
  import { parseRanges } from '$core/profile/paste.ts';
  import type { Channel, Range } from '$core/records/profile.ts';
  import Button from '../../Button.svelte';
  import RangeRuler from '../RangeRuler.svelte';
  import Panel from './Panel.svelte';

  /** The table of a manual as text; what was understood is seen before it is taken. */
  interface Props {
    channel: Channel;
    text: string;
    take: (ranges: readonly Range[]) => void;
    close: () => void;
  }
  let { channel, text, take, close }: Props = $props();
  const EXAMPLE = '0-15\tWhite\n16-31\tRed\n32-255\tTurning slow to fast (1-30 rpm)';
  let typed = $state(untrack(() => text));
  const read = $derived(parseRanges(typed, channel.attribute));
</script>

<Panel title="Paste a manual’s table for {channel.name}" {close}>
  <p class="quiet">
    One range a line: 0-15 White, 000–015 White, White 0-15, from, to and name in columns, percent, any dash. Headings
    are passed over.
  </p>
  <textarea rows="9" aria-label="The manual’s table" placeholder={EXAMPLE} bind:value={typed}></textarea>
  {#if read.ranges.length > 0}<RangeRuler channel={{ ...channel, ranges: [...read.ranges] }} />{/if}
  {#if read.faults.length > 0}
    <ul role="alert">
      {#each read.faults as fault (`${fault.line}${fault.code}`)}
        <li>▲ Line <span class="num">{fault.line}</span>: {fault.message}. {fault.remedy}</li>
      {/each}
    </ul>
  {/if}
  {#if read.passed.length > 0 && read.ranges.length > 0}
    <p class="quiet">
      Passed over: {read.passed
        .slice(0, 6)
        .map((p) => `line ${p.line} “${p.text}”`)
        .join(', ')}{read.passed.length > 6 ? ` and ${read.passed.length - 6} more` : ''}.
    </p>
  {/if}
  <div class="foot">
    <Button onclick={close}>Cancel</Button>
    <Button kind="main" disabled={read.ranges.length === 0} onclick={() => take(read.ranges)}
      >{channel.ranges.length > 0 ? 'Replace with' : 'Take'} {read.ranges.length} ranges</Button
    >
  </div>
</Panel>

<style>
  textarea {
    width: 100%;
    font-family: var(--mono);
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 8px 10px;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    color: var(--wrong);
    max-height: 160px;
    overflow: auto;
  }
  .foot {
    display: flex;
    justify-content: flex-end;
    gap: 8px;
  }
</style>
