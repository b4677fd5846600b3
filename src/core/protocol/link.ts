import type { FieldDifference } from '../document/difference.ts';
import type { Fault } from '../faults.ts';
import type { Protocol } from '../records/output.ts';
import type { Action } from '../records/action.ts';
import type { Principal } from './principal.ts';
import type { LiveCommand, LiveState, Signal } from '../show/index.ts';
import type { NetworkAnswer, NetworkAsk } from './network.ts';
import type { NetworkDelta } from './network-diff.ts';

/** State of one output as the engine sees it. */
export interface OutputHealth {
  readonly id: string;
  readonly name: string;
  readonly protocol: Protocol;
  readonly enabled: boolean;
  readonly universes: number;
  readonly packetsPerSecond: number;
  readonly packets: number;
  readonly errors: number;
  readonly lastError: string | null;
  /** What a serial interface says of itself (serial number, firmware). */
  readonly says: string | null;
  /** Art-Net devices that answered the poll; null for sACN, which has no such answer. */
  readonly gateways: readonly GatewayHealth[] | null;
}

export interface GatewayHealth {
  readonly ip: string;
  readonly name: string | null;
  readonly lastSeenMs: number | null;
  readonly state: 'found' | 'lost' | 'silent';
  readonly outputs: readonly {
    readonly portAddress: number;
    readonly transmitting: boolean;
    readonly merging: boolean;
  }[];
}

export interface EngineHealth {
  readonly pid: number;
  /** The clock of the show, ms since 1970: it follows the wall clock smoothly and never jumps. */
  readonly now: number;
  readonly uptimeS: number;
  readonly showId: string | null;
  readonly revision: number;
  /** What went wrong loading the show; the last good one is still being sent. */
  readonly showFaults: readonly Fault[];
  /** False while the database does not answer: what plays goes on from what the engine kept. */
  readonly database: boolean;
  readonly frameRateAsked: number;
  readonly frameRateMeasured: number;
  readonly latenessP50Ms: number;
  readonly latenessP99Ms: number;
  readonly latenessMaxMs: number;
  readonly frames: number;
  /** Frames that started more than half a frame late. */
  readonly framesLate: number;
  readonly framesSkipped: number;
  readonly renderMs: number;
  readonly universes: number;
  readonly realtime: boolean;
  /** Flashes are held back now, because they would not be safe. */
  readonly flashesHeld: boolean;
  /** What plays and was taken out because it failed, by play. */
  readonly failedPlays: Readonly<Record<string, string>>;
  readonly outputs: readonly OutputHealth[];
}

/** Web to engine. The first message must be `hello` with the token. */
export type ToEngine =
  | { readonly type: 'hello'; readonly token: string }
  | { readonly type: 'command'; readonly id: number; readonly by: Principal; readonly command: LiveCommand }
  | {
      readonly type: 'act';
      readonly id: number;
      readonly by: Principal;
      readonly action: Action;
      readonly signal: Signal;
    }
  | { readonly type: 'ask'; readonly id: number; readonly by: Principal; readonly ask: NetworkAsk };

/** Engine to web; frames come as binary messages beside these. */
export type FromEngine =
  | {
      readonly type: 'state';
      readonly showId: string | null;
      readonly live: LiveState;
      readonly universes: readonly number[];
      /** Number of this state: each difference that follows has the next. */
      readonly seq: number;
    }
  /** What changed of the live state since the one before. */
  | { readonly type: 'live'; readonly difference: FieldDifference; readonly seq: number }
  | { readonly type: 'health'; readonly health: EngineHealth }
  /** What changed of the network; `whole`: all there is. */
  | { readonly type: 'network'; readonly delta: NetworkDelta; readonly whole: boolean }
  | {
      readonly type: 'answer';
      readonly id: number;
      readonly answer: NetworkAnswer | null;
      readonly fault: Fault | null;
    }
  | { readonly type: 'reply'; readonly id: number; readonly fault: Fault | null };
