import type { HeardWhole } from '../core/music/song.ts';
import type { SongFault } from '../core/records/song.ts';
import type { SongTags } from '../core/song/names.ts';

/** What is said between the web process and the process that hears songs (`main.ts`). */
export interface HearOrder {
  /** Names the order in what is answered. */
  readonly hear: string;
  /** Where the file is, and what it is called. */
  readonly path: string;
  readonly name: string;
}
export type EarAnswer =
  | { readonly hear: string; readonly share: number }
  | { readonly hear: string; readonly whole: HeardWhole; readonly tags: SongTags }
  | { readonly hear: string; readonly trouble: SongFault };
