import { ideasFor } from '$core/auto/own.ts';
import type { Idea } from '$core/auto/ideas.ts';
import { askedOf, isDark, NOTHING_ASKED, troupeOf, type Asked, type Phrase, type Troupe } from '$core/auto/plan.ts';
import { guessRoles, playedIn } from '$core/auto/roles.ts';
import { SongShow } from '$core/auto/song-show.ts';
import { getRecord } from '$core/document/change.ts';
import type { GroupId, VariantId } from '$core/ids.ts';
import { make } from '$core/records/index.ts';
import type { Mood } from '$core/records/profile.ts';
import type { SongRecord } from '$core/records/song.ts';
import type { PlayedRole, Role, VariantRecord, VariantSlot } from '$core/records/variant.ts';
import { nextNumber } from '$core/naming.ts';
import type { Auto } from '$core/show/live/state.ts';
import type { App } from '../app.svelte.ts';

/** Light that runs by itself, as people see it and teach it. */
export class AutoDesk {
  readonly #app: App;

  constructor(app: App) {
    this.#app = app;
  }

  /** What is asked of it, whether it runs or not; null where nothing ever was. */
  readonly auto = $derived.by<Auto | null>(() => this.#app.live.real?.auto ?? null);
  readonly on = $derived(this.auto?.on ?? false);
  readonly #askedText = $derived.by(() => JSON.stringify(askedOf(this.auto ?? NOTHING_ASKED)));
  /** The same for as long as nothing else is asked for. */
  readonly asked = $derived(JSON.parse(this.#askedText) as Asked);
  readonly variant = $derived.by(() =>
    this.asked.variantId ? (getRecord(this.#app.live.document, 'variant', this.asked.variantId) ?? null) : null,
  );
  readonly troupe = $derived.by<Troupe>(() => troupeOf(this.#app.live.document, this.asked));
  readonly guesses = $derived.by(() => guessRoles(this.#app.live.document));
  /** Roles that something of the rig has. */
  readonly roles = $derived(playedIn(this.troupe.places));

  ideas(role: PlayedRole): readonly Idea[] {
    return ideasFor(this.#app.live.document, role, this.troupe.places[0]!.roles);
  }
  /** Whether an idea may play in a mood. */
  may = (mood: Mood, role: PlayedRole, idea: Idea): boolean => this.troupe.taste.lets(mood, role, idea);

  /** The plan that a song gets. */
  showOf(song: SongRecord): SongShow {
    return new SongShow(this.#app.live.document, song, this.asked);
  }

  /** A moment of a plan that is looked at here; null for none. */
  looking = $state.raw<{ readonly song: SongRecord; readonly show: SongShow; readonly at: number } | null>(null);
  look(song: SongRecord, show: SongShow, at: number): void {
    this.looking = { song, show, at };
    this.#app.live.lookAt({ live: show.at(at), ms: at * 1000 });
  }
  lookNoMore(): void {
    this.looking = null;
    this.#app.live.lookAt(null);
  }

  /** Colours, ideas and why of a phrase that goes on. */
  get now(): Auto['now'] {
    return this.auto?.now ?? null;
  }

  choose(variantId: VariantId | null): void {
    void this.#app.live.command({ do: 'autoVariant', variantId });
  }

  /** Changes the way of Auto that is chosen; the first change makes one, which is chosen then. */
  teach(label: string, change: (variant: VariantRecord) => VariantRecord): void {
    const { live } = this.#app;
    const own = this.variant;
    const variant = own ?? this.#made('As it is taught');
    live.edit(label, { put: [change(variant)], remove: [] });
    if (!own) this.choose(variant.id as VariantId);
  }
  /** The same way of Auto (or what it does by itself) under another name. */
  keepAs(name: string): void {
    const { id, number } = this.#made(name);
    const variant = this.variant ? { ...this.variant, id, number, name } : this.#made(name, id as VariantId);
    this.#app.live.edit(`Keep ${name}`.slice(0, 120), { put: [variant], remove: [] });
    this.choose(variant.id as VariantId);
  }
  #made(name: string, id: VariantId = this.#app.newId('variant')): VariantRecord {
    return make('variant', { id, number: nextNumber(this.#app.rig.variants), name });
  }
  remove(): void {
    const { variant } = this;
    if (variant) this.#app.live.edit(`Remove ${variant.name}`.slice(0, 120), { put: [], remove: [variant.id] });
  }

  slot = (mood: Mood, role: PlayedRole): VariantSlot => this.troupe.taste.slot(mood, role);
  setSlot(label: string, mood: Mood, role: PlayedRole, fields: Partial<VariantSlot>): void {
    this.teach(label, (variant) => {
      const own = variant.moods[mood] ?? { bars: null, roles: {} };
      const roles = { ...own.roles, [role]: { ...this.slot(mood, role), ...fields } };
      return { ...variant, moods: { ...variant.moods, [mood]: { ...own, roles } } };
    });
  }
  setBars(mood: Mood, bars: number | null): void {
    this.teach(`Bars of ${mood}`, (variant) => {
      const own = variant.moods[mood] ?? { bars: null, roles: {} };
      return { ...variant, moods: { ...variant.moods, [mood]: { ...own, bars } } };
    });
  }
  /** An idea may play in a mood, or may not any more. */
  allow(mood: Mood, role: PlayedRole, { key, name, moods }: Pick<Idea, 'key' | 'name' | 'moods'>, on: boolean): void {
    const { also, never } = this.slot(mood, role);
    const without = (keys: readonly string[]): string[] => keys.filter((k) => k !== key);
    this.setSlot(`${name}: ${on ? 'may' : 'may not'} play, ${mood}`.slice(0, 120), mood, role, {
      never: on ? without(never) : [...without(never), key],
      also: on && !moods.includes(mood) ? [...without(also), key] : without(also),
    });
  }
  /** What plays now is not to come again in this mood. */
  notAgain(mood: Mood, role: PlayedRole, key: string): void {
    const idea = this.ideas(role).find((known) => known.key === key);
    if (idea) this.allow(mood, role, idea, false);
  }

  /** What the units of a group do; null: as each is guessed. */
  setRole(groupId: GroupId, role: Role | null): void {
    const group = getRecord(this.#app.live.document, 'group', groupId);
    if (group) this.#app.live.edit(`Role of ${group.name}`.slice(0, 120), { put: [{ ...group, role }], remove: [] });
  }
}

/** Stretches of a plan with the same section, for people: one column each. */
export function columnsOf(
  plan: readonly Phrase[],
): { readonly name: string; readonly from: number; readonly to: number; readonly mood: Mood }[] {
  const found: { name: string; from: number; to: number; mood: Mood }[] = [];
  for (const phrase of plan) {
    const { from, to, mood, moment } = phrase;
    const last = found.at(-1);
    if (last && (isDark(phrase) || (last.name === moment.section.name && moment.k > 0))) last.to = to;
    else found.push({ name: moment.section.name, from, to, mood });
  }
  return found;
}
