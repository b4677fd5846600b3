<script lang="ts">
  import { attributeInfo, splitAttributeKey, type AttributeFamily } from '$core/attributes.ts';
  import { COLOUR_ATTRIBUTES } from '$core/attributes.ts';
  import { toHex } from '$core/colour/convert.ts';
  import type { LitId } from '$core/ids.ts';
  import type { Explanation, Verdict } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import Choice from '../Choice.svelte';

  /** Who sets a unit, and why: for each attribute the stack of everything that touches it, what is sent on top. */
  let { unitId }: { unitId: LitId } = $props();
  const app = getApp();
  let found = $state.raw<readonly Explanation[]>([]);
  let fault = $state('');
  let cell = $state(0);

  const WORDS: Readonly<Record<Verdict, string>> = {
    wins: 'is sent',
    fading: 'fades over what is below',
    counts: 'counts: it moves, scales or fades what is below',
    lower: 'lower: the highest level takes precedence',
    earlier: 'began earlier: the latest takes precedence',
    covered: 'covered by a higher priority',
    silent: 'faded out, or not in yet',
    failed: 'failed and was taken out',
  };
  const MASTER_WORDS: Readonly<Record<string, string>> = {
    limit: 'limit',
    keepOut: 'never in the eyes',
    group: 'group',
    kind: 'kind of fixture',
    solo: 'solo',
    area: 'area',
    areaDark: 'area in the dark',
    grand: 'grand master',
    dark: 'Dark',
  };
  async function ask(id: LitId): Promise<void> {
    try {
      const answer = await app.live.preview.ask({ what: 'explain', units: [id], nowMs: app.live.now() });
      if (id === unitId) found = answer;
      fault = '';
    } catch (error) {
      fault = (error as Error).message;
    }
  }
  $effect(() => {
    const id = unitId;
    void ask(id);
    const timer = setInterval(() => void ask(id), 500);
    return () => clearInterval(timer);
  });
  const cells = $derived(Math.max(0, ...found.map((e) => splitAttributeKey(e.attribute).cell)));
  const FAMILIES: readonly AttributeFamily[] = ['level', 'colour', 'aim', 'beam', 'effect', 'control'];
  /** Rows of the cell that is looked at; the parts of a colour are one row. */
  const rows = $derived.by(() => {
    const own = found.filter((e) => {
      const at = splitAttributeKey(e.attribute).cell;
      return at === 0 || at === (cell || 1);
    });
    const parts = COLOUR_ATTRIBUTES.map((name) => own.find((e) => splitAttributeKey(e.attribute).attribute === name));
    const [r, g, b] = parts;
    return own
      .filter((e) => e !== g && e !== b)
      .map((e) => ({
        ...e,
        words: e === r ? 'Colour' : (attributeInfo(splitAttributeKey(e.attribute).attribute)?.words ?? e.attribute),
        family: attributeInfo(splitAttributeKey(e.attribute).attribute)?.family ?? ('control' as AttributeFamily),
        swatches:
          e === r && g && b ? e.influences.map((_, i) => toHex({ r: at(e, i), g: at(g, i), b: at(b, i) })) : null,
      }))
      .sort((x, y) => FAMILIES.indexOf(x.family) - FAMILIES.indexOf(y.family));
  });
  const at = (e: Explanation, i: number): number => e.influences[i]?.after ?? 0;
  const percent = (value: number): string => `${Math.round(value * 1000) / 10} %`;
  let onlyTouched = $state(true);
  const shown = $derived(onlyTouched ? rows.filter((r) => r.influences.length > 1 || r.masters.length > 0) : rows);
</script>

{#if fault}<p class="fault" role="alert">It cannot be told now: {fault}</p>{/if}
<div class="bar">
  <label class="check"><input type="checkbox" bind:checked={onlyTouched} /> only what something sets</label>
  {#if cells > 1}
    <Choice
      hideLabel
      label="Cell"
      value={String(cell || 1)}
      options={Array.from({ length: Math.min(cells, 500) }, (_, i) => ({
        value: String(i + 1),
        text: `cell ${i + 1}`,
      }))}
      choose={(v) => (cell = Number(v))}
    />
  {/if}
</div>
{#if shown.length === 0}
  <p class="quiet">Nothing sets this unit now: everything is at rest.</p>
{/if}
{#each shown as row (row.attribute)}
  <section aria-label={row.words}>
    <h3>{row.words}</h3>
    <ol>
      {#each [...row.influences].reverse() as layer, i (i)}
        {@const swatch = row.swatches?.[row.influences.length - 1 - i]}
        <li class={layer.verdict}>
          <span class="mark" aria-hidden="true"
            >{layer.verdict === 'wins'
              ? '▶'
              : layer.verdict === 'counts' || layer.verdict === 'fading'
                ? '▷'
                : '·'}</span
          >
          <span class="name">{layer.name}</span>
          <span class="num value"
            >{#if swatch}<i style:background={swatch}></i>{swatch}{:else}{percent(layer.after)}{/if}</span
          >
          <span class="why"
            >{layer.what === 'rest' && layer.verdict === 'covered'
              ? 'covered by what plays'
              : WORDS[layer.verdict]}{#if layer.priority !== null}, priority {layer.priority}{/if}{#if layer.level < 1 && layer.level > 0},
              {percent(layer.level)} in{/if}</span
          >
        </li>
      {/each}
    </ol>
    {#if row.masters.length > 0}
      <p class="masters">
        Then {row.masters
          .map(
            (m) =>
              `${MASTER_WORDS[m.what]} ${m.name === 'Dark' || m.name === 'Grand master' ? '' : m.name} ${percent(m.leaves)}`,
          )
          .join(', ')}: sent
        <b class="num">{percent(row.sent)}</b>
      </p>
    {/if}
  </section>
{/each}

<style>
  .bar {
    display: flex;
    gap: 16px;
    align-items: center;
    min-height: 32px;
  }
  .check {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  section {
    border-top: 1px solid var(--line);
    padding: 6px 0 8px;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    display: grid;
    grid-template-columns: 16px minmax(120px, 1.2fr) 96px minmax(150px, 2fr);
    gap: 8px;
    align-items: center;
    min-height: 26px;
    color: var(--quiet);
  }
  li.wins,
  li.counts {
    color: var(--text);
  }
  li.wins .name {
    font-weight: 650;
  }
  li.wins .mark {
    color: var(--amber-text);
  }
  li.failed {
    color: var(--wrong);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .value {
    display: flex;
    gap: 6px;
    align-items: center;
    justify-content: flex-end;
  }
  i {
    width: 12px;
    height: 12px;
    border-radius: 3px;
    border: 1px solid var(--line-strong);
  }
  .why {
    font-size: 12.5px;
  }
  .masters {
    margin: 4px 0 0 24px;
    font-size: 12.5px;
    color: var(--amber-text);
  }
  .fault {
    color: var(--wrong);
  }
  @media (max-width: 760px) {
    li {
      grid-template-columns: 16px 1fr auto;
    }
    .why {
      grid-column: 2 / -1;
    }
  }
</style>
