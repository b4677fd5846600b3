<script lang="ts">
  import type { SoundPlayer } from '$core/show/live/songs.ts';
  import Button from '$lib/components/Button.svelte';
  import Pop from '$lib/components/Pop.svelte';
  import Slider from '$lib/components/Slider.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { clamp } from '$core/units.ts';

  /** How loud it is where it plays, and how late the sound is at the ear: click and flash, moved until they are one. */
  interface Props {
    /** The sound card that plays; null: this page. */
    player: SoundPlayer | null;
  }
  let { player }: Props = $props();
  const app = getApp();
  const { sound, live } = app;
  const card = $derived(player?.card ?? null);
  let testing = $state(false);
  let lit = $state(false);
  const EVERY_MS = 1000;
  const set = (change: Partial<NonNullable<SoundPlayer['card']>>): void => {
    if (player && card) void live.command({ do: 'soundPlayer', player: { ...player, card: { ...card, ...change } } });
  };
  const setLevel = (share: number): void => (card ? set({ level: share }) : sound.setVolume(share));
  const setDelay = (ms: number): void =>
    card ? set({ delayMs: clamp(Math.round(ms), -500, 500) }) : sound.setDelay(ms);
  const delayMs = $derived(card?.delayMs ?? sound.delayMs);
  function test(on: boolean): void {
    testing = on;
    if (card) set({ clicks: on });
    else if (on) sound.allow();
  }
  $effect(() => {
    if (!testing) return;
    const own = card === null;
    let next = Math.ceil(live.now() / EVERY_MS) * EVERY_MS;
    let frame = 0;
    const look = (): void => {
      const now = live.now();
      if (next - now < 300) {
        if (own) sound.click(next, true);
        next += EVERY_MS;
      }
      lit = now % EVERY_MS < 90;
      frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => cancelAnimationFrame(frame);
  });
</script>

<Pop
  label={card ? `Sound of ${player!.name}` : 'Sound of this page'}
  side="bottom"
  width={300}
  opened={() => testing && test(false)}
>
  {#snippet button(props)}<Button {...props}>Sound …</Button>{/snippet}
  <Slider label="Level" value={card?.level ?? sound.volume} change={setLevel} />
  <p class="quiet">
    Once for these loudspeakers: let it click and flash, and move the sound until click and flash are one. Loudspeakers
    without a cable are often 150 to 250 ms late.
  </p>
  <Slider
    label="The sound is late by"
    value={(delayMs + 100) / 500}
    text="{delayMs} ms"
    change={(share) => setDelay(share * 500 - 100)}
  />
  <div class="row">
    <Button pressed={testing} onclick={() => test(!testing)}>Click and flash</Button>
    <span class="flash" class:lit={testing && lit}></span>
  </div>
</Pop>

<style>
  p {
    margin: 0;
    font-size: 12.5px;
  }
  .row {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  .flash {
    width: 90px;
    height: 30px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
  }
  .lit {
    background: var(--text);
  }
</style>
