import type { ChangeSet } from '$core/document/change.ts';
import type { UnitId } from '$core/ids.ts';
import { builtInProfiles } from '$core/profile/library.ts';
import { editCells, editColumn, type CellEdit, type CellFault, type EditOptions } from '$core/sheet/edit.ts';
import { ProfileFinder } from '$core/sheet/profiles.ts';
import type { App } from '../app.svelte.ts';
import { faultWords } from '../words.ts';

/** Writing into the patch: what people type or paste, taken as the sheet takes it, from wherever it is typed. */
export class Cells {
  readonly #app: App;
  constructor(app: App) {
    this.#app = app;
  }

  /** The show's profiles before those of the library. */
  readonly finder = $derived.by(() => new ProfileFinder([...this.#app.rig.profiles, ...builtInProfiles()]));

  get options(): EditOptions {
    return {
      newId: (kind) => this.#app.newId(kind),
      finder: this.finder,
      by: this.#app.personName,
      now: this.#app.live.now(),
    };
  }

  /** One text into a column of some units; what is wrong with it in words, or null when it is done. */
  write(ids: readonly UnitId[], column: string, text: string, label: string): string | null {
    const { change, faults } = editColumn(this.#app.live.document, ids, column, text, this.options);
    if (faults[0]) return faultWords(faults[0]);
    return this.#edit(label, change) ? null : 'Not changed.';
  }

  /** Many cells as one step. What is refused comes back; the rest is done. */
  writeAll(edits: readonly CellEdit[], label: string): readonly CellFault[] {
    const { change, faults } = editCells(this.#app.live.document, edits, this.options);
    this.#edit(label, change);
    return faults;
  }

  #edit(label: string, change: ChangeSet): boolean {
    return this.#app.live.edit(label.slice(0, 120), change);
  }
}
