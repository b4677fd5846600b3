import { goto } from '$app/navigation';
import type { ProfileId } from '$core/ids.ts';
import { FIRST } from '$core/profile/write.ts';
import { builtInProfiles } from '$core/profile/library.ts';
import { propProfiles, searchForms } from '$core/prop/catalogue.ts';
import { indexProfiles, searchProfiles } from '$core/profile/search.ts';
import { make, type ProfileRecord } from '$core/records/index.ts';
import type { FixtureKind } from '$core/records/profile.ts';
import type { App } from '../app.svelte.ts';
import { KIND_WORDS } from '../kinds.ts';
import { openNext } from '../opened.svelte.ts';

const LIBRARY = builtInProfiles();
const LIBRARY_IDS = new Set(LIBRARY.map((p) => p.id));
const RECENT = 12;

/** What came of bringing a file in. */
export interface ImportReport {
  readonly file: string;
  /** Why nothing was imported; null where something was. */
  readonly failed: string | null;
  /** What was imported, in words. */
  readonly said: string;
  readonly faults: readonly string[];
  readonly notKept: readonly string[];
}

/** The profiles a person can choose from: those of the show, and the library that ships with the program. */
export class Kit {
  readonly #app: App;
  query = $state('');
  fixtureKind = $state<FixtureKind | 'all'>('all');
  maker = $state('all');
  report = $state.raw<ImportReport | null>(null);
  only = $state<'all' | 'favourites' | 'used' | 'own'>('all');

  constructor(app: App) {
    this.#app = app;
  }

  readonly profiles = $derived.by(() => {
    const own = this.#app.rig.profiles;
    const ids = new Set(own.map((p) => p.id));
    return [...own, ...LIBRARY.filter((p) => !ids.has(p.id))].sort(
      (a, b) => a.maker.localeCompare(b.maker) || a.model.localeCompare(b.model, undefined, { numeric: true }),
    );
  });
  readonly #byId = $derived(new Map<string, ProfileRecord>(this.profiles.map((p) => [p.id, p])));
  readonly #index = $derived(indexProfiles(this.profiles, (kind) => KIND_WORDS[kind]));
  readonly makers = $derived([...new Set(this.profiles.map((p) => p.maker))]);
  readonly kinds = $derived([...new Set(this.profiles.map((p) => p.fixtureKind))]);

  /** How many units of each profile are in the rig. */
  readonly used = $derived.by(() => {
    const counts = new Map<string, number>();
    for (const unit of this.#app.rig.units) counts.set(unit.profileId, (counts.get(unit.profileId) ?? 0) + 1);
    return counts;
  });
  readonly favourites = $derived.by(() => new Set<string>(this.#app.rig.show?.favourites ?? []));
  readonly recent = $derived.by(() =>
    (this.#app.rig.show?.recent ?? []).flatMap((id) => this.#byId.get(id) ?? []).slice(0, 5),
  );
  readonly filtered = $derived(this.fixtureKind !== 'all' || this.maker !== 'all' || this.only !== 'all');
  /** Kinds of props that match: they stand beside the profiles, so that nobody has to know what they are made of. */
  readonly forms = $derived.by(() =>
    this.maker === 'all' && this.only === 'all' && ['all', 'strip', 'matrix'].includes(this.fixtureKind)
      ? searchForms(this.query)
      : [],
  );
  /** What props can be made of: plain pixels first, then what the show has. */
  readonly propProfiles = $derived.by(() => {
    const plain = (p: ProfileRecord): number => (p.id.startsWith('profile:generic-prop') ? 0 : 1);
    return propProfiles(this.profiles)
      .filter((p) => plain(p) === 0 || this.#app.rig.profile(p.id))
      .sort((a, b) => plain(a) - plain(b));
  });
  readonly found = $derived(searchProfiles(this.#index, this.query).filter((p) => this.#passes(p)));

  #passes(profile: ProfileRecord): boolean {
    if (this.fixtureKind !== 'all' && profile.fixtureKind !== this.fixtureKind) return false;
    if (this.maker !== 'all' && profile.maker !== this.maker) return false;
    if (this.only === 'favourites') return this.favourites.has(profile.id);
    if (this.only === 'used') return this.used.has(profile.id);
    return this.only === 'all' || !isLibrary(profile);
  }

  get(id: string | null): ProfileRecord | undefined {
    return id === null ? undefined : this.#byId.get(id);
  }

  toggleFavourite(profile: ProfileRecord): void {
    const { show } = this.#app.rig;
    if (!show) return;
    const marked = show.favourites.includes(profile.id);
    const favourites = marked ? show.favourites.filter((id) => id !== profile.id) : [...show.favourites, profile.id];
    this.#app.live.edit(`${marked ? 'No favourite any more' : 'Favourite'}: ${profile.model}`, {
      put: [{ ...show, favourites }],
      remove: [],
    });
  }

  /** Records that must go along when units of a profile are added: the profile itself, and that it was used lately. */
  recordsFor(profile: ProfileRecord): (ProfileRecord | NonNullable<App['rig']['show']>)[] {
    const { show } = this.#app.rig;
    const recent: ProfileId[] = [profile.id, ...(show?.recent ?? []).filter((id) => id !== profile.id)].slice(
      0,
      RECENT,
    );
    return [...(show ? [{ ...show, recent }] : []), ...(this.#app.rig.profile(profile.id) ? [] : [profile])];
  }

  /** A newer revision of a profile of this show that the library has, if any. */
  newer(profile: ProfileRecord): ProfileRecord | undefined {
    const shipped = LIBRARY.find((p) => p.id === profile.id);
    return shipped && shipped.revision > profile.revision ? shipped : undefined;
  }
}

/** True for a profile that ships with the program: it is changed only as a copy. */
export const isLibrary = (profile: { readonly id: string }): boolean => LIBRARY_IDS.has(profile.id as ProfileId);

export function openEditor(id: string): void {
  openNext('/kit', id);
  void goto(`/kit/edit?id=${encodeURIComponent(id)}`);
}

/** A new profile, the smallest that is sound, opened for writing: its one channel goes with the first that is written. */
export function createProfile(app: App): void {
  const fresh = make('profile', {
    id: app.newId('profile'),
    maker: 'Unknown maker',
    model: 'New fixture',
    fixtureKind: 'other',
    channels: [FIRST],
    modes: [{ key: 'Mode1', name: 'Mode 1', slots: [{ channel: FIRST.key }] }],
  });
  if (app.live.edit('New profile', { put: [fresh], remove: [] })) openEditor(fresh.id);
}
