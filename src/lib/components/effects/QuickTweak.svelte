<script lang="ts">
  import type { EffectPart, EffectSpec } from '$core/records/effect.ts';
  import NumberSlide from '../NumberSlide.svelte';
  import PaceSlide from './PaceSlide.svelte';
  import SpreadSlide from './SpreadSlide.svelte';

  /** The parameters people reach for while an effect runs: pace, size and spread of all its parts at once. */
  let { spec, change }: { spec: EffectSpec; change: (spec: EffectSpec) => void } = $props();
  const first = $derived(spec.parts[0]!);
  const sized = $derived(first.does === 'aim' ? first.panDeg : 'size' in first ? first.size : 1);
  const parts = (edit: (part: EffectPart) => EffectPart): void => change({ ...spec, parts: spec.parts.map(edit) });
  function size(value: number): void {
    if (first.does !== 'aim') return parts((p) => (p.does === 'aim' ? p : { ...p, size: value }));
    const by = first.panDeg > 0 ? value / first.panDeg : 1;
    parts((p) => (p.does === 'aim' ? { ...p, panDeg: value, tiltDeg: Math.min(360, p.tiltDeg * by) } : p));
  }
</script>

<PaceSlide {spec} change={(rate) => change({ ...spec, rate })} />
{#if first.does === 'aim'}
  <NumberSlide label="Size" value={sized} min={0} max={360} slideMax={120} step={1} suffix="deg" change={size} />
{:else}
  <NumberSlide label="Size" value={sized} min={0} max={1} change={size} />
{/if}
<SpreadSlide value={first.spread} change={(spread) => parts((p) => ({ ...p, spread }))} />
