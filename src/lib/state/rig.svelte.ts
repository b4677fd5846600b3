import { headsOf } from '$core/aim/axes.ts';
import { roomOf } from '$core/plot/room-of.ts';
import { getRecord, recordsOf } from '$core/document/change.ts';
import type { LitId, ProfileId, UnitId } from '$core/ids.ts';
import { formatAddress } from '$core/patch/address.ts';
import type { Clash } from '$core/patch/clash.ts';
import { patchFaults } from '$core/patch/faults.ts';
import { groupLetters, membersOf } from '$core/patch/groups.ts';
import { layoutOfUnit, patchOf, placeOf, slotsPerUniverseOf, type PatchedUnit } from '$core/patch/of-document.ts';
import type { ModeLayout, Programmable } from '$core/profile/layout.ts';
import { litOf, type Lit } from '$core/patch/lit.ts';
import { makeReader, type UnitReader } from '$core/patch/readout.ts';
import type {
  ChaseRecord,
  EffectRecord,
  PaletteRecord,
  PartRecord,
  ProfileRecord,
  SceneRecord,
  UnitRecord,
} from '$core/records/index.ts';
import type { LiveClient } from '../live/client.svelte.ts';

const byNumber = (a: { number: number; id: string }, b: { number: number; id: string }): number =>
  a.number - b.number || (a.id < b.id ? -1 : 1);

/** What has a pad and can be played. */
export type PlayableRecord = SceneRecord | ChaseRecord | EffectRecord;

/** The open show in the shapes that screens ask for. Everything is derived from the document. */
export class Rig {
  readonly #live: LiveClient;
  constructor(live: LiveClient) {
    this.#live = live;
  }

