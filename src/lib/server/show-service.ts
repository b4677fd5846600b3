import {
  applyChange,
  documentOf,
  effective,
  isEmptyChange,
  type ChangeSet,
  type Document,
} from '../../core/document/change.ts';
import { mergeRecord } from '../../core/document/merge.ts';
import { changeFaults } from '../../core/document/rules.ts';
import { advance, undoStateOf, type UndoState } from '../../core/document/undo.ts';
import { FaultError, type Fault } from '../../core/faults.ts';
import type { Id, ShowId } from '../../core/ids.ts';
import type { UndoInfo } from '../../core/protocol/live.ts';
import { parseRecord, type AnyRecord } from '../../core/records/index.ts';
import type { Database } from '../../db/connect.ts';
import {
  changeAt,
  changesSince,
  commitChange,
  historyMarks,
  loadShow,
  StaleRevision,
  type HistoryEntry,
} from '../../db/store.ts';

/** A show that is held in memory, with what is needed to undo. */
interface Held {
  document: Document;
  revision: number;
  undo: UndoState;
  labels: Map<number, string>;
}

export interface Edit {
  readonly change: ChangeSet;
  /** Revision the edit was made on; absent means the newest. */
  readonly base?: number;
  readonly label: string;
  readonly author: string;
  /** What plays goes on as it was. */
  readonly blind?: boolean;
}

export interface Applied {
  readonly entry: HistoryEntry;
  readonly history: UndoInfo;
  /** Fields changed by somebody else since `base` over which this edit won, with that somebody. */
  readonly overwrote: readonly { readonly field: string; readonly author: string }[];
}

type Mark = Pick<HistoryEntry, 'action' | 'target'>;

const ATTEMPTS = 4;
const nothingTo = (what: 'undo' | 'redo'): Fault => ({
  code: what === 'undo' ? 'NOTHING_TO_UNDO' : 'NOTHING_TO_REDO',
  path: 'history',
  message: `there is nothing to ${what}`,
  remedy: 'Make an edit first.',
});

const stale = (received: number, message: string): Fault => ({
  code: 'STALE_REVISION',
  path: 'base',
  message,
  received,
  remedy: 'Load the show again and repeat the edit.',
});

/**
 * Edits of shows: validates, merges with what others did meanwhile, writes, remembers. Each show's edits run one
 * after the other.
 */
export class ShowService {
  readonly #db: Database;
  readonly #held = new Map<ShowId, Held>();
  readonly #queues = new Map<ShowId, Promise<unknown>>();
  readonly #onChange: (showId: ShowId, applied: Applied) => void;

  constructor(db: Database, onChange: (showId: ShowId, applied: Applied) => void) {
    this.#db = db;
    this.#onChange = onChange;
  }

