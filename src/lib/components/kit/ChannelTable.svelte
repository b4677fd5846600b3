<script lang="ts">
  import { attributeInfo } from '$core/attributes.ts';
  import { layoutOf } from '$core/patch/of-document.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import type { Range } from '$core/records/profile.ts';
  import { physicalWords } from '$lib/state/kit/physical.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Picture from './Picture.svelte';
  import RangeRuler from './RangeRuler.svelte';

  /** Channels of a mode as in the maker's manual: slot, name, and a ruler of what its values do. */
  let { profile, mode }: { profile: ProfileRecord; mode: string } = $props();
  const layout = $derived(layoutOf(profile, mode));
  const MOST = 60;
  const rows = $derived([...layout.channels].sort((a, b) => a.offsets[0]! - b.offsets[0]!).slice(0, MOST));
  let open = $state<string | null>(null);
  const does = (range: Range): string => {
    if (!range.physical) return '';
    const [from, to] = [physicalWords(range.physical, 0), physicalWords(range.physical, 1)];
    return from === to ? from : `${from} to ${to}`;
  };
</script>

<table>
  <thead><tr><th class="n">Slot</th><th>Channel</th><th class="wide">Values 0-255</th></tr></thead>
  <tbody>
    {#each rows as laid (`${laid.channel.key}#${laid.cell}`)}
      {@const id = `${laid.channel.key}#${laid.cell}`}
      {@const attribute = attributeInfo(laid.channel.attribute)?.words ?? laid.channel.attribute}
      <tr>
        <td class="n num">{laid.offsets.map((o) => o + 1).join('+')}</td>
        <td class="name">
          {#if laid.channel.ranges.length > 0}
            <button type="button" aria-expanded={open === id} onclick={() => (open = open === id ? null : id)}>
              {#if open === id}<ChevronDown size={14} />{:else}<ChevronRight size={14} />{/if}
              {laid.channel.name}
            </button>
          {:else}<span class="plain">{laid.channel.name}</span>{/if}
          <span class="quiet">
            {[
              attribute === laid.channel.name ? '' : attribute,
              laid.cell > 0 ? `cell ${laid.cell}` : '',
              laid.offsets.length > 1 ? `${laid.offsets.length * 8} bit` : '',
              laid.channel.snap ? 'jumps' : '',
            ]
              .filter(Boolean)
              .join(', ')}</span
          >
        </td>
        <td class="wide"
          ><RangeRuler channel={laid.channel} pictures={profile.pictures} physical={profile.physical} /></td
        >
      </tr>
      {#if open === id}
        <tr class="detail">
          <td></td>
          <td colspan="2">
            <ul>
              {#each laid.channel.ranges as range (range.name)}
                <li>
                  <span class="num quiet">{range.from}-{range.to}</span>
                  <Picture
                    colour={range.colour}
                    colour2={range.colour2}
                    picture={range.picture}
                    own={profile.pictures}
                    size={22}
                  />
                  <span>{range.name}</span> <span class="quiet">{does(range)}</span>
                </li>
              {/each}
            </ul>
          </td>
        </tr>
      {/if}
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
    table-layout: fixed;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
    padding: 4px 10px 4px 0;
    border-bottom: 1px solid var(--line);
  }
  td {
    padding: 5px 10px 3px 0;
    border-bottom: 1px solid var(--line);
    vertical-align: top;
  }
  .n {
    width: 64px;
    text-align: right;
  }
  .name {
    line-height: 1.3;
  }
  th:nth-child(2) {
    width: 30%;
  }
  .name button {
    display: inline-flex;
    align-items: center;
    gap: 4px;
    border: 0;
    background: none;
    padding: 2px 0;
    color: var(--text);
    text-align: left;
  }
  .plain {
    display: inline-block;
    padding: 2px 0 2px 18px;
  }
  .name .quiet {
    padding-left: 18px;
    display: block;
    font-size: 12px;
  }
  .wide {
    padding-right: 0;
  }
  ul {
    margin: 0;
    padding: 4px 0 8px;
    list-style: none;
    columns: 3 200px;
  }
  li {
    display: flex;
    align-items: center;
    gap: 8px;
    min-height: 26px;
    break-inside: avoid;
  }
  li .num {
    width: 62px;
    text-align: right;
  }
</style>
