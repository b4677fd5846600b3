import { goto } from '$app/navigation';
import { page } from '$app/state';
import { untrack } from 'svelte';

interface Named {
  readonly id: string;
  readonly name?: string;
}

/** What was open last in each place (`/scenes?open`), so that coming back by the mast opens it again. */
const last = new Map<string, string>();
const named = new Map<string, string>();

/** What goes into the address next: what several ask for in one go becomes one step. */
let asked: { readonly url: URL; replace: boolean } | null = null;

/** Writes into the address of the page; null takes out. `replace` leaves no way back to what was there before. */
export function setAddress(entries: Readonly<Record<string, string | null>>, replace = false): void {
  if (!asked) {
    asked = { url: new URL(page.url), replace: true };
    queueMicrotask(() => {
      const { url, replace: replaceState } = asked!;
      asked = null;
      if (url.search !== page.url.search)
        void goto(url.pathname + url.search, { replaceState, keepFocus: true, noScroll: true });
    });
  }
  asked.replace &&= replace;
  for (const [key, value] of Object.entries(entries))
    if (value === null) asked.url.searchParams.delete(key);
    else asked.url.searchParams.set(key, value);
}

/** What a place opens when somebody goes there. */
export function openNext(path: string, id: string, key = 'open'): void {
  last.set(`${path}?${key}`, id);
}

/** Opens something in a place: at once where that is the page, else when somebody goes there. */
export function openIn(path: string, id: string, key = 'open'): void {
  openNext(path, id, key);
  if (page.url.pathname === path) setAddress({ [key]: id });
}

/**
 * What a person has open of a list, kept in the address of the page: a reload, the way back and a link lead to the same
 * place. What somebody removes meanwhile is told (`removed`), and nothing else takes its place. To be made while a
 * component is.
 */
export class Opened<T extends Named> {
  readonly #key: string;
  readonly #list: () => readonly T[];
  /** `first`: whether the first of the list is opened where nothing is yet. */
  constructor(key: string, list: () => readonly T[], first: () => boolean = () => true) {
    this.#key = key;
    this.#list = list;
    const { pathname } = page.url;
    const place = `${pathname}?${key}`;
    $effect(() => {
      const { id } = this;
      if (page.url.pathname !== pathname) return;
      const all = list();
      if (id !== null) {
        last.set(place, id);
        const name = this.record?.name;
        if (name !== undefined) named.set(id, name);
        return;
      }
      if (!first()) return;
      const kept = all.find((item) => item.id === last.get(place)) ?? all[0];
      if (kept) untrack(() => setAddress({ [key]: kept.id }, true));
    });
  }

  readonly id = $derived.by(() => page.url.searchParams.get(this.#key));
  readonly record: T | undefined = $derived.by(() => this.#list().find((item) => item.id === this.id));
  /** The name of what was open and is not there any more ('' where it is not known); null while all is well. */
  readonly removed: string | null = $derived.by(() =>
    this.id !== null && !this.record ? (named.get(this.id) ?? '') : null,
  );

  open(id: string): void {
    setAddress({ [this.#key]: id });
  }
}
