<script lang="ts">
  import { removalOf } from '$core/rules/removal.ts';
  import { make, type BackdropRecord } from '$core/records/index.ts';
  import { rescaled } from '$core/plot/scale.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveLength, saveNumber } from '$lib/state/entry.ts';
  import { takePicture } from '$lib/state/pictures/picture-upload.ts';
  import { SIDES, type PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Check from '../../Check.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import ImportFile from '../../ImportFile.svelte';

  let { desk }: { desk: PlotDesk } = $props();
  const app = getApp();
  let busy = $state(false);
  let fault = $state('');
  const chosen = $derived(
    desk.backdrop === null
      ? desk.backdrops[0]
      : app.rig.backdrops.find((b) => b.id === desk.backdrop && b.side === desk.side),
  );
  const picture = $derived(chosen && app.live.document.get(chosen.pictureId));

  /** Reads, draws anew and lays a picture under the paper, as wide as the room. */
  async function take(file: File): Promise<void> {
    busy = true;
    fault = '';
    try {
      const picture = await takePicture(file, app.newId('picture'));
      const { name } = picture;
      const { widthM } = app.rig.room;
      const y = desk.side === 'plan' ? 0 : (widthM * picture.heightPx) / picture.widthPx / 2;
      const record = make('backdrop', {
        id: app.newId('backdrop'),
        name,
        pictureId: picture.id,
        side: desk.side,
        widthM,
        y,
      });
      if (app.live.edit(`Lay ${name} under the plot`, { put: [picture, record], remove: [] }))
        desk.backdrop = record.id;
    } catch (error) {
      fault = (error as Error).message;
    } finally {
      busy = false;
    }
  }
  function put(part: Partial<BackdropRecord>, does: string): string | null {
    return chosen && app.live.edit(`${does} of ${chosen.name}`, { put: [{ ...chosen, ...part }], remove: [] })
      ? null
      : 'Not changed.';
  }
  const length = (text: string, take: (metres: number) => string | null, leastM?: number): string | null =>
    saveLength(text, desk.lengths, take, leastM);
  const height = $derived(
    chosen && picture?.kind === 'picture' ? (chosen.widthM * picture.heightPx) / picture.widthPx : 0,
  );
  /** Two points were pressed: their known distance makes the picture as large as it is. */
  const apart = $derived(desk.tool === 'scale' && desk.corners.length === 2 ? desk.corners : null);
  function scale(text: string): string | null {
    return length(
      text,
      (metres) => {
        const [a, b] = apart!;
        const next = rescaled(chosen!, a!, b!, metres);
        if (!next) return 'Press two points that are farther apart.';
        const refused = put(next, 'Scale');
        if (refused === null) desk.use('select');
        return refused;
      },
      0.001,
    );
  }
  function origin(): void {
    const at = desk.corners.at(-1);
    if (!chosen || !at) return;
    put({ x: chosen.x - at.x, y: chosen.y - at.y }, 'Origin');
    desk.use('select');
  }
  function removePicture(): void {
    if (!chosen) return;
    // The picture goes with the last paper it lies under.
    const others = app.rig.backdrops.some((b) => b.id !== chosen.id && b.pictureId === chosen.pictureId);
    app.live.edit(`Take ${chosen.name} away`, removalOf(app.live.document, [others ? chosen.id : chosen.pictureId]));
  }
</script>

<div class="row">
  <ImportFile
    text={busy ? 'Reading…' : `Add to the ${SIDES.find(([s]) => s === desk.side)![1].toLowerCase()}`}
    accept="image/png,image/jpeg,image/webp,image/svg+xml"
    {busy}
    take={(file) => void take(file)}
  />
</div>
<p class="quiet">PNG, JPEG, WebP or SVG: a photo of the house, a floor plan.</p>
{#if fault}<p class="wrong" role="alert">{fault}</p>{/if}
{#if desk.backdrops.length > 1}
  <Choice
    label="Picture"
    value={chosen?.id ?? null}
    options={desk.backdrops.map((b) => ({ value: b.id, text: b.name }))}
    choose={(id) => (desk.backdrop = id)}
  />
{/if}
{#if chosen}
  <h3>{chosen.name}</h3>
  <Beside>
    <Field
      label="Width"
      numeric
      suffix={desk.unitWord}
      value={desk.shownLength(chosen.widthM)}
      save={(t) => length(t, (widthM) => put({ widthM }, 'Width'), 0.01)}
    />
    <Field
      label="Height"
      numeric
      suffix={desk.unitWord}
      value={desk.shownLength(height)}
      save={(t) => length(t, (m) => put({ widthM: (chosen.widthM * m) / height }, 'Height'), 0.01)}
    />
    <Field
      label="Middle, across"
      numeric
      suffix={desk.unitWord}
      value={desk.shownLength(chosen.x)}
      save={(t) => length(t, (x) => put({ x }, 'Place'))}
    />
    <Field
      label="Middle, up"
      numeric
      suffix={desk.unitWord}
      value={desk.shownLength(chosen.y)}
      save={(t) => length(t, (y) => put({ y }, 'Place'))}
    />
  </Beside>
  <Field
    label="Turned"
    numeric
    suffix="°"
    value={chosen.turnDeg}
    save={(t) => saveNumber(t, -360, 360, (turnDeg) => put({ turnDeg }, 'Turn'))}
  />
  <Field
    label="Opacity"
    numeric
    suffix="%"
    value={Math.round(chosen.opacity * 100)}
    save={(t) => saveNumber(t, 0, 100, (n) => put({ opacity: n / 100 }, 'Opacity'))}
  />
  <div class="checks">
    <Check label="Locked" checked={chosen.locked} change={(locked) => put({ locked }, 'Lock')} />
    <Check label="Hidden" checked={chosen.hidden} change={(hidden) => put({ hidden }, 'Hide')} />
  </div>
  <h3>True size</h3>
  <p class="quiet">Press two points whose distance you know; their first point stays where it is.</p>
  <div class="row">
    <Button pressed={desk.tool === 'scale'} onclick={() => desk.use('scale')}>Press two points</Button>
    <Button disabled={desk.tool !== 'scale' || desk.corners.length === 0} onclick={origin}>Last point is 0, 0</Button>
  </div>
  {#if apart}
    <Field
      label="They are apart by"
      numeric
      suffix={desk.unitWord}
      value=""
      placeholder={desk.text(Math.hypot(apart[0]!.x - apart[1]!.x, apart[0]!.y - apart[1]!.y))}
      save={scale}
    />
  {/if}
  <Button kind="wrong" onclick={removePicture}>Take it away</Button>
{/if}

<style>
  .row,
  .checks {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .wrong {
    color: var(--wrong);
  }
</style>
