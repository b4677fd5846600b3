<script lang="ts">
  import { page } from '$app/state';
  import type { UnitId } from '$core/ids.ts';
  import { orderUnits } from '$core/patch/order.ts';
  import { settingOf, settingWords } from '$core/patch/setting.ts';
  import type { UnitOrder } from '$core/records/group.ts';
  import { columnOf, DEFAULT_COLUMNS } from '$core/sheet/columns.ts';
  import { sheetFacts } from '$core/sheet/facts.ts';
  import Button from '$lib/components/Button.svelte';
  import PrintPage from '$lib/components/PrintPage.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import SettingCard from '$lib/components/patch/SettingCard.svelte';
  import { ORDER_WORDS } from '$lib/components/patch/orders.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PAPERS, setPaper, type Paper } from '$lib/state/plot/paper.ts';
  import { qrPicture, reach } from '$lib/state/patch/own-addresses.ts';
  import { plural } from '$lib/state/words.ts';

  /** What goes to the printer: a card for each unit, the whole sheet, or labels for the cases. */
  const app = getApp();
  type What = 'cards' | 'sheet' | 'labels';
  let what = $state<What>('cards');
  let paper = $state<Paper>('A4');
  let order = $state<UnitOrder>('line');
  const selected = ((): readonly UnitId[] => {
    if (page.url.searchParams.get('units') !== 'selected') return [];
    try {
      const ids: unknown = JSON.parse(sessionStorage.getItem('amber-print') ?? '[]');
      return Array.isArray(ids) ? (ids as UnitId[]) : [];
    } catch {
      return [];
    }
  })();
  let onlySelected = $state(selected.length > 0);
  const facts = $derived(sheetFacts(app.live.document));
  const units = $derived.by(() => {
    const chosen = new Set(selected);
    const list = onlySelected ? app.rig.units.filter((u) => chosen.has(u.id)) : app.rig.units;
    return orderUnits(app.live.document, list, order);
  });
  const shown = $derived(
    (what === 'sheet'
      ? [...DEFAULT_COLUMNS.filter((k) => k !== 'state' && k !== 'done'), 'switches', 'area', 'notes']
      : []
    ).flatMap((k) => columnOf(k) ?? []),
  );
  const MOST = 2000;
  const line = (id: UnitId): string => {
    const at = facts.lines().get(id);
    return at ? `${at.line.name}, ${at.place}.` : '';
  };
  const areaOf = (id: UnitId): string => columnOf('area')!.text(facts, app.rig.unit(id)!);
  const words = (id: UnitId): string => {
    const place = app.rig.place(id);
    const unit = app.rig.unit(id)!;
    return place ? settingWords(settingOf(app.rig.profile(unit.profileId), place.address)) : 'no address yet';
  };

  let code = $state('');
  let target = $state('');
  $effect(() => {
    reach()
      .then(async ([address]) => {
        if (!address) return;
        target = `${address}/walk`;
        code = await qrPicture(target, 0);
      })
      .catch(() => (target = ''));
  });
  $effect(() => setPaper(paper));
</script>

