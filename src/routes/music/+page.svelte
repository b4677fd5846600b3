<script lang="ts">
  import NotBuilt from '$lib/components/NotBuilt.svelte';
</script>

<NotBuilt
  title="Music"
  later="Beats, bars and sections of a song, automatic light that follows them, and a song timeline."
  meanwhile="Until then: tap the tempo at the top, and let chases count in beats."
/>
