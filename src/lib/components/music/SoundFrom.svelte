<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import Pop from '$lib/components/Pop.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { SoundCards } from '$lib/state/music/sound-cards.svelte.ts';

  /** Where the sound of songs comes from: this page, or a sound card of the machine. */
  let { main }: { main: boolean } = $props();
  const app = getApp();
  const cards = new SoundCards();
  const playOn = (device: string, name: string): void =>
    void app.live.command({
      do: 'soundPlayer',
      player: { key: `card:${device}`, name: name.slice(0, 60), card: { delayMs: 0, level: 1, clicks: false } },
    });
</script>

<Button kind={main ? 'main' : 'plain'} onclick={() => app.sound.choose(app.personName)}>Play the sound here</Button>
{#if cards.outs.length > 0}
  <Pop label="Sound cards of the machine" side="bottom" width={260}>
    {#snippet button(props)}<Button {...props}>On the machine …</Button>{/snippet}
    <p class="quiet">The sound comes out of the machine that Amber Kite runs on; no page has to stay open.</p>
    {#each cards.outs as { device, name } (device)}
      <Button onclick={() => playOn(device, name)}>{name}</Button>
    {/each}
  </Pop>
{/if}

<style>
  p {
    margin: 0;
    font-size: 12.5px;
  }
</style>
