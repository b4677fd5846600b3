<script lang="ts">
  import type { LitId } from '$core/ids.ts';
  import { nextNumber } from '$core/naming.ts';
  import { make } from '$core/records/index.ts';
  import { clipModels, matchClip, pasteClip, type SceneClip } from '$core/show/reuse.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { keptClip } from '$lib/state/scenes/scene-clip.ts';
  import { plural } from '$lib/state/words.ts';
  import ClipboardPaste from '@lucide/svelte/icons/clipboard-paste';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Pop from '../Pop.svelte';

  /** Scenes that were copied in another show: which units here take what those of the other show did. */
  const app = getApp();
  const ALIKE = 'alike';
  const NOBODY = 'nobody';
  const SELECTED = 'selected';
  let clip = $state.raw<SceneClip | null>(null);
  let fault = $state<string | null>(null);
  /** By model: those like it, nobody, the selection, or a group. */
  let chosen = $state<Record<string, string>>({});
  const names = $derived(clip?.scenes.map((s) => s.name).join(', ') ?? '');
  const matched = $derived(clip ? matchClip(app.live.document, clip).to : new Map<LitId, LitId>());
  const rows = $derived(
    (clip ? clipModels(clip) : []).map(({ model, units }) => {
      const alike = units.filter((u) => matched.has(u.id)).length;
      return { model, count: units.length, alike, choice: chosen[model] ?? (alike > 0 ? ALIKE : '') };
    }),
  );
  const undecided = $derived(rows.filter((r) => r.choice === ''));
  const whom = (choice: string): readonly LitId[] =>
    choice === SELECTED
      ? app.selection.lit
      : choice === NOBODY
        ? []
        : app.rig.membersOf(choice as (typeof app.rig.groups)[number]['id']);
  function paste(close: () => void): void {
    if (!clip) return;
    const given = new Map(rows.filter((r) => r.choice !== ALIKE).map((r) => [r.model, whom(r.choice)] as const));
    const { scenes, lost } = pasteClip(app.live.document, clip, given);
    const first = nextNumber(app.rig.scenes);
    const put = scenes.map((scene, i) => make('scene', { ...scene, id: app.newId('scene'), number: first + i }));
    if (!app.live.edit(`Paste ${names}`.slice(0, 120), { put, remove: [] })) return;
    if (put[0]) openIn('/scenes', put[0].id);
    app.live.tell(
      'note',
      `Pasted ${names}`,
      lost.length > 0 ? `Nobody here takes ${lost.slice(0, 5).join(', ')}.` : undefined,
    );
    close();
  }
</script>

<Pop
  label="Paste scenes of another show"
  side="bottom"
  width={360}
  opened={() => {
    ({ clip, fault } = keptClip());
    chosen = {};
  }}
>
  {#snippet button(props)}
    <Button {...props} title="Scenes copied in another show"><ClipboardPaste size={16} /> Paste…</Button>
  {/snippet}
  {#snippet children(close)}
    {#if !clip}
      <h2>Nothing to paste</h2>
      {#if fault}<p>{fault}</p>{/if}
      <p class="quiet">Open the other show, and a scene there: <i>Use again…</i>, <i>Copy for another show</i>.</p>
    {:else}
      <h2>{names}</h2>
      {#each rows as { model, count, alike, choice } (model)}
        <Choice
          label="{count} × {model || 'a profile that is gone'}"
          value={choice}
          options={[
            ...(choice === '' ? [{ value: '', text: 'choose who takes it' }] : []),
            ...(alike > 0 ? [{ value: ALIKE, text: `those like it here: ${alike} of ${count}` }] : []),
            ...(app.selection.lit.length > 0
              ? [{ value: SELECTED, text: `the selection (${app.selection.lit.length})` }]
              : []),
            ...app.rig.groups.map((g) => ({
              value: g.id as string,
              text: `${g.name} (${app.rig.membersOf(g.id).length})`,
            })),
            { value: NOBODY, text: 'nobody: leave it out' },
          ]}
          choose={(to) => (chosen = { ...chosen, [model]: to })}
        />
      {/each}
      {#if undecided.length > 0}<p class="quiet">
          Nobody here is like {undecided.map((r) => r.model).join(', ')}: choose a group, or leave it out.
        </p>{/if}
      <Button kind="main" disabled={undecided.length > 0} onclick={() => paste(close)}
        >Paste {plural(clip.scenes.length, 'scene')}</Button
      >
    {/if}
  {/snippet}
</Pop>

<style>
  h2 {
    font-size: 14px;
  }
</style>
