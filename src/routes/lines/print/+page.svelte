<script lang="ts">
  import { CONNECTOR_WORDS, lineFaults, packingList, pixelPort, resolveLine } from '$core/lines/index.ts';
  import Button from '$lib/components/Button.svelte';
  import PrintPage from '$lib/components/PrintPage.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PAPERS, setPaper, type Paper } from '$lib/state/plot/paper.ts';

  /** Lines for the printer: each run as a kite's tail with its cables, and the list of what has to be packed. */
  const app = getApp();
  let what = $state<'both' | 'runs' | 'packing'>('both');
  let paper = $state<Paper>('A4');
  const lines = $derived(app.rig.lines.map((line) => ({ line, resolved: resolveLine(app.live.document, line) })));
  const packing = $derived(packingList(app.live.document));
  const faultsOf = (id: string) => lineFaults(app.live.document).filter((f) => f.lineId === id);
  const outputOf = (id: string | null): string => (id ? (app.rig.output(id)?.name ?? '') : 'no output yet');
  $effect(() => setPaper(paper));
  const GROUP = { Cables: 'Cable', Adapters: 'Adapter', Terminators: 'Terminator', Splitters: '', Power: '' };
  const metres = (m: number | null): string => (m === null ? '___ m' : `${m} m`);
</script>

<svelte:head><title>Lines of {app.rig.show?.name ?? ''} - Amber Kite</title></svelte:head>
<PrintPage>
  {#snippet choices()}
    <Choice
      label="What"
      value={what}
      options={[
        { value: 'both', text: 'runs and packing list' },
        { value: 'runs', text: 'runs' },
        { value: 'packing', text: 'packing list' },
      ]}
      choose={(w) => (what = w)}
    />
    <Choice label="Paper" value={paper} options={PAPERS} choose={(p) => (paper = p)} />
    <Button kind="main" onclick={() => window.print()}>Print</Button>
  {/snippet}
  <h1>{app.rig.show?.name ?? ''}: lines</h1>
  {#if what !== 'packing'}
    {#each lines as { line, resolved } (line.id)}
      <section>
        <h2>{line.number} {line.name}</h2>
        <p>
          {outputOf(line.outputId)}{line.port ? `, port ${line.port}` : ''}{line.medium === 'mains'
            ? ''
            : `, ${CONNECTOR_WORDS[line.connector]}`}
          {#if line.medium === 'pixels'}{@const port = pixelPort(app.live.document, line)}
            | {port.pixels} pixels, {Math.round(port.watts)} W at {line.volts} V
          {:else if line.medium === 'dmx'}| {resolved.runs
              .map((r) => `${r.units.length} loads, ${Math.round(r.lengthM * 10) / 10} m`)
              .join(' + ')}{/if}
        </p>
        {#each faultsOf(line.id) as fault, i (i)}<p class="fault">▲ {fault.message}. {fault.remedy}</p>{/each}
        <ol>
          {#each resolved.drops as drop (drop.unit.id)}
            <li class:branch={drop.run > 0}>
              <span class="cable"
                >{drop.splitter ? 'splitter, ' : ''}{metres(drop.lengthM)}{drop.fromConnector !== drop.connector
                  ? `, ${CONNECTOR_WORDS[drop.fromConnector]} to ${CONNECTOR_WORDS[drop.connector]}`
                  : ''}</span
              >
              <span class="bow">▶◀</span>
              <b>{drop.unit.number} {drop.unit.name}</b>
              <span class="num">{app.rig.addressText(drop.unit.id)}</span>
              <span class="tick"></span>
            </li>
          {/each}
        </ol>
        {#if line.medium === 'pixels'}
          {#each pixelPort(app.live.document, line).injections as feed (feed.ofLine)}
            <p>
              Feed power in before {feed.unitNumber}
              {feed.unitName}, pixel {feed.pixel} ({feed.ofLine} of the line).
            </p>
          {/each}
        {/if}
      </section>
    {:else}<p>No lines yet.</p>{/each}
  {/if}
  {#if what !== 'runs'}
    <section>
      <h2>To pack</h2>
      <table>
        <thead><tr><th class="n">Count</th><th>What</th><th>For</th><th></th></tr></thead>
        <tbody>
          {#each packing as item (item.group + item.what)}
            <tr
              ><td class="n num">{item.count}</td><td>{GROUP[item.group]} {item.what}</td><td>{item.where}</td><td
                ><span class="tick"></span></td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    </section>
  {/if}
</PrintPage>

<style>
  section {
    break-inside: avoid;
    margin-top: 18px;
  }
  h2 {
    border-bottom: 1px solid #999;
  }
  .fault {
    color: #8a2410;
  }
  ol {
    list-style: none;
    margin: 8px 0 0 8px;
    padding: 0;
  }
  li {
    border-left: 2px solid #333;
    padding: 0 0 8px 14px;
    display: grid;
    grid-template-columns: 34px 1fr auto 22px;
    gap: 0 8px;
    align-items: baseline;
  }
  li.branch {
    margin-left: 22px;
    border-left: 4px double #333;
  }
  .cable {
    grid-column: 1 / -1;
    font-size: 12px;
    color: #444;
  }
  .bow {
    margin-left: -24px;
    letter-spacing: -3px;
    font-size: 12px;
  }
  .tick {
    display: inline-block;
    width: 14px;
    height: 14px;
    border: 1px solid #333;
  }
  th,
  td {
    padding: 4px 8px;
  }
  .n {
    text-align: right;
    width: 50px;
  }
</style>
