import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { AreaId, UnitId } from '../ids.ts';
import type { AreaRecord, UnitRecord } from '../records/index.ts';
import { surfaceOf, contains, type Corner } from '../polygon.ts';

/** An area that is drawn, with how much it encloses (square metres). */
interface Drawn {
  readonly area: AreaRecord;
  readonly outline: readonly Corner[];
  readonly size: number;
}

const drawnAreas = new WeakMap<Document, readonly Drawn[]>();

/** Drawn areas, the smallest first: the first that contains a point is the innermost. */
function drawnOf(document: Document): readonly Drawn[] {
  let found = drawnAreas.get(document);
  if (!found) {
    const drawn = recordsOf(document, 'area').flatMap((area) =>
      area.outline ? [{ area, outline: area.outline, size: surfaceOf(area.outline) }] : [],
    );
    drawnAreas.set(document, (found = drawn.sort((a, b) => a.size - b.size || (a.area.id < b.area.id ? -1 : 1))));
  }
  return found;
}

/** The innermost drawn area a point of the plan lies in. O(areas x corners). */
export const areaAt = (document: Document, point: Corner): AreaRecord | null =>
  drawnOf(document).find(({ outline }) => contains(outline, point))?.area ?? null;

/** The area a unit belongs to: as it was set by hand, else the innermost one it stands in. */
export const areaIdOf = (document: Document, unit: UnitRecord): AreaId | null =>
  unit.areaId ?? areaAt(document, unit.position)?.id ?? null;

const members = new WeakMap<Document, ReadonlyMap<AreaId, readonly UnitId[]>>();

/** Units that belong to each area itself, in the order of the document; worked out once for a document. */
export function areaMembers(document: Document): ReadonlyMap<AreaId, readonly UnitId[]> {
  let found = members.get(document);
  if (!found) {
    const lists = new Map<AreaId, UnitId[]>();
    for (const unit of recordsOf(document, 'unit')) {
      const area = areaIdOf(document, unit);
      if (area === null) continue;
      const list = lists.get(area);
      if (list) list.push(unit.id);
      else lists.set(area, [unit.id]);
    }
    members.set(document, (found = lists));
  }
  return found;
}

/** The smallest drawn area that holds all these corners, but for `except` and what lies in it: where a new area belongs. */
export function parentFor(document: Document, outline: readonly Corner[], except: AreaId | null = null): AreaId | null {
  const size = surfaceOf(outline);
  const around = drawnOf(document).find(
    (drawn) =>
      drawn.size > size &&
      drawn.area.id !== except &&
      (except === null || !areaChain(document, drawn.area.id).includes(except)) &&
      outline.every((corner) => contains(drawn.outline, corner) || onEdge(drawn.outline, corner)),
  );
  return around?.area.id ?? null;
}

const NEAR_M = 1e-6;
const onEdge = (outline: readonly Corner[], p: Corner): boolean =>
  outline.some((a, i) => {
    const b = outline[(i + 1) % outline.length]!;
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    const along = ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / (length || 1);
    const off = Math.abs((p.x - a.x) * (b.y - a.y) - (p.y - a.y) * (b.x - a.x)) / (length || 1);
    return off <= NEAR_M && along >= -NEAR_M && along <= length + NEAR_M;
  });

/** An area and those it lies in, from the inside out. A circle (which the rules refuse) ends at its first repeat. */
export function areaChain(document: Document, id: AreaId | null): AreaId[] {
  const chain: AreaId[] = [];
  for (let at = id; at !== null && !chain.includes(at); at = getRecord(document, 'area', at)?.parentId ?? null)
    if (document.has(at)) chain.push(at);
  return chain;
}
