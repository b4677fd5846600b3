<script lang="ts">
  import { guessRange } from '$core/profile/guess.ts';
  import { equalRanges, overlapsOf, sortedRanges } from '$core/profile/ranges.ts';
  import type { Channel, Range } from '$core/records/profile.ts';
  import { parseNumber } from '$core/numbers.ts';
  import Button from '../../Button.svelte';
  import RangeRuler from '../RangeRuler.svelte';
  import Panel from './Panel.svelte';

  /** N ranges of one width in a row; single ones are corrected afterwards and the neighbours follow. */
  let { channel, take, close }: { channel: Channel; take: (ranges: readonly Range[]) => void; close: () => void } =
    $props();
  const FIELDS = [
    ['start', 'First value'],
    ['width', 'Values each'],
    ['count', 'How many'],
    ['firstNumber', 'First number'],
  ] as const;
  let form = $state({ start: '0', width: '20', count: '8', firstNumber: '1', pattern: 'Slot #' });
  let keep = $state(true);
  const made = $derived(
    equalRanges({
      start: parseNumber(form.start) ?? NaN,
      width: parseNumber(form.width) ?? NaN,
      count: parseNumber(form.count) ?? NaN,
      firstNumber: parseNumber(form.firstNumber) ?? 1,
      pattern: form.pattern.trim() || '#',
    }),
  );
  const result = $derived.by((): { ranges: Range[] } | { fault: string } => {
    if ('fault' in made) return { fault: `${made.fault.message}. ${made.fault.remedy}` };
    const fresh = made.ranges.map((r) => guessRange(r, channel.attribute));
    const all = sortedRanges(keep ? [...channel.ranges, ...fresh] : fresh);
    const clash = overlapsOf(all)[0];
    return clash === undefined
      ? { ranges: all }
      : { fault: `They would overlap “${all[clash]!.name}”. Start elsewhere, or leave the old ranges out.` };
  });
</script>

<Panel title="Equal ranges for {channel.name}" {close}>
  <div class="fields">
    {#each FIELDS as [key, label] (key)}
      <label>{label}<input class="num" inputmode="numeric" bind:value={form[key]} /></label>
    {/each}
    <label class="wide">Name, # is the number<input bind:value={form.pattern} maxlength="90" /></label>
  </div>
  {#if channel.ranges.length > 0}
    <label class="check"
      ><input type="checkbox" bind:checked={keep} /> keep the {channel.ranges.length} ranges there are</label
    >
  {/if}
  {#if 'fault' in result}<p class="fault" role="alert">▲ {result.fault}</p>{:else}<RangeRuler
      channel={{ ...channel, ranges: result.ranges }}
    />{/if}
  <div class="foot">
    <Button onclick={close}>Cancel</Button>
    <Button kind="main" disabled={'fault' in result} onclick={() => 'ranges' in result && take(result.ranges)}
      >Make them</Button
    >
  </div>
</Panel>

<style>
  .fields {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(110px, 1fr));
    gap: 10px;
  }
  label {
    display: grid;
    gap: 3px;
    color: var(--quiet);
    font-size: 12.5px;
  }
  .wide {
    grid-column: span 2;
  }
  .check {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .fields input {
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
    padding: 6px 8px;
    min-width: 0;
    width: 100%;
  }
  .fault {
    color: var(--wrong);
  }
  .foot {
    display: flex;
    justify-content: flex-end;
    gap: 8px;
  }
</style>
