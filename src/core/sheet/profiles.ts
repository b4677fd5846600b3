import { bad, good, shorten, type Result } from '../faults.ts';
import { footprintOf } from '../profile/layout.ts';
import { indexProfiles, searchProfiles, searchWords, type ProfileIndex } from '../profile/search.ts';
import type { ProfileRecord } from '../records/index.ts';
import type { Mode } from '../records/profile.ts';

/** Finds profiles and modes by what people write of them in a sheet. */
export class ProfileFinder {
  readonly #exact = new Map<string, ProfileRecord[]>();
  readonly #profiles: readonly ProfileRecord[];
  #index: ProfileIndex | null = null;

  /** The first of two profiles with the same id counts: give the show's own before the library's. */
  constructor(profiles: readonly ProfileRecord[]) {
    const byId = new Map<string, ProfileRecord>();
    for (const profile of profiles) if (!byId.has(profile.id)) byId.set(profile.id, profile);
    this.#profiles = [...byId.values()];
    for (const profile of this.#profiles) {
      for (const name of [`${profile.maker} ${profile.model}`, profile.model]) {
        const key = searchWords(name).join(' ');
        const list = this.#exact.get(key);
        if (!list) this.#exact.set(key, [profile]);
        else if (!list.includes(profile)) list.push(profile);
      }
    }
  }

  /** The profile of that name: `Maker Model`, or the model alone where only one maker has it. */
  find(text: string): Result<ProfileRecord> {
    const found = this.#exact.get(searchWords(text).join(' ')) ?? [];
    if (found.length === 1) return good(found[0]!);
    const offers = found.length > 1 ? found : this.offers(text);
    const names = offers.slice(0, 5).map((p) => `${p.maker} ${p.model}`);
    return bad({
      code: 'UNKNOWN_PROFILE',
      path: 'profile',
      message:
        found.length > 1
          ? `several makers have a “${String(shorten(text))}”`
          : `there is no profile “${String(shorten(text))}”`,
      received: shorten(text),
      remedy: names.length > 0 ? `Did you mean: ${names.join('; ')}?` : 'Write the profile in the Kit, or import it.',
    });
  }

  /** Profiles it might be, best first: those that have most of its words, at the beginning of theirs. */
  offers(text: string): ProfileRecord[] {
    const words = searchWords(text.slice(0, 200)).slice(0, 8);
    if (words.length === 0) return [];
    this.#index ??= indexProfiles(this.#profiles, (kind) => kind);
    const index = this.#index;
    const all = searchProfiles(index, words.join(' '));
    if (all.length > 0) return all.slice(0, 5);
    const hits = new Map<ProfileRecord, number>();
    for (const word of words)
      for (const start of new Set([word, word.slice(0, Math.max(3, word.length - 2))]))
        for (const profile of searchProfiles(index, start)) {
          const named = searchWords(`${profile.maker} ${profile.model}`).some((w) => w.startsWith(start));
          hits.set(profile, (hits.get(profile) ?? 0) + (named ? 2 : 0.1));
        }
    return [...hits]
      .filter(([, score]) => score >= 2)
      .sort((a, b) => b[1] - a[1])
      .slice(0, 5)
      .map(([profile]) => profile);
  }
}

/** A mode by its name, its key, or its number of channels (`14`, `14ch`, `14 channel`); the only one where nothing is said. */
export function findModeByText(profile: ProfileRecord, text: string): Result<Mode> {
  const wanted = searchWords(text).join(' ');
  if (wanted === '' && profile.modes.length === 1) return good(profile.modes[0]!);
  const named = profile.modes.filter((m) => searchWords(m.name).join(' ') === wanted || m.key.toLowerCase() === wanted);
  const count = /^(\d{1,5})( ?ch| ?channels?| ?slots?)?$/.exec(wanted)?.[1];
  const sized = count === undefined ? [] : profile.modes.filter((m) => footprintOf(m) === Number(count));
  const found = named.length > 0 ? named : sized;
  if (found.length === 1) return good(found[0]!);
  const names = profile.modes.slice(0, 8).map((m) => `${m.name} (${footprintOf(m)} ch)`);
  return bad({
    code: wanted === '' ? 'MODE_MISSING' : 'UNKNOWN_MODE',
    path: 'mode',
    message:
      wanted === ''
        ? `${profile.model} has several modes and none is named`
        : `${profile.model} has no mode “${String(shorten(text))}”`,
    received: shorten(text),
    remedy: `Give one of: ${names.join(', ')}.`,
  });
}
