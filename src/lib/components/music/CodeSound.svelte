<script lang="ts">
  import { FREE_LIMITS } from '$core/show/live/code.ts';
  import Button from '$lib/components/Button.svelte';
  import Field from '$lib/components/Field.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveWhole } from '$lib/state/entry.ts';

  /** Time code from outside: what hears it, what it says, and how long songs go on without it. */
  const app = getApp();
  const { live } = app;
  const own = $derived(app.pageCode);
  const code = $derived(live.real?.code ?? null);
  const songs = $derived(app.rig.songs.filter(({ codeAt }) => codeAt !== null));
</script>

<section aria-label="Time code">
  <h2>Time code</h2>
  <p class="quiet">
    Songs can follow a code from outside: MIDI time code, or linear time code as sound. Each song says where in it it
    begins (Light, Out); {songs.length === 0 ? 'none does yet' : `${songs.length} of ${app.rig.songs.length} do`}.
  </p>
  <div class="sources">
    {#each own.midi as { id, name } (id)}
      <Button
        pressed={own.by === `MIDI: ${name}`}
        onclick={() => (own.by === `MIDI: ${name}` ? own.stop() : void own.fromMidi(id))}>{name}</Button
      >
    {/each}
    {#if own.midi.length === 0}<Button onclick={() => own.look()}>Look for MIDI inputs</Button>{/if}
    <Button
      pressed={own.by === 'Sound of this page'}
      onclick={() => (own.by === 'Sound of this page' ? own.stop() : void own.fromSound())}
      >Linear time code at this page</Button
    >
    {#if code}<Button onclick={() => (own.by ? own.stop() : void live.command({ do: 'codeFrom', by: null }))}
        >No code</Button
      >{/if}
  </div>
  {#if own.trouble}<p class="look" role="status">● {own.trouble}</p>{/if}
  {#if code}
    <p role="status">
      {code.by}: <b class="num">{own.by ? own.text || 'no code' : code.heard ? 'heard by another page' : 'no code'}</b>
    </p>
    <Field
      label="Without it a song goes on for"
      suffix="ms"
      numeric
      value={code.freeMs}
      save={(text) =>
        saveWhole(
          text,
          FREE_LIMITS[0],
          FREE_LIMITS[1],
          (freeMs) => void live.command({ do: 'codeFrom', by: code.by, freeMs }),
        )}
    />
  {/if}
</section>
