import {
  applyChange,
  documentOf,
  effective,
  isEmptyChange,
  type ChangeSet,
  type Document,
} from '../../core/document/change.ts';
import { mergeRecord } from '../../core/document/merge.ts';
import { rewound } from '../../core/document/difference.ts';
import { changeFaults } from '../../core/rules/faults.ts';
import { turnedBack, type Later } from '../../core/document/turn-back.ts';
import { UndoLog } from '../../core/document/undo.ts';
import { FaultError, type Fault } from '../../core/faults.ts';
import type { ShowId } from '../../core/ids.ts';
import type { UndoInfo } from '../../core/protocol/live.ts';
import { parseRecord, type AnyRecord } from '../../core/records/index.ts';
import type { Database } from '../../db/connect.ts';
import {
  changesSince,
  commitChange,
  HistoryGone,
  historyMarks,
  StaleRevision,
  type HistoryEntry,
} from '../../db/history.ts';
import { loadShow } from '../../db/shows.ts';

/** A show that is held in memory, with what is needed to undo. */
interface Held {
  document: Document;
  revision: number;
  readonly undo: UndoLog;
  labels: Map<number, string>;
}

export interface Edit {
  readonly change: ChangeSet;
  /** Revision the edit was made on; absent means the newest. */
  readonly base?: number;
  readonly label: string;
  readonly author: string;
  /** The page it comes from. */
  readonly origin?: string;
  /** What plays goes on as it was. */
  readonly blind?: boolean;
}

export interface Applied {
  readonly entry: HistoryEntry;
  /** What it changed, as whole records. */
  readonly change: ChangeSet;
  /** What its author can undo and redo now. */
  readonly history: UndoInfo;
  /** The page it came from; null for a script. */
  readonly origin: string | null;
  /** Fields changed by somebody else since `base` over which this edit won, with that somebody. */
  readonly overwrote: readonly { readonly field: string; readonly author: string }[];
}

/** Who turns something back, and how. */
export type By = Pick<Edit, 'author' | 'origin' | 'blind'>;
type Mark = Pick<HistoryEntry, 'action' | 'target'>;

const ATTEMPTS = 4;
const nothingTo = (what: 'undo' | 'redo'): Fault => ({
  code: what === 'undo' ? 'NOTHING_TO_UNDO' : 'NOTHING_TO_REDO',
  path: 'history',
  message: `there is nothing to ${what}`,
  remedy: 'Make an edit first.',
});

/** Why something is not taken back: it would take somebody's later edit with it. */
function changedSince(document: Document, label: string, action: 'undo' | 'redo', later: readonly Later[]): Fault {
  const [first] = later;
  const record = document.get(first!.id);
  const name = record && 'name' in record ? `“${record.name}”` : first!.id;
  const what = !record
    ? `${first!.id} was removed`
    : first!.field
      ? `${first!.field} of ${name} was changed`
      : `${name} was changed`;
  const more = later.length > 1 ? ` (and ${later.length - 1} more)` : '';
  return {
    code: 'CHANGED_SINCE',
    path: 'history',
    message: `“${label}” cannot be ${action === 'undo' ? 'undone' : 'redone'}: ${what} since${more}`,
    received: first!.id,
    remedy: 'Change it by hand, or take the later edit back first: Keep shows who made it.',
  };
}