  #inOrder<T>(showId: ShowId, job: () => Promise<T>): Promise<T> {
    const before = this.#queues.get(showId) ?? Promise.resolve();
    const result = before.then(job, job);
    this.#queues.set(
      showId,
      result.catch(() => undefined),
    );
    return result;
  }

  async #load(showId: ShowId): Promise<Held> {
    const { revision, records } = await loadShow(this.#db, showId);
    const marks = await historyMarks(this.#db, showId);
    const held = {
      document: documentOf(records),
      revision,
      undo: undoStateOf(marks),
      labels: new Map(marks.map((m) => [m.revision, m.label])),
    };
    this.#held.set(showId, held);
    return held;
  }

  /** The newest state of a show. Throws FaultError when there is no such show. */
  async get(showId: ShowId): Promise<{ document: Document; revision: number; history: UndoInfo }> {
    return this.#inOrder(showId, async () => {
      const held = this.#held.get(showId) ?? (await this.#load(showId));
      return { document: held.document, revision: held.revision, history: infoOf(held) };
    });
  }

  /** Something else wrote to the show, or it was deleted: forget what is held. */
  forget(showId: ShowId): void {
    this.#held.delete(showId);
  }

  edit(showId: ShowId, edit: Edit): Promise<Applied | null> {
    return this.#inOrder(showId, () =>
      this.#commit(showId, { action: 'edit', target: null, ...edit }, (held) => this.#merged(showId, held, edit)),
    );
  }

  undo(showId: ShowId, author: string, blind = false): Promise<Applied | null> {
    return this.#turnBack(showId, author, 'undo', blind);
  }

  redo(showId: ShowId, author: string, blind = false): Promise<Applied | null> {
    return this.#turnBack(showId, author, 'redo', blind);
  }

  #turnBack(showId: ShowId, author: string, action: 'undo' | 'redo', blind: boolean): Promise<Applied | null> {
    return this.#inOrder(showId, async () => {
      const held = this.#held.get(showId) ?? (await this.#load(showId));
      const target = held.undo[action].at(-1);
      if (target === undefined) throw new FaultError(nothingTo(action));
      const entry = await changeAt(this.#db, showId, target);
      if (!entry) throw new FaultError(nothingTo(action));
      const change = action === 'undo' ? entry.reverse : entry.forward;
      return this.#commit(showId, { action, target, label: entry.label, author, blind }, () =>
        Promise.resolve({ change, overwrote: [] }),
      );
    });
  }

  async #commit(
    showId: ShowId,
    { action, target, label, author, blind = false }: Pick<Edit, 'label' | 'author' | 'blind'> & Mark,
    prepare: (held: Held) => Promise<{ change: ChangeSet; overwrote: Applied['overwrote'] }>,
  ): Promise<Applied | null> {
    for (let attempt = 1; ; attempt++) {
      const held = this.#held.get(showId) ?? (await this.#load(showId));
      const { change, overwrote } = await prepare(held);
      const faults = changeFaults(held.document, change);
      if (faults.length > 0) throw new FaultError(faults);
      if (action === 'edit' && isEmptyChange(change)) return null;
      try {
        const entry = await commitChange(this.#db, {
          showId,
          document: held.document,
          revision: held.revision,
          change,
          author,
          action,
          target,
          label,
          blind,
        });
        held.document = applyChange(held.document, change);
        held.revision = entry.revision;
        held.undo = advance(held.undo, entry);
        held.labels.set(entry.revision, label);
        const applied = { entry, history: infoOf(held), overwrote };
        this.#onChange(showId, applied);
        return applied;
      } catch (error) {
        this.#held.delete(showId);
        if (!(error instanceof StaleRevision)) throw error;
        if (attempt >= ATTEMPTS)
          throw new FaultError(stale(error.expected, `the show is at revision ${error.found} and keeps changing`));
      }
    }
  }

  /** The edit with what others changed since its base kept, field by field. */
  async #merged(
    showId: ShowId,
    held: Held,
    edit: Edit,
  ): Promise<{ change: ChangeSet; overwrote: Applied['overwrote'] }> {
    const base = edit.base ?? held.revision;
    if (base > held.revision)
      throw new FaultError({
        code: 'REVISION_AHEAD',
        path: 'base',
        message: `the show is at revision ${held.revision}`,
        received: base,
        remedy: 'Load the show again.',
      });
    if (base === held.revision) return { change: effective(held.document, edit.change), overwrote: [] };
    const since = await changesSince(this.#db, showId, base);
    if (since.length !== held.revision - base)
      throw new FaultError(stale(base, `revision ${base} is too old to merge with ${held.revision}`));
    const put: AnyRecord[] = [];
    const overwrote: { field: string; author: string }[] = [];
    for (const record of edit.change.put) {
      const touching = since.filter((e) => touches(e.forward, record.id));
      const before = touching[0]?.reverse.put.find((r) => r.id === record.id);
      const current = held.document.get(record.id);
      if (!before || !current) {
        put.push(record);
        continue;
      }
      const merged = mergeRecord(before, current, record);
      const checked = parseRecord(merged.record, record.id);
      put.push('record' in checked ? checked.record : record);
      for (const field of merged.overwrote)
        overwrote.push({ field: `${record.id}.${field}`, author: touching.at(-1)!.author });
    }
    return { change: effective(held.document, { put, remove: edit.change.remove }), overwrote };
  }
}

const touches = (change: ChangeSet, id: Id): boolean =>
  change.put.some((r) => r.id === id) || change.remove.includes(id);

function infoOf(held: Held): UndoInfo {
  const label = (revision: number | undefined): string | null =>
    revision === undefined ? null : (held.labels.get(revision) ?? 'edit');
  return { undo: label(held.undo.undo.at(-1)), redo: label(held.undo.redo.at(-1)) };
}
