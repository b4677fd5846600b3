<script lang="ts">
  import type { LitId } from '$core/ids.ts';
  import { toHex } from '$core/colour/convert.ts';
  import { COLOUR_ATTRIBUTES, splitAttributeKey } from '$core/attributes.ts';
  import type { Explanation } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import WhyPanel from './WhyPanel.svelte';

  /** Who sets the selected units (the whole rig where none are), in a line each; one of them with all its reasons. */
  const app = getApp();
  const MOST = 24;
  const asked = $derived<readonly LitId[]>(
    app.selection.lit.length > 0 ? app.selection.lit : app.rig.units.map((u) => u.id),
  );
  const listed = $derived(asked.slice(0, MOST));
  let picked = $state<LitId | null>(null);
  const open = $derived(picked && listed.includes(picked) ? picked : listed.length === 1 ? listed[0]! : null);
  let found = $state.raw<readonly Explanation[]>([]);
  async function ask(units: readonly LitId[]): Promise<void> {
    const attributes = ['Dimmer', 'Dimmer#1', ...COLOUR_ATTRIBUTES.flatMap((a) => [a, `${a}#1`])];
    const asking = app.live.preview.ask({ what: 'explain', units, attributes, nowMs: app.live.now() });
    // What cannot be told now is asked again.
    const answer = await asking.catch(() => null);
    if (answer && units === listed) found = answer;
  }
  $effect(() => {
    const units = listed;
    void ask(units);
    const timer = setInterval(() => void ask(units), 500);
    return () => clearInterval(timer);
  });
  const of = (id: LitId, attribute: string): Explanation | undefined =>
    found.find((e) => e.unitId === id && splitAttributeKey(e.attribute).attribute === attribute);
  /** The uppermost that is seen: it sets the value, or fades, scales and moves what does. */
  const setter = (explained: Explanation | undefined) =>
    explained?.influences.findLast((i) => i.verdict === 'wins' || i.verdict === 'fading' || i.verdict === 'counts');
  const rows = $derived(
    listed.flatMap((id) => {
      const lit = app.rig.lit(id);
      if (!lit) return [];
      const level = of(id, 'Dimmer');
      const [r, g, b] = COLOUR_ATTRIBUTES.map((a) => setter(of(id, a))?.after ?? 0) as [number, number, number];
      const colour = setter(of(id, COLOUR_ATTRIBUTES[0]));
      return [
        {
          id,
          number: lit.unit.number,
          name: lit.name,
          level: setter(level)?.name ?? null,
          sent: level ? `${Math.round(level.sent * 100)} %` : '',
          colour: colour?.name ?? null,
          hex: colour ? toHex({ r, g, b }) : null,
        },
      ];
    }),
  );
</script>

{#if app.rig.units.length === 0}
  <p class="quiet">There are no units in this show yet.</p>
{:else}
  {#if app.selection.lit.length === 0}<p class="quiet">
      Nobody is selected: these are all units. Press one for all of its reasons.
    </p>{/if}
  {#if rows.length > 1}
    <table class="plain">
      <thead><tr><th class="n">No.</th><th>Unit</th><th>Level by</th><th>Colour by</th></tr></thead>
      <tbody>
        {#each rows as row (row.id)}
          <tr class:on={row.id === open}>
            <td class="n num quiet">{row.number}</td>
            <td
              ><button
                type="button"
                aria-expanded={row.id === open}
                onclick={() => (picked = row.id === open ? null : row.id)}>{row.name}</button
              ></td
            >
            <td>{row.level ?? '–'} <span class="num quiet">{row.sent}</span></td>
            <td
              >{#if row.hex}<i style:background={row.hex}></i>{/if}
              {row.colour ?? '–'}</td
            >
          </tr>
          {#if row.id === open}<tr class="reasons"><td></td><td colspan="3"><WhyPanel unitId={row.id} /></td></tr>{/if}
        {/each}
      </tbody>
    </table>
    {#if asked.length > MOST}<p class="quiet">
        and {plural(asked.length - MOST, 'more unit')}: select fewer to see them.
      </p>{/if}
  {/if}
  {#if open && rows.length === 1}
    <h3>{rows[0]!.name}</h3>
    <WhyPanel unitId={open} />
  {/if}
{/if}

<style>
  td {
    border-top: 1px solid var(--line);
    height: 32px;
    padding: 0 8px 0 0;
  }
  .n {
    width: 44px;
    text-align: right;
    padding-right: 10px;
  }
  tr.on {
    background: var(--amber-wash);
  }
  .reasons td {
    height: auto;
    padding: 4px 0 12px;
    border-top: 0;
  }
  td button {
    min-height: 32px;
    padding: 0;
    border: 0;
    background: none;
    text-align: left;
    text-decoration: underline;
    text-decoration-color: var(--line-strong);
    text-underline-offset: 3px;
  }
  i {
    display: inline-block;
    width: 12px;
    height: 12px;
    border-radius: 3px;
    vertical-align: -1px;
  }
</style>
