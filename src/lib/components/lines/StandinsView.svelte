<script lang="ts">
  import { fromBase64 } from '$core/base64.ts';
  import {
    behavesWell,
    WELL_BEHAVED,
    type Misbehaviour,
    type Standin,
    type StandinOrder,
  } from '$core/protocol/standin.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { agoWords, plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Entry from '../Entry.svelte';
  import Mark from '../Mark.svelte';
  import { whole } from '$lib/state/entry.ts';

  /** The simulated devices that ship with the program: what they receive, and how they can be told to misbehave. */
  const app = getApp();
  const report = $derived(app.live.system.standins);
  async function order(given: StandinOrder): Promise<void> {
    const answer = await fetch('/api/standins', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(given),
    });
    if (answer.ok) return;
    const fault = (await answer.json()) as { message?: string; remedy?: string };
    app.live.tell('error', fault.message ?? 'The stand-in does not answer', fault.remedy ?? '');
  }
  const KIND: Readonly<Record<Standin['kind'], string>> = {
    sacn: 'sACN gateway',
    artnet: 'Art-Net gateway',
    pixels: 'pixel controller',
    usb: 'USB interface',
    hub: 'lamp hub',
    string: 'mapped string',
    console: 'second desk',
  };
  const KNOBS: readonly { key: Exclude<keyof Misbehaviour, 'vanished'>; text: string; high: number }[] = [
    { key: 'lossPercent', text: 'Lost, %', high: 100 },
    { key: 'delayMs', text: 'Delay, ms', high: 5000 },
    { key: 'jitterMs', text: 'Jitter, ms', high: 5000 },
    { key: 'reorderPercent', text: 'Out of order, %', high: 100 },
    { key: 'duplicatePercent', text: 'Doubled, %', high: 100 },
    { key: 'rubbishPercent', text: 'Rubbish, %', high: 100 },
  ];
  let open = $state<string | null>(null);
  let draft = $state<Record<string, string>>({});
  function show(standin: Standin): void {
    open = open === standin.id ? null : standin.id;
    draft = Object.fromEntries(KNOBS.map(({ key }) => [key, String(standin.misbehaviour[key])]));
  }
  const wrongKnob = $derived(KNOBS.find(({ key, high }) => whole(draft[key] ?? '', 0, high) === null) ?? null);
  function misbehave(standin: Standin, vanished: boolean): void {
    if (wrongKnob) return;
    const values = Object.fromEntries(KNOBS.map(({ key }) => [key, Number(draft[key])])) as unknown as Misbehaviour;
    void order({ id: standin.id, misbehave: { ...values, vanished } });
  }
  /** First slots that are not nothing, to compare with a monitor. */
  function sample(slots: string): string {
    const bytes = fromBase64(slots);
    const lit = [...bytes].filter((v) => v > 0).length;
    return lit === 0 ? 'all 0' : `${lit} of 512 above 0`;
  }
  let priority = $state('120');
  let universe = $state('1');
  function sends(standin: Standin, on: boolean): void {
    const [u, p] = [whole(universe, 1, 63_999), whole(priority, 0, 200)];
    if (u === null || p === null) {
      app.live.tell('error', 'That cannot be sent', 'Give a universe from 1 to 63999 and a priority from 0 to 200.');
      return;
    }
    void order({ id: standin.id, sends: { on, universe: u, priority: p, level: standin.sends?.level ?? 0.6 } });
  }
  const portsOf = (s: Standin) => (s.ports.length > 4 ? s.ports.filter((p) => p.packets > 0).slice(0, 8) : s.ports);
</script>

