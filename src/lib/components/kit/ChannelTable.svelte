<script lang="ts">
  import { attributeInfo } from '$core/profile/attributes.ts';
  import { layoutOf } from '$core/patch/of-document.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { physicalWords } from '$lib/state/physical.ts';

  /** Channels of a mode as in the maker's manual: slot, name, and what each range does. */
  let { profile, mode }: { profile: ProfileRecord; mode: string } = $props();
  const layout = $derived(layoutOf(profile, mode));
  const MOST = 60;
  const rows = $derived([...layout.channels].sort((a, b) => a.offsets[0]! - b.offsets[0]!).slice(0, MOST));
  const does = (r: { physical?: { from: number; to: number; unit: string } }): string => {
    if (!r.physical) return '';
    const [from, to] = [physicalWords(r.physical, 0), physicalWords(r.physical, 1)];
    return from === to ? from : `${from} to ${to}`;
  };
</script>

<table>
  <thead><tr><th class="n">Slot</th><th>Channel</th><th>Does</th><th>Ranges 0-255</th></tr></thead>
  <tbody>
    {#each rows as laid, i (i)}
      <tr>
        <td class="n num">{laid.offsets.map((o) => o + 1).join(' + ')}</td>
        <td
          >{laid.channel.name}{#if laid.cell > 0}<span class="quiet">{` cell ${laid.cell}`}</span
            >{/if}{#if laid.offsets.length > 1}<span class="quiet">{` ${laid.offsets.length * 8} bit`}</span>{/if}</td
        >
        <td class="quiet">{attributeInfo(laid.channel.attribute)?.words ?? laid.channel.attribute}</td>
        <td>
          {#if laid.channel.ranges.length === 0}<span class="quiet">nothing to full</span>{/if}
          <span class="ranges">
            {#each laid.channel.ranges as range (range.name)}
              <span class="range"
                ><span class="num quiet">{range.from}-{range.to}</span>{#if range.colour}<i
                    style:background={range.colour}
                  ></i>{/if}
                {range.name} <span class="quiet">{does(range)}</span></span
              >
            {/each}
          </span>
        </td>
      </tr>
    {/each}
  </tbody>
</table>
{#if layout.channels.length > MOST}<p class="quiet">
    and {layout.channels.length - MOST} more channels of further cells.
  </p>{/if}

<style>
  table {
    border-collapse: collapse;
    width: 100%;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
    padding: 4px 10px 4px 0;
    border-bottom: 1px solid var(--line);
  }
  td {
    padding: 5px 10px 5px 0;
    border-bottom: 1px solid var(--line);
    vertical-align: top;
  }
  .n {
    text-align: right;
    width: 64px;
  }
  .ranges {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 16px;
  }
  .range {
    white-space: nowrap;
  }
  i {
    display: inline-block;
    width: 12px;
    height: 12px;
    border-radius: 3px;
    border: 1px solid var(--line-strong);
    margin-left: 5px;
    vertical-align: -1px;
  }
</style>
