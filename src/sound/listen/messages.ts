import type { SongFault } from '../../core/records/song.ts';
import type { Listening } from '../../core/music/listening.ts';

/** What the process that listens is started with, and what it says. */
export type ListenOrder =
  { readonly from: 'standin'; readonly songs: string } | { readonly from: 'card'; readonly device: string };

export interface ComingBeat {
  /** So many milliseconds after it is said. */
  readonly inMs: number;
  readonly beat: number;
  readonly bpm: number;
  readonly confidence: number;
}
export type ListenSaid =
  { readonly beats: readonly ComingBeat[] } | { readonly listening: Listening } | { readonly trouble: SongFault };
