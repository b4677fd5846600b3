<script lang="ts">
  import NumberSlide from '../NumberSlide.svelte';

  /** How far the last element of a part is behind its first, in turns. */
  let { value, change }: { value: number; change: (spread: number) => void } = $props();
</script>

<NumberSlide label="Spread" {value} min={-64} max={64} slideMin={-2} slideMax={2} step={0.05} suffix="turns" {change} />
