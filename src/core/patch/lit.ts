import { getRecord, type Document } from '../document/change.ts';
import { unitLayout } from './of-document.ts';
import type { ModeLayout } from '../profile/layout.ts';
import type { PartRecord, UnitRecord } from '../records/index.ts';
import { partCells } from '../prop/parts.ts';

/** What a value of a scene or of the hand is for: a unit, or a part of one, with what it has to program. */
export interface Lit {
  readonly unit: UnitRecord;
  readonly part: PartRecord | null;
  /** `Kite 2`, or `Kite 2: Tail`. */
  readonly name: string;
  readonly layout: ModeLayout;
}

/** The unit or part of an id; null where it is none of the show. A part has what its unit has for each cell. */
export function litOf(document: Document, id: string): Lit | null {
  const part = getRecord(document, 'part', id) ?? null;
  const unit = getRecord(document, 'unit', part?.unitId ?? id);
  if (!unit) return null;
  const layout = unitLayout(getRecord(document, 'profile', unit.profileId), unit);
  if (!part) return { unit, part, name: unit.name, layout };
  const cells = partCells(part).filter((cell) => cell <= layout.cells).length;
  const programmable = layout.programmable.filter((p) => p.cells > 0).map((p) => ({ ...p, cells }));
  return { unit, part, name: `${unit.name}: ${part.name}`, layout: { ...layout, programmable } };
}
