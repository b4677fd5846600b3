<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import Mark from '../Mark.svelte';

  /** What the stand-in gateways say they receive: proof at the other end of the wire. */
  const app = getApp();
  const report = $derived(app.live.system.standins);
  const ago = (ms: number | null, now: number): string => {
    if (ms === null) return 'never';
    const s = (now - ms) / 1000;
    return s < 1.5 ? 'now' : `${Math.round(s)} s ago`;
  };
  /** First slots that are not nothing, to compare with a monitor. */
  function sample(slots: string): string {
    const bytes = Uint8Array.from(atob(slots), (c) => c.charCodeAt(0));
    const lit = [...bytes].filter((v) => v > 0).length;
    return lit === 0 ? 'all 0' : `${lit} of 512 above 0`;
  }
</script>

{#if report}
  <section aria-label="Stand-in gateways">
    <h2>Stand-in gateways <span class="quiet">simulated on this machine</span></h2>
    <div class="cards">
      {#each report.gateways as gateway (gateway.id)}
        <article>
          <header>
            <b>{gateway.name}</b><span class="quiet"
              >{gateway.kind !== 'artnet' ? 'sACN' : 'Art-Net'} at <span class="num">{gateway.address}</span></span
            >
            {#if gateway.refused > 0}<Mark
                kind="look"
                count={gateway.refused}
                title="packets that were not sound"
              />{/if}
          </header>
          <table>
            <thead
              ><tr
                ><th>Port</th><th>{gateway.kind !== 'artnet' ? 'Universe' : 'Port-address'}</th><th class="n"
                  >Packets</th
                ><th class="n">Lost</th><th>Seen</th><th>Slots</th></tr
              ></thead
            >
            <tbody>
              {#each gateway.ports as port (port.port)}
                <tr class:idle={port.packetsPerSecond === 0}>
                  <td class="num">{port.port}</td>
                  <td class="num">{port.wireUniverse}</td>
                  <td class="n num">{port.packetsPerSecond}<span class="quiet"> /s</span></td>
                  <td class="n num">{port.lost}</td>
                  <td>{ago(port.lastSeenMs, report.now)}</td>
                  <td class="quiet">{port.lastSeenMs === null ? '' : sample(port.slots)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </article>
      {/each}
    </div>
  </section>
{/if}

<style>
  section {
    display: grid;
    gap: 8px;
  }
  .cards {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
    gap: 12px;
  }
  article {
    border: 1px solid var(--line);
    border-radius: 8px;
    padding: 10px 12px;
    background: var(--panel);
  }
  header {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    margin-top: 6px;
    font-size: 13px;
  }
  th {
    text-align: left;
    font-weight: 500;
    color: var(--quiet);
    font-size: 12px;
  }
  td,
  th {
    padding: 2px 6px 2px 0;
    white-space: nowrap;
  }
  .n {
    text-align: right;
    padding-right: 12px;
  }
  .idle td {
    color: var(--quiet);
  }
</style>
