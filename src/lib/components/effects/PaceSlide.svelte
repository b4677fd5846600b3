<script lang="ts">
  import { FASTEST_RATE, type EffectSpec } from '$core/records/effect.ts';
  import NumberSlide from '../NumberSlide.svelte';

  /** How fast an effect goes: turns a second, or a beat. */
  let { spec, change }: { spec: EffectSpec; change: (rate: number) => void } = $props();
</script>

<NumberSlide
  label={spec.beats ? 'Turns a beat' : 'Turns a second'}
  value={spec.rate}
  min={0}
  max={FASTEST_RATE}
  slideMax={spec.beats ? 4 : 3}
  suffix={spec.beats ? '' : 'Hz'}
  {change}
/>
