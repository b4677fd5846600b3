import type { ChangeSet } from '$core/document/change.ts';
import type { SongTrouble } from '$core/check/song.ts';
import type { Explanation, LiveState, Play } from '$core/show/index.ts';
import type { Thumbnail } from '$core/show/thumbnail.ts';
import type { LitId, SongId } from '$core/ids.ts';
import type { Block, LaneRecord } from '$core/records/lane.ts';
import type { UnitValues } from '$core/records/scene.ts';

/** A moment (ms) of something that does not play: it is looked at, and never sent. */
export interface Peek {
  readonly live: LiveState;
  readonly ms: number;
}

/** Light over time: rows of cells by columns of time, four bytes each (RGBA), row by row from above. */
export interface Strip {
  readonly rows: number;
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** Page to worker. The document comes as changes, the first of them whole. */
export type ToPreview =
  | { readonly type: 'document'; readonly fresh: boolean; readonly change: ChangeSet }
  /** What plays really, what plays blind (null: nobody here is blind), and what is looked at in place of both. `clock` is the show's time less the machine's. */
  | {
      readonly type: 'live';
      readonly real: LiveState | null;
      readonly blind: LiveState | null;
      readonly peek: Peek | null;
      readonly clock: number;
    }
  | { readonly type: 'ask'; readonly id: number; readonly ask: PreviewAsk };

export type PreviewAsk =
  /** Who sets what of a unit, and why. */
  | {
      readonly what: 'explain';
      readonly units: readonly LitId[];
      /** Only these; all where none are named. */
      readonly attributes?: readonly string[];
      readonly nowMs: number;
    }
  /** Values of units as they are at this moment, to take them into the hand. */
  | { readonly what: 'values'; readonly units: readonly LitId[]; readonly nowMs: number }
  /** What a moment of something that does not play looks like. */
  | { readonly what: 'moment'; readonly peek: Peek }
  /** What a block of a song looks like by itself: so many columns of time. */
  | {
      readonly what: 'strip';
      readonly songId: SongId;
      readonly on: LaneRecord['on'];
      readonly curves: LaneRecord['curves'];
      readonly block: Block;
      readonly columns: number;
    }
  /** Where a song flashes more than the show allows. */
  | { readonly what: 'flashes'; readonly songId: SongId }
  /** What a play looks like by itself, some seconds after it began. */
  | { readonly what: 'thumbnail'; readonly play: Pick<Play, 'target' | 'spec' | 'on'>; readonly atS: number };

export interface PreviewAnswers {
  readonly explain: readonly Explanation[];
  readonly values: Readonly<Record<string, UnitValues>>;
  readonly strip: Strip;
  readonly moment: Thumbnail;
  readonly flashes: readonly SongTrouble[];
  readonly thumbnail: Thumbnail | null;
}

/** Worker to page. Frames are those of the blind state, or of what is looked at: universes and 512 bytes each. */
export type FromPreview =
  | { readonly type: 'frame'; readonly universes: readonly number[]; readonly bytes: Uint8Array }
  | { readonly type: 'answer'; readonly id: number; readonly answer: PreviewAnswers[keyof PreviewAnswers] }
  | { readonly type: 'fault'; readonly id: number | null; readonly message: string };
