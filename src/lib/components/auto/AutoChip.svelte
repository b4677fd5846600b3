<script lang="ts">
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { barBeats } from '$core/show/live/bar.ts';
  import { beatAt } from '$core/show/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Pop from '$lib/components/Pop.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Sparkles from '@lucide/svelte/icons/sparkles';

  /** While light runs by itself: its mood and what comes next in how many bars; pressed, why, and what a hand can say. */
  const { live } = getApp();
  const auto = $derived(live.real?.auto?.on ? live.real.auto : null);
  const now = $derived(auto?.now ?? null);
  let left = $state<number | null>(null);
  $effect(() => {
    const until = now?.untilMs ?? null;
    const count = (): void => {
      const { real } = live;
      left = until === null || !real ? null : Math.max(0, beatAt(real.tempo, until) - beatAt(real.tempo, live.now()));
    };
    count();
    const timer = setInterval(count, 250);
    return () => clearInterval(timer);
  });
  const bar = $derived(live.real ? barBeats(live.real, live.document) : 4);
  const inBars = $derived(
    left === null
      ? ''
      : left > bar
        ? `, in ${plural(Math.round(left / bar), 'bar')}`
        : `, in ${plural(Math.ceil(left), 'beat')}`,
  );
  const next = $derived(now?.then ? `then ${now.then}${inBars}` : auto?.hold ? 'held' : '');
</script>

{#if auto}
  <Pop label="Auto" side="bottom" align="start" width={340}>
    {#snippet button(props)}
      <button {...props} type="button" class="chip" aria-label="Auto: {now?.mood ?? 'begins'}, {next}" title={now?.why}>
        <Sparkles size={15} /> <b>{now?.mood ?? 'Auto'}</b> <span class="quiet">{next}</span>
      </button>
    {/snippet}
    {#snippet children(close)}
      <p><b>{now?.mood ?? 'Auto'}</b>{now ? `: ${now.why}` : ' begins'}</p>
      {#if next}<p class="quiet">{next}</p>{/if}
      <div class="row">
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
      </div>
      <label
        >Mood
        <select
          aria-label="Mood that Auto holds"
          value={auto.mood ?? ''}
          onchange={(e) => live.command({ do: 'autoMood', mood: (e.currentTarget.value || null) as Mood | null })}
        >
          <option value="">as the music has it</option>
          {#each MOODS as mood (mood)}<option value={mood}>{mood}</option>{/each}
        </select></label
      >
      <p><a href="/show?view=auto" onclick={close}>All of Auto: more and less, colours, roles, what may play</a></p>
    {/snippet}
  </Pop>
{/if}

<style>
  .chip {
    display: flex;
    gap: 6px;
    align-items: center;
    min-width: 0;
    max-width: 100%;
    height: 30px;
    padding: 0 10px;
    border: 1px solid var(--amber);
    border-radius: var(--radius);
    background: var(--amber-wash);
    color: var(--text);
    white-space: nowrap;
    overflow: hidden;
  }
  .chip :global(svg) {
    flex: none;
    color: var(--amber);
  }
  .chip span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .row {
    display: flex;
    gap: 6px;
  }
  p {
    margin: 0 0 8px;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 8px 0;
  }
</style>
