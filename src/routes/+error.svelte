<script lang="ts">
  import { page } from '$app/state';
  import Step from '$lib/components/Step.svelte';
</script>

<Step title={page.status === 404 ? 'No such page' : 'Something went wrong'}>
  <div class="note">
    <p>{page.status === 404 ? `There is no such page as ${page.url.pathname}.` : page.error?.message}</p>
    <p class="quiet">The lights go on. <a href="/plot">Go to the plot</a>, or choose a step on the left.</p>
  </div>
</Step>

<style>
  .note {
    margin: 12vh auto 0;
    padding: 0 24px;
    display: grid;
    gap: 10px;
    max-width: 520px;
  }
</style>
