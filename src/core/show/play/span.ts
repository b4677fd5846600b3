/** When something that plays comes in, how it counts, and when it goes: what its program says, whatever it is. */
export interface Span {
  readonly priority: number;
  /** Milliseconds from its start to its fade in. */
  readonly delayMs: number;
  readonly fadeInMs: number;
  readonly fadeOutMs: number;
  /** The longest fade out of one of its attributes, where they have times of their own; 0 where none has. */
  readonly longestOutMs: number;
  /** Where it ends by itself, as it counts; null where it goes on until it is let go. */
  readonly length: number | null;
  /** Whether it counts in beats or seconds, and how many units of its own in one. */
  readonly beats: boolean;
  readonly rate: number;
}

/** What stands still and goes on until it is let go. */
export const ENDLESS = { delayMs: 0, longestOutMs: 0, length: null, beats: false, rate: 1 } as const;
