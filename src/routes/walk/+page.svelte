<script lang="ts">
  import { areaIdOf } from '$core/patch/areas.ts';
  import { onDestroy } from 'svelte';
  import type { UnitId } from '$core/ids.ts';
  import { orderUnits } from '$core/patch/order.ts';
  import { settingOf, settingWords } from '$core/patch/setting.ts';
  import type { UnitOrder } from '$core/records/group.ts';
  import { isOutdated } from '$core/sheet/columns.ts';
  import { sheetFacts } from '$core/sheet/facts.ts';
  import SettingCard from '$lib/components/patch/SettingCard.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Check from '@lucide/svelte/icons/check';
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Lightbulb from '@lucide/svelte/icons/lightbulb';
  import List from '@lucide/svelte/icons/list';
  import Undo2 from '@lucide/svelte/icons/undo-2';

  /** One unit at a time, big enough for a ladder and gloves: where it is, what to set, light it, tick it, next. */
  const app = getApp();
  type Way = Extract<UnitOrder, 'line' | 'plot' | 'serpentine' | 'number'>;
  const WAYS: readonly (readonly [Way, string])[] = [
    ['line', 'In cable order'],
    ['plot', 'Left to right'],
    ['serpentine', 'Row by row'],
    ['number', 'By number'],
  ];
  const kept = (key: string): string => localStorage.getItem(`amber-walk-${key}`) ?? '';
  let way = $state<Way>((WAYS.find(([w]) => w === kept('order'))?.[0] ?? 'line') as Way);
  let started = $state(kept('started') === 'yes');
  let name = $state(app.personName);
  let at = $state<UnitId | null>((kept('unit') || null) as UnitId | null);
  let lit = $state(false);
  let listing = $state(false);
  let skipping = $state(false);
  let reason = $state('');

  const facts = $derived(sheetFacts(app.live.document));
  const units = $derived(orderUnits(app.live.document, app.rig.units, way));
  // One that is removed while somebody stands there is told: nobody ticks off another by mistake.
  const unit = $derived(at === null ? units[0] : units.find((u) => u.id === at));
  const index = $derived(unit ? units.indexOf(unit) : -1);
  const place = $derived(unit ? app.rig.place(unit.id) : null);
  const profile = $derived(unit ? app.rig.profile(unit.profileId) : undefined);
  const onLine = $derived(unit ? facts.lines().get(unit.id) : undefined);
  const area = $derived(unit ? app.rig.areas.find((a) => a.id === areaIdOf(app.live.document, unit))?.name : undefined);
  const finished = (id: UnitId): boolean => {
    const other = app.rig.unit(id);
    return other?.walk !== undefined && other.walk !== null && !isOutdated(facts, other);
  };
  const done = $derived(units.filter((u) => finished(u.id)).length);
  const others = $derived(app.live.walkers.filter((w) => w.clientId !== app.live.clientId));
  const here = $derived(others.filter((w) => w.unitId === unit?.id));
  const stale = $derived(unit ? isOutdated(facts, unit) : false);
  const ticked = $derived(unit?.walk && !stale ? unit.walk : null);
  const words = $derived(place ? settingWords(settingOf(profile, place.address)) : '');

  function begin(): void {
    app.setPersonName(name);
    started = true;
    localStorage.setItem('amber-walk-started', 'yes');
    if (!at || !units.some((u) => u.id === at)) go(nextOpen(-1, null) ?? units[0]?.id ?? null);
  }
  function go(id: UnitId | null): void {
    at = id;
    localStorage.setItem('amber-walk-unit', id ?? '');
    skipping = false;
    reason = '';
    listing = false;
    if (lit) light(true, id);
  }
  /** The next unit that nobody has ticked and nobody stands at, from a place on and round to the beginning. */
  function nextOpen(from: number, except: UnitId | null = unit?.id ?? null): UnitId | null {
    const taken = new Set(others.map((w) => w.unitId));
    for (let step = 1; step <= units.length; step++) {
      const next = units[(from + step + units.length) % units.length]!;
      if (!finished(next.id) && !taken.has(next.id) && next.id !== except) return next.id;
    }
    return null;
  }
  function light(on: boolean, id: UnitId | null = unit?.id ?? null): void {
    lit = on;
    app.identify(on && id ? [id] : []);
  }
  function mark(state: 'done' | 'skipped', why = ''): void {
    if (!unit) return;
    const walk = {
      state,
      by: app.personName,
      at: Math.round(app.live.now()),
      place: place as never,
      reason: why.slice(0, 200),
    };
    const label = state === 'done' ? `Tick off ${unit.name}` : `Skip ${unit.name}`;
    if (!app.live.edit(label, { put: [{ ...unit, walk }], remove: [] })) return;
    const next = nextOpen(index);
    if (next) go(next);
    else light(false);
  }
  function untick(): void {
    if (unit) app.live.edit(`Not ticked off: ${unit.name}`, { put: [{ ...unit, walk: null }], remove: [] });
  }
  const step = (by: number): void => go(units[(index + by + units.length) % units.length]?.id ?? null);

  // Everybody sees who stands where; after the phone slept the connection is new and says it again.
  $effect(() => {
    if (app.live.connection !== 'open' || !started) return;
    app.live.walk({ name: app.personName, unitId: unit?.id ?? null });
    if (lit && unit) app.live.identify([unit.id]);
  });
  onDestroy(() => {
    if (lit) app.identify([]);
    app.live.walk(null);
  });
  const REASONS = ['Cannot reach it', 'Not there', 'Does not light', 'Later'];
