<script lang="ts">
  import { membersOf } from '$core/patch/groups.ts';
  import { getRecord } from '$core/document/change.ts';
  import type { ReachId } from '$core/records/effect.ts';
  import { specOf, type EffectSpec } from '$core/records/effect.ts';
  import type { EffectRecord } from '$core/records/index.ts';
  import { reached } from '$core/patch/groups.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import X from '@lucide/svelte/icons/x';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Mark from '../Mark.svelte';
  import EffectControls from '../effects/EffectControls.svelte';

  /** An effect of the show: what it plays on, and everything it does. While it plays every change is seen at once. */
  let { record }: { record: EffectRecord } = $props();
  const app = getApp();
  const put = (label: string, fields: Partial<EffectRecord>): boolean =>
    app.live.edit(`${label} of ${record.name}`, { put: [{ ...record, ...fields }], remove: [] });

  /** While a slider is dragged the change is only tried; it is kept when the hand rests. */
  let draft = $state.raw<EffectSpec | null>(null);
  let timer: ReturnType<typeof setTimeout> | undefined;
  const spec = $derived(draft ?? specOf(record));
  const playing = $derived(app.live.live?.playing.find((p) => p.target === record.id && p.releasedAt === null));
  const REST_MS = 350;
  function change(next: EffectSpec): void {
    draft = next;
    if (playing) app.tweak(playing.id, next);
    clearTimeout(timer);
    timer = setTimeout(() => {
      if (!draft) return;
      const kept = draft;
      draft = null;
      put('Parameters', kept);
    }, REST_MS);
  }
  $effect(() => () => {
    clearTimeout(timer);
    if (draft) put('Parameters', draft);
  });
  const on = $derived(reached(app.live.document, record.on));
  const nameOf = (id: ReachId): string => {
    const record = app.live.document.get(id);
    const count = record?.kind === 'group' ? ` (${membersOf(app.live.document, record).length})` : '';
    const unit = record?.kind === 'part' ? getRecord(app.live.document, 'unit', record.unitId)?.name : '';
    return record && 'name' in record ? `${unit ? `${unit}: ` : ''}${record.name}${count}` : id;
  };
  const others = $derived([
    ...app.rig.groups.map((g) => ({ value: g.id as string, text: `Group ${g.name}` })),
    ...app.rig.areas.map((a) => ({ value: a.id as string, text: `Area ${a.name}` })),
  ]);
  const MOST_SHOWN = 12;
</script>

<div class="editor">
  <section class="on" aria-label="Plays on">
    <h3>Plays on {plural(on.length, 'unit')}</h3>
    {#if record.on.length === 0}
      <p class="look"><Mark kind="look" /> Nobody yet: select units and take them, or add a group or an area.</p>
    {/if}
    <div class="chips">
      {#each record.on.slice(0, MOST_SHOWN) as id (id)}
        <span class="chip"
          >{nameOf(id)}<button
            type="button"
            aria-label="Take {nameOf(id)} out"
            onclick={() => put('Units', { on: record.on.filter((other) => other !== id) })}><X size={12} /></button
          ></span
        >
      {/each}
      {#if record.on.length > MOST_SHOWN}<span class="quiet">and {record.on.length - MOST_SHOWN} more</span>{/if}
    </div>
    <div class="acts">
      <Button disabled={app.selection.lit.length === 0} onclick={() => put('Units', { on: [...app.selection.lit] })}
        >Take the selection ({app.selection.lit.length})</Button
      >
      <Button
        disabled={app.selection.lit.every((id) => record.on.includes(id))}
        onclick={() => put('Units', { on: [...new Set([...record.on, ...app.selection.lit])] })}
        >Add the selection</Button
      >
      <Choice
        hideLabel
        label="Add a group or an area"
        placeholder="Add a group or area…"
        value={null}
        options={others}
        choose={(v) => put('Units', { on: [...new Set([...record.on, v as ReachId])] })}
      />
      <Button disabled={on.length === 0} onclick={() => app.selection.setLit(on)}>Select them</Button>
    </div>
  </section>
  <EffectControls {spec} {change} />
</div>

<style>
  .editor {
    padding: 8px 16px 24px;
    overflow: auto;
    flex: 1;
    display: flex;
    flex-direction: column;
    gap: 12px;
    min-width: 0;
  }
  .on {
    display: grid;
    gap: 6px;
  }
  .chips,
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
  }
  .chip {
    display: inline-flex;
    align-items: center;
    gap: 4px;
    padding: 2px 4px 2px 10px;
    border: 1px solid var(--line);
    border-radius: 13px;
    background: var(--raised);
    font-size: 12.5px;
  }
  .chip button {
    display: grid;
    place-items: center;
    width: 24px;
    height: 22px;
    border: 0;
    background: none;
    color: var(--quiet);
  }
  .look {
    display: flex;
    gap: 6px;
    align-items: center;
  }
</style>