const historyGone = (revision: number): Fault => ({
  code: 'HISTORY_GONE',
  path: 'history',
  message: `what edit ${revision} changed is no longer kept`,
  received: revision,
  remedy: 'It was made long ago: change it by hand.',
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
      undo: new UndoLog(marks),
      labels: new Map(marks.map((m) => [m.revision, m.label])),
    };
    this.#held.set(showId, held);
    return held;
  }

  /** The newest state of a show, and what an author can undo. Throws FaultError when there is no such show. */
  async get(showId: ShowId, author = ''): Promise<{ document: Document; revision: number; history: UndoInfo }> {
    return this.#inOrder(showId, async () => {
      const held = this.#held.get(showId) ?? (await this.#load(showId));
      return { document: held.document, revision: held.revision, history: infoOf(held, author) };
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

  /** Takes back an author's own newest edit. */
  undo(showId: ShowId, by: By): Promise<Applied | null> {
    return this.#turnBack(showId, by, 'undo');
  }

  redo(showId: ShowId, by: By): Promise<Applied | null> {
    return this.#turnBack(showId, by, 'redo');
  }

  /** Takes back one edit of the history, whoever made it. */
  takeBack(showId: ShowId, by: By, revision: number): Promise<Applied | null> {
    return this.#turnBack(showId, by, 'undo', revision);
  }

  #turnBack(showId: ShowId, by: By, action: 'undo' | 'redo', revision?: number): Promise<Applied | null> {
    return this.#inOrder(showId, async () => {
      const start = this.#held.get(showId) ?? (await this.#load(showId));
      const target = revision ?? start.undo.of(by.author)[action].at(-1);
      const mark = target === undefined ? undefined : start.labels.get(target);
      if (target === undefined || mark === undefined) throw new FaultError(nothingTo(action));
      return this.#commit(showId, { action, target, label: mark, ...by }, async ({ document }) => {
        const since = await this.#since(showId, target - 1);
        const sides = sidesOf(document, since);
        const { change, later } = turnedBack(
          document,
          action === 'undo' ? sides.after : sides.before,
          action === 'undo' ? sides.before : sides.after,
        );
        if (later.length > 0) throw new FaultError(changedSince(document, mark, action, later));
        const faults = change.put.flatMap((record) => {
          const parsed = parseRecord(record, record.id);
          return 'faults' in parsed ? parsed.faults : [];
        });
        if (faults.length > 0) throw new FaultError(faults);
        return { change: effective(document, change), overwrote: [] };
      });
    });
  }

  async #commit(
    showId: ShowId,
    { action, target, label, author, origin, blind = false }: Omit<Edit, 'change' | 'base'> & Mark,
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
        held.undo.take(entry);
        held.labels.set(entry.revision, label);
        const applied = { entry, change, history: infoOf(held, author), overwrote, origin: origin ?? null };
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

  /** Edits after a revision, oldest first. Throws FaultError where they are no longer kept. */
  async #since(showId: ShowId, revision: number): Promise<HistoryEntry[]> {
    try {
      return await changesSince(this.#db, showId, revision);
    } catch (error) {
      if (error instanceof HistoryGone) throw new FaultError(historyGone(error.revision));
      throw error;
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
    const since = await this.#since(showId, base);
    if (since.length !== held.revision - base)
      throw new FaultError(stale(base, `revision ${base} is too old to merge with ${held.revision}`));
    const old = rewound(
      held.document,
      edit.change.put.map((r) => r.id),
      since.map((entry) => entry.difference).reverse(),
    );
    const put: AnyRecord[] = [];
    const overwrote: { field: string; author: string }[] = [];
    for (const record of edit.change.put) {
      const touching = since.filter(({ difference }) => difference.some(({ id }) => id === record.id));
      const before = old.get(record.id);
      const current = held.document.get(record.id);
      if (touching.length === 0 || !before || !current) {
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

/** Both sides of the first of some edits, from the show as it is after the last of them. */
function sidesOf(
  document: Document,
  [target, ...later]: readonly HistoryEntry[],
): { before: ChangeSet; after: ChangeSet } {
  const ids = target!.difference.map(({ id }) => id);
  const after = rewound(document, ids, later.map((entry) => entry.difference).reverse());
  const before = rewound(after, ids, [target!.difference]);
  const side = (records: Document): ChangeSet => ({
    put: [...records.values()],
    remove: ids.filter((id) => !records.has(id)),
  });
  return { before: side(before), after: side(after) };
}

function infoOf({ labels, undo }: Held, author: string): UndoInfo {
  const label = (revision: number | undefined): string | null =>
    revision === undefined ? null : (labels.get(revision) ?? 'edit');
  const own = undo.of(author);
  return { undo: label(own.undo.at(-1)), redo: label(own.redo.at(-1)) };
}
