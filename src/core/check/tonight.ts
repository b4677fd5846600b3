import type { EngineHealth, GatewayHealth, OutputHealth } from '../protocol/link.ts';
import type { SystemState } from '../protocol/live.ts';
import { kind, type Finding } from './preflight.ts';

/** What is known now of the way out: asked of the engine and the machine, not of the show. */
export type Tonight = Pick<SystemState, 'engine' | 'database' | 'disk'>;

/**
 * What is wrong at this moment with the way out and the machine, the worst first: cables that are out, gateways that
 * have gone, a show that is not played, a full disk. It comes and goes by itself.
 */
export function tonightFaults({ engine, database, disk }: Tonight): Finding[] {
  return [
    ...(engine ? engineFaults(engine) : [finding('ENGINE_AWAY', 'Engine', 'does not answer; it restarts by itself')]),
    ...(disk === 'full' ? [finding('DISK', 'Data folder', 'its disk is full: nothing can be saved')] : []),
    ...(disk === 'low' ? [finding('DISK', 'Data folder', 'its disk is nearly full', false)] : []),
    ...(database === 'down' ? [finding('DATABASE', 'Database', 'does not answer and is started again')] : []),
  ];
}

function engineFaults(engine: EngineHealth): Finding[] {
  const sending = engine.outputs.filter((o) => o.enabled && o.universes > 0);
  return [
    ...engine.showFaults.map((f) => finding('NOT_LOADED', 'Show', `${f.message}: the one before is played`)),
    ...sending.filter(notLeaving).map((o) => finding('NOT_LEAVING', o.name, o.lastError!)),
    ...sending.flatMap((o) =>
      lostGateways(o).map((g) =>
        finding('GATEWAY_LOST', g.name ?? g.ip, `does not answer any more (${o.name}, ${g.ip})`),
      ),
    ),
  ];
}

/** True while an output has something to send and the system says that it does not leave. */
export const notLeaving = (output: OutputHealth): boolean =>
  output.enabled && output.universes > 0 && output.lastError !== null;

export const lostGateways = (output: OutputHealth): GatewayHealth[] =>
  (output.gateways ?? []).filter((g) => g.state === 'lost');

const finding = (code: string, title: string, message: string, severe = true): Finding => ({
  ...kind(code),
  severe,
  title,
  message,
  unitIds: [],
});
