<script lang="ts">
  import type { Tag } from '$core/records/show.ts';

  /** A colour tag: its shape in its colour, with its name beside it unless `bare`. */
  let { tag, bare = false }: { tag: Tag; bare?: boolean } = $props();
  const PATHS: Readonly<Record<Tag['shape'], string>> = {
    disc: 'M6 1a5 5 0 1 0 0 10A5 5 0 0 0 6 1Z',
    square: 'M1.5 1.5h9v9h-9Z',
    diamond: 'M6 .5 11.5 6 6 11.5.5 6Z',
    triangle: 'M6 1 11.5 10.5H.5Z',
    cross: 'M4.3 1h3.4v3.3H11v3.4H7.7V11H4.3V7.7H1V4.3h3.3Z',
    ring: 'M6 .8a5.2 5.2 0 1 0 0 10.4A5.2 5.2 0 0 0 6 .8Zm0 2.6a2.6 2.6 0 1 1 0 5.2 2.6 2.6 0 0 1 0-5.2Z',
    bar: 'M.5 4h11v4H.5Z',
    star: 'M6 .6 7.6 4.2l3.9.4-2.9 2.6.8 3.9L6 9.1l-3.4 2 .8-3.9L.5 4.6l3.9-.4Z',
  };
</script>

<span class="tag" title={tag.name}>
  <svg viewBox="0 0 12 12" width="12" height="12" aria-hidden="true"
    ><path d={PATHS[tag.shape]} fill={tag.colour} fill-rule="evenodd" /></svg
  >{#if bare}<span class="visually-hidden">{tag.name}</span>{:else}<span class="name">{tag.name}</span>{/if}
</span>

<style>
  .tag {
    display: inline-flex;
    align-items: center;
    gap: 5px;
    min-width: 0;
  }
  svg {
    flex: none;
    stroke: var(--back);
    stroke-width: 0.6;
    paint-order: stroke;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
