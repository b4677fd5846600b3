<script lang="ts">
  import NotBuilt from '$lib/components/NotBuilt.svelte';
</script>

<NotBuilt
  title="Calendar"
  later="The show that runs by itself: dates, weekdays, sunset."
  meanwhile="Until then: what plays goes on playing over a restart, and a pad in Show starts it."
/>
