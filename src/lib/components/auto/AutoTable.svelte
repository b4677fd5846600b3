<script lang="ts">
  import type { SceneId, VariantId } from '$core/ids.ts';
  import { isOwn } from '$core/auto/own.ts';
  import type { Idea } from '$core/auto/ideas.ts';
  import { PHRASE_BARS } from '$core/auto/taste.ts';
  import { MOODS, type Mood } from '$core/records/profile.ts';
  import { ROLE_WORDS, type PlayedRole } from '$core/records/variant.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Thumb from '../scenes/Thumb.svelte';

  /** What Auto may play in each mood, role by role, how often it changes, and what is seen in silence; kept by name. */
  const app = getApp();
  const { auto: desk, rig } = app;
  let mood = $state<Mood>('easy');
  const taste = $derived(desk.troupe.taste);
  const EVERY = [
    [1, 'turned round with each phrase'],
    [2, 'with every second phrase'],
    [4, 'with every fourth'],
    [0, 'stays as it is'],
  ] as const;
  const SETTING = { colours: ['#ffb347', '#3f6bff'], turn: 0, metre: 4, snares: [], aims: [] };
  const units = (role: PlayedRole) => [...desk.troupe.places[0]!.roles[role]];
  const bars = $derived(desk.variant?.moods[mood]?.bars ?? null);
  let naming = $state(false);
  const ideas = (role: PlayedRole): readonly Idea[] => desk.ideas(role);
  const saveNumber = (text: string, from: number, to: number, save: (n: number) => void): string | null => {
    const n = Number(text);
    if (!Number.isInteger(n) || n < from || n > to) return `Give a whole number from ${from} to ${to}.`;
    save(n);
    return null;
  };
</script>

