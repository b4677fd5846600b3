<script lang="ts">
  import { compareModes } from '$core/patch/compare.ts';
  import type { ProfileRecord } from '$core/records/index.ts';

  /** Modes side by side: footprints, what each adds to the one before, and every attribute in a row. */
  let { profile, mode, choose }: { profile: ProfileRecord; mode: string; choose: (mode: string) => void } = $props();
  const compared = $derived(compareModes(profile));
  let onlyDifferent = $state(true);
  const rows = $derived(onlyDifferent ? compared.rows.filter((r) => r.differs) : compared.rows);
  const text = (cell: { bits: number; cells: number } | null): string =>
    cell === null
      ? ''
      : [cell.bits === 0 ? 'made up' : `${cell.bits} bit`, cell.cells > 0 ? `${cell.cells} cells` : '']
          .filter(Boolean)
          .join(', ');
</script>

<label class="check"
  ><input type="checkbox" bind:checked={onlyDifferent} /> only what differs
  <span class="quiet">({compared.rows.length - compared.rows.filter((r) => r.differs).length} alike in all)</span
  ></label
>
<div class="scroll">
  <table>
    <thead>
      <tr>
        <th></th>
        {#each compared.modes as column (column.key)}
          <th class:on={column.key === mode}>
            <button type="button" aria-pressed={column.key === mode} onclick={() => choose(column.key)}>
              {column.name} <b class="num">{column.footprint} ch</b>
            </button>
          </th>
        {/each}
      </tr>
      <tr class="adds">
        <td class="quiet">adds to the one before</td>
        {#each compared.modes as column, i (column.key)}
          <td class:on={column.key === mode}>
            {#if i === 0}<span class="quiet">the smallest</span>{/if}
            {#each column.adds as words (words)}<span class="plus">+ {words}</span>{/each}
            {#each column.lacks as words (words)}<span class="minus">− {words}</span>{/each}
          </td>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as row (row.key)}
        <tr>
          <th scope="row">{row.words}</th>
          {#each row.modes as cell, i (i)}
            <td class:on={compared.modes[i]!.key === mode} class:not={cell === null}
              >{cell === null ? '–' : text(cell)}</td
            >
          {/each}
        </tr>
      {:else}
        <tr><td colspan={compared.modes.length + 1} class="quiet">The modes have the same attributes.</td></tr>
      {/each}
    </tbody>
  </table>
</div>

<style>
  .scroll {
    overflow-x: auto;
  }
  .check {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  table {
    border-collapse: collapse;
    min-width: 60%;
  }
  th,
  td {
    text-align: left;
    padding: 5px 14px 5px 8px;
    border-bottom: 1px solid var(--line);
    vertical-align: top;
    font-weight: 400;
    min-width: 110px;
  }
  thead button {
    border: 0;
    background: none;
    padding: 4px 0;
    color: var(--text);
    text-align: left;
    font-weight: 600;
  }
  .on {
    background: var(--amber-wash);
  }
  .plus,
  .minus {
    display: block;
    font-size: 12.5px;
    line-height: 1.35;
  }
  .minus,
  .not {
    color: var(--quiet);
  }
</style>
