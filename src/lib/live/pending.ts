import { applyChange, sameJson, type ChangeSet, type Document } from '$core/document/change.ts';
import { mergeRecord } from '$core/document/merge.ts';
import type { Id } from '$core/ids.ts';
import type { AnyRecord } from '$core/records/index.ts';

/** An edit on its way: what it puts and removes, and the records as they were when it was made. */
export interface PendingEdit {
  readonly label: string;
  change: ChangeSet;
  before: ReadonlyMap<Id, AnyRecord>;
  readonly blind: boolean;
  /** Hears whether the server has it, or has refused it. */
  readonly done?: ((saved: boolean) => void) | undefined;
}

/** True where the server made of an edit exactly what was sent, in whatever order. */
export function sameChange(sent: ChangeSet, made: ChangeSet): boolean {
  if (sent.put.length !== made.put.length || sent.remove.length !== made.remove.length) return false;
  const byId = new Map(made.put.map((r) => [r.id, r]));
  return sent.put.every((r) => sameJson(byId.get(r.id), r)) && sent.remove.every((id) => made.remove.includes(id));
}

/**
 * The show with the edits that are still on their way laid over what the server confirmed; fields that somebody else
 * changed meanwhile stay, and the edits are noted as what they are now.
 */
export function rebased(confirmed: Document, pending: readonly PendingEdit[]): Document {
  let view = confirmed;
  for (const edit of pending) {
    const put = edit.change.put.map((record) => {
      const before = edit.before.get(record.id);
      const current = view.get(record.id);
      return before && current && before !== current ? mergeRecord(before, current, record).record : record;
    });
    edit.change = { put, remove: edit.change.remove };
    edit.before = new Map(put.flatMap((r) => (view.has(r.id) ? [[r.id, view.get(r.id)!] as const] : [])));
    view = applyChange(view, edit.change);
  }
  return view;
}
