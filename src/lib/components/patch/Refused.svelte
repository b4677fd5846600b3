<script lang="ts">
  import { columnOf } from '$core/sheet/columns.ts';
  import type { CellFault } from '$core/sheet/edit.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { faultWords } from '$lib/state/words.ts';
  import type { PatchDesk } from '$lib/state/patch/patch-desk.svelte.ts';
  import Field from '../Field.svelte';
  import ToolPanel from './ToolPanel.svelte';

  /** Cells that a paste could not fill: what was there stays here until it is mended. */
  let { desk }: { desk: PatchDesk } = $props();
  const app = getApp();
  function retry(fault: CellFault, text: string): string | null {
    const { unitId, column } = fault.edit;
    const wrong = app.cells.write(
      [unitId],
      column,
      text,
      `${columnOf(column)?.title} of ${app.rig.unit(unitId)?.name}`,
    );
    if (wrong === null) desk.refused = desk.refused.filter((f) => f !== fault);
    return wrong;
  }
</script>

<ToolPanel title="Not taken" close={() => desk.open('details')}>
  {#each desk.refused.slice(0, 100) as fault, i (`${fault.edit.unitId} ${fault.edit.column} ${i}`)}
    {@const unit = app.rig.unit(fault.edit.unitId)}
    <div>
      <Field
        label="{columnOf(fault.edit.column)?.title} of {unit?.number} {unit?.name}"
        value={fault.edit.text}
        save={(t) => retry(fault, t)}
      />
      <p class="wrong">▲ {faultWords(fault)}</p>
    </div>
  {:else}<p class="quiet">Everything was taken.</p>{/each}
</ToolPanel>

<style>
  .wrong {
    color: var(--wrong);
    font-size: 12.5px;
  }
</style>
