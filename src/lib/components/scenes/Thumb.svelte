<script lang="ts">
  import type { Play } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { paintThumb } from './paint-thumb.ts';

  /** What something looks like by itself: dots of the plot in the colours it gives them. */
  interface Props {
    target: Play['target'];
    /** An effect that is in no record, and what it plays on. */
    spec?: Play['spec'];
    on?: Play['on'];
    /** What it is made of: when that changes it is drawn anew. */
    of: unknown;
    width?: number;
    height?: number;
  }
  let { target, of, spec = null, on = null, width = 64, height = 36 }: Props = $props();
  const app = getApp();
  let canvas = $state<HTMLCanvasElement>();
  /** Far enough in that fades are over, at a place where most effects show something. */
  const AT_S = 4.3;
  $effect(() => {
    void of;
    const element = canvas;
    if (!element) return;
    let gone = false;
    const observer = new IntersectionObserver((entries) => {
      if (!entries.some((e) => e.isIntersecting)) return;
      observer.disconnect();
      void app.live.preview
        .ask({
          what: 'thumbnail',
          play: $state.snapshot({ target, spec, on }) as Pick<Play, 'target' | 'spec' | 'on'>,
          atS: AT_S,
        })
        .then((look) => !gone && look && paintThumb(element, look, width, height))
        .catch(() => undefined);
    });
    observer.observe(element);
    return () => {
      gone = true;
      observer.disconnect();
    };
  });
</script>

<canvas bind:this={canvas} style:width="{width}px" style:height="{height}px" aria-hidden="true"></canvas>

<style>
  canvas {
    display: block;
    border-radius: 4px;
    background: #0c0f15;
    flex: none;
  }
</style>
