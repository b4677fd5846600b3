<script lang="ts">
  import { LENGTH_UNIT, lengthNumber, lengthText } from '$core/plot/lengths.ts';
  import { BLADES, type Blade } from '$core/records/unit.ts';
  import { focusSheet, type FocusLine } from '$core/room/focus.ts';
  import Button from '$lib/components/Button.svelte';
  import Choice from '$lib/components/Choice.svelte';
  import PrintPage from '$lib/components/PrintPage.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { PAPERS, setPaper, type Paper } from '$lib/state/plot/paper.ts';

  /** Where each fixed lamp points and how it is set, for the person on the ladder. */
  const app = getApp();
  let paper = $state<Paper>('A4');
  $effect(() => setPaper(paper));
  const lines = $derived(focusSheet(app.live.document));
  const lengths = $derived(app.rig.show?.lengths ?? 'metres');
  const metres = (m: number | null): string => (m === null ? '' : lengthText(m, lengths));
  const FACE_WORDS: Readonly<Record<string, string>> = {
    floor: 'floor',
    ceiling: 'ceiling',
    left: 'stage right wall',
    right: 'stage left wall',
    front: 'down-stage wall',
    back: 'up-stage wall',
  };
  const where = ({ target, on }: FocusLine): string =>
    target
      ? `${FACE_WORDS[on!] ?? on} at ${[target.x, target.y, target.z].map((m) => lengthNumber(m, lengths)).join(' / ')}`
      : 'past everything';
  function across(deg: number): string {
    const size = Math.abs(deg);
    if (size < 0.05) return 'up-stage';
    if (size > 179.9) return 'down-stage';
    // Counter-clockwise from up-stage, seen from above: towards stage right.
    return `${size}° to stage ${deg > 0 ? 'right' : 'left'}`;
  }
  const down = (deg: number): string =>
    Math.abs(deg) < 0.05 ? 'level' : `${Math.abs(deg)}° ${deg > 0 ? 'down' : 'up'}`;
  const edge = (at: number | null): string =>
    at === null ? 'as it comes' : Math.abs(at - 0.5) < 0.02 ? 'sharp' : `${Math.round(at * 100)} %`;
  const cuts = (shutters: readonly Blade[] | null): string =>
    (shutters ?? [])
      .flatMap((blade, i) =>
        blade.in > 0 ? [`${BLADES[i]} ${Math.round(blade.in * 100)} %${blade.deg === 0 ? '' : `, ${blade.deg}°`}`] : [],
      )
      .join('; ');
  /** The edge of a blade as a line across the beam, which has radius 10: top, right, bottom, left. */
  function bladePath({ in: pushed, deg }: Blade, at: number): string {
    const look = ((-90 + at * 90 - deg) * Math.PI) / 180;
    const [nx, ny] = [Math.cos(look), Math.sin(look)];
    const off = 10 * (1 - 2 * pushed);
    const [x, y] = [nx * off, ny * off];
    return `M${x - ny * 14} ${y + nx * 14}L${x + ny * 14} ${y - nx * 14}L${x + ny * 14 + nx * 24} ${y - nx * 14 + ny * 24}L${x - ny * 14 + nx * 24} ${y + nx * 14 + ny * 24}Z`;
  }
</script>

<svelte:head><title>Focus of {app.rig.show?.name ?? ''} - Amber Kite</title></svelte:head>
<PrintPage>
  {#snippet choices()}
    <Choice label="Paper" value={paper} options={PAPERS} choose={(p) => (paper = p)} />
    <Button kind="main" onclick={() => window.print()}>Print</Button>
  {/snippet}
  <h1>{app.rig.show?.name ?? ''}: focus</h1>
  {#if lines.length === 0}<p>No fixed lamps yet: heads are pointed by their pan and tilt.</p>{:else}
    <p>
      Places are across (to stage left), deep (up-stage) and high, from the middle of the floor, in {LENGTH_UNIT[
        lengths
      ]}.
    </p>
    <table>
      <thead>
        <tr
          ><th>Lamp</th><th>Where to</th><th>Distance</th><th>Across, down</th><th>Beam, edge</th><th>Shutters</th><th
            >Gel</th
          ><th></th></tr
        >
      </thead>
      <tbody>
        {#each lines as line (line.unit.id)}
          <tr>
            <td><b>{line.unit.number}</b> {line.unit.name}</td>
            <td>{where(line)}</td>
            <td class="num"
              >{metres(line.distanceM)}{#if line.poolM !== null}<br />⌀ {metres(line.poolM)}{/if}</td
            >
            <td class="num">{across(line.panDeg)}<br />{down(line.tiltDeg)}</td>
            <td class="num">{line.beamDeg === null ? 'not said' : `${line.beamDeg}°`}<br />{edge(line.edge)}</td>
            <td class="cut"
              >{#if line.shutters}<svg viewBox="-11 -11 22 22" role="img" aria-label={cuts(line.shutters)}
                  ><clipPath id="clip-{line.unit.id}"><circle r="10" /></clipPath><circle
                    r="10"
                    fill="#fff"
                    stroke="#111"
                  /><g clip-path="url(#clip-{line.unit.id})"
                    >{#each line.shutters as blade, i (i)}{#if blade.in > 0}<path
                          d={bladePath(blade, i)}
                        />{/if}{/each}</g
                  ></svg
                >
                {cuts(line.shutters)}{/if}</td
            >
            <td
              >{#if line.gel}<span class="gel" style:background={line.gel}></span>
                {line.gelName || line.gel}{:else}{line.gelName}{/if}</td
            >
            <td><span class="tick"></span></td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</PrintPage>

<style>
  table {
    font-size: 12px;
  }
  :is(td, th) {
    padding: 3px 5px;
    vertical-align: top;
  }
  .num {
    white-space: nowrap;
  }
  svg {
    width: 28px;
    height: 28px;
    vertical-align: middle;
  }
  path {
    fill: #555;
    stroke: #111;
    stroke-width: 0.5;
  }
  .gel {
    display: inline-block;
    width: 12px;
    height: 12px;
    border: 1px solid #111;
    vertical-align: -2px;
    print-color-adjust: exact;
  }
  .tick {
    display: inline-block;
    width: 14px;
    height: 14px;
    border: 1.5px solid #333;
  }
</style>