<div class="all">
  {#if report}
    <p class="quiet">
      Simulated devices on this machine: proof at the other end of the wire, and a way to see what happens when
      something fails.
    </p>
    <div class="cards">
      {#each report.gateways as standin (standin.id)}
        <article aria-label={standin.name}>
          <header>
            <b>{standin.name}</b>
            <Button
              pressed={open === standin.id}
              aria-label="Misbehaviour of {standin.name}"
              onclick={() => show(standin)}
              >{#if behavesWell(standin.misbehaviour)}behaves{:else}<Mark kind="look" />
                {standin.misbehaviour.vanished ? 'vanished' : 'misbehaves'}{/if}</Button
            >
          </header>
          <p class="quiet">{KIND[standin.kind]} at <span class="num path">{standin.address}</span></p>
          {#if open === standin.id}
            <div class="knobs">
              {#each KNOBS as { key, text } (key)}
                <Entry
                  label={text}
                  numeric
                  value={draft[key] ?? '0'}
                  invalid={wrongKnob?.key === key}
                  oninput={(e) => (draft[key] = e.currentTarget.value)}
                />
              {/each}
            </div>
            {#if wrongKnob}<p role="alert"><Mark kind="wrong" /> {wrongKnob.text}: give 0 to {wrongKnob.high}.</p>{/if}
            <div class="row">
              <Button disabled={wrongKnob !== null} onclick={() => misbehave(standin, false)}
                >Misbehave like this</Button
              >
              <Button onclick={() => misbehave(standin, true)}>Vanish</Button>
              <Button
                onclick={() => {
                  void order({ id: standin.id, misbehave: WELL_BEHAVED });
                  draft = Object.fromEntries(KNOBS.map(({ key }) => [key, '0']));
                }}>Behave</Button
              >
            </div>
          {/if}
          {#if standin.ports.length > 0}
            <table class="plain">
              <thead
                ><tr
                  ><th>Port</th><th>{standin.kind === 'artnet' ? 'Port-address' : 'Universe'}</th><th class="n"
                    >Packets</th
                  ><th class="n">Lost</th><th>Seen</th><th>Slots</th></tr
                ></thead
              >
              <tbody>
                {#each portsOf(standin) as port (port.port)}
                  <tr class:idle={port.packetsPerSecond === 0}>
                    <td class="num">{port.port}</td>
                    <td class="num">{standin.kind === 'usb' ? '' : port.wireUniverse}</td>
                    <td class="n num">{port.packetsPerSecond}<span class="quiet"> /s</span></td>
                    <td class="n num">{port.lost}</td>
                    <td>{agoWords(report.now, port.lastSeenMs)}</td>
                    <td class="quiet"
                      >{port.lastSeenMs === null ? '' : sample(port.slots)}{port.sources > 1
                        ? `, ${port.sources} sources`
                        : ''}{port.rdm > 0 ? ` RDM: ${port.rdm}` : ''}</td
                    >
                  </tr>
                {:else}<tr
                    ><td colspan="6" class="quiet">{plural(standin.ports.length, 'port')}, nothing heard yet</td></tr
                  >
                {/each}
              </tbody>
            </table>
          {/if}
          {#if standin.kind === 'hub'}
            <div class="row">
              <Button onclick={() => void order({ id: standin.id, press: true })}>Press its button</Button>
              {#if standin.buttonUntilMs !== null}<span
                  >pressed, counts for {Math.max(0, Math.ceil((standin.buttonUntilMs - report.now) / 1000))} s</span
                >{/if}
            </div>
            <div class="row">
              {#each standin.lamps as lamp (lamp.id)}
                <span class="lamp"
                  ><i style:background={lamp.colour}></i>{lamp.name}
                  <span class="num quiet">{lamp.colour}, {lamp.updates} updates</span></span
                >
              {/each}
            </div>
          {/if}
          {#if standin.sends}
            <div class="row">
              <span class="short"><Entry label="Universe" numeric bind:value={universe} /></span>
              <span class="short"><Entry label="Priority" numeric bind:value={priority} /></span>
              <Button kind={standin.sends.on ? 'plain' : 'main'} onclick={() => sends(standin, true)}>Send</Button>
              <Button disabled={!standin.sends.on} onclick={() => sends(standin, false)}>Stop</Button>
            </div>
            <p class="quiet">
              {standin.sends.on
                ? `sends universe ${standin.sends.universe} at priority ${standin.sends.priority}`
                : 'sends nothing'}
            </p>
          {/if}
        </article>
      {/each}
    </div>
  {:else}
    <p class="quiet">There are no stand-ins here: the program was started with AMBER_DEMO=0.</p>
  {/if}
</div>

<style>
  .all {
    padding: 4px 16px 24px;
    overflow: auto;
    display: grid;
    gap: 10px;
    align-content: start;
  }
  .cards {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
    gap: 12px;
    align-items: start;
  }
  article {
    border: 1px solid var(--line);
    border-radius: 10px;
    padding: 10px 14px;
    background: var(--panel);
    display: grid;
    gap: 8px;
    min-width: 0;
  }
  header {
    display: flex;
    gap: 10px;
    align-items: center;
    flex-wrap: wrap;
  }
  header :global(button) {
    margin-left: auto;
  }
  .path {
    overflow-wrap: anywhere;
  }
  .knobs {
    display: grid;
    grid-template-columns: repeat(3, 1fr);
    gap: 8px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 8px 14px;
    align-items: end;
  }
  .short {
    width: 90px;
  }
  .lamp {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
  .lamp i {
    width: 16px;
    height: 16px;
    border-radius: 50%;
    border: 1px solid var(--line-strong);
  }
  table {
    font-size: 13px;
  }
  th {
    font-size: 12px;
  }
  td,
  th {
    padding: 2px 6px 2px 0;
  }
  .n {
    text-align: right;
    padding-right: 12px;
    white-space: nowrap;
  }
  .idle td {
    color: var(--quiet);
  }
</style>
