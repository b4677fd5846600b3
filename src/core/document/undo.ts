/**
 * A line of a show's history, without its contents. `author` is the browser (or script) it came from; `target` the
 * revision an undo or redo turns back.
 */
export interface HistoryMark {
  readonly revision: number;
  readonly author: string;
  readonly action: 'edit' | 'undo' | 'redo';
  readonly target: number | null;
  readonly label: string;
}

/** What one author can undo and redo now, newest last. Both hold revisions of edits. Everybody undoes their own. */
export interface UndoState {
  readonly undo: readonly number[];
  readonly redo: readonly number[];
}

const NOTHING: UndoState = { undo: [], redo: [] };

/** Undo and redo of everybody who edits a show, from its history line by line. */
export class UndoLog {
  readonly #states = new Map<string, { undo: number[]; redo: number[] }>();
  /** Whose undo list a revision stands in. */
  readonly #owners = new Map<number, string>();

  constructor(marks: Iterable<HistoryMark> = []) {
    for (const mark of marks) this.take(mark);
  }

  of(author: string): UndoState {
    return this.#states.get(author) ?? NOTHING;
  }

  /** One more line. An edit clears what its author could redo. */
  take({ author, action, target, revision }: HistoryMark): void {
    let state = this.#states.get(author);
    if (!state) this.#states.set(author, (state = { undo: [], redo: [] }));
    if (action === 'edit') {
      state.redo = [];
      this.#own(author, revision);
    } else if (target !== null && action === 'redo') {
      drop(state.redo, target);
      this.#own(author, target);
    } else if (target !== null) {
      // What one takes back of another's is not there for that one to take back again.
      const owner = this.#owners.get(target);
      if (owner !== undefined) drop(this.#states.get(owner)!.undo, target);
      this.#owners.delete(target);
      drop(state.redo, target);
      state.redo.push(target);
    }
  }

  #own(author: string, revision: number): void {
    this.#owners.set(revision, author);
    this.#states.get(author)!.undo.push(revision);
  }
}

/** Takes a number out of a list; mostly it is the last. */
function drop(list: number[], value: number): void {
  const at = list.lastIndexOf(value);
  if (at >= 0) list.splice(at, 1);
}
