<script lang="ts">
  import NotBuilt from '$lib/components/NotBuilt.svelte';
</script>

<NotBuilt
  title="Pre-flight"
  later="One list of everything that will go wrong tonight, each with a button that goes there."
  meanwhile="Until then: the marks under the steps on the left count what is wrong, and the sheet in Patch says what."
/>
