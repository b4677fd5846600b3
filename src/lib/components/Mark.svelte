<script lang="ts">
  /** A state as a shape and a colour: a triangle fails tonight, a circle is worth a look, a bow was changed by hand. */
  interface Props {
    kind: 'wrong' | 'look' | 'hand';
    count?: number;
    title?: string;
  }
  let { kind, count, title }: Props = $props();
</script>

<span class="mark {kind}" {title}>
  <svg viewBox="0 0 12 12" width="11" height="11" aria-hidden="true">
    {#if kind === 'wrong'}<path d="M6 1 11.5 11H.5Z" />{:else if kind === 'look'}<circle
        cx="6"
        cy="6"
        r="4.6"
      />{:else}<path d="M6 6 .8 2.4v7.2zM6 6l5.2-3.6v7.2z" />{/if}
  </svg>{#if count !== undefined}<span class="num">{count}</span>{/if}
  {#if title}<span class="visually-hidden">{title}</span>{/if}
</span>

<style>
  .mark {
    display: inline-flex;
    align-items: center;
    gap: 3px;
    font-size: 12px;
  }
  svg {
    fill: currentColor;
    flex: none;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
  .hand {
    color: var(--amber-text);
  }
</style>
