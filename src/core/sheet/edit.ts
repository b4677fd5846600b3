import { applyChange, getRecord, type ChangeSet, type Document } from '../document/change.ts';
import type { Fault } from '../faults.ts';
import type { UnitId } from '../ids.ts';
import { formatAddress } from '../patch/address.ts';
import { followingPlace, patchOf, slotsPerUniverseOf, spansAt } from '../patch/of-document.ts';
import type { UnitRecord } from '../records/index.ts';
import { columnOf } from './columns.ts';
import { SheetDraft, type NewId } from './draft.ts';
import { sheetFacts } from './facts.ts';
import type { ProfileFinder } from './profiles.ts';
import { cellFault, WRITERS, type WriteContext } from './write.ts';

export interface CellEdit {
  readonly unitId: UnitId;
  readonly column: string;
  readonly text: string;
}

/** What a cell could not take; `edit` is the one that was refused. */
export interface CellFault extends Fault {
  readonly edit: CellEdit;
}

export interface EditOptions {
  readonly newId: NewId;
  readonly finder: ProfileFinder;
  readonly by: string;
  /** Milliseconds since 1970. */
  readonly now: number;
}

export function writeContext(document: Document, options: EditOptions): WriteContext {
  return {
    draft: new SheetDraft(document, options.newId),
    finder: options.finder,
    slotsOf: slotsPerUniverseOf(document),
    patch: patchOf(document),
    by: options.by,
    now: options.now,
  };
}

/** Takes texts into cells. What cannot be taken is told cell by cell; the rest is in the change set, as one edit. */
export function editCells(
  document: Document,
  edits: readonly CellEdit[],
  options: EditOptions,
): { change: ChangeSet; faults: CellFault[] } {
  const context = writeContext(document, options);
  const faults: CellFault[] = [];
  for (const edit of edits) {
    const fault = writeCell(context, edit);
    if (fault) faults.push({ ...fault, edit });
  }
  return { change: context.draft.change(), faults };
}

/** Takes one text into a cell of a draft; what is wrong with it, or null. */
export function writeCell(context: WriteContext, edit: CellEdit): Fault | null {
  const writer = WRITERS[edit.column];
  if (!writer) {
    const title = columnOf(edit.column)?.title ?? edit.column;
    return cellFault(edit.column, 'READ_ONLY', `“${title}” is worked out`, edit.text, 'Change what it comes from.');
  }
  return writer(context, edit.unitId, edit.text);
}

/**
 * Fill down: the first unit's cell goes on through the others. Numbers and numbers at the end of names count up,
 * addresses follow one after the other as the footprints need, places in a line go on; everything else is repeated.
 * `step` counts by more than one.
 */
export function fillDown(document: Document, ids: readonly UnitId[], column: string, step = 1): CellEdit[] {
  const facts = sheetFacts(document);
  const [first, ...rest] = ids.flatMap((id) => getRecord(document, 'unit', id) ?? []);
  if (!first) return [];
  const text = columnOf(column)?.text(facts, first) ?? '';
  if (column === 'patch' || column === 'absolute') return addressesAfter(document, first, rest);
  return rest.map((unit, i) => ({ unitId: unit.id, column, text: counted(column, text, (i + 1) * step) }));
}

const COUNTED = new Set(['number', 'place', 'name']);

/** `PAR 9` three further on is `PAR 12`; `Bar 07` is `Bar 10`. Text without a number at its end stays as it is. */
export function counted(column: string, text: string, by: number): string {
  if (!COUNTED.has(column)) return text;
  return text.replace(/(\d+)(\D{0,2})$/, (_, digits: string, tail: string) => {
    return `${String(Number(digits) + by).padStart(digits.length, '0')}${tail}`;
  });
}

/** Addresses for units that follow one after the other from the first one's on. */
function addressesAfter(document: Document, first: UnitRecord, rest: readonly UnitRecord[]): CellEdit[] {
  const slotsOf = slotsPerUniverseOf(document);
  let last = patchOf(document).get(first.id)?.spans.at(-1);
  if (!last) return [];
  return rest.map((unit) => {
    const at = followingPlace(document, unit, { after: first.id, gap: 0 }, [last!], slotsOf)!;
    last = spansAt(document, unit, at, slotsOf(at.universe)).at(-1) ?? last;
    return { unitId: unit.id, column: 'patch', text: formatAddress(at.universe, at.address) };
  });
}

/**
 * The same text into one column of several units. An address goes to the first; the others follow one after the other.
 * A number counts up.
 */
export function editColumn(
  document: Document,
  ids: readonly UnitId[],
  column: string,
  text: string,
  options: EditOptions,
): { change: ChangeSet; faults: CellFault[] } {
  const isPlace = (column === 'patch' || column === 'absolute') && /^\s*\d/.test(text);
  if (isPlace && ids.length > 1) {
    const head = editCells(document, [{ unitId: ids[0]!, column, text }], options);
    if (head.faults.length > 0) return head;
    const edits = [{ unitId: ids[0]!, column, text }, ...fillDown(applyChange(document, head.change), ids, 'patch')];
    return editCells(document, edits, options);
  }
  const count = column === 'number' || column === 'place';
  const edits = ids.map((unitId, i) => ({ unitId, column, text: count ? counted(column, text, i) : text }));
  return editCells(document, edits, options);
}
