<script lang="ts">
  import Star from '@lucide/svelte/icons/star';

  /** A profile or a kind of prop in the list of the Kit. */
  interface Props {
    id: string;
    on: boolean;
    open: () => void;
    name: string;
    about: string;
    kind: string;
    /** Modes with their channels, or cells. */
    sizes: readonly string[];
    used?: string;
    favourite?: boolean;
    /** Marks it as a favourite, or no longer; none where it cannot be one. */
    star?: () => void;
  }
  let { id, on, open, name, about, kind, sizes, used = '', favourite = false, star }: Props = $props();
</script>

<div
  id="kit-{id}"
  class="row"
  role="row"
  tabindex="-1"
  aria-selected={on}
  onclick={open}
  onkeydown={(e) => e.key === 'Enter' && open()}
>
  <span role="gridcell"
    >{#if star}<button
        type="button"
        class="star"
        aria-pressed={favourite}
        aria-label="Favourite {name}"
        onclick={(e) => {
          e.stopPropagation();
          star();
        }}><Star size={15} fill={favourite ? 'currentColor' : 'none'} /></button
      >{/if}</span
  >
  <span class="model" role="gridcell"><b>{name}</b> <span class="quiet">{about}</span></span>
  <span class="kind quiet" role="gridcell">{kind}</span>
  <span class="modes" role="gridcell"
    >{#each sizes as size, i (i)}<span class="num chip">{size}</span>{/each}</span
  >
  <span class="used num quiet" role="gridcell">{used}</span>
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: 24px minmax(190px, 2fr) minmax(90px, 1fr) minmax(150px, 2fr) 104px;
    gap: 12px;
    align-items: center;
    min-height: 34px;
    padding: 3px 8px;
    border-bottom: 1px solid var(--line);
    border-left: 3px solid transparent;
    cursor: pointer;
  }
  .row:hover {
    background: var(--hover);
  }
  .row[aria-selected='true'] {
    background: var(--amber-wash);
    border-left-color: var(--amber);
  }
  .star {
    display: grid;
    place-items: center;
    width: 26px;
    height: 26px;
    border: 0;
    background: none;
    color: var(--quiet);
    padding: 0;
  }
  .star[aria-pressed='true'] {
    color: var(--amber);
  }
  .model {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .modes {
    display: flex;
    gap: 6px;
    flex-wrap: wrap;
  }
  .chip {
    border: 1px solid var(--line-strong);
    border-radius: 4px;
    padding: 0 6px;
    font-size: 12.5px;
  }
  .used {
    text-align: right;
    font-size: 12.5px;
    white-space: nowrap;
  }
  @media (max-width: 760px) {
    .row {
      grid-template-columns: 24px minmax(0, 1fr) auto;
    }
    .kind,
    .used {
      display: none;
    }
  }
</style>
