import { applyChange, effective, type ChangeSet, type Document } from '../document/change.ts';
import type { GroupId, Id, LineId, RecordKind, UnitId } from '../ids.ts';
import { nextNumber } from '../naming.ts';
import {
  make,
  type AnyRecord,
  type AreaRecord,
  type GroupRecord,
  type LineRecord,
  type ProfileRecord,
  type ShowRecord,
  type UnitRecord,
} from '../records/index.ts';
import type { Tag } from '../records/show.ts';
import { newTag } from './tags.ts';

export type NewId = <K extends RecordKind>(kind: K) => Id<K>;

/** Names are compared as people read them: case and spaces at the ends do not count. */
const fold = (name: string): string => name.trim().toLowerCase();

/**
 * An edit of a show while it grows: units changed and added, and what they are hung on by name - areas, tags, groups,
 * lines - made where it is not there yet. `change()` is all of it as one change set.
 */
export class SheetDraft {
  readonly before: Document;
  readonly #newId: NewId;
  readonly #units = new Map<UnitId, UnitRecord>();
  readonly #profiles = new Map<string, ProfileRecord>();
  readonly #areas = new Map<string, AreaRecord>();
  readonly #lines = new Map<LineId, LineRecord>();
  readonly #groups = new Map<GroupId, GroupRecord>();
  readonly #lineOf = new Map<UnitId, LineId>();
  readonly #changed = new Set<Id>();
  #show: ShowRecord | undefined;
  /** How to take back what was done since `attempt` began; null outside of it. */
  #journal: (() => void)[] | null = null;

  constructor(document: Document, newId: NewId) {
    this.before = document;
    this.#newId = newId;
    for (const record of document.values()) {
      if (record.kind === 'unit') this.#units.set(record.id, record);
      else if (record.kind === 'profile') this.#profiles.set(record.id, record);
      else if (record.kind === 'area') this.#areas.set(fold(record.name), record);
      else if (record.kind === 'group') this.#groups.set(record.id, record);
      else if (record.kind === 'show') this.#show = record;
      else if (record.kind === 'line') {
        this.#lines.set(record.id, record);
        for (const id of record.unitIds) this.#lineOf.set(id, record.id);
      }
    }
  }

  /** Does some work; where it comes back with faults, the draft is as it was before. */
  attempt<F>(work: () => readonly F[]): readonly F[] {
    const journal: (() => void)[] = (this.#journal = []);
    const faults = work();
    this.#journal = null;
    if (faults.length > 0) for (const undo of journal.reverse()) undo();
    return faults;
  }

  get units(): IterableIterator<UnitRecord> {
    return this.#units.values();
  }

  unit(id: UnitId): UnitRecord {
    return this.#units.get(id)!;
  }

  profile(id: string): ProfileRecord | undefined {
    return this.#profiles.get(id);
  }

  set(id: UnitId, fields: Partial<UnitRecord>): void {
    this.#put(this.#units, id, { ...this.unit(id), ...fields });
  }

  /** Adds a unit; the profile comes along where the show does not have it. */
  add(fields: Omit<Parameters<typeof make<'unit'>>[1], 'id' | 'profileId'>, profile: ProfileRecord): UnitRecord {
    this.useProfile(profile);
    const unit = make('unit', { ...fields, profileId: profile.id, id: this.#newId('unit') });
    this.#put(this.#units, unit.id, unit);
    return unit;
  }

  useProfile(profile: ProfileRecord): void {
    if (!this.#profiles.has(profile.id)) this.#put(this.#profiles, profile.id, profile);
  }

  area(name: string): AreaRecord {
    const known = this.#areas.get(fold(name));
    if (known) return known;
    const number = nextNumber(this.#areas.values());
    const area = make('area', { id: this.#newId('area'), number, name: name.trim() });
    this.#put(this.#areas, fold(name), area);
    return area;
  }

  /** A colour tag by its name; a new one takes the next colour and shape. Null when the show has no room for more. */
  tag(name: string): Tag | null {
    const show = this.#show;
    const known = show?.tags.find((t) => fold(t.name) === fold(name) || t.key === name.trim());
    if (!show || known) return known ?? null;
    if (show.tags.length >= 24) return null;
    const tag = newTag(show.tags, name.trim());
    this.#journal?.push(() => (this.#show = show));
    this.#show = { ...show, tags: [...show.tags, tag] };
    this.#changed.add(show.id);
    return tag;
  }

  lineOf(id: UnitId): LineRecord | undefined {
    const line = this.#lineOf.get(id);
    return line && this.#lines.get(line);
  }

  /** Hangs a unit on the line of that name, at its end or at a place counted from 1; an empty name takes it off. */
  hang(id: UnitId, name: string, place?: number): void {
    const old = this.lineOf(id);
    const wanted = fold(name);
    if (old && fold(old.name) === wanted && place === undefined) return;
    if (old) {
      this.#put(this.#lines, old.id, { ...old, unitIds: old.unitIds.filter((other) => other !== id) });
      this.#setLineOf(id, null);
    }
    if (wanted === '') return;
    let line = [...this.#lines.values()].find((l) => fold(l.name) === wanted);
    line ??= make('line', { id: this.#newId('line'), number: nextNumber(this.#lines.values()), name: name.trim() });
    const unitIds = [...line.unitIds];
    unitIds.splice(place === undefined ? unitIds.length : Math.min(place - 1, unitIds.length), 0, id);
    this.#put(this.#lines, line.id, { ...line, unitIds });
    this.#setLineOf(id, line.id);
  }

  #setLineOf(id: UnitId, line: LineId | null): void {
    const old = this.#lineOf.get(id) ?? null;
    this.#journal?.push(() => this.#setLineOf(id, old));
    if (line === null) this.#lineOf.delete(id);
    else this.#lineOf.set(id, line);
  }

  setLine(line: LineRecord): void {
    this.#put(this.#lines, line.id, line);
  }

  /** Puts a unit into exactly these groups of the kind that is listed by hand; groups with a rule are left alone. */
  group(id: UnitId, names: readonly string[]): void {
    const wanted = new Map(names.map((n) => [fold(n), n.trim()]));
    for (const group of [...this.#groups.values()]) {
      const named = wanted.delete(fold(group.name));
      if (group.rule || named === group.unitIds.includes(id)) continue;
      const unitIds = named ? [...group.unitIds, id] : group.unitIds.filter((other) => other !== id);
      this.#put(this.#groups, group.id, { ...group, unitIds });
    }
    for (const name of wanted.values()) {
      const number = nextNumber(this.#groups.values());
      const group = make('group', { id: this.#newId('group'), number, name, unitIds: [id] });
      this.#put(this.#groups, group.id, group);
    }
  }

  #put<K, R extends AnyRecord>(map: Map<K, R>, key: K, record: R): void {
    const old = map.get(key);
    this.#journal?.push(() => {
      if (old) map.set(key, old);
      else map.delete(key);
    });
    map.set(key, record);
    this.#changed.add(record.id);
  }

  /** Everything that is different now, as one change set. What came to the same in the end is not in it. */
  change(): ChangeSet {
    const all: AnyRecord[] = [
      ...(this.#show ? [this.#show] : []),
      ...this.#profiles.values(),
      ...this.#areas.values(),
      ...this.#units.values(),
      ...this.#groups.values(),
      ...this.#lines.values(),
    ];
    return effective(this.before, { put: all.filter((r) => this.#changed.has(r.id)), remove: [] });
  }

  /** The show as it would be. */
  document(): Document {
    return applyChange(this.before, this.change());
  }
}
