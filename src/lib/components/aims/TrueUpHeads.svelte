<script lang="ts">
  import { knownSpots } from '$core/aim/spots.ts';
  import { readingAt, trueUp, unusableReadings, withTrueUp, type Reading, type TrueUp } from '$core/aim/trueup.ts';
  import { axesOf } from '$core/aim/axes.ts';
  import { USUAL_PAN_DEG, USUAL_TILT_DEG } from '$core/plot/beam.ts';
  import type { UnitId } from '$core/ids.ts';
  import { lengthText, parsePlace } from '$core/plot/lengths.ts';
  import type { Place3 } from '$core/plot/paper.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { COARSE_DEG, FINE_DEG, Pointing, type Stand } from '$lib/state/plot/pointing.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Check from '../Check.svelte';
  import Choice from '../Choice.svelte';
  import Field from '../Field.svelte';
  import HeadChips from './HeadChips.svelte';
  import NudgePad from './NudgePad.svelte';

  /** One head after the other is pointed at spots that are known; how it hangs and is wired comes out of that. */
  const app = getApp();
  const pointing = new Pointing(app);
  const heads = $derived(app.rig.heads);
  let unitId = $state<UnitId | null>(null);
  const unit = $derived(heads.find((h) => h.id === unitId));
  const axes = $derived(unit && axesOf(app.live.document, unit));
  const spots = $derived(knownSpots(app.live.document));
  const lengths = $derived(app.rig.show?.lengths ?? 'metres');
  let spotKey = $state('middle');
  let typed = $state.raw<Place3 | null>(null);
  const typedWords = $derived(typed ? [typed.x, typed.y, typed.z].map((v) => lengthText(v, lengths)).join('; ') : '');
  const spot = $derived(spotKey === 'typed' ? typed : (spots.find((s) => s.key === spotKey)?.place ?? null));
  let stand = $state.raw<Stand>({ pan: 0, tilt: 0 });
  let fine = $state(false);
  interface Taken {
    /** Of the spot: two may be called the same. */
    readonly key: string;
    readonly name: string;
    readonly reading: Reading;
  }
  let taken = $state.raw<readonly Taken[]>([]);
  let done = $state.raw<ReadonlySet<UnitId>>(new Set());

  function begin(id: UnitId): void {
    unitId = id;
    taken = [];
    const next = heads.find((h) => h.id === id)!;
    spotKey = spots[0]!.key;
    stand = pointing.send(next, spots[0] ? pointing.towards(next, spots[0].place, { pan: 0, tilt: 0 }) : stand);
  }
  function aimAt(key: string): void {
    spotKey = key;
    const place = spots.find((s) => s.key === key)?.place;
    if (unit && place) stand = pointing.send(unit, pointing.towards(unit, place, stand));
  }
  const stepDeg = $derived(fine ? FINE_DEG : COARSE_DEG);
  const move = (x: number, y: number): void => {
    if (unit) stand = pointing.send(unit, { pan: stand.pan + x * stepDeg, tilt: stand.tilt + y * stepDeg });
  };
  function take(): void {
    if (!unit || !axes || !spot) return;
    const sent = pointing.sent(unit, stand);
    const ranges = {
      panDeg: axes.panRange?.rangeDeg ?? USUAL_PAN_DEG,
      tiltDeg: axes.tiltRange?.rangeDeg ?? USUAL_TILT_DEG,
    };
    const key = spotKey === 'typed' ? `typed ${typedWords}` : spotKey;
    const name = spotKey === 'typed' ? typedWords : (spots.find((s) => s.key === key)?.name ?? key);
    // The same spot again takes the place of what was said before.
    taken = [
      ...taken.filter((t) => t.key !== key),
      { key, name, reading: readingAt(spot, sent.pan, sent.tilt, ranges) },
    ];
    const next = spots.find((s) => !taken.some((t) => t.key === s.key));
    if (next) aimAt(next.key);
  }
  const readings = $derived(taken.map((t) => t.reading));
  /** The beam of a mirror begins in front of its case. */
  const noted = $derived(unit && axes ? { position: axes.standing.position, rotation: unit.rotation } : null);
  const trouble = $derived(noted && readings.length > 0 ? unusableReadings(noted.position, readings) : null);
  const found = $derived(noted && axes && readings.length > 1 && !trouble ? trueUp(axes.joint, noted, readings) : null);
  const degrees = (deg: number): string => `${deg.toFixed(1)}°`;
  const words = ({ swap, invertPan, invertTilt, panOffset, tiltOffset, hanging }: TrueUp): string =>
    [
      `turned ${degrees(hanging.z)}, leant ${degrees(hanging.x)}, rolled ${degrees(hanging.y)}`,
      invertPan ? 'pan the other way round' : '',
      invertTilt ? 'tilt the other way round' : '',
      swap ? 'pan and tilt swapped' : '',
      Math.abs(panOffset) > 0.05 ? `pan ${degrees(panOffset)} off` : '',
      Math.abs(tiltOffset) > 0.05 ? `tilt ${degrees(tiltOffset)} off` : '',
    ]
      .filter(Boolean)
      .join(', ');
  function accept(case_: TrueUp): void {
    if (!unit) return;
    const next = withTrueUp(unit, case_);
    if (!app.live.edit(`True up ${unit.name}`, { put: [next], remove: [] })) return;
    app.hand.letGo([unit.id]);
    done = new Set([...done, unit.id]);
    const after = heads.find((h, i) => i > heads.indexOf(unit) && !done.has(h.id));
    app.live.tell(
      'note',
      `${unit.name} is trued up`,
      after ? `Next: ${after.number} ${after.name}.` : 'That was the last.',
    );
    if (after) begin(after.id);
    else unitId = null;
  }
