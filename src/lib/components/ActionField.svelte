<script lang="ts">
  import type { Action, LevelOf } from '$core/records/action.ts';
  import { FIXTURE_KINDS, MOODS } from '$core/records/profile.ts';
  import type { TargetId } from '$core/show/index.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import { ACTION_WORDS, LEVEL_WORDS } from './action-words.ts';
  import Check from './Check.svelte';
  import Choice from './Choice.svelte';

  /** What a slot, a key or a cue does: one choice, and of what. `of` says whose action it is, for readers of screens. */
  interface Props {
    action: Action;
    of: string;
    change: (action: Action) => void;
  }
  let { action, of, change }: Props = $props();
  const app = getApp();
  const { rig } = app;
  const targets = $derived(rig.playables.map((p) => ({ value: p.id as TargetId, text: p.name })));
  const songs = $derived(rig.songs.map(({ id, name }) => ({ value: id, text: name })));
  const lists = $derived(rig.setlists.map(({ id, name }) => ({ value: id, text: name })));
  type Do = Action['do'];
  const NEEDS_TARGET: readonly Do[] = ['play', 'toggle', 'flash', 'go', 'release'];

  /** Whose level it may be, with the things there are. */
  const levels = $derived<Readonly<Record<LevelOf['what'], readonly { value: string; text: string }[]>>>({
    grand: [],
    area: rig.areas.map((a) => ({ value: a.id, text: a.name })),
    group: rig.groups.map((g) => ({ value: g.id, text: g.name })),
    kind: FIXTURE_KINDS.map((k) => ({ value: k, text: KIND_WORDS[k] })),
    unit: rig.units.map((u) => ({ value: u.id, text: `${u.number} ${u.name}` })),
  });
  function levelOf(what: LevelOf['what'], which = levels[what][0]?.value): LevelOf | null {
    if (what === 'grand') return { what };
    if (which === undefined) return null;
    return (what === 'kind' ? { what, kind: which } : { what, id: which }) as LevelOf;
  }

  /** The plainest action of a kind; null where there is nothing it could be done to. */
  function actionOf(kind: Do): Action | null {
    if (NEEDS_TARGET.includes(kind)) {
      const target = 'target' in action ? action.target : targets[0]?.value;
      if (target === undefined) return null;
      return kind === 'play' ? { do: 'play', target, held: true } : ({ do: kind, target } as Action);
    }
    if (kind === 'level') return { do: 'level', of: { what: 'grand' } };
    if (kind === 'song') return songs[0] ? { do: 'song', songId: songs[0].value } : null;
    if (kind === 'songList') return lists[0] ? { do: 'songList', listId: lists[0].value } : null;
    if (kind === 'mood') return { do: 'mood', mood: 'calm' };
    if (kind === 'nudge') return { do: 'nudge', beats: 0.05 };
    return { do: kind } as Action;
  }
  const offered = $derived(
    (Object.keys(ACTION_WORDS) as Do[]).filter(
      (kind) =>
        (!NEEDS_TARGET.includes(kind) || targets.length > 0) &&
        (kind !== 'song' || songs.length > 0) &&
        (kind !== 'songList' || lists.length > 0),
    ),
  );
</script>

<div class="action">
  <Choice
    hideLabel
    label="What {of} works"
    value={action.do}
    options={offered.map((value) => ({ value, text: ACTION_WORDS[value] }))}
    choose={(kind) => {
      const next = actionOf(kind);
      if (next) change(next);
    }}
  />
  {#if 'target' in action}
    <Choice
      hideLabel
      label="What plays by {of}"
      value={action.target}
      options={targets}
      choose={(target) => change({ ...action, target })}
    />
    {#if action.do === 'play'}
      <Check
        label="let go again under half"
        checked={action.held ?? false}
        change={(held) => change({ ...action, held })}
      />
    {:else if action.do === 'go'}
      <Check label="backwards" checked={action.back ?? false} change={(back) => change({ ...action, back })} />
    {/if}
  {:else if action.do === 'level'}
    <Choice
      hideLabel
      label="Whose level {of} is"
      value={action.of.what}
      options={(Object.keys(LEVEL_WORDS) as LevelOf['what'][])
        .filter((what) => what === 'grand' || levels[what].length > 0)
        .map((value) => ({ value, text: LEVEL_WORDS[value] }))}
      choose={(what) => {
        const next = levelOf(what);
        if (next) change({ ...action, of: next });
      }}
    />
    {#if action.of.what !== 'grand'}
      <Choice
        hideLabel
        label="Which of them {of} is"
        value={action.of.what === 'kind' ? (action.of.kind as string) : action.of.id}
        options={levels[action.of.what]}
        choose={(which) => {
          const next = levelOf(action.of.what, which);
          if (next) change({ ...action, of: next });
        }}
      />
    {/if}
  {:else if action.do === 'song'}
    <Choice
      hideLabel
      label="Song of {of}"
      value={action.songId}
      options={songs}
      choose={(songId) => change({ do: 'song', songId })}
    />
  {:else if action.do === 'songList'}
    <Choice
      hideLabel
      label="List of {of}"
      value={action.listId}
      options={lists}
      choose={(listId) => change({ do: 'songList', listId })}
    />
  {:else if action.do === 'mood'}
    <Choice
      hideLabel
      label="Mood of {of}"
      value={action.mood ?? 'none'}
      options={[...MOODS.map((value) => ({ value: value as string, text: value })), { value: 'none', text: 'none' }]}
      choose={(mood) => change({ ...action, mood: mood === 'none' ? null : (mood as (typeof MOODS)[number]) })}
    />
  {:else if action.do === 'nudge'}
    <Choice
      hideLabel
      label="Which way {of} nudges"
      value={action.beats > 0 ? 'later' : 'earlier'}
      options={[
        { value: 'later', text: 'a little later' },
        { value: 'earlier', text: 'a little earlier' },
      ]}
      choose={(way) => change({ ...action, beats: way === 'later' ? 0.05 : -0.05 })}
    />
  {/if}
</div>

<style>
  .action {
    display: grid;
    gap: 4px;
    min-width: 0;
  }
</style>
