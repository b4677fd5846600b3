<script lang="ts">
  import { nextNumber as nextNumberOf } from '$core/patch/naming.ts';
  import { Popover } from 'bits-ui';
  import { make } from '$core/records/index.ts';
  import type { UnitValues } from '$core/records/scene.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { averageColour } from '$lib/state/look.ts';
  import Button from '../Button.svelte';

  const app = getApp();
  let open = $state(false);
  let name = $state('');
  let into = $state('');
  const copyHand = (): Record<string, UnitValues> =>
    structuredClone($state.snapshot(app.hand.values)) as Record<string, UnitValues>;
  const nextNumber = $derived(nextNumberOf(app.rig.scenes));
  const suggested = $derived(`Scene ${nextNumber}`);

  function storeNew(): void {
    const values = copyHand();
    const scene = make('scene', {
      id: app.newId('scene'),
      number: nextNumber,
      name: name.trim() || suggested,
      colour: averageColour(values),
      values,
    });
    if (!app.live.edit(`Store scene ${scene.name}`, { put: [scene], remove: [] })) return;
    app.chosen.playable = scene.id;
    done();
  }
  /** Adds what is by hand to a scene; what the scene has besides stays. */
  function storeInto(): void {
    const scene = app.rig.scenes.find((s) => s.id === into);
    if (!scene) return;
    const values = { ...scene.values } as Record<string, UnitValues>;
    for (const [unit, own] of Object.entries(copyHand())) values[unit] = { ...values[unit], ...own };
    if (app.live.edit(`Store into ${scene.name}`, { put: [{ ...scene, values }], remove: [] })) done();
  }
  function done(): void {
    app.hand.letGo();
    open = false;
    name = '';
  }
</script>

<Popover.Root bind:open>
  <Popover.Trigger>
    {#snippet child({ props })}<Button kind="main" {...props}>Store</Button>{/snippet}
  </Popover.Trigger>
  <Popover.Portal>
    <Popover.Content side="top" align="end" sideOffset={8}>
      {#snippet child({ props, wrapperProps, open: shown })}
        {#if shown}
          <div {...wrapperProps}>
            <div {...props} class="pop">
              <h2>Store as a scene</h2>
              <p class="quiet">
                {app.hand.unitIds.length} units, {app.hand.touchedCount} attributes: exactly what was touched.
              </p>
              <form
                onsubmit={(e) => {
                  e.preventDefault();
                  storeNew();
                }}
              >
                <label class="visually-hidden" for="store-name">Name of the new scene</label>
                <input id="store-name" bind:value={name} placeholder={suggested} maxlength="100" autocomplete="off" />
                <Button kind="main" type="submit">New scene</Button>
              </form>
              {#if app.rig.scenes.length > 0}
                <form
                  onsubmit={(e) => {
                    e.preventDefault();
                    storeInto();
                  }}
                >
                  <label class="visually-hidden" for="store-into">Add to scene</label>
                  <select id="store-into" bind:value={into}>
                    <option value="" disabled>Add to an existing scene…</option>
                    {#each app.rig.scenes as scene (scene.id)}<option value={scene.id}>{scene.name}</option>{/each}
                  </select>
                  <Button type="submit" disabled={into === ''}>Add</Button>
                </form>
              {/if}
            </div>
          </div>
        {/if}
      {/snippet}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  .pop {
    display: grid;
    gap: 10px;
    width: 340px;
    padding: 14px;
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    box-shadow: 0 8px 30px rgb(0 0 0 / 40%);
    z-index: 40;
  }
  form {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 8px;
  }
  input,
  select {
    min-width: 0;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--panel);
    padding: 6px 8px;
  }
</style>
