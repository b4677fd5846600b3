<script lang="ts">
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';

  /** Marks and words over the lanes, where they are in the song. */
  let { desk, width }: { desk: SongDesk; width: number } = $props();
  /** Marks that would lie over one another are one dot. */
  const LEAST_PX = 6;
  const shown = $derived.by(() => {
    const found: { at: number; to: number; label: string; words: boolean; left: number; room: number }[] = [];
    const px = (s: number): number => (s / desk.span) * width;
    for (const mark of desk.song.marks) {
      if (mark.to < desk.from || mark.at > desk.from + desk.span) continue;
      const left = px(mark.at - desk.from);
      const last = found.at(-1);
      if (last && left - last.left < LEAST_PX) continue;
      if (last) last.room = left - last.left;
      found.push({ ...mark, left, room: width - left });
    }
    return found;
  });
</script>

<div class="marks" role="group" aria-label="Marks">
  {#each shown as { at, to, label, words, left, room } (`${at} ${to} ${label}`)}
    <button
      type="button"
      class:words
      style:left="{left}px"
      style:max-width="{Math.max(LEAST_PX, room - 2)}px"
      style:min-width="{Math.max(3, ((to - at) / desk.span) * width - 2)}px"
      title="{clockText(at, 2)} {label}"
      onclick={() => desk.go(at)}>{room > 18 ? label : ''}</button
    >
  {/each}
</div>

<style>
  .marks {
    position: relative;
    flex: none;
    height: 20px;
    overflow: hidden;
    background: var(--panel);
    border-bottom: 1px solid var(--line);
  }
  button {
    position: absolute;
    top: 1px;
    bottom: 1px;
    padding: 0 4px;
    overflow: hidden;
    font-size: 11px;
    line-height: 16px;
    text-align: left;
    white-space: nowrap;
    color: var(--text);
    background: var(--raised);
    border: 0;
    border-left: 2px solid var(--amber);
    cursor: pointer;
  }
  .words {
    font-style: italic;
    border-left-color: var(--line-strong);
  }
</style>
