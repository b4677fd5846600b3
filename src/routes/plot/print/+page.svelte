<script lang="ts">
  import type { BlobHash } from '$core/records/blob.ts';
  import { pictureAddresses } from '$lib/state/pictures/blobs.ts';
  import { page } from '$app/state';
  import { plotSvg, scaleFor, SCALES, PAPER_SIZES, type PaperSize } from '$core/format/plot-svg.ts';
  import { PLOT_SIDES, type PlotSide } from '$core/records/picture.ts';
  import Button from '$lib/components/Button.svelte';
  import Check from '$lib/components/Check.svelte';
  import PrintPage from '$lib/components/PrintPage.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plotFont } from '$lib/state/plot/plot-font.ts';
  import { setPaper } from '$lib/state/plot/paper.ts';
  import { SIDES } from '$lib/state/plot/plot-desk.svelte.ts';

  /** The plot to scale for the printer, or for a PDF by way of the browser's own print. */
  const app = getApp();
  const wanted = page.url.searchParams.get('side');
  let side = $state<PlotSide>(PLOT_SIDES.find((s) => s === wanted) ?? 'plan');
  let sheet = $state<PaperSize>('A4');
  let scale = $state<number | null>(null);
  let labels = $state<readonly ('number' | 'name' | 'address')[]>(['number', 'address']);
  let pictures = $state(false);
  let areas = $state(true);
  const FITS = 'fits';
  const toggle = (label: (typeof labels)[number]): void => {
    labels = labels.includes(label) ? labels.filter((l) => l !== label) : [...labels, label];
  };
  const LABEL_WORDS = { number: 'numbers', name: 'names', address: 'addresses' } as const;
  $effect(() => setPaper(`${PAPER_SIZES[sheet][0]}mm ${PAPER_SIZES[sheet][1]}mm`, 0));
  let font = $state('');
  $effect(() => void plotFont().then((found) => (font = found)));
  const NONE: ReadonlyMap<BlobHash, string> = new Map();
  let addresses = $state.raw(NONE);
  $effect(() => {
    if (pictures) void pictureAddresses(app.live.document).then((found) => (addresses = found));
  });
  const used = $derived(scale ?? scaleFor(app.live.document, side, sheet));
  const svg = $derived(
    plotSvg(app.live.document, {
      side,
      sheet,
      scale: used,
      labels,
      pictures: pictures ? addresses : NONE,
      areas,
      date: new Date().toLocaleDateString(),
      ...(font ? { font } : {}),
    }),
  );
  let address = $state('');
  $effect(() => {
    const made = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
    address = made;
    return () => URL.revokeObjectURL(made);
  });
</script>

<svelte:head><title>Plot of {app.rig.show?.name ?? ''} - Amber Kite</title></svelte:head>
<PrintPage width="all">
  {#snippet choices()}
    <Choice
      label="Side"
      value={side}
      options={SIDES.map(([value, text]) => ({ value, text }))}
      choose={(s) => (side = s)}
    />
    <Choice
      label="Sheet"
      value={sheet}
      options={(Object.keys(PAPER_SIZES) as PaperSize[]).map((value) => ({ value, text: value }))}
      choose={(s) => (sheet = s)}
    />
    <Choice
      label="Scale"
      value={scale === null ? FITS : String(scale)}
      options={[
        { value: FITS, text: 'as large as fits' },
        ...SCALES.map((s) => ({ value: String(s), text: `1 : ${s}` })),
      ]}
      choose={(s) => (scale = s === FITS ? null : Number(s))}
    />
    {#each ['number', 'name', 'address'] as const as label (label)}
      <Check label={LABEL_WORDS[label]} checked={labels.includes(label)} change={() => toggle(label)} />
    {/each}
    <Check label="areas" checked={areas} change={(a) => (areas = a)} />
    <Check label="pictures" checked={pictures} change={(p) => (pictures = p)} />
    <span class="quiet num">1 : {used} on {sheet}</span>
    <Button kind="main" onclick={() => window.print()}>Print</Button>
  {/snippet}
  {#if address}<img src={address} alt="Plot of {app.rig.show?.name ?? ''}, {side}, ready to print" />{/if}
</PrintPage>

<style>
  img {
    display: block;
    width: 100%;
    background: #fff;
    box-shadow: 0 1px 6px rgb(0 0 0 / 30%);
  }
  @media print {
    img {
      box-shadow: none;
    }
  }
</style>
