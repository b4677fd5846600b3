<script lang="ts">
  import { toast } from 'svelte-sonner';
  import { nextNumber } from '$core/naming.ts';
  import { make, type SceneRecord } from '$core/records/index.ts';
  import { carryValues, clipScenes, mergedScenes, mirrorValues } from '$core/show/reuse.ts';
  import type { LitId } from '$core/ids.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { openIn } from '$lib/state/opened.svelte.ts';
  import { keepClip } from '$lib/state/scenes/scene-clip.ts';
  import { plural } from '$lib/state/words.ts';
  import Button from '../Button.svelte';
  import Choice from '../Choice.svelte';
  import Pop from '../Pop.svelte';

  /** A scene used again: for another group, left and right changed, with another scene in it, in another show. */
  let { scene }: { scene: SceneRecord } = $props();
  const app = getApp();
  let from = $state<string | null>(null);
  let to = $state<string | null>(null);
  let other = $state<string | null>(null);
  const groups = $derived(
    app.rig.groups.map((g) => ({ value: g.id as string, text: `${g.name} (${app.rig.membersOf(g.id).length})` })),
  );
  /** The group most of the scene is about. */
  const guessed = $derived(
    app.rig.groups
      .map((g) => ({
        id: g.id as string,
        hits: app.rig.membersOf(g.id).filter((id) => scene.values[id]).length / (app.rig.membersOf(g.id).length || 1),
      }))
      .sort((a, b) => b.hits - a.hits)
      .find((g) => g.hits > 0)?.id ?? null,
  );

  function addScene(name: string, values: SceneRecord['values'], note = ''): void {
    const number = nextNumber(app.rig.scenes);
    const copy = make('scene', { ...scene, id: app.newId('scene'), number, name: name.slice(0, 100), values });
    if (!app.live.edit(`New scene ${copy.name}`, { put: [copy], remove: [] })) return;
    openIn('/scenes', copy.id);
    toast(`New scene ${copy.name}`, { description: note || undefined });
  }
  function carry(close: () => void): void {
    const source = from ?? guessed;
    if (!source || !to) return;
    const target = app.rig.groups.find((g) => g.id === to)!;
    const { values, lost } = carryValues(
      app.live.document,
      scene.values as Record<LitId, never>,
      app.rig.membersOf(source),
      app.rig.membersOf(to),
    );
    const note = lost.length > 0 ? `Nobody there has ${lost.slice(0, 4).join(', ')}.` : '';
    addScene(`${scene.name} on ${target.name}`, values, note);
    close();
  }
  function mirror(close: () => void): void {
    const { values, alone } = mirrorValues(app.live.document, scene.values as Record<LitId, never>);
    const note =
      alone.length > 0 ? `${plural(alone.length, 'unit')} without a partner on the other side kept their values.` : '';
    addScene(`${scene.name} mirrored`, values, note);
    close();
  }
  function merge(close: () => void): void {
    const second = app.rig.scenes.find((s) => s.id === other);
    if (!second) return;
    addScene(`${scene.name} and ${second.name}`, mergedScenes(scene, second));
    close();
  }
  function clip(close: () => void): void {
    keepClip(clipScenes(app.live.document, [scene]));
    toast(`${scene.name} can be pasted in another show`, { description: 'Open that show, then Paste under Scenes.' });
    close();
  }
</script>

<Pop label="Use again" side="bottom" width={320}>
  {#snippet button(props)}<Button {...props}>Use again…</Button>{/snippet}
  {#snippet children(close)}
    <h2>For another group</h2>
    <div class="pair">
      <Choice label="From" value={from ?? guessed} options={groups} choose={(v) => (from = v)} />
      <Choice label="To" value={to} options={groups} choose={(v) => (to = v)} />
    </div>
    <Button disabled={!to || !(from ?? guessed)} onclick={() => carry(close)}>Copy: order and spread go along</Button>
    <h2>Left and right changed</h2>
    <Button disabled={Object.keys(scene.values).length === 0} onclick={() => mirror(close)}>New mirrored scene</Button>
    <h2>With another scene in it</h2>
    <Choice
      hideLabel
      label="Other scene"
      value={other}
      options={app.rig.scenes.filter((s) => s.id !== scene.id).map((s) => ({ value: s.id as string, text: s.name }))}
      choose={(v) => (other = v)}
    />
    <Button disabled={!other} onclick={() => merge(close)}>New scene of both</Button>
    <h2>In another show</h2>
    <Button onclick={() => clip(close)}>Copy for another show</Button>
  {/snippet}
</Pop>

<style>
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
  }
  h2 {
    font-size: 13px;
  }
</style>
