<script lang="ts">
  import { toHex } from '$core/colour/convert.ts';
  import { mixtureOf } from '$core/colour/mixture.ts';
  import { nextNumber as nextNumberOf } from '$core/naming.ts';
  import { effectWords } from '$core/ready/presets.ts';
  import { effectColour } from '$core/show/effect/compile.ts';
  import { unlitIn, withLightOf } from '$core/show/live/bring-light.ts';
  import { storedSpec } from '$core/show/live/hand-over.ts';
  import { familiesOf, storedPalette, type StoreMode } from '$core/show/live/store.ts';
  import { make, type AnyRecord, type EffectRecord } from '$core/records/index.ts';
  import type { PaletteFamily } from '$core/records/palette.ts';
  import type { UnitValues } from '$core/records/scene.ts';
  import type { LitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { averageColour } from '$lib/state/scenes/average-colour.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Pop from '../Pop.svelte';
  import Tabs from '../Tabs.svelte';

  /** Keeps what is by hand: as a new scene, in a scene that is there, in a palette; effects by hand as effects. */
  const app = getApp();
  type Where = 'new' | 'into' | 'palette';
  let where = $state<Where>('new');
  let name = $state('');
  let into = $state('');
  let mode = $state<StoreMode>('add');
  let family = $state<PaletteFamily>('colour');
  const values = $derived(app.hand.unitIds.length);
  const effects = $derived(app.hand.effects);
  const families = $derived(familiesOf(app.hand.values as Record<LitId, UnitValues>));
  const chosenFamily = $derived(families.includes(family) ? family : families[0]);
  const nextNumber = $derived(nextNumberOf(app.rig.scenes));
  const suggested = $derived(
    where === 'palette'
      ? `${chosenFamily ?? 'Palette'} ${nextNumberOf(app.rig.palettes)}`
      : values > 0
        ? `Scene ${nextNumber}`
        : effects[0]?.spec
          ? effectWords(effects[0].spec)
          : '',
  );
  const FAMILY_WORDS: Readonly<Record<PaletteFamily, string>> = {
    level: 'levels',
    colour: 'colours',
    aim: 'aims',
    beam: 'beams',
    effect: 'effect channels',
  };

  interface StoredEffect {
    playId: string;
    record: EffectRecord;
  }
  /** Effects by hand as records that play on the same units. */
  function effectRecords(): StoredEffect[] {
    const first = nextNumberOf(app.rig.effects);
    return effects.flatMap((play, i): StoredEffect[] => {
      const spec = storedSpec(app.hand.snapshot(), play);
      if (!spec) return [];
      const words = effectWords(spec);
      const own = values === 0 && i === 0 && name.trim() !== '' ? name.trim() : words;
      const colour = effectColour(spec) ?? undefined;
      const on = [...(play.on ?? [])];
      const id = app.newId('effect');
      return [{ playId: play.id, record: make('effect', { id, number: first + i, name: own, colour, on, ...spec }) }];
    });
  }
  /** Stores, and once it is kept lets `then` take over from the hand: until then the stage stays as it is. */
  function finish(label: string, put: AnyRecord[], choose: string, close: () => void, then: () => void): void {
    if (!app.live.edit(label, { put, remove: [] }, (saved) => saved && then())) return;
    stored(choose, close);
  }
  function stored(id: string, close: () => void): void {
    openIn('/scenes', id);
    name = '';
    close();
  }
  /** Units that get a colour, an aim or a picture by hand, and their light from what plays. */
  const unlit = $derived(unlitIn(app.live.document, app.hand.values as Record<LitId, UnitValues>));
  let takeLight = $state(true);
  /** What goes into a new scene: what was touched, and the light it is seen in. */
  async function sceneValues(): Promise<Record<LitId, UnitValues>> {
    const own = app.hand.snapshot();
    if (!takeLight || unlit.length === 0) return own;
    const units = unlit.flatMap((id) => [id, app.rig.lit(id)?.unit.id ?? id]);
    // Where it cannot be told what they are lit at, it is full.
    const now = await app.live.preview.ask({ what: 'values', units, nowMs: app.live.now() }).catch(() => ({}));
    return withLightOf(app.live.document, own, now);
  }
  let storing = false;
  async function storeNew(close: () => void): Promise<void> {
    if (storing) return;
    storing = true;
    const own = await sceneValues().finally(() => (storing = false));
    const made = effectRecords();
    const scene =
      values > 0
        ? make('scene', {
            id: app.newId('scene'),
            number: nextNumber,
            name: name.trim() || suggested,
            colour: averageColour(own),
            values: own,
          })
        : null;
    const put = [...(scene ? [scene] : []), ...made.map((m) => m.record)];
    const first = put[0];
    if (!first) return;
    const over = made.map(({ playId, record }) => ({ playId, target: record.id }));
    finish(`Store ${first.name}`, put, first.id, close, () => app.hand.handOver(scene?.id ?? null, own, over));
  }
  function storeInto(close: () => void): void {
    const scene = app.rig.scenes.find((s) => s.id === into);
    if (!scene) return;
    if (!app.hand.storeInto(scene, mode, false)) return;
    stored(scene.id, close);
  }
  function storePalette(close: () => void): void {
    if (!chosenFamily) return;
    const own = app.hand.snapshot();
    const said = storedPalette(app.live.document, chosenFamily, own);
    const mixture = mixtureOf(said.all);
    const known = app.rig.palettes.find((p) => p.id === into);
    const colour = mixture ? toHex(mixture) : known?.colour;
    const palette = known
      ? { ...known, ...said, ...(colour ? { colour } : {}) }
      : make('palette', {
          id: app.newId('palette'),
          number: nextNumberOf(app.rig.palettes),
          name: name.trim() || suggested,
          family: chosenFamily,
          colour,
          ...said,
        });
    finish(`Store palette ${palette.name}`, [palette], palette.id, close, () => app.hand.follow(palette, own));
  }
  const submit = (close: () => void): void =>
    where === 'new' ? void storeNew(close) : where === 'into' ? storeInto(close) : storePalette(close);
</script>

<Pop label="Store what is by hand" width={360}>
  {#snippet button(props)}<Button kind="main" {...props}>Store</Button>{/snippet}
  {#snippet children(close)}
    <h2>Store what is by hand</h2>
    <p class="quiet">
      {[
        ...(values > 0
          ? [`${plural(values, 'unit')}, ${plural(app.hand.touchedCount, 'attribute')}: exactly what was touched`]
          : []),
        ...(effects.length > 0 ? [plural(effects.length, 'effect')] : []),
      ].join('; ')}.
    </p>
    {#if values > 0}
      <Tabs
        label="Where to"
        tabs={[
          ['new', 'New scene'],
          ['into', 'Into a scene'],
          ['palette', 'Palette'],
        ]}
        value={where}
        choose={(v) => {
          where = v;
          into = '';
        }}
      />
    {/if}
    <form
      onsubmit={(e) => {
        e.preventDefault();
        submit(close);
      }}
    >
      {#if where === 'into' && values > 0}
        <Choice
          label="Scene"
          value={into || null}
          options={app.rig.scenes.map((s) => ({ value: s.id as string, text: s.name }))}
          choose={(v) => (into = v)}
        />
        <Choice
          label="How"
          value={mode}
          options={[
            { value: 'add', text: 'add: the rest of it stays' },
            { value: 'replace', text: 'replace all it has' },
            { value: 'takeOut', text: 'take these attributes out of it' },
          ]}
          choose={(v) => (mode = v)}
        />
        <Button kind="main" type="submit" disabled={into === ''}>Store</Button>
      {:else}
        {#if where === 'palette' && values > 0}
          <Choice
            label="What of it"
            value={chosenFamily ?? null}
            options={families.map((f) => ({ value: f, text: FAMILY_WORDS[f] }))}
            choose={(v) => (family = v)}
          />
          <Choice
            label="Into"
            value={into}
            options={[
              { value: '', text: 'a new palette' },
              ...app.rig.palettes
                .filter((p) => p.family === chosenFamily)
                .map((p) => ({ value: p.id as string, text: p.name })),
            ]}
            choose={(v) => (into = v)}
          />
        {/if}
        {#if where === 'new' && unlit.length > 0}
          <Check
            label="With the light {unlit.length === 1 ? 'it has' : 'they have'} now ({plural(unlit.length, 'unit')})"
            checked={takeLight}
            change={(v) => (takeLight = v)}
          />
        {/if}
        {#if where !== 'palette' || into === ''}
          <label class="visually-hidden" for="store-name"
            >{where === 'palette' && values > 0
              ? 'Name of the new palette'
              : values > 0
                ? 'Name of the new scene'
                : 'Name of the new effect'}</label
          >
          <input id="store-name" bind:value={name} placeholder={suggested} maxlength="100" autocomplete="off" />
        {/if}
        <Button kind="main" type="submit"
          >{where === 'palette' && values > 0 ? 'Store palette' : values > 0 ? 'New scene' : 'New effect'}</Button
        >
      {/if}
    </form>
  {/snippet}
</Pop>

<style>
  form {
    display: grid;
    gap: 8px;
  }
  input {
    min-width: 0;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--panel);
    padding: 6px 8px;
  }
</style>
