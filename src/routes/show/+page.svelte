<script lang="ts">
  import { isPlaying } from '$core/show/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Step from '$lib/components/Step.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';

  const app = getApp();
  const live = $derived(app.live.live);
  const plays = $derived(live?.playing ?? []);
  let clock = $state(0);
  $effect(() => {
    const timer = setInterval(() => (clock = app.live.now()), 250);
    return () => clearInterval(timer);
  });
  const since = (at: number): string => {
    const s = Math.max(0, Math.floor((clock - at) / 1000));
    return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`;
  };
  const dark = $derived(live?.dark.on ?? false);
  const grand = $derived(live?.grand ?? 1);
  const toggle = (id: (typeof plays)[number]['target']): void =>
    void app.live.command({ do: live && isPlaying(live, id) ? 'release' : 'play', target: id });
</script>

<Step title="Show" detailsTitle="Playing now">
  {#snippet tools()}
    <span class="quiet">Touch a pad to play it, again to let it go. Several play at once.</span>
    <Button disabled={plays.every((p) => p.releasedAt !== null)} onclick={() => app.live.command({ do: 'releaseAll' })}
      >Let all go</Button
    >
  {/snippet}
  <div class="pads">
    {#snippet pad(item: (typeof app.rig.scenes)[number] | (typeof app.rig.chases)[number])}
      {@const on = live ? isPlaying(live, item.id) : false}
      {@const fading = !on && plays.some((p) => p.target === item.id)}
      <button
        type="button"
        class="pad"
        class:on
        class:fading
        aria-pressed={on}
        style:--tint={item.colour}
        onclick={() => toggle(item.id)}
      >
        <span class="name">{item.name}</span>
        <span class="quiet"
          >{on
            ? 'playing'
            : fading
              ? 'fading out'
              : item.kind === 'chase'
                ? plural(item.steps.length, 'step')
                : plural(Object.keys(item.values).length, 'unit')}</span
        >
      </button>
    {/snippet}
    {#if app.rig.scenes.length + app.rig.chases.length === 0}
      <p class="quiet">No pads yet: every scene and chase gets one. <a href="/scenes">Make a scene</a>.</p>
    {/if}
    {#if app.rig.scenes.length > 0}
      <h2>Scenes</h2>
      <div class="grid">
        {#each app.rig.scenes as item (item.id)}{@render pad(item)}{/each}
      </div>
    {/if}
    {#if app.rig.chases.length > 0}
      <h2>Chases</h2>
      <div class="grid">
        {#each app.rig.chases as item (item.id)}{@render pad(item)}{/each}
      </div>
    {/if}
  </div>
  {#snippet details()}
    <ul>
      {#each plays as play (play.id)}
        {@const item = app.rig.playable(play.target)}
        {#if item}
          <li style:--tint={item.colour}>
            <span class="name">{item.name}</span>
            <span class="num quiet">{play.releasedAt === null ? since(play.startedAt) : 'fading out'}</span>
            <Button
              kind="bare"
              disabled={play.releasedAt !== null}
              onclick={() => app.live.command({ do: 'release', target: play.target })}>Let go</Button
            >
          </li>
        {/if}
      {:else}
        <li class="quiet none">Nothing. The rig rests.</li>
      {/each}
    </ul>
    <label class="grand">
      <span>Grand master <b class="num">{Math.round(grand * 100)} <span class="quiet">%</span></b></span>
      <input
        type="range"
        min="0"
        max="1"
        step="0.005"
        value={grand}
        aria-label="Grand master, large"
        oninput={(e) => app.live.command({ do: 'grand', level: Number(e.currentTarget.value) })}
      />
    </label>
    <Button class="bigdark" pressed={dark} onclick={() => app.live.command({ do: 'dark', on: !dark })}
      >{dark ? 'Dark: press to bring back' : 'Dark'}</Button
    >
  {/snippet}
</Step>

<style>
  .pads {
    flex: 1;
    overflow: auto;
    padding: 4px 16px 24px;
  }
  h2 {
    padding: 10px 0 8px;
    color: var(--quiet);
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 10px;
  }
  .pad {
    display: flex;
    flex-direction: column;
    justify-content: space-between;
    align-items: flex-start;
    min-height: 84px;
    padding: 12px;
    text-align: left;
    background: var(--raised);
    border: 1px solid var(--line);
    border-bottom: 5px solid var(--tint);
    border-radius: 8px;
    transition: background var(--quick);
    touch-action: manipulation;
  }
  .pad:hover {
    background: var(--hover);
  }
  .pad .name {
    font-weight: 600;
  }
  .pad.on {
    background: color-mix(in srgb, var(--tint) 28%, var(--raised));
    border-color: var(--tint);
    box-shadow: inset 0 0 0 2px var(--tint);
  }
  .pad.on .quiet {
    color: var(--text);
  }
  .pad.fading {
    background: color-mix(in srgb, var(--tint) 10%, var(--raised));
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 6px;
  }
  li {
    display: grid;
    grid-template-columns: 1fr auto auto;
    align-items: center;
    gap: 8px;
    border-left: 4px solid var(--tint);
    padding-left: 10px;
  }
  li.none {
    border-color: transparent;
    padding: 0;
  }
  li .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .grand {
    display: grid;
    gap: 6px;
    padding-top: 8px;
    border-top: 1px solid var(--line);
  }
  .grand > span {
    display: flex;
    justify-content: space-between;
  }
  .grand input {
    width: 100%;
    height: 40px;
    accent-color: var(--amber);
    touch-action: none;
  }
  :global(.bigdark) {
    min-height: 56px !important;
    font-size: 16px;
  }
  a {
    color: var(--amber-text);
  }
</style>
