/** A line of a show's history, without its contents. `target` is the revision an undo or redo turns back. */
export interface HistoryMark {
  readonly revision: number;
  readonly action: 'edit' | 'undo' | 'redo';
  readonly target: number | null;
  readonly label: string;
}

/** What can be undone and redone now, newest last. Both hold revisions of edits. */
export interface UndoState {
  readonly undo: readonly number[];
  readonly redo: readonly number[];
}

export const NOTHING_TO_UNDO: UndoState = { undo: [], redo: [] };

/** Undo state after one more line of history. An edit clears what could be redone. */
export function advance(state: UndoState, mark: HistoryMark): UndoState {
  switch (mark.action) {
    case 'edit':
      return { undo: [...state.undo, mark.revision], redo: [] };
    case 'undo':
      return {
        undo: state.undo.filter((r) => r !== mark.target),
        redo: mark.target === null ? state.redo : [...state.redo, mark.target],
      };
    case 'redo':
      return {
        undo: mark.target === null ? state.undo : [...state.undo, mark.target],
        redo: state.redo.filter((r) => r !== mark.target),
      };
  }
}

/** Undo state of a whole history, in order of revision. */
export function undoStateOf(marks: Iterable<HistoryMark>): UndoState {
  const undo: number[] = [];
  let redo: number[] = [];
  for (const mark of marks) {
    if (mark.action === 'edit') {
      undo.push(mark.revision);
      redo = [];
    } else if (mark.target !== null) {
      const [from, to] = mark.action === 'undo' ? [undo, redo] : [redo, undo];
      const at = from.lastIndexOf(mark.target);
      if (at >= 0) from.splice(at, 1);
      to.push(mark.target);
    }
  }
  return { undo, redo };
}
