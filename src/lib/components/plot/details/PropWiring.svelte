<script lang="ts">
  import { parseAddress, formatAddress } from '$core/patch/address.ts';
  import { parseNumber, readWhole } from '$core/numbers.ts';
  import { cellCount } from '$core/prop/cells.ts';
  import { stringRuns } from '$core/prop/wiring.ts';
  import { COLOUR_ORDERS, propSchema, type Prop, type PropString } from '$core/records/prop.ts';
  import type { UnitRecord } from '$core/records/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import Beside from '../../Beside.svelte';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  interface Props {
    desk: PlotDesk;
    units: readonly UnitRecord[];
    prop: Prop;
    each: (does: string, change: (prop: Prop, unit: UnitRecord) => Prop) => boolean;
  }
  let { desk, units, prop, each }: Props = $props();
  const app = getApp();
  const first = $derived(units[0]!);
  const count = $derived(cellCount(prop.shape));
  const runs = $derived(stringRuns(prop, count));
  const AS_PROFILE = '-';
  const place = $derived(app.rig.place(first.id));
  const mixed = (of: (p: Prop) => unknown): boolean => units.some((u) => u.prop && of(u.prop) !== of(prop));

  const put = (does: string, part: Partial<Prop>): string | null => {
    const parsed = propSchema.safeParse({ ...prop, ...part });
    if (!parsed.success) return parsed.error.issues[0]!.message;
    return each(does, (p) => ({ ...p, ...part })) ? null : 'Not changed.';
  };
  /** The strings as they are, the rest of the cells as one more, so that each can be changed. */
  const strings = $derived<PropString[]>(
    runs.map(({ cells, nulls, backward, start }) => ({ cells, nulls, backward, start })),
  );
  const change = (i: number, part: Partial<PropString>): string | null =>
    put('Strings', { strings: strings.map((s, k) => (k === i ? { ...s, ...part } : s)) });
  const whole = (text: string, take: (n: number) => string | null): string | null => {
    const n = readWhole(text);
    return n === null ? 'Give a whole number.' : take(n);
  };
  const startText = (s: PropString): string =>
    s.start && place ? formatAddress(place.universe + s.start.universe, s.start.address) : '';
  function saveStart(i: number, text: string): string | null {
    if (text.trim() === '') return change(i, { start: null });
    const read = parseAddress(text, place ? app.rig.slotsOf(place.universe) : 512);
    if (!read.ok) return read.fault.remedy;
    if (!place) return 'Give the prop its own address first.';
    return change(i, { start: { universe: read.value.universe - place.universe, address: read.value.address } });
  }
  function addString(): void {
    const last = strings.at(-1)!;
    if (last.cells < 2) return;
    const half = Math.floor(last.cells / 2);
    const cut = [
      { ...last, cells: last.cells - half },
      { cells: half, nulls: 0, backward: false, start: null },
    ];
    put('Strings', { strings: [...strings.slice(0, -1), ...cut] });
  }
  let speed = $state(20);
  const running = $derived(
    app.live.live?.test?.signal.kind === 'wire' &&
      'unitIds' in app.live.live.test.scope &&
      app.live.live.test.scope.unitIds.includes(first.id),
  );
  function chase(): void {
    void app.live.test(
      running
        ? null
        : { scope: { unitIds: units.map((u) => u.id) }, signal: { kind: 'wire', cellsPerSecond: speed }, level: 1 },
    );
  }
</script>

<h3>Wiring</h3>
<div class="line">
  <Button kind={running ? 'main' : 'plain'} pressed={running} onclick={chase}
    >{running ? 'Stop the chase' : 'Chase along the wire'}</Button
  >
  <Field
    label="Cells a second"
    hideLabel
    numeric
    suffix="/s"
    value={speed}
    save={(t) => saveNumber(t, 0.1, 200, (n) => void (speed = n))}
  />
