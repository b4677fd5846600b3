<script lang="ts">
  import { bpmAround } from '$core/show/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import Field from '$lib/components/Field.svelte';
  import CodeSound from './CodeSound.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { SoundCards } from '$lib/state/music/sound-cards.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';

  /** Sound that nobody knows beforehand: which ear the tempo follows, what it hears, and what a hand sets right. */
  const app = getApp();
  const { live } = app;
  const ear = $derived(live.real?.ear ?? null);
  const own = $derived(app.pageEar);
  const said = $derived(live.ear && ear && live.ear.source === ear.source ? live.ear : null);
  const listening = $derived(said && 'listening' in said ? said.listening : null);
  const trouble = $derived(said && 'trouble' in said ? said.trouble : null);
  const bpm = $derived(live.real ? bpmAround(live.real.tempo, live.now()) : 120);
  const demo = $derived(live.system.standins !== null);
  const cards = new SoundCards();
  const STATES = {
    silent: 'Silence: the tempo goes on as it was.',
    unsure: 'Sound, but no beat it is sure of: the tempo goes on as it was.',
    hearing: 'The tempo follows.',
  } as const;
  const choose = (source: string | null): void => {
    if (own.on && source !== own.source) own.stop();
    void live.command({ do: 'ear', source });
  };
  const meter = $derived(listening ? Math.max(0, Math.min(1, (listening.db + 60) / 60)) : 0);
</script>