<div class="head">
  <label
    >Way
    <select
      aria-label="Way of Auto"
      value={desk.variant?.id ?? ''}
      onchange={(e) => desk.choose((e.currentTarget.value || null) as VariantId | null)}
    >
      <option value="">by itself</option>
      {#each rig.variants as { id, name } (id)}<option value={id}>{name}</option>{/each}
    </select></label
  >
  {#if desk.variant}
    {@const variant = desk.variant}
    <Field
      label="Called"
      value={variant.name}
      save={(text) => {
        if (text.trim() === '' || text.length > 100) return 'Give a name of 1 to 100 characters.';
        desk.teach('Name of a way of Auto', (own) => ({ ...own, name: text.trim() }));
        return null;
      }}
    />
    <Button kind="bare" onclick={() => desk.remove()}>Remove</Button>
  {/if}
  {#if naming}
    <Field
      label="Keep as"
      value=""
      placeholder="Quiet Sunday"
      save={(text) => {
        if (text.trim() === '' || text.length > 100) return 'Give a name of 1 to 100 characters.';
        desk.keepAs(text.trim());
        naming = false;
        return null;
      }}
    />
  {:else}<Button onclick={() => (naming = true)}>Keep under another name</Button>{/if}
</div>
<div class="moods" role="group" aria-label="In which mood">
  {#each MOODS as name (name)}<Button pressed={mood === name} onclick={() => (mood = name)}>{name}</Button>{/each}
  <span class="gap"></span>
  <Field
    label="Something changes after"
    suffix="bars"
    numeric
    value={bars ?? PHRASE_BARS[mood]}
    save={(text) => saveNumber(text, 1, 64, (n) => desk.setBars(mood, n))}
  />
  {#if bars !== null}<Button kind="bare" onclick={() => desk.setBars(mood, null)}>as Auto has it</Button>{/if}
</div>

{#each desk.roles as role (role)}
  {@const slot = desk.slot(mood, role)}
  {@const takesPart = taste.plays(mood, role)}
  <section class:rests={!takesPart}>
    <div class="role">
      <label class="part"
        ><input
          type="checkbox"
          checked={takesPart}
          aria-label="{ROLE_WORDS[role]} takes part while it is {mood}"
          onchange={(e) => desk.setSlot(`${ROLE_WORDS[role]}, ${mood}`, mood, role, { plays: e.currentTarget.checked })}
        />
        <b>{ROLE_WORDS[role]}</b></label
      >
      <select
        aria-label="How often {ROLE_WORDS[role]} changes"
        value={slot.every}
        onchange={(e) =>
          desk.setSlot(`${ROLE_WORDS[role]}, ${mood}`, mood, role, { every: Number(e.currentTarget.value) })}
      >
        {#each EVERY as [n, text] (n)}<option value={n}>{text}</option>{/each}
      </select>
    </div>
    <div class="ideas">
      {#each ideas(role) as idea (idea.key)}
        {@const on = desk.may(mood, role, idea)}
        {@const played = idea.play(SETTING)}
        <button
          type="button"
          class="idea"
          aria-pressed={on}
          title={on ? `${idea.name} may play while it is ${mood}` : `${idea.name} does not play while it is ${mood}`}
          onclick={() => desk.allow(mood, role, idea, !on)}
        >
          <Thumb
            target={played.target}
            spec={played.spec}
            on={units(role)}
            of={[idea, units(role).length]}
            width={84}
            height={40}
          />
          <span>{idea.name}</span>
          {#if isOwn(idea)}<i class="quiet">yours</i>{/if}
        </button>
      {/each}
    </div>
  </section>
{:else}<p class="quiet">No unit of this show gives light yet. <a href="/kit">Choose fixtures in the Kit</a>.</p>{/each}
<p class="quiet">
  Scenes, chases, effects and aims of yours take part by themselves where a colour tag or a folder of theirs is called
  like the mood; any of them can be let in here.
</p>
<section>
  <div class="role"><b>Silence</b></div>
  <div class="silence">
    <Field
      label="After"
      suffix="s"
      numeric
      value={taste.silence.afterS}
      save={(text) =>
        saveNumber(text, 3, 3600, (afterS) =>
          desk.teach('Silence', (v) => ({ ...v, silence: { ...v.silence, afterS } })),
        )}
    />
    <label
      >is seen
      <select
        aria-label="What is seen in silence"
        value={taste.silence.sceneId ?? ''}
        onchange={(e) => {
          const sceneId = (e.currentTarget.value || null) as SceneId | null;
          desk.teach('Silence', (v) => ({ ...v, silence: { ...v.silence, sceneId } }));
        }}
      >
        <option value="">the washes, still and warm</option>
        {#each rig.scenes as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </select></label
    >
  </div>
</section>
<section>
  <div class="role"><b>Colours</b></div>
  <div class="silence">
    {#each taste.colours as colour, i (i)}
      <input
        type="color"
        value={colour}
        aria-label="Colour {i + 1} of this way"
        onchange={(e) => {
          const next = e.currentTarget.value;
          desk.teach('Colours of Auto', (v) => ({ ...v, colours: v.colours.with(i, next) }));
        }}
      />
    {/each}
    {#if taste.colours.length < 6}
      <Button onclick={() => desk.teach('Colours of Auto', (v) => ({ ...v, colours: [...v.colours, '#ffb347'] }))}
        >{taste.colours.length === 0 ? 'Choose what it chooses from' : 'One more'}</Button
      >
    {/if}
    {#if taste.colours.length > 0}
      <Button kind="bare" onclick={() => desk.teach('Colours of Auto', (v) => ({ ...v, colours: [] }))}
        >Its own harmonies</Button
      >
    {:else}<span class="quiet">Its own harmonies: neighbours when it is calm, opposites when much goes on.</span>{/if}
  </div>
</section>

<style>
  .head,
  .moods,
  .silence {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 12px;
    align-items: center;
  }
  .moods {
    padding: 10px 0;
    border-bottom: 1px solid var(--line);
  }
  .moods :global([aria-pressed='true']) {
    background: var(--amber-wash);
    border-color: var(--amber);
  }
  .gap {
    flex: 1;
  }
  section {
    display: grid;
    grid-template-columns: 190px 1fr;
    gap: 8px 14px;
    padding: 10px 0;
    border-bottom: 1px solid var(--line);
  }
  .rests .ideas {
    opacity: 0.45;
  }
  .role {
    display: grid;
    gap: 6px;
    align-content: start;
  }
  .part {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .part input {
    width: 18px;
    height: 18px;
  }
  .role select {
    width: 100%;
  }
  select {
    max-width: 100%;
  }
  .ideas {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .idea {
    display: grid;
    gap: 4px;
    width: 104px;
    padding: 6px 9px;
    justify-items: center;
    text-align: center;
    font-size: 12px;
    line-height: 1.25;
    border: 1px solid var(--line);
    border-radius: 8px;
    background: var(--panel);
    color: var(--quiet);
    align-content: start;
  }
  .idea[aria-pressed='true'] {
    border-color: var(--amber);
    background: var(--amber-wash);
    color: var(--text);
  }
  .idea[aria-pressed='false'] :global(canvas) {
    opacity: 0.5;
  }
  input[type='color'] {
    width: 42px;
    height: 34px;
    padding: 2px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
  }
  @media (max-width: 760px) {
    section {
      grid-template-columns: 1fr;
    }
  }
</style>