</script>

{#if heads.length === 0}
  <p>No unit of this show has pan or tilt.</p>
{:else}
  <HeadChips
    {heads}
    chosen={unitId ? [unitId] : []}
    choose={([id]) => id && begin(id)}
    mark={(u) => (done.has(u.id) ? '✓' : '')}
  />
{/if}
{#if unit && axes}
  <ol>
    <li>
      Choose a spot you can see, and bring the beam of <b>{unit.number} {unit.name}</b> onto it.
      <div class="two">
        <Choice
          label="Spot"
          value={spotKey}
          options={[...spots.map((s) => ({ value: s.key, text: s.name })), { value: 'typed', text: 'a place I type' }]}
          choose={aimAt}
        />
        {#if spotKey === 'typed'}
          <Field
            label="Across, deep, high"
            value={typedWords}
            placeholder="2; -1.5; 0"
            save={(text) => {
              typed = parsePlace(text, lengths);
              return typed ? null : 'Give three lengths such as 2; -1.5; 0: across, deep and high.';
            }}
          />
        {/if}
      </div>
      <NudgePad
        label={unit.name}
        text={`pan ${stand.pan.toFixed(1)}°\ntilt ${stand.tilt.toFixed(1)}°`}
        across={fine ? 60 : 90}
        {move}
        end={() => undefined}
      />
      <div class="row">
        <Check label="Fine" checked={fine} change={(on) => (fine = on)} />
        <Button kind="main" disabled={!spot} onclick={take}>It is on the spot</Button>
      </div>
    </li>
    <li>
      {#if taken.length === 0}Do the same for a second spot, better three: far from each other, not in one line.
      {:else}
        {plural(taken.length, 'spot')}:
        {#each taken as { key, name }, i (key)}
          <span class="taken" class:wrong={found?.contradicts === i}
            >{name}{found ? ` (${degrees(found.best.residuals[i] ?? 0)} left)` : ''}
            <button type="button" aria-label="Forget {name}" onclick={() => (taken = taken.filter((_, k) => k !== i))}
              >×</button
            ></span
          >
        {/each}
      {/if}
      {#if trouble}<p class="wrong" role="alert">Not enough yet: {trouble}.</p>{/if}
    </li>
    {#if found}
      <li>
        <p>
          It hangs <b>{words(found.best)}</b>. At most {degrees(found.best.residualDeg)} are left{readings.length === 2
            ? '; two spots always fit nearly, a third one checks it'
            : ''}.
        </p>
        {#if found.contradicts !== null}
          <p class="wrong">
            “{taken[found.contradicts]!.name}” contradicts the others: without it they all fit. Point at it once more,
            or forget it.
          </p>
        {/if}
        {#if found.second}
          <p class="look">
            Nearly as good ({degrees(found.second.residualDeg)} left): {words(found.second)}. One more spot tells which.
            <Button onclick={() => accept(found.second!)}>Take this one</Button>
          </p>
        {/if}
        <Button kind="main" onclick={() => accept(found.best)}>Take it over</Button>
      </li>
    {/if}
  </ol>
{:else if heads.length > 0}
  <p class="quiet">Choose the first head. It lights up, and you bring its beam onto spots whose place is known.</p>
{/if}

<style>
  ol {
    display: grid;
    gap: 14px;
    padding-left: 20px;
    margin: 0;
  }
  .two {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
    gap: 10px;
    padding: 8px 0;
  }
  .row {
    display: flex;
    gap: 12px;
    align-items: center;
    justify-content: center;
    padding-top: 8px;
  }
  .taken {
    display: inline-flex;
    align-items: center;
    gap: 4px;
    margin: 2px 6px 2px 0;
    padding: 2px 4px 2px 10px;
    border: 1px solid var(--line);
    border-radius: 14px;
  }
  .taken button {
    border: 0;
    background: none;
    min-width: 28px;
    min-height: 28px;
    font-size: 18px;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
</style>
