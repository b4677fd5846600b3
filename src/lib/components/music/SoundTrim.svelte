<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Pop from '$lib/components/Pop.svelte';
  import Slider from '$lib/components/Slider.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** How loud it is here, and how late the sound is at the ear: click and flash, moved until they are one. */
  const app = getApp();
  const { sound, live } = app;
  let testing = $state(false);
  let lit = $state(false);
  const EVERY_MS = 1000;
  $effect(() => {
    if (!testing) return;
    let next = Math.ceil(live.now() / EVERY_MS) * EVERY_MS;
    let frame = 0;
    const look = (): void => {
      const now = live.now();
      if (next - now < 300) {
        sound.click(next, true);
        next += EVERY_MS;
      }
      const since = now % EVERY_MS;
      lit = since < 90;
      frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => cancelAnimationFrame(frame);
  });
</script>

<Pop label="Sound of this page" side="bottom" width={300} opened={() => (testing = false)}>
  {#snippet button(props)}<Button {...props}>Sound …</Button>{/snippet}
  <Slider label="Level" value={sound.volume} change={(share) => sound.setVolume(share)} />
  <p class="quiet">
    Once for these loudspeakers: let it click and flash, and move the sound until click and flash are one. Loudspeakers
    without a cable are often 150 to 250 ms late.
  </p>
  <Slider
    label="The sound is late by"
    value={(sound.delayMs + 100) / 500}
    text="{sound.delayMs} ms"
    change={(share) => sound.setDelay(share * 500 - 100)}
  />
  <div class="row">
    <Button pressed={testing} onclick={() => (sound.allow(), (testing = !testing))}>Click and flash</Button>
    <span class="flash" class:lit></span>
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