</script>

<svelte:head><title>Address walk - Amber Kite</title></svelte:head>
<main>
  {#if !started}
    <div class="start">
      <h1>Address walk</h1>
      <p>From unit to unit: what to set on it, light it up, tick it off. The others see how far you are.</p>
      <label>Your name <input bind:value={name} maxlength="60" autocomplete="given-name" /></label>
      <fieldset>
        <legend>Order</legend>
        {#each WAYS as [key, text] (key)}
          <label class="radio"
            ><input
              type="radio"
              name="way"
              value={key}
              checked={way === key}
              onchange={() => {
                way = key;
                localStorage.setItem('amber-walk-order', key);
              }}
            />
            {text}</label
          >
        {/each}
      </fieldset>
      <button type="button" class="big main" onclick={begin} disabled={units.length === 0}
        >{units.length === 0 ? 'No units yet' : 'Begin'}</button
      >
    </div>
  {:else if units.length === 0}
    <p class="quiet">There are no units in this show.</p>
  {:else if !unit}
    <section class="unit" aria-label="Unit">
      <p class="look" role="status">● The unit you stood at is not in this show any more.</p>
      <button type="button" class="big main" onclick={() => go(nextOpen(-1, null) ?? units[0]!.id)}
        >Go to the next</button
      >
    </section>
  {:else if listing}
    <header>
      <h1>All units</h1>
      <button type="button" class="tool" onclick={() => (listing = false)}>Back</button>
    </header>
    <ol>
      {#each units as u (u.id)}
        <li>
          <button type="button" class:on={u.id === unit.id} onclick={() => go(u.id)}>
            <span class="num quiet">{u.number}</span><span class="grow">{u.name}</span>
            <span class:look={u.walk !== null && (u.walk.state === 'skipped' || isOutdated(facts, u))}
              >{u.walk ? (isOutdated(facts, u) ? 'again' : u.walk.state === 'done' ? '✓' : 'skipped') : ''}</span
            >
            <span class="num">{app.rig.addressText(u.id)}</span>
          </button>
        </li>
      {/each}
    </ol>
    <button type="button" class="tool wide" onclick={() => (started = false)}>Change name or order</button>
  {:else}
    <header>
      <button type="button" class="tool" aria-label="All units" onclick={() => (listing = true)}
        ><List size={22} /></button
      >
      <div class="progress">
        <progress max={units.length} value={done} aria-label="Units ticked off"></progress>
        <span class="num">{done} of {units.length}</span>
      </div>
    </header>
    {#if done === units.length}<p class="all">✓ Everything is ticked off.</p>{/if}
    <section class="unit" aria-label="Unit">
      <p class="quiet">
        {[`No. ${unit.number}`, onLine ? `${onLine.line.name}, place ${onLine.place}` : '', area ?? '']
          .filter(Boolean)
          .join(' · ')}
      </p>
      <h1 dir="auto">{unit.name}</h1>
      <p class="quiet">{profile?.maker} {profile?.model}, {app.rig.modeName(unit)}</p>
      {#if here.length > 0}<p class="look">
          ● {here.map((w) => w.name || 'Somebody').join(', ')} is at this one too.
        </p>{/if}
      {#if place}
        <p class="address"><span class="quiet">Address</span> <b class="num">{place.universe}.{place.address}</b></p>
        <SettingCard {profile} address={place.address} large />
        <p class="visually-hidden">Set {words}</p>
      {:else}<p class="look">● It has no address yet.</p>{/if}
      <p class="quiet where">
        <span class="num">{unit.position.x}</span> m across, <span class="num">{unit.position.y}</span> m deep,
        <span class="num">{unit.position.z}</span> m high
      </p>
      {#if unit.notes}<p class="notes" dir="auto">{unit.notes}</p>{/if}
      {#if stale}<p class="look">
          ● Ticked off for {unit.walk?.place ? `${unit.walk.place.universe}.${unit.walk.place.address}` : 'no address'}:
          the address changed since.
        </p>
      {:else if ticked}
        <p class={ticked.state === 'done' ? 'fine' : 'look'}>
          {ticked.state === 'done' ? '✓ Ticked off' : `● Skipped: ${ticked.reason || 'no reason'}`}{ticked.by
            ? ` by ${ticked.by}`
            : ''}
          <button type="button" class="tool" onclick={untick}><Undo2 size={18} /> Take back</button>
        </p>
      {/if}
    </section>
    {#if skipping}
      <section class="skip" aria-label="Why it is skipped">
        <div class="reasons">
          {#each REASONS as text (text)}<button type="button" class="tool" onclick={() => mark('skipped', text)}
              >{text}</button
            >{/each}
        </div>
        <label>Another reason <input bind:value={reason} maxlength="200" /></label>
        <div class="pair">
          <button type="button" class="big" onclick={() => (skipping = false)}>Back</button>
          <button type="button" class="big" onclick={() => mark('skipped', reason)}>Skip it</button>
        </div>
      </section>
    {:else}
      <footer>
        <button type="button" class="big light" class:lit aria-pressed={lit} onclick={() => light(!lit)}
          ><Lightbulb size={24} /> {lit ? 'Lit: touch to let go' : 'Light it'}</button
        >
        <div class="pair">
          <button type="button" class="big" onclick={() => (skipping = true)}>Skip</button>
          <button type="button" class="big main" onclick={() => mark('done')}><Check size={24} /> Done, next</button>
        </div>
        <div class="pair small">
          <button type="button" class="tool" onclick={() => step(-1)}><ChevronLeft size={20} /> Back</button>
          <button type="button" class="tool" onclick={() => step(1)}>Next <ChevronRight size={20} /></button>
        </div>
      </footer>
    {/if}
  {/if}
</main>

<style>
  main {
    display: flex;
    flex-direction: column;
    gap: 12px;
    min-height: 100dvh;
    max-width: 560px;
    margin: 0 auto;
    padding: 14px 16px calc(14px + env(safe-area-inset-bottom));
  }
  .start,
  fieldset,
  .skip,
  footer,
  .unit {
    display: grid;
    gap: 12px;
    align-content: start;
  }
  .start {
    gap: 20px;
    padding-top: 24px;
  }
  fieldset {
    border: 1px solid var(--line);
    border-radius: 8px;
  }
  h1 {
    font-size: 30px;
    line-height: 1.1;
    overflow-wrap: anywhere;
  }
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    justify-content: space-between;
  }
  .progress {
    flex: 1;
    display: flex;
    gap: 10px;
    align-items: center;
  }
  progress {
    flex: 1;
    min-width: 0;
    accent-color: var(--amber);
  }
  .unit {
    flex: 1;
    gap: 8px;
  }
  .address {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
  }
  .address b {
    font-size: 26px;
    color: var(--amber-text);
  }
  label {
    display: grid;
    gap: 6px;
    color: var(--quiet);
  }
  .radio {
    display: flex;
    align-items: center;
    gap: 10px;
    min-height: 44px;
    color: var(--text);
    font-size: 16px;
  }
  .radio input {
    width: 22px;
    height: 22px;
  }
  input:not([type='radio']) {
    min-height: 48px;
    font-size: 18px;
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    background: var(--raised);
    padding: 8px 12px;
    color: var(--text);
    width: 100%;
  }
  .big,
  .tool {
    display: inline-flex;
    align-items: center;
    justify-content: center;
    gap: 8px;
    border: 1px solid var(--line-strong);
    border-radius: 10px;
    background: var(--raised);
  }
  .big {
    min-height: 60px;
    font-size: 19px;
    font-weight: 600;
    width: 100%;
  }
  .tool {
    min-height: 44px;
    min-width: 44px;
    padding: 6px 12px;
    font-size: 15px;
  }
  .wide {
    width: 100%;
  }
  .main {
    background: var(--amber);
    border-color: var(--amber);
    color: var(--on-amber);
  }
  .light.lit {
    background: #fff6e2;
    color: #23170a;
    border-color: #fff6e2;
  }
  .pair {
    display: grid;
    grid-template-columns: 1fr 1.7fr;
    gap: 10px;
  }
  .pair.small {
    grid-template-columns: 1fr 1fr;
  }
  .reasons {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
  }
  .reasons .tool {
    min-height: 56px;
  }
  footer {
    gap: 10px;
    position: sticky;
    bottom: 0;
    background: var(--back);
    padding-top: 8px;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  ol button {
    display: flex;
    gap: 10px;
    width: 100%;
    min-height: 48px;
    align-items: center;
    border: 0;
    border-bottom: 1px solid var(--line);
    background: none;
    text-align: left;
    font-size: 16px;
  }
  ol .on {
    background: var(--amber-wash);
  }
  .grow {
    flex: 1;
    overflow-wrap: anywhere;
  }
  .fine,
  .all {
    color: var(--amber-text);
  }
  .look {
    color: var(--look);
  }
  .notes {
    white-space: pre-wrap;
    padding: 8px 10px;
    border-left: 3px solid var(--line-strong);
  }
</style>