<div class="all">
  <section aria-label="Source">
    <h2>Listen to</h2>
    <div class="sources">
      <Button
        pressed={ear !== null && ear.source === own.source}
        onclick={() => (own.on ? own.stop() : void own.start())}
        >{own.on ? 'Stop listening here' : 'A microphone of this page'}</Button
      >
      {#each cards.ins as { device, name } (device)}
        <Button
          pressed={ear?.source === `server:${device}`}
          onclick={() => choose(ear?.source === `server:${device}` ? null : `server:${device}`)}
          >{name}, on the machine</Button
        >
      {/each}
      {#if demo}
        <Button
          pressed={ear?.source === 'standin'}
          title="Plays the demo songs, unheard, for ever"
          onclick={() => choose(ear?.source === 'standin' ? null : 'standin')}>Simulated music</Button
        >
      {/if}
      {#if ear}<Button onclick={() => choose(null)}>Nothing</Button>{/if}
    </div>
    {#if own.trouble ?? own.barred}<p class="look" role="status">● {own.trouble ?? own.barred}</p>{/if}
    {#if trouble}<p class="wrong" role="alert">▲ {trouble.message}. {trouble.remedy}</p>{/if}
    {#if ear && ear.source.startsWith('page:') && ear.source !== own.source}
      <p class="quiet">Another page listens; this one shows what it hears.</p>
    {/if}
  </section>

  <section class="heard" aria-label="What is heard">
    <div
      class="meter"
      role="meter"
      aria-label="Level"
      aria-valuenow={listening?.db ?? -100}
      aria-valuemin="-100"
      aria-valuemax="0"
    >
      <span style:width="{meter * 100}%" class:wrong={listening?.clips}></span>
    </div>
    {#if !ear}
      <p>Nobody listens. Choose a source: the tempo, and all that counts in beats, follows it.</p>
    {:else if live.real?.song?.playing}
      <p role="status">A song is on: its beats lead. End it, and the tempo follows what is heard.</p>
    {:else if listening}
      <p role="status" data-state={listening.state}>
        {STATES[listening.state]}
        {#if listening.clips}<b class="wrong">▲ The source is too loud and cut off: turn it down.</b>{/if}
      </p>
      <dl>
        <dt>Heard</dt>
        <dd class="num">{listening.bpm === null ? '–' : `${listening.bpm.toFixed(1)} bpm`}</dd>
        <dt>Sure</dt>
        <dd class="num">{Math.round(listening.confidence * 100)} %</dd>
        <dt>Mood</dt>
        <dd>{listening.mood ?? '–'}{listening.turn ? `, ${listening.turn}` : ''}</dd>
        <dt>Level</dt>
        <dd class="num">{listening.db.toFixed(0)} dB</dd>
      </dl>
    {:else if !trouble}
      <p class="quiet">Waiting for sound …</p>
    {/if}
  </section>

  <section aria-label="By hand">
    <h2>By hand <span class="quiet">always wins</span></h2>
    <p class="num tempo">{bpm.toFixed(1)} <span class="quiet">bpm of the show</span></p>
    <div class="sources">
      <Button
        pressed={ear?.ratio === 0.5}
        disabled={!ear}
        onclick={() => live.command({ do: 'earRatio', ratio: ear?.ratio === 0.5 ? 1 : 0.5 })}>Half</Button
      >
      <Button
        pressed={ear?.ratio === 2}
        disabled={!ear}
        onclick={() => live.command({ do: 'earRatio', ratio: ear?.ratio === 2 ? 1 : 2 })}>Double</Button
      >
      <Button
        title="A bar begins at this moment"
        onclick={() => live.command({ do: 'tempo', bpm, barNow: app.rig.show?.beatsPerBar ?? 4 })}
        >The one is now</Button
      >
      <Button
        pressed={ear?.hold ?? false}
        disabled={!ear}
        onclick={() => live.command({ do: 'earHold', on: !ear?.hold })}>Hold the tempo</Button
      >
    </div>
    <p class="quiet">
      Tap at the top: a tapped tempo decides between half and double, and the ear goes on from there. “The one is now”
      sets the bar for good, until another source is chosen.
    </p>
  </section>

  <CodeSound />

  {#if own.on}
    <section aria-label="This page’s ear">
      <h2>Ear of this page</h2>
      {#if own.microphones.length > 1}
        <Choice
          label="Microphone or line input"
          value={own.chosen || own.microphones[0]!.id}
          options={own.microphones.map(({ id, name }) => ({ value: id, text: name }))}
          choose={(id: string) => void own.choose(id)}
        />
      {/if}
      <Field
        label="Sound comes in late by"
        suffix="ms"
        numeric
        value={own.delayMs}
        save={(text) => saveWhole(text, -200, 1000, (ms) => own.setDelay(ms))}
      />
      <Button disabled={own.measuring} title="Plays clicks and listens for them" onclick={() => own.measure()}
        >{own.measuring ? 'Listening for clicks …' : 'Measure it'}</Button
      >
    </section>
  {/if}
</div>

<style>
  .all {
    display: grid;
    align-content: start;
    gap: 26px;
    flex: 1;
    max-width: 720px;
    padding: 18px 24px;
    overflow-y: auto;
  }
  .all :global(section) {
    display: grid;
    gap: 10px;
    justify-items: start;
  }
  .all .heard {
    justify-items: stretch;
    min-height: 128px;
  }
  .all :global(h2) {
    margin: 0;
    font-size: 15px;
  }
  .all > :global(section > p) {
    margin: 0;
    max-width: 62ch;
  }
  .all :global(.sources) {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .meter {
    height: 14px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    overflow: hidden;
  }
  .meter span {
    display: block;
    height: 100%;
    background: var(--amber);
  }
  .meter span.wrong {
    background: var(--wrong);
  }
  dl {
    display: grid;
    grid-template-columns: repeat(4, auto 1fr);
    gap: 4px 10px;
    margin: 0;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    margin: 0;
  }
  .all .tempo {
    font-size: 26px;
  }
  .tempo .quiet {
    font-size: 13px;
  }
  .all :global(.look) {
    color: var(--look);
  }
  p.wrong,
  b.wrong {
    color: var(--wrong);
  }
  @media (max-width: 760px) {
    dl {
      grid-template-columns: auto 1fr;
    }
  }
</style>
