<script lang="ts">
  import { goto } from '$app/navigation';
  import { tonightFaults } from '$core/check/tonight.ts';
  import { FINDING_KINDS, preflight, type Finding } from '$core/check/preflight.ts';
  import Button from '$lib/components/Button.svelte';
  import Mark from '$lib/components/Mark.svelte';
  import Step from '$lib/components/Step.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';

  /** Everything known to be wrong, the worst first, each with a way to go there. */
  const app = getApp();
  const findings = $derived([...tonightFaults(app.live.system), ...preflight(app.live.document)]);
  const kinds = $derived(
    Object.entries(FINDING_KINDS)
      .map(([code, kind]) => ({ code, ...kind, list: findings.filter((f) => f.code === code) }))
      .filter((k) => k.list.length > 0),
  );
  const severe = $derived(findings.filter((f) => f.severe).length);
  const MOST = 40;
  const STEP_NAMES = { patch: 'Patch', lines: 'Lines', plot: 'Plot', scenes: 'Scenes', settings: 'Settings' } as const;
  function jump(finding: Finding): void {
    if (finding.unitIds.length > 0) app.selection.set(finding.unitIds);
    // A cable is looked at where cables are, anything else of the way out in the signal path.
    void goto(
      finding.code.startsWith('LINE_')
        ? '/lines?tab=cables'
        : finding.playableId && finding.step === 'scenes'
          ? `/scenes?open=${finding.playableId}`
          : `/${finding.step}`,
    );
  }
</script>

<Step title="Pre-flight" scroll>
  {#snippet tools()}
    {#if findings.length > 0}
      <span
        ><Mark kind="wrong" count={severe} /> will fail tonight, <Mark kind="look" count={findings.length - severe} /> worth
        a look</span
      >
    {/if}
  {/snippet}
  {#each kinds as kind (kind.code)}
    <section aria-label={kind.title}>
      <h2>
        <Mark kind={kind.list[0]!.severe ? 'wrong' : 'look'} />
        {kind.title} <span class="num quiet">{kind.list.length}</span>
      </h2>
      <p class="quiet">{kind.remedy}</p>
      <ul>
        {#each kind.list.slice(0, MOST) as finding, i (i)}
          <li>
            <b>{finding.title}</b>
            <span>{finding.message}</span>
            <Button onclick={() => jump(finding)}>{STEP_NAMES[finding.step]} <ArrowRight size={14} /></Button>
          </li>
        {/each}
      </ul>
      {#if kind.list.length > MOST}<p class="quiet">and {kind.list.length - MOST} more</p>{/if}
    </section>
  {:else}
    <p class="clear">Nothing is known to be wrong with the patch, the way out and the programming.</p>
    <p class="quiet">
      Looked at: cables and gateways now, shared slots, ends of universes and ports, numbers, expected ends, twins,
      routes of {plural(app.rig.universes.length, 'universe')}, and programmed values of {plural(
        app.rig.scenes.length,
        'scene',
      )}.
    </p>
  {/each}
</Step>

<style>
  section {
    padding: 10px 0 14px;
    border-bottom: 1px solid var(--line);
    max-width: 900px;
  }
  ul {
    list-style: none;
    margin: 8px 0 0;
    padding: 0;
  }
  li {
    display: grid;
    grid-template-columns: minmax(140px, 1fr) 3fr auto;
    gap: 12px;
    align-items: center;
    min-height: 38px;
  }
  b {
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .clear {
    padding: 24px 0 8px;
    font-size: 16px;
  }
</style>
