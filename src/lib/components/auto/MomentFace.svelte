<script lang="ts">
  import type { Peek } from '$lib/preview/messages.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { paintThumb } from '../scenes/paint-thumb.ts';

  /** All of the rig at a moment of something that does not play. Drawn again when it is ready with the one before. */
  interface Props {
    peek: Peek | null;
    width: number;
    height: number;
  }
  let { peek, width, height }: Props = $props();
  const app = getApp();
  let canvas = $state<HTMLCanvasElement>();
  let busy = false;
  let wanted: Peek | null = null;
  $effect(() => {
    wanted = peek;
    if (canvas && !busy) void draw(canvas);
  });
  async function draw(element: HTMLCanvasElement): Promise<void> {
    busy = true;
    for (let now = wanted; now; now = wanted === now ? null : wanted) {
      const look = await app.live.preview.ask({ what: 'moment', peek: now }).catch(() => null);
      if (look) paintThumb(element, look, width, height);
    }
    busy = false;
  }
</script>

<canvas bind:this={canvas} style:width="{width}px" style:height="{height}px" aria-label="The rig at this moment"
></canvas>

<style>
  canvas {
    display: block;
    max-width: 100%;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: #0c0f15;
  }
</style>
