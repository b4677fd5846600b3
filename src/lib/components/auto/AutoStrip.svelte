<script lang="ts">
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { beatAt } from '$core/show/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Strip from '$lib/components/shell/Strip.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Sparkles from '@lucide/svelte/icons/sparkles';

  /** While light runs by itself: what it does and why, what comes next and in how many beats, and what a hand can say. */
  const app = getApp();
  const { live } = app;
  const auto = $derived(live.real?.auto?.on ? live.real.auto : null);
  let left = $state<number | null>(null);
  $effect(() => {
    const until = auto?.now?.untilMs ?? null;
    const count = (): void => {
      const { real } = live;
      left = until === null || !real ? null : Math.max(0, beatAt(real.tempo, until) - beatAt(real.tempo, live.now()));
    };
    count();
    const timer = setInterval(count, 250);
    return () => clearInterval(timer);
  });
  const inBeats = $derived(
    left === null
      ? ''
      : left > 4
        ? `in ${plural(Math.round(left / 4), 'bar')}`
        : `in ${plural(Math.ceil(left), 'beat')}`,
  );
</script>

{#if auto}
  <Strip label="Auto">
    <Sparkles size={16} />
    <span class="now"
      ><b>Auto</b>
      {#if auto.now}{auto.now.mood}: {auto.now.why}{/if}</span
    >
    {#if auto.now?.then}<span class="quiet">then {auto.now.then}, {inBeats}</span>{/if}
    {#snippet right()}
      <label
        ><span class="quiet word">Mood</span>
        <select
          aria-label="Mood of Auto"
          value={auto.mood ?? ''}
          onchange={(e) => live.command({ do: 'autoMood', mood: (e.currentTarget.value || null) as Mood | null })}
        >
          <option value="">as the music has it</option>
          {#each MOODS as mood (mood)}<option value={mood}>{mood}</option>{/each}
        </select></label
      >
      <Button
        title="Other ideas and colours for this part, with the next bar"
        onclick={() => live.command({ do: 'autoNext' })}>Next</Button
      >
      <Button
        pressed={auto.hold}
        title="What plays stays, whatever the music does"
        onclick={() => live.command({ do: 'autoHold', on: !auto.hold })}>{auto.hold ? 'Held' : 'Hold'}</Button
      >
      <Button onclick={() => live.command({ do: 'auto', on: false })}>End Auto</Button>
    {/snippet}
  </Strip>
{/if}

<style>
  label {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  select {
    min-height: 30px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
    padding: 2px 6px;
  }
  @media (max-width: 760px) {
    .word {
      display: none;
    }
  }
</style>
