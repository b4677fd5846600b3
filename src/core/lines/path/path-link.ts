import type { Document } from '../../document/change.ts';
import type { EngineHealth } from '../../protocol/link.ts';
import type { NetworkState } from '../../protocol/network.ts';
import type { StandinReport } from '../../protocol/standin.ts';
import type { OutputRecord, RouteRecord } from '../../records/index.ts';
import type { LiveState } from '../../show/index.ts';
import type { Advice } from './remedies.ts';

/**
 * State of a link: `live` is known to work, `idle` has nothing to do, `unproved` sends and nobody can tell whether it
 * arrives, `doubt` works and something is odd, `dead` does not work, `off` was switched off.
 */
export type LinkState = 'live' | 'idle' | 'unproved' | 'doubt' | 'dead' | 'off';

export interface PathLink {
  /** Unique in the picture, the same from one look to the next. */
  readonly key: string;
  readonly title: string;
  /** One line of what is known: rate, last seen, lost. */
  readonly detail: string;
  readonly state: LinkState;
  readonly advice: readonly Advice[];
}

export interface PathInput {
  readonly document: Document;
  readonly live: LiveState | null;
  readonly engine: EngineHealth | null;
  readonly network: NetworkState;
  readonly standins: StandinReport | null;
  /** Ms of the engine's clock. */
  readonly now: number;
}

export const link = (
  key: string,
  title: string,
  detail: string,
  state: LinkState,
  advice: readonly Advice[],
): PathLink => ({
  key,
  title,
  detail,
  state,
  advice,
});

/** The number a universe has on the wire, in words. */
export const wireWords = (output: OutputRecord, route: RouteRecord): string =>
  output.protocol === 'sacn'
    ? `sACN ${route.wireUniverse}`
    : output.protocol === 'artnet'
      ? `Art-Net ${route.wireUniverse}`
      : 'serial';
