<script lang="ts">
  import { toHex } from '$core/colour/convert.ts';
  import { DOT_NUMBERS, type Thumbnail } from '$core/show/thumbnail.ts';
  import type { Play } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** What something looks like by itself: dots of the plot in the colours it gives them. */
  interface Props {
    target: Play['target'];
    /** What it is made of: when that changes it is drawn anew. */
    of: unknown;
    width?: number;
    height?: number;
  }
  let { target, of, width = 64, height = 36 }: Props = $props();
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
        .ask({ what: 'thumbnail', play: { target, spec: null, on: null }, atS: AT_S })
        .then((look) => !gone && look && paint(element, look))
        .catch(() => undefined);
    });
    observer.observe(element);
    return () => {
      gone = true;
      observer.disconnect();
    };
  });
  function paint(element: HTMLCanvasElement, { dots, shape }: Thumbnail): void {
    const scale = window.devicePixelRatio || 1;
    element.width = width * scale;
    element.height = height * scale;
    const context = element.getContext('2d')!;
    context.scale(scale, scale);
    const pad = 4;
    const w = Math.min(width - pad * 2, (height - pad * 2) * Math.max(1, shape));
    const h = Math.min(height - pad * 2, w / Math.max(0.4, shape));
    const [left, top] = [(width - w) / 2, (height - h) / 2];
    const count = dots.length / DOT_NUMBERS;
    const size = count > 200 ? 1.1 : count > 60 ? 1.7 : 2.4;
    for (let pass = 0; pass < 2; pass++)
      for (let i = 0; i < dots.length; i += DOT_NUMBERS) {
        const [x, y, r, g, b] = dots.subarray(i, i + DOT_NUMBERS) as unknown as [
          number,
          number,
          number,
          number,
          number,
        ];
        const lit = r + g + b > 0.01;
        if (lit !== (pass === 1)) continue;
        context.fillStyle = lit ? toHex({ r, g, b }) : '#2c3546';
        context.beginPath();
        context.arc(left + x * w, top + (1 - y) * h, lit ? size : size * 0.7, 0, 7);
        context.fill();
      }
  }
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