<svelte:head><title>{app.rig.show?.name ?? 'Show'} - patch</title></svelte:head>
<PrintPage width={paper === 'letter' ? '216mm' : '210mm'}>
  {#snippet choices()}
    <Choice
      label="Print"
      value={what}
      options={[
        { value: 'cards', text: 'a card for each unit' },
        { value: 'sheet', text: 'the whole sheet' },
        { value: 'labels', text: 'labels for the cases' },
      ]}
      choose={(w) => (what = w)}
    />
    <Choice label="Paper" value={paper} options={PAPERS} choose={(p) => (paper = p)} />
    <Choice label="Order" value={order} options={ORDER_WORDS} choose={(o) => (order = o)} />
    {#if selected.length > 0}<label
        ><input type="checkbox" bind:checked={onlySelected} /> only the {plural(
          selected.length,
          'selected unit',
        )}</label
      >{/if}
    <Button kind="main" onclick={() => window.print()}>Print {plural(units.length, 'unit')}</Button>
    <a href="/patch">Back to the patch</a>
  {/snippet}
  <header>
    <div>
      <h1>{app.rig.show?.name}</h1>
      <p>
        {app.rig.show?.room.name} · {plural(units.length, 'unit')} · {new Date(app.live.now()).toLocaleDateString()}
      </p>
    </div>
    {#if code}<figure>
        <img src={code} alt="QR code of the address walk" />
        <figcaption>Address walk</figcaption>
      </figure>{/if}
  </header>
  {#if what === 'cards'}
    <div class="cards">
      {#each units.slice(0, MOST) as unit (unit.id)}
        {@const place = app.rig.place(unit.id)}
        {@const profile = app.rig.profile(unit.profileId)}
        <section class="card" aria-label={unit.name}>
          <div class="top">
            <b class="num">{unit.number}</b>
            <h2 dir="auto">{unit.name}</h2>
            <b class="num address">{place ? `${place.universe}.${place.address}` : 'no address'}</b>
          </div>
          <p>{profile?.maker} {profile?.model}, {app.rig.modeName(unit)} ({facts.layout(unit).footprint} ch)</p>
          {#if place}<SettingCard {profile} address={place.address} />{/if}
          <p class="foot">
            {[line(unit.id), areaOf(unit.id)].filter(Boolean).join(' · ')}<span class="box"></span> set
          </p>
          {#if unit.notes}<p class="notes" dir="auto">{unit.notes.slice(0, 160)}</p>{/if}
        </section>
      {/each}
    </div>
  {:else if what === 'sheet'}
    <table>
      <thead>
        <tr
          >{#each shown as column (column.key)}<th class:numeric={column.numeric}>{column.title}</th>{/each}<th>✓</th
          ></tr
        >
      </thead>
      <tbody>
        {#each units.slice(0, MOST) as unit (unit.id)}
          <tr>
            {#each shown as column (column.key)}<td class:numeric={column.numeric} class:num={column.numeric} dir="auto"
                >{column.text(facts, unit).slice(0, 120)}</td
              >{/each}
            <td><span class="box"></span></td>
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <div class="labels">
      {#each units.slice(0, MOST) as unit (unit.id)}
        {@const place = app.rig.place(unit.id)}
        <section class="label" aria-label={unit.name}>
          <b class="num big">{unit.number}</b>
          <div>
            <h2 dir="auto">{unit.name}</h2>
            <p>{app.rig.profile(unit.profileId)?.model}, {app.rig.modeName(unit)}</p>
            <p><b class="num">{place ? `${place.universe}.${place.address}` : 'no address'}</b> · {words(unit.id)}</p>
          </div>
        </section>
      {/each}
    </div>
  {/if}
  {#if units.length > MOST}<p>and {units.length - MOST} more: print a part of them by selecting it.</p>{/if}
</PrintPage>

<style>
  a {
    color: var(--amber-text);
    padding-bottom: 6px;
  }
  header {
    display: flex;
    justify-content: space-between;
    gap: 10mm;
    margin-bottom: 6mm;
  }
  figure {
    margin: 0;
    text-align: center;
    font-size: 8pt;
  }
  figure img {
    width: 20mm;
    height: 20mm;
  }
  .cards {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 5mm;
  }
  .card {
    border: 1px solid #444;
    border-radius: 2mm;
    padding: 4mm;
    display: grid;
    gap: 2mm;
    align-content: start;
    break-inside: avoid;
    font-size: 10pt;
  }
  .top {
    display: flex;
    gap: 3mm;
    align-items: baseline;
  }
  .top h2 {
    flex: 1;
    font-size: 13pt;
    overflow-wrap: anywhere;
  }
  .address {
    font-size: 14pt;
  }
  .foot {
    display: flex;
    gap: 2mm;
    align-items: center;
    font-size: 9pt;
  }
  .box {
    display: inline-block;
    width: 4mm;
    height: 4mm;
    border: 1px solid #111;
    margin-left: auto;
  }
  .notes {
    font-size: 9pt;
    border-left: 2px solid #999;
    padding-left: 2mm;
  }
  table {
    font-size: 8pt;
  }
  th,
  td {
    padding: 1mm 1.5mm;
    overflow-wrap: anywhere;
  }
  th {
    overflow-wrap: normal;
  }
  th.numeric,
  td.numeric {
    text-align: right;
    overflow-wrap: normal;
  }
  .labels {
    display: grid;
    grid-template-columns: 1fr 1fr 1fr;
    gap: 3mm;
  }
  .label {
    display: flex;
    gap: 3mm;
    align-items: center;
    border: 1px dashed #777;
    padding: 3mm;
    min-height: 26mm;
    break-inside: avoid;
    font-size: 8pt;
  }
  .label h2 {
    font-size: 11pt;
    overflow-wrap: anywhere;
  }
  .big {
    font-size: 24pt;
  }
</style>
