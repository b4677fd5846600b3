<script lang="ts">
  import Step from './Step.svelte';

  /** An honest page for a step that does not exist yet: what it will be for, and what to use meanwhile. */
  let { title, later, meanwhile }: { title: string; later: string; meanwhile: string } = $props();
</script>

<Step {title}>
  <div class="note">
    <h2>Not built yet</h2>
    <p>{later}</p>
    <p class="quiet">{meanwhile}</p>
  </div>
</Step>

<style>
  .note {
    max-width: 520px;
    margin: 12vh auto 0;
    padding: 0 24px;
    display: grid;
    gap: 10px;
  }
</style>
