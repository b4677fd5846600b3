import type { LaneId, SongId } from '../ids.ts';
import { nextNumber } from '../naming.ts';
import { make } from '../records/index.ts';
import type { LaneRecord } from '../records/lane.ts';

/** Lanes of a song that things are put on: those that are there and not locked, and new ones where there are none. */
export class OpenLanes {
  readonly #songId: SongId;
  readonly #lanes: Map<LaneId, LaneRecord>;
  readonly #changed = new Set<LaneId>();
  readonly #newId: () => LaneId;

  constructor(songId: SongId, lanes: readonly LaneRecord[], newId: () => LaneId) {
    this.#songId = songId;
    this.#lanes = new Map(lanes.map((lane) => [lane.id, lane]));
    this.#newId = newId;
  }

  /** The lane that plays on this, or that lost it: kept only once something is put on it. */
  on(on: LaneRecord['on'], lost: LaneRecord['lost'] = null): LaneRecord {
    const all = [...this.#lanes.values()];
    return (
      all.find((lane) => lane.on === on && lane.lost === lost && !lane.locked) ??
      make('lane', { id: this.#newId(), number: nextNumber(all), songId: this.#songId, on, lost })
    );
  }
  put(lane: LaneRecord): void {
    this.#lanes.set(lane.id, lane);
    this.#changed.add(lane.id);
  }
  /** What was put, in that order. */
  get changed(): LaneRecord[] {
    return Array.from(this.#changed, (id) => this.#lanes.get(id)!);
  }
}
