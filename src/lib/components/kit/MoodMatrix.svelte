<script lang="ts">
  import { findRange } from '$core/profile/layout.ts';
  import { moodsOf, type MoodRow } from '$core/profile/moods.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { MOODS, type Channel } from '$core/records/profile.ts';
  import type { PlainValue } from '$core/records/value.ts';
  import { physicalWords } from '$lib/state/kit/physical.ts';
  import Button from '../Button.svelte';

  /** What special channels do from calm to peak; where nobody wrote anything, a guess from the ranges. */
  let { profile, save }: { profile: ProfileRecord; save?: (moods: ProfileRecord['moods']) => void } = $props();
  const rows = $derived(moodsOf(profile));
  const text = (channel: Channel, value: PlainValue | null | undefined): string => {
    if (value === null || value === undefined) return 'at rest';
    if (typeof value === 'number') return `${Math.round(value * 100)} %`;
    const range = findRange(channel, value.range);
    return range?.physical && range.to > range.from
      ? `${value.range}, ${physicalWords(range.physical, value.at)}`
      : value.range;
  };
  const rowOf = (row: MoodRow | null): (PlainValue | null)[] => (row ? [...row] : MOODS.map(() => null));
  function setRange(channel: Channel, row: MoodRow | null, i: number, name: string): void {
    const next = rowOf(row);
    next[i] = name === '' ? null : { range: name, at: 0.5 };
    save?.({ ...profile.moods, [channel.key]: next });
  }
  function setAt(channel: Channel, row: MoodRow | null, i: number, at: number): void {
    const next = rowOf(row);
    const value = next[i];
    next[i] = typeof value === 'object' && value !== null ? { ...value, at } : at;
    save?.({ ...profile.moods, [channel.key]: next });
  }
  function forget(channel: Channel): void {
    const { [channel.key]: _, ...rest } = profile.moods;
    save?.(rest);
  }
</script>

{#if rows.length === 0}
  <p class="quiet">This fixture has no special channels: level, colour and aim follow the music by themselves.</p>
{:else}
  <p class="quiet">
    What automatic light does with the special channels, by mood.{save
      ? ''
      : ' Change it in your own copy of the profile.'}
  </p>
  <div class="scroll">
    <table>
      <thead
        ><tr
          ><th>Channel</th>{#each MOODS as mood (mood)}<th>{mood}</th>{/each}<th></th></tr
        ></thead
      >
      <tbody>
        {#each rows as { channel, row, guessed } (channel.key)}
          <tr>
            <th scope="row"
              >{channel.name}<span class="quiet">{guessed ? (row ? 'guessed' : 'stays at rest') : 'set'}</span></th
            >
            {#each MOODS as mood, i (mood)}
              {@const value = row?.[i]}
              <td>
                {#if save}
                  <select
                    aria-label="{channel.name} when {mood}"
                    value={typeof value === 'object' && value !== null ? value.range : ''}
                    onchange={(e) => setRange(channel, row, i, e.currentTarget.value)}
                  >
                    <option value="">at rest</option>
                    {#each channel.ranges as range (range.name)}<option value={range.name}>{range.name}</option>{/each}
                  </select>
                  {#if value !== null && value !== undefined}
                    <input
                      type="range"
                      min="0"
                      max="1"
                      step="0.05"
                      aria-label="{channel.name} when {mood}: how far"
                      aria-valuetext={text(channel, value)}
                      value={typeof value === 'number' ? value : value.at}
                      onchange={(e) => setAt(channel, row, i, Number(e.currentTarget.value))}
                    />
                  {/if}
                {:else}<span class:quiet={value === null || value === undefined}>{text(channel, value)}</span>{/if}
              </td>
            {/each}
            <td
              >{#if save && !guessed}<Button kind="bare" onclick={() => forget(channel)}>Guess again</Button>{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}

<style>
  .scroll {
    overflow-x: auto;
  }
  table {
    border-collapse: collapse;
    width: 100%;
  }
  th,
  td {
    text-align: left;
    padding: 5px 10px 5px 0;
    border-bottom: 1px solid var(--line);
    vertical-align: top;
    font-weight: 400;
    font-size: 13px;
    line-height: 1.3;
  }
  thead th {
    color: var(--quiet);
  }
  th .quiet {
    display: block;
    font-size: 12px;
  }
  select,
  input {
    width: 100%;
    min-width: 96px;
    max-width: 150px;
  }
  select {
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    padding: 3px 4px;
  }
  input {
    accent-color: var(--amber);
  }
</style>
