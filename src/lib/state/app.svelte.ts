import { getContext, setContext } from 'svelte';
import { toast } from 'svelte-sonner';
import { makeId, type AreaId, type Id, type LitId, type RecordKind, type UnitId } from '$core/ids.ts';
import { removalOf } from '$core/rules/removal.ts';
import type { EffectSpec } from '$core/records/effect.ts';
import { LiveClient } from '../live/client.svelte.ts';
import { SongsIn } from './music/songs-in.svelte.ts';
import { PageCode } from './music/page-code.svelte.ts';
import { PageEar } from './music/page-ear.svelte.ts';
import { SoundPlayer } from './music/player.svelte.ts';
import { Cells } from './plot/cells.svelte.ts';
import { AutoDesk } from './auto/auto-desk.svelte.ts';
import { Hand } from './scenes/hand.svelte.ts';
import { Rig } from './rig.svelte.ts';
import { Selection } from './selection.svelte.ts';
import { plural } from './words.ts';

const random = (): number => crypto.getRandomValues(new Uint32Array(1))[0]! / 2 ** 32;

/** What the whole interface shares: connection, show, selection, hand, and how the shell is folded. */
export class App {
  readonly live = new LiveClient();
  readonly rig = new Rig(this.live);
  readonly selection = new Selection();
  readonly hand = new Hand(this.live, this.rig, this.selection);
  readonly auto = new AutoDesk(this);
  readonly cells = new Cells(this);
  readonly songsIn = new SongsIn(this);
  #sound: SoundPlayer | null = null;
  /** The sound of songs in this page. */
  get sound(): SoundPlayer {
    return (this.#sound ??= new SoundPlayer(this.live));
  }
  #pageEar: PageEar | null = null;
  /** The microphone of this page, where it listens. */
  get pageEar(): PageEar {
    return (this.#pageEar ??= new PageEar(this.live, this.sound.key));
  }
  #pageCode: PageCode | null = null;
  /** Time code that comes in at this page. */
  get pageCode(): PageCode {
    return (this.#pageCode ??= new PageCode(this.live));
  }
  /** Units that the page shows, where it leaves some out (a filter, a folded layer); null where it shows all. */
  showing = $state.raw<(() => readonly UnitId[] | null) | null>(null);
  readonly shown = $derived(this.showing?.() ?? null);
  /** The selected units that are to be seen: what is changed from here changes these. */
  readonly acting = $derived.by((): readonly UnitId[] => {
    if (!this.shown) return this.selection.ids;
    const seen = new Set(this.shown);
    return this.selection.ids.filter((id) => seen.has(id));
  });
  /** Who is at this browser, for ticks: asked on the walk, kept in the browser. */
  personName = $state('');
  /** True while the next letter chooses a group. */
  groupKeys = $state(false);
  theme = $state<'dark' | 'light'>('dark');
  detailsOpen = $state(true);
  tailOpen = $state(true);
  /** More room for the hand than the few rows it mostly has. */
  tailTall = $state(false);
  /** Whoever uses this browser has seen what this is. */
  met = $state(true);
  finderOpen = $state(false);
  helpOpen = $state(false);
  /** The view of who sets the selection, and why. */
  whyOpen = $state(false);
  /** Units this page holds alight. */
  identifying = $state.raw<readonly LitId[]>([]);

  start(): void {
    this.live.tell = (kind, text, detail, action) => {
      const more = { description: detail, ...(action ? { action: { label: action.text, onClick: action.act } } : {}) };
      if (kind === 'error') toast.error(text, { ...more, duration: 8000 });
      else toast(text, action ? { ...more, duration: 10_000 } : more);
    };
    const kept = localStorage.getItem('amber-theme');
    this.setTheme(kept === 'light' ? 'light' : 'dark');
    this.personName = localStorage.getItem('amber-name') ?? '';
    // A phone has no room for everything at once: there both are folded until they are wanted.
    const roomy = window.innerWidth > 760;
    this.tailOpen = (localStorage.getItem('amber-tail') ?? (roomy ? 'open' : 'folded')) === 'open';
    this.detailsOpen = (localStorage.getItem('amber-details') ?? (roomy ? 'open' : 'folded')) === 'open';
    this.met = localStorage.getItem('amber-met') === 'yes';
    this.tailTall = localStorage.getItem('amber-tail-tall') === 'yes';
    this.live.connect();
  }

  setTheme(theme: 'dark' | 'light'): void {
    this.theme = theme;
    document.documentElement.dataset['theme'] = theme;
    localStorage.setItem('amber-theme', theme);
  }

  setPersonName(name: string): void {
    this.personName = name.trim().slice(0, 60);
    localStorage.setItem('amber-name', this.personName);
  }

  meet(): void {
    this.met = true;
    localStorage.setItem('amber-met', 'yes');
  }

  foldTail(): void {
    this.tailOpen = !this.tailOpen;
    localStorage.setItem('amber-tail', this.tailOpen ? 'open' : 'folded');
  }

  stretchTail(): void {
    this.tailTall = !this.tailTall;
    localStorage.setItem('amber-tail-tall', this.tailTall ? 'yes' : 'no');
  }

  foldDetails(): void {
    this.detailsOpen = !this.detailsOpen;
    localStorage.setItem('amber-details', this.detailsOpen ? 'open' : 'folded');
  }

  newId<K extends RecordKind>(kind: K): Id<K> {
    return makeId(kind, random);
  }

  /** Takes records out together with every mention of them. One undo brings all of it back. */
  remove(label: string, ids: Iterable<Id>): void {
    this.live.edit(label, removalOf(this.live.document, ids));
  }

  /** For a page that leaves units out: says which it shows for as long as it is open. Returns how to end it. */
  show(units: () => readonly UnitId[] | null): () => void {
    this.showing = units;
    return () => {
      if (this.showing === units) this.showing = null;
    };
  }

  /** All units that are to be seen. */
  selectAll(): void {
    this.selection.set(this.shown ?? this.rig.units.map((u) => u.id));
  }

  /** Removes the selected units that are to be seen; says how many, with an undo in reach. */
  removeUnits(): void {
    const { acting } = this;
    if (acting.length === 0) return;
    const name = acting.length === 1 ? this.rig.unit(acting[0]!)?.name : undefined;
    const label = `Remove ${name ?? plural(acting.length, 'unit')}`;
    if (!this.live.edit(label, removalOf(this.live.document, acting))) return;
    this.live.tell('note', `Removed ${name ?? plural(acting.length, 'unit')}`, undefined, {
      text: 'Undo',
      act: () => void this.live.undo(),
    });
  }

  #tweaks = new Map<string, EffectSpec>();
  /** Changes an effect that runs; dragging sends at most one change a frame. */
  tweak(playId: string, spec: EffectSpec): void {
    if (this.#tweaks.size === 0)
      requestAnimationFrame(() => {
        const all = [...this.#tweaks];
        this.#tweaks.clear();
        for (const [id, latest] of all) void this.live.command({ do: 'tweak', playId: id, spec: latest });
      });
    this.#tweaks.set(playId, spec);
  }

  /** Begins to try without sending, from what plays; leaving without sending is said in the bar. */
  toggleBlind(): void {
    if (this.live.blind) void this.live.endBlind('forget');
    else this.live.goBlind('playing');
  }

  /** The level of an area by itself, 0-1. */
  areaLevel(id: AreaId): number {
    return this.live.real?.areas[id] ?? 1;
  }

  identify(units: readonly LitId[]): void {
    if (units.length === 0 && this.identifying.length === 0) return;
    this.identifying = units;
    this.live.identify(units);
  }
}

const KEY = Symbol('app');
export const provideApp = (): App => setContext(KEY, new App());
export const getApp = (): App => getContext<App>(KEY);
