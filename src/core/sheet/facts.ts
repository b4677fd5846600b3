import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { type Clash } from '../patch/clash.ts';
import { patchFaults } from '../patch/faults.ts';
import { membersOf } from '../patch/groups.ts';
import { unitLayout, patchOf, type Patch } from '../patch/of-document.ts';
import type { ModeLayout } from '../profile/layout.ts';
import type { GroupRecord, LineRecord, ProfileRecord, UnitRecord } from '../records/index.ts';
import type { Tag } from '../records/show.ts';

/** What the sheet knows of a show beyond the units themselves. Each part is worked out when it is first asked for. */
export interface SheetFacts {
  readonly document: Document;
  readonly patch: Patch;
  readonly faults: () => ReadonlyMap<UnitId, readonly Clash[]>;
  readonly groups: () => ReadonlyMap<UnitId, readonly GroupRecord[]>;
  readonly lines: () => ReadonlyMap<UnitId, { readonly line: LineRecord; readonly place: number }>;
  /** Names of the outputs that carry a universe. */
  readonly outputs: () => ReadonlyMap<number, readonly string[]>;
  readonly tags: () => ReadonlyMap<string, Tag>;
  readonly profile: (unit: UnitRecord) => ProfileRecord | undefined;
  readonly layout: (unit: UnitRecord) => ModeLayout;
}

const known = new WeakMap<Document, SheetFacts>();

export function sheetFacts(document: Document): SheetFacts {
  let facts = known.get(document);
  if (!facts) known.set(document, (facts = gather(document)));
  return facts;
}

function gather(document: Document): SheetFacts {
  const profile = (unit: UnitRecord) => getRecord(document, 'profile', unit.profileId);
  return {
    document,
    patch: patchOf(document),
    faults: once(() => grouped(patchFaults(document).map((c) => [c.unitId, c]))),
    groups: once(() =>
      grouped(
        recordsOf(document, 'group')
          .toSorted((a, b) => a.number - b.number)
          .flatMap((g) => membersOf(document, g).map((id) => [id, g] as const)),
      ),
    ),
    lines: once(
      () =>
        new Map(
          recordsOf(document, 'line').flatMap((line) =>
            line.unitIds.map((id, i) => [id, { line, place: i + 1 }] as const),
          ),
        ),
    ),
    outputs: once(() =>
      grouped(
        recordsOf(document, 'route').flatMap((r) => {
          const output = getRecord(document, 'output', r.outputId);
          return r.enabled && output?.enabled ? [[r.universe, output.name] as const] : [];
        }),
      ),
    ),
    tags: once(() => new Map((recordsOf(document, 'show')[0]?.tags ?? []).map((t) => [t.key, t]))),
    profile,
    layout: (unit) => unitLayout(profile(unit), unit),
  };
}

function once<T>(work: () => T): () => T {
  let value: { readonly of: T } | null = null;
  return () => (value ??= { of: work() }).of;
}

function grouped<K, V>(pairs: Iterable<readonly [K, V]>): Map<K, V[]> {
  const map = new Map<K, V[]>();
  for (const [key, value] of pairs) {
    const list = map.get(key);
    if (list) list.push(value);
    else map.set(key, [value]);
  }
  return map;
}