  readonly show = $derived.by(() => recordsOf(this.#live.document, 'show')[0]);
  readonly room = $derived.by(() => roomOf(this.#live.document));
  readonly units = $derived.by(() => recordsOf(this.#live.document, 'unit').toSorted(byNumber));
  /** Units that can move their beams. */
  readonly heads = $derived.by(() => [...headsOf(this.#live.document)].sort(byNumber));
  readonly groups = $derived.by(() => recordsOf(this.#live.document, 'group').toSorted(byNumber));
  readonly scenes = $derived.by(() => recordsOf(this.#live.document, 'scene').toSorted(byNumber));
  readonly chases = $derived.by(() => recordsOf(this.#live.document, 'chase').toSorted(byNumber));
  readonly effects = $derived.by(() => recordsOf(this.#live.document, 'effect').toSorted(byNumber));
  readonly aims = $derived.by(() => recordsOf(this.#live.document, 'aim').toSorted(byNumber));
  readonly rooms = $derived.by(() => recordsOf(this.#live.document, 'room').toSorted(byNumber));
  readonly songs = $derived.by(() => recordsOf(this.#live.document, 'song').toSorted(byNumber));
  readonly setlists = $derived.by(() => recordsOf(this.#live.document, 'setlist').toSorted(byNumber));
  readonly variants = $derived.by(() => recordsOf(this.#live.document, 'variant').toSorted(byNumber));
  readonly passages = $derived.by(() => recordsOf(this.#live.document, 'passage').toSorted(byNumber));
  readonly palettes = $derived.by(() => recordsOf(this.#live.document, 'palette').toSorted(byNumber));
  readonly playables = $derived<readonly PlayableRecord[]>([...this.scenes, ...this.chases, ...this.effects]);
  readonly profiles = $derived.by(() =>
    recordsOf(this.#live.document, 'profile').toSorted(
      (a, b) => a.maker.localeCompare(b.maker) || a.model.localeCompare(b.model),
    ),
  );
  readonly outputs = $derived.by(() =>
    recordsOf(this.#live.document, 'output').toSorted((a, b) => a.name.localeCompare(b.name)),
  );
  readonly inputs = $derived.by(() =>
    recordsOf(this.#live.document, 'input').toSorted((a, b) => a.name.localeCompare(b.name)),
  );
  readonly routes = $derived.by(() =>
    recordsOf(this.#live.document, 'route').toSorted(
      (a, b) => a.universe - b.universe || a.wireUniverse - b.wireUniverse,
    ),
  );
  readonly slotsOf = $derived.by(() => slotsPerUniverseOf(this.#live.document));
  readonly patchedById = $derived.by(() => patchOf(this.#live.document));
  readonly patched = $derived(this.patchedById.units);
  readonly clashes = $derived.by(() => patchFaults(this.#live.document));
  readonly clashesById = $derived.by(() => {
    const byUnit = new Map<UnitId, Clash[]>();
    for (const clash of this.clashes) {
      const list = byUnit.get(clash.unitId);
      if (list) list.push(clash);
      else byUnit.set(clash.unitId, [clash]);
    }
    return byUnit;
  });
  /** Universes that units sit in or that are routed. */
  readonly universes = $derived.by(() => {
    const found = new Set<number>(this.routes.map((r) => r.universe));
    for (const unit of this.patched) for (const span of unit.spans) found.add(span.universe);
    return [...found].sort((a, b) => a - b);
  });
  /** Universes in which units sit that no route carries anywhere. */
  readonly unrouted = $derived.by(() => {
    const routed = new Set(
      this.routes.filter((r) => r.enabled && this.output(r.outputId)?.enabled).map((r) => r.universe),
    );
    const nowhere = new Set(this.clashes.flatMap((c) => (c.code === 'NO_ROUTE' ? [c.universe] : [])));
    return this.universes.filter((u) => !routed.has(u) && nowhere.has(u));
  });
  /** The spans in each universe, with their units, in the order of the slots. */
  readonly spansByUniverse = $derived.by(() => {
    const found = new Map<number, { readonly unit: PatchedUnit; readonly from: number; readonly to: number }[]>();
    for (const unit of this.patched)
      for (const { universe, from, to } of unit.spans) {
        const list = found.get(universe);
        if (list) list.push({ unit, from, to });
        else found.set(universe, [{ unit, from, to }]);
      }
    for (const list of found.values()) list.sort((a, b) => a.from - b.from);
    return found;
  });
  readonly areas = $derived.by(() => recordsOf(this.#live.document, 'area').toSorted(byNumber));
  readonly things = $derived.by(() => recordsOf(this.#live.document, 'thing').toSorted(byNumber));
  readonly backdrops = $derived.by(() =>
    recordsOf(this.#live.document, 'backdrop').toSorted((a, b) => a.name.localeCompare(b.name)),
  );
  readonly parts = $derived.by(() => recordsOf(this.#live.document, 'part').toSorted(byNumber));
  readonly lines = $derived.by(() => recordsOf(this.#live.document, 'line').toSorted(byNumber));
  /** The first 26 groups by their letters. */
  readonly letters = $derived(groupLetters(this.groups));
  /** The units of each group, in its order. */
  readonly members = $derived.by(
    () => new Map<string, readonly UnitId[]>(this.groups.map((g) => [g.id, membersOf(this.#live.document, g)])),
  );
  readonly readers = $derived.by(() => new Map<UnitId, UnitReader>(this.units.map((u) => [u.id, this.#reader(u)])));

  #kept = new WeakMap<UnitRecord, { patched: PatchedUnit; profile: ProfileRecord | undefined; reader: UnitReader }>();
  /** Most units are as they were before an edit: their readers stay. */
  #reader(unit: UnitRecord): UnitReader {
    const patched = this.patchedById.get(unit.id)!;
    const profile = this.profile(unit.profileId);
    const old = this.#kept.get(unit);
    if (old && old.patched === patched && old.profile === profile) return old.reader;
    const reader = makeReader(this.#live.document, unit);
    this.#kept.set(unit, { patched, profile, reader });
    return reader;
  }

  /** Where a unit starts, wherever that comes from. */
  place(id: UnitId): { universe: number; address: number } | null {
    return placeOf(this.patchedById.get(id));
  }
  addressText(id: UnitId): string {
    const place = this.place(id);
    return place ? formatAddress(place.universe, place.address) : '';
  }
  membersOf(id: string): readonly UnitId[] {
    return this.members.get(id) ?? [];
  }

  unit(id: string): UnitRecord | undefined {
    return getRecord(this.#live.document, 'unit', id);
  }
  profile(id: ProfileId | string): ProfileRecord | undefined {
    return getRecord(this.#live.document, 'profile', id);
  }
  output(id: string) {
    return getRecord(this.#live.document, 'output', id);
  }
  part(id: string): PartRecord | undefined {
    return getRecord(this.#live.document, 'part', id);
  }
  /** What a unit or a part of one has to program: a part what its unit has for each cell. */
  programmable(id: LitId): readonly Programmable[] {
    return this.lit(id)?.layout.programmable ?? [];
  }
  lit(id: string): Lit | null {
    return litOf(this.#live.document, id);
  }
  /** Units and parts of props by number, with what lights of them; those that are gone are left out. */
  litRows(ids: readonly LitId[]): (Lit & { readonly id: LitId })[] {
    return ids
      .flatMap((id) => {
        const lit = this.lit(id);
        return lit ? [{ ...lit, id }] : [];
      })
      .sort((a, b) => a.unit.number - b.unit.number || (a.part?.number ?? 0) - (b.part?.number ?? 0));
  }
  layout(unit: UnitRecord): ModeLayout {
    return layoutOfUnit(this.#live.document, unit);
  }
  playable(id: string | null | undefined): PlayableRecord | undefined {
    if (!id) return undefined;
    const { document } = this.#live;
    return getRecord(document, 'scene', id) ?? getRecord(document, 'chase', id) ?? getRecord(document, 'effect', id);
  }
  palette(id: string): PaletteRecord | undefined {
    return getRecord(this.#live.document, 'palette', id);
  }
  /** What a palette or an aim that values follow is called. */
  referenceName(id: string): string {
    return this.palette(id)?.name ?? getRecord(this.#live.document, 'aim', id)?.name ?? 'palette';
  }
  modeName(unit: UnitRecord): string {
    return this.profile(unit.profileId)?.modes.find((m) => m.key === unit.mode)?.name ?? unit.mode;
  }
}
