<script lang="ts">
  import { MOODS } from '$core/records/profile.ts';
  import { bpmNear, sectionsOf } from '$core/song/grid.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import type { SongDesk } from '$lib/state/music/song-desk.svelte.ts';
  import { clockText } from '$lib/state/music/song-words.ts';
  import type { EChartsType } from 'echarts/core';

  /** The tempo over the song, and its energy, as charts. */
  let { desk }: { desk: SongDesk } = $props();
  const app = getApp();
  let box = $state<HTMLElement>();
  let chart: EChartsType | null = null;
  const picture = $derived(desk.picture);

  const tempo = $derived.by((): [number, number][] => {
    const { grid } = desk;
    return grid.beats.flatMap((at, i) => (i % 2 === 0 ? [[at, bpmNear(grid, at, 4) ?? 0] as [number, number]] : []));
  });
  /** Loudness of the wave, a point each second. */
  const energy = $derived.by((): [number, number][] => {
    if (!picture) return [];
    const { rate, columns, count } = picture;
    const points: [number, number][] = [];
    for (let from = 0; from < count; from += rate) {
      let sum = 0;
      const to = Math.min(count, from + rate);
      for (let i = from; i < to; i++) sum += columns[i * 4 + 1]! + columns[i * 4 + 2]! + columns[i * 4 + 3]!;
      points.push([from / rate, Math.round((sum / (to - from) / 765) * 100)]);
    }
    return points;
  });
  const moods = $derived(
    sectionsOf(desk.song).flatMap(({ at, mood }, i, all): [number, number][] => [
      [at, (MOODS.indexOf(mood) + 1) * 20],
      [all[i + 1]?.at ?? desk.end, (MOODS.indexOf(mood) + 1) * 20],
    ]),
  );

  $effect(() => {
    if (!box) return;
    const element = box;
    let gone = false;
    void import('./echarts.ts').then(({ init }) => {
      if (gone) return;
      chart = init(element);
      draw();
    });
    const watch = new ResizeObserver(() => chart?.resize());
    watch.observe(element);
    return () => {
      gone = true;
      watch.disconnect();
      chart?.dispose();
      chart = null;
    };
  });
  $effect(() => {
    void [tempo, energy, moods, app.theme];
    draw();
  });
  function draw(): void {
    if (!chart || !box) return;
    const style = getComputedStyle(box);
    const ink = (name: string): string => style.getPropertyValue(name).trim();
    const text = { color: ink('--quiet'), fontFamily: ink('--font'), fontSize: 11 };
    const axis = (grid: number, last: boolean) => ({
      gridIndex: grid,
      type: 'value' as const,
      min: 0,
      max: Math.ceil(desk.end),
      axisLabel: { ...text, show: last, formatter: (at: number) => clockText(at) },
      splitLine: { show: false },
      axisLine: { lineStyle: { color: ink('--line-strong') } },
    });
    const lows = tempo.map(([, bpm]) => bpm);
    const [low, high] = [Math.min(...lows), Math.max(...lows)];
    chart.setOption(
      {
        animation: false,
        grid: [
          { left: 44, right: 10, top: 22, height: 64 },
          { left: 44, right: 10, top: 118, height: 64 },
        ],
        title: [
          { text: 'Beats a minute', left: 0, top: 0, textStyle: { ...text, fontWeight: 'normal' } },
          { text: 'Energy and mood, %', left: 0, top: 96, textStyle: { ...text, fontWeight: 'normal' } },
        ],
        tooltip: {
          trigger: 'axis',
          backgroundColor: ink('--raised'),
          borderColor: ink('--line-strong'),
          textStyle: { color: ink('--text'), fontSize: 12 },
          valueFormatter: (value: unknown) => (typeof value === 'number' ? value.toFixed(1) : ''),
        },
        xAxis: [axis(0, false), axis(1, true)],
        yAxis: [
          {
            gridIndex: 0,
            type: 'value',
            min: tempo.length > 0 ? Math.floor(low - 4) : 0,
            max: tempo.length > 0 ? Math.ceil(high + 4) : 200,
            splitNumber: 2,
            axisLabel: text,
            splitLine: { lineStyle: { color: ink('--line') } },
          },
          {
            gridIndex: 1,
            type: 'value',
            min: 0,
            max: 100,
            splitNumber: 2,
            axisLabel: text,
            splitLine: { lineStyle: { color: ink('--line') } },
          },
        ],
        series: [
          {
            name: 'tempo',
            type: 'line',
            data: tempo,
            showSymbol: false,
            lineStyle: { color: ink('--amber'), width: 1.5 },
          },
          {
            name: 'energy',
            type: 'line',
            xAxisIndex: 1,
            yAxisIndex: 1,
            data: energy,
            showSymbol: false,
            lineStyle: { color: ink('--text'), width: 1 },
          },
          {
            name: 'mood',
            type: 'line',
            xAxisIndex: 1,
            yAxisIndex: 1,
            data: moods,
            showSymbol: false,
            lineStyle: { color: ink('--amber'), width: 1, type: 'dashed' },
          },
        ],
      },
      true,
    );
  }
</script>

<div bind:this={box} class="chart" role="img" aria-label="Tempo and energy over the song"></div>

<style>
  .chart {
    height: 206px;
    min-width: 0;
  }
</style>
