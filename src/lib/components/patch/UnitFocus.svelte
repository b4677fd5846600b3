<script lang="ts">
  import type { UnitRecord } from '$core/records/index.ts';
  import { BLADES, type Blade, type UnitFocus } from '$core/records/unit.ts';
  import { beamRange, POINTED } from '$core/room/focus.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import { setFocus, setGel } from '$lib/state/plot/focus-edits.ts';
  import Beside from '../Beside.svelte';
  import Button from '../Button.svelte';
  import Field from '../Field.svelte';

  /** How fixed lamps were set on the ladder: beam angle, edge, blades, gel. */
  interface Props {
    units: readonly UnitRecord[];
    what: string;
  }
  let { units, what }: Props = $props();
  const app = getApp();
  const lamps = $derived(units.filter((u) => POINTED.has(app.rig.profile(u.profileId)?.fixtureKind ?? 'other')));
  const first = $derived(lamps[0]!);
  const mixed = (of: (unit: UnitRecord) => unknown): boolean => lamps.some((u) => of(u) !== of(first));
  const profile = $derived(app.rig.profile(first.profileId));
  const range = $derived(profile ? beamRange(profile) : null);
  const own = $derived(profile?.physical.beamDeg);
  const WORDS = { top: 'Top', right: 'Right', bottom: 'Bottom', left: 'Left' };

  const put = (part: Partial<UnitFocus>, does: string): string | null =>
    setFocus(app, lamps, () => part, `${does} of ${what}`);
  const blade = (unit: UnitRecord, at: number): Blade => unit.focus?.shutters?.[at] ?? { in: 0, deg: 0 };
  function setBlade(at: number, part: Partial<Blade>): string | null {
    const shutters = (unit: UnitRecord): Blade[] =>
      BLADES.map((_, i) => (i === at ? { ...blade(unit, i), ...part } : blade(unit, i)));
    return setFocus(app, lamps, (unit) => ({ shutters: shutters(unit) }), `Shutters of ${what}`);
  }
  /** What is typed, or nothing for as it comes. */
  const orNone = (
    text: string,
    low: number,
    high: number,
    take: (value: number | null) => string | null,
  ): string | null => (text.trim() === '' ? take(null) : saveNumber(text, low, high, take));
</script>

<h3>Focus</h3>
<Beside>
  <Field
    label="Beam angle"
    numeric
    suffix="°"
    value={first.focus?.beamDeg ?? ''}
    placeholder={own === undefined ? 'not said' : String(own)}
    mixed={mixed((u) => u.focus?.beamDeg ?? null)}
    save={(t) => orNone(t, range?.[0] ?? 0.5, range?.[1] ?? 170, (beamDeg) => put({ beamDeg }, 'Beam angle'))}
  />
  <Field
    label="Edge (50 is sharp)"
    numeric
    suffix="%"
    value={(first.focus?.edge ?? null) === null ? '' : Math.round(first.focus!.edge! * 1000) / 10}
    placeholder="as it comes"
    mixed={mixed((u) => u.focus?.edge ?? null)}
    save={(t) => orNone(t, 0, 100, (edge) => put({ edge: edge === null ? null : edge / 100 }, 'Edge'))}
  />
</Beside>
{#if range}<p class="quiet">It can be set from {range[0]}° to {range[1]}°.</p>{/if}
<div class="blades" role="group" aria-label="Shutters">
  {#each BLADES as side, at (side)}
    <span>{WORDS[side]}</span>
    <Field
      label="{WORDS[side]} shutter, in"
      hideLabel
      numeric
      suffix="% in"
      value={Math.round(blade(first, at).in * 1000) / 10}
      mixed={mixed((u) => blade(u, at).in)}
      save={(t) => saveNumber(t, 0, 100, (percent) => setBlade(at, { in: percent / 100 }))}
    />
    <Field
      label="{WORDS[side]} shutter, turned"
      hideLabel
      numeric
      suffix="°"
      value={blade(first, at).deg}
      mixed={mixed((u) => blade(u, at).deg)}
      save={(t) => saveNumber(t, -60, 60, (deg) => setBlade(at, { deg }))}
    />
  {/each}
</div>
<div class="gel">
  <label
    >Gel <input
      type="color"
      value={first.gel ?? '#ffffff'}
      onchange={(e) => setGel(app, lamps, e.currentTarget.value, what)}
    /></label
  >
  <Field
    label="Name of the gel"
    hideLabel
    value={first.focus?.gelName ?? ''}
    placeholder="what it is called"
    mixed={mixed((u) => u.focus?.gelName ?? '')}
    save={(gelName) =>
      gelName.length > 60 ? 'At most 60 characters.' : put({ gelName: gelName.trim() }, 'Name of the gel')}
  />
</div>
{#if first.gel}<div><Button onclick={() => setGel(app, lamps, null, what)}>Take the gel out</Button></div>{/if}
<div><Button onclick={() => window.open('/plot/focus', '_blank')}>Focusing sheet</Button></div>

<style>
  .blades {
    display: grid;
    grid-template-columns: auto 1fr 1fr;
    gap: 6px 10px;
    align-items: center;
  }
  .gel {
    display: flex;
    gap: 10px;
    align-items: center;
  }
  .gel > :global(:nth-child(2)) {
    flex: 1;
  }
</style>
