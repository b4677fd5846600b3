<script lang="ts">
  import { LENGTH_UNIT, lengthNumber, parseLength } from '$core/plot/lengths.ts';
  import { parseNumber, readWhole } from '$core/numbers.ts';
  import { cellCount } from '$core/prop/cells.ts';
  import { shapeSchema, type Shape } from '$core/records/shape.ts';
  import { footprintOf } from '$core/profile/layout.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { fieldOf, SHAPE_FIELDS, type ShapeField } from '$lib/components/plot/details/shape-fields.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import Beside from '../Beside.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';

  /** A prop before it is added: how many cells, how large, and of which pixels. */
  interface Props {
    shape: Shape;
    change: (shape: Shape) => void;
    profiles: readonly ProfileRecord[];
    profile: ProfileRecord;
    mode: string;
    choose: (profileId: string, mode: string) => void;
  }
  let { shape, change, profiles, profile, mode, choose }: Props = $props();
  const app = getApp();
  const lengths = $derived(app.rig.show?.lengths ?? 'metres');
  const fields = $derived(SHAPE_FIELDS[shape.shape]);
  const cells = $derived(cellCount(shape));
  const each = $derived(
    (profile.modes.find((m) => m.key === mode)?.slots ?? []).reduce(
      (sum, slot) => ('cells' in slot ? footprintOf({ key: '', name: '', slots: [{ ...slot, cells: 1 }] }) : sum),
      0,
    ),
  );
  function save(field: ShapeField, text: string): string | null {
    const value =
      field.kind === 'count'
        ? readWhole(text)
        : field.kind === 'length'
          ? parseLength(text, lengths)
          : parseNumber(text);
    if (value === null) return field.kind === 'count' ? 'Give a whole number.' : 'Give a number such as 1.5.';
    const parsed = shapeSchema.safeParse({ ...shape, [field.key]: value });
    if (!parsed.success) return parsed.error.issues[0]!.message;
    change(parsed.data);
    return null;
  }
</script>

<Beside>
  {#each fields as field (field.key)}
    {@const value = fieldOf(shape, field.key)}
    <Field
      label={field.label}
      numeric
      suffix={field.kind === 'length' ? LENGTH_UNIT[lengths] : field.suffix}
      value={field.kind === 'length' ? lengthNumber(value, lengths) : value}
      save={(text) => save(field, text)}
    />
  {/each}
</Beside>
<Choice
  label="Made of"
  value={`${profile.id} ${mode}`}
  options={profiles.flatMap((p) =>
    p.modes.map((m) => ({ value: `${p.id} ${m.key}`, text: p.modes.length > 1 ? `${p.model}, ${m.name}` : p.model })),
  )}
  choose={(value) => choose(value.slice(0, value.lastIndexOf(' ')), value.slice(value.lastIndexOf(' ') + 1))}
/>
<p class="quiet">
  <span class="num">{plural(cells, 'cell')}</span>, <span class="num">{cells * each}</span> slots each
</p>

<style>
</style>
