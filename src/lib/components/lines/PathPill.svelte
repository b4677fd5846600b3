<script lang="ts">
  import type { PathLink } from '$core/lines/index.ts';
  import type { LinesDesk } from '$lib/state/lines/lines-desk.svelte.ts';
  import Mark from '../Mark.svelte';
  import { STATE_WORDS } from './link-states.ts';

  /** One link of the path: its name, what is known of it, and whether it lives. */
  let { link, desk, last = false }: { link: PathLink; desk: LinesDesk; last?: boolean } = $props();
</script>

<div class="link {link.state}" class:last>
  <button
    type="button"
    aria-pressed={desk.link === link.key}
    onclick={() => (desk.link = link.key)}
    title={`${link.title}: ${link.detail || STATE_WORDS[link.state]}`}
  >
    <span class="title"
      >{#if link.state === 'dead'}<Mark kind="wrong" title={STATE_WORDS.dead} />{:else if link.state === 'doubt'}<Mark
          kind="look"
          title={STATE_WORDS.doubt}
        />{/if}
      {link.title}</span
    >
    <span class="detail">{link.detail || STATE_WORDS[link.state]}</span>
  </button>
</div>

<style>
  .link {
    position: relative;
    display: flex;
    min-width: 0;
    padding-right: 22px;
  }
  .last {
    padding-right: 0;
  }
  /* The wire to the next link: drawn through while it lives, dotted where nobody can tell, broken where it does not. */
  .link:not(.last)::after {
    content: '';
    position: absolute;
    right: 0;
    top: 24px;
    width: 22px;
    border-top: 2px solid var(--amber);
  }
  .unproved:not(.last)::after {
    border-top-style: dotted;
  }
  .idle:not(.last)::after,
  .off:not(.last)::after {
    border-top: 1px dashed var(--line-strong);
  }
  .doubt:not(.last)::after {
    border-top: 2px dashed var(--look);
  }
  .dead:not(.last)::after {
    border-top: 2px solid var(--wrong);
    width: 8px;
    right: 14px;
  }
  button {
    flex: 1;
    min-width: 0;
    display: grid;
    gap: 1px;
    text-align: left;
    padding: 6px 10px;
    min-height: 48px;
    max-height: 48px;
    border: 1px solid var(--line);
    border-radius: 10px;
    background: var(--panel);
  }
  .dead button {
    border-color: var(--wrong);
  }
  .off button {
    opacity: 0.7;
    border-style: dashed;
  }
  button:hover {
    background: var(--hover);
  }
  button[aria-pressed='true'] {
    background: var(--amber-wash);
    border-color: var(--amber);
  }
  .title {
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  @media (max-width: 760px) {
    .link {
      padding-right: 0;
    }
    .link::after {
      display: none;
    }
  }
  .detail {
    color: var(--quiet);
    font-size: 12px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
