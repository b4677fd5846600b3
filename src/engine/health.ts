import type { Document } from '../core/document/change.ts';
import { recordsOf } from '../core/document/change.ts';
import type { EngineHealth, OutputHealth } from '../core/protocol/link.ts';
import type { OutputRecord } from '../core/records/index.ts';
import type { Network } from './network/network.ts';
import { Rates } from './rates.ts';
import { quantile, type FrameStats, type RouteStats } from './shared.ts';

/** Lateness is said of the last so many seconds. */
const LATENESS_S = 20;

/** What the engine says of its frames and its outputs. */
export class HealthReport {
  readonly #rates = new Rates();
  readonly #stats: FrameStats;

  constructor(stats: FrameStats) {
    this.#stats = stats;
  }

  frames(
    frameRate: number,
    nowMs: number,
  ): Pick<
    EngineHealth,
    | 'frameRateAsked'
    | 'frameRateMeasured'
    | 'latenessP50Ms'
    | 'latenessP99Ms'
    | 'latenessMaxMs'
    | 'frames'
    | 'framesLate'
    | 'framesSkipped'
    | 'renderMs'
  > {
    const latenesses = this.#stats.latenesses(frameRate * LATENESS_S);
    return {
      frameRateAsked: frameRate,
      frameRateMeasured: round(this.#rates.rateOf('frames', this.#stats.frames, nowMs)),
      latenessP50Ms: round(quantile(latenesses, 0.5)),
      latenessP99Ms: round(quantile(latenesses, 0.99)),
      latenessMaxMs: round(latenesses.at(-1) ?? 0),
      frames: this.#stats.frames,
      framesLate: this.#stats.late,
      framesSkipped: this.#stats.skipped,
      renderMs: round(this.#stats.workMs),
    };
  }

  outputs(document: Document, network: Network | null, routes: readonly RouteStats[], nowMs: number): OutputHealth[] {
    const universes = new Map<string, Set<number>>();
    for (const { outputId, universe, enabled } of recordsOf(document, 'route')) {
      if (!enabled) continue;
      const known = universes.get(outputId);
      if (known) known.add(universe);
      else universes.set(outputId, new Set([universe]));
    }
    return recordsOf(document, 'output').map((output) => ({
      ...this.#output(output, network, routes, nowMs),
      universes: universes.get(output.id)?.size ?? 0,
    }));
  }

  #output(
    output: OutputRecord,
    network: Network | null,
    routes: readonly RouteStats[],
    nowMs: number,
  ): Omit<OutputHealth, 'universes'> {
    const { id, name, protocol, enabled } = output;
    const slow = network?.slowHealthOf(id) ?? null;
    const stats = slow ?? routes.find((s) => s.outputId === id);
    const packets = stats?.packets ?? 0;
    return {
      id,
      name,
      protocol,
      enabled,
      packetsPerSecond: Math.round(this.#rates.rateOf(id, packets, nowMs)),
      packets,
      errors: stats?.errors ?? 0,
      lastError: stats?.lastError ?? null,
      says: slow?.says ?? null,
      gateways: network?.gatewaysOf(output) ?? null,
    };
  }
}

const round = (value: number): number => Math.round(value * 100) / 100;
