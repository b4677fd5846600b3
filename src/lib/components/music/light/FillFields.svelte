<script lang="ts">
  import { sectionsOf } from '$core/song/grid.ts';
  import Button from '$lib/components/Button.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { LightDesk } from '$lib/state/music/light-desk.svelte.ts';
  import type { FillAt, LightStretches } from '$lib/state/music/light-stretches.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import Entry from '$lib/components/Entry.svelte';

  /** The stretch or section that is chosen, with all its lanes: filled from the ear, proposed, copied, kept, repeated. */
  let { light, stretches }: { light: LightDesk; stretches: LightStretches } = $props();
  const app = getApp();
  const AT: readonly [FillAt, string][] = [
    ['beats', 'each beat'],
    ['bars', 'each bar'],
    ['low', 'each low beginning'],
    ['snare', 'each snare'],
    ['high', 'each high beginning'],
    ['tonal', 'each note'],
  ];
  let at = $state<FillAt>('beats');
  let where = $state<'lane' | 'lanes'>('lane');
  let length = $state(0.25);
  let falls = $state(true);
  let name = $state('');
  let take = 1;
  const stretch = $derived(stretches.stretch);
  const sections = $derived(sectionsOf(light.song.song));
  const count = $derived(stretches.moments(at).filter((m) => m >= stretch.from - 1e-6 && m < stretch.to - 1e-3).length);
  const lanes = $derived(
    where === 'lane'
      ? light.lane
        ? [light.lane]
        : []
      : light.branches.map((b) => b.lane).filter((l) => l.lost === null),
  );
  function fill(): void {
    const put = stretches.fill(at, { lanes, length, fade: falls ? 1 : 0 });
    if (put === 0)
      app.live.tell(
        'note',
        'Nothing was put',
        light.hand ? 'There is no such moment, or no lane that is open.' : 'Take something in the hand first.',
      );
  }
  function propose(): void {
    const put = stretches.propose(take++);
    if (put === 0)
      app.live.tell('note', 'Auto has nothing for this stretch', 'It needs units in the rig, and a song with beats.');
  }
</script>

<section aria-label="Stretch">
  <h3>{stretch.name.slice(0, 1).toUpperCase() + stretch.name.slice(1)}</h3>
  <p class="quiet">
    <span class="num">{clockText(stretch.from, 1)} to {clockText(stretch.to, 1)}.</span> Drag over the wave, or press a section
    above it, for another.
  </p>
  <div class="row">
    <Button kind="main" title="As blocks that can be edited" onclick={propose}>Propose it</Button>
    <Button onclick={() => stretches.copy()}>Copy</Button>
    <Button
      disabled={stretches.copied === null}
      title={stretches.copied ? `${stretches.copied.name}, where it stands` : 'Nothing was copied'}
      onclick={() => stretches.paste()}>Paste</Button
    >
    <Button title="To where it stands" onclick={() => stretches.moveTo(stretches.here)}>Move here</Button>
    <Button onclick={() => stretches.clear()}>Empty</Button>
    <Button title="Blocks of it on all lanes" onclick={() => light.chooseIn(stretch)}>Choose</Button>
  </div>
  {#if sections.length > 1}
    <select
      aria-label="Repeat it in"
      value=""
      onchange={(e) => {
        const index = Number(e.currentTarget.value);
        e.currentTarget.value = '';
        stretches.repeatIn(index);
      }}
    >
      <option value="">Repeat it in …</option>
      {#each sections as { name, at: begin }, i (begin)}<option value={String(i)}>{name}, {clockText(begin)}</option
        >{/each}
    </select>
  {/if}
  <h4>From the ear</h4>
  <div class="row">
    <select aria-label="Fill at" bind:value={at}>
      {#each AT as [key, text] (key)}<option value={key}>{text}</option>{/each}
    </select>
    <select aria-label="Fill on" bind:value={where}>
      <option value="lane">on {light.lane ? light.laneName(light.lane) : 'the lane'}</option>
      <option value="lanes">one lane after the other</option>
    </select>
    <label class="length"
      ><input type="number" min="0.02" max="60" step="0.05" bind:value={length} aria-label="Length of each" /> s</label
    >
    <label><input type="checkbox" bind:checked={falls} /> fades out</label>
  </div>
  <Button disabled={!light.hand || count === 0 || !(length > 0)} onclick={fill}
    >{light.hand ? `Put ${light.hand.name} at ${count}` : 'Take something in the hand'}</Button
  >
  <h4>Passages</h4>
  <form
    class="row"
    onsubmit={(e) => {
      e.preventDefault();
      if (name.trim() === '') return;
      stretches.keep(name.trim().slice(0, 100));
      name = '';
    }}
  >
    <Entry label="Keep it as" bind:value={name} />
    <Button type="submit" disabled={name.trim() === ''}>Keep</Button>
  </form>
  {#each app.rig.passages as passage (passage.id)}
    <div class="row passage">
      <span>{passage.name} <span class="quiet num">{Math.round(passage.beats)} beats</span></span>
      <Button aria-label="Put {passage.name} here" onclick={() => stretches.layPassage(passage)}>Put here</Button>
      <Button
        kind="bare"
        aria-label="Remove the passage {passage.name}"
        onclick={() => app.remove(`Remove ${passage.name}`, [passage.id])}>Remove</Button
      >
    </div>
  {/each}
</section>

<style>
  h4 {
    margin: 6px 0 0;
    font-size: 12.5px;
    color: var(--quiet);
  }
  form.row {
    align-items: end;
  }
  .passage > span {
    flex: 1;
    min-width: 0;
  }
  label {
    font-size: 12.5px;
  }
  .length input {
    width: 64px;
  }
</style>