</div>
<Choice
  label="Order of colours"
  value={prop.colourOrder ?? AS_PROFILE}
  mixed={mixed((p) => p.colourOrder)}
  options={[{ value: AS_PROFILE, text: 'as the profile has it' }, ...COLOUR_ORDERS.map((o) => ({ value: o, text: o }))]}
  choose={(o) => put('Colour order', { colourOrder: o === AS_PROFILE ? null : (o as Prop['colourOrder']) })}
/>
<Beside>
  <Field
    label="Gamma"
    numeric
    value={prop.gamma}
    mixed={mixed((p) => p.gamma)}
    save={(t) => {
      const n = parseNumber(t);
      return n === null ? 'Give 1 to 4.' : put('Gamma', { gamma: n });
    }}
  />
  <Field
    label="Level limit"
    numeric
    suffix="%"
    value={Math.round(first.levelLimit * 100)}
    mixed={units.some((u) => u.levelLimit !== first.levelLimit)}
    save={(t) =>
      saveNumber(t, 0, 100, (n) => {
        const changed = units.map((u) => ({ ...u, levelLimit: n / 100 }));
        return app.live.edit('Level limit', { put: changed, remove: [] }) ? null : 'Not changed.';
      })}
  />
</Beside>
<Choice
  label="A cell in two universes"
  value={prop.split}
  mixed={mixed((p) => p.split)}
  options={[
    { value: 'auto', text: 'as the output counts (510: never)' },
    { value: 'allowed', text: 'allowed' },
    { value: 'never', text: 'never: it moves on whole' },
  ]}
  choose={(split) => put('Split', { split })}
/>
{#if units.length === 1}
  <h3>Strings</h3>
  <ol>
    {#each strings as string, i (i)}
      <li>
        <span class="num quiet">{i + 1}</span>
        <Field
          label="Cells of string {i + 1}"
          hideLabel
          numeric
          value={string.cells}
          save={(t) => whole(t, (cells) => change(i, { cells }))}
        />
        <Field
          label="Start of string {i + 1}"
          hideLabel
          numeric
          placeholder={i === 0 ? 'start' : 'follows'}
          value={i === 0 && place ? formatAddress(place.universe, place.address) : startText(string)}
          save={(t) =>
            i === 0 ? app.cells.write([first.id], 'patch', t, `Address of ${first.name}`) : saveStart(i, t)}
        />
        <Field
          label="Skipped before string {i + 1}"
          hideLabel
          numeric
          value={string.nulls}
          save={(t) => whole(t, (nulls) => change(i, { nulls }))}
        />
        <Button
          pressed={string.backward}
          aria-label="String {i + 1} is wired backwards"
          title="Wired from its far end"
          onclick={() => change(i, { backward: !string.backward })}>{string.backward ? '←' : '→'}</Button
        >
        {#if strings.length > 1}
          <Button
            kind="bare"
            aria-label="Join string {i + 1} to its neighbour"
            onclick={() => {
              const kept = strings.filter((_, k) => k !== i);
              const into = Math.max(0, i - 1);
              put('Strings', {
                strings:
                  kept.length < 2 ? [] : kept.map((s, k) => (k === into ? { ...s, cells: s.cells + string.cells } : s)),
              });
            }}><X size={14} /></Button
          >
        {/if}
      </li>
    {/each}
  </ol>
  <p class="quiet">
    Cells, first slot, skipped pixels, direction. {desk.side === 'plan' ? '' : 'The wire is drawn on the paper.'}
  </p>
  <Button onclick={addString} disabled={(strings.at(-1)?.cells ?? 0) < 2}>Cut the last string in two</Button>
{/if}

<style>
  .line {
    display: grid;
    grid-template-columns: 1fr 90px;
    gap: 8px;
    align-items: center;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 6px;
  }
  li {
    display: grid;
    grid-template-columns: 16px 1fr 1.2fr 0.8fr auto auto;
    gap: 4px;
    align-items: center;
  }
</style>
