import type { Fault } from '$core/faults.ts';
import { lostGateways, notLeaving } from '$core/check/tonight.ts';
import type { SystemState } from '$core/protocol/live.ts';

/** What the ridge says about the way out. */
export interface OutputWords {
  readonly text: string;
  /** Where there is little room. */
  readonly short?: string;
  readonly title: string;
  readonly mark: 'wrong' | 'look' | null;
}

/** The state of the outputs in words: the most pressing thing first. */
export function outputWords(
  connection: 'connecting' | 'open' | 'lost',
  system: SystemState,
  rig: { readonly universes: readonly number[]; readonly unrouted: readonly number[] },
): OutputWords {
  if (connection !== 'open')
    return { text: 'Connecting…', title: 'The page has lost Amber Kite. The lights go on.', mark: 'look' };
  const { engine } = system;
  if (!engine)
    return { text: 'Engine restarting', title: 'The engine is not answering; it restarts by itself.', mark: 'wrong' };
  if (engine.showFaults.length > 0)
    return { text: 'Show not loaded', title: engine.showFaults[0]!.message, mark: 'wrong' };
  const sending = engine.outputs.filter((o) => o.enabled && o.universes > 0);
  if (sending.length === 0)
    return { text: 'Preview only', title: 'No output is switched on: nothing leaves this machine.', mark: 'look' };
  const mute = sending.filter(notLeaving);
  if (mute.length > 0)
    return {
      text: mute.length === 1 ? 'Not leaving' : `${mute.length} not leaving`,
      title: mute.map((o) => `${o.name}: ${o.lastError}`).join('\n'),
      mark: 'wrong',
    };
  const lost = sending.flatMap(lostGateways).length;
  if (lost > 0)
    return {
      text: `${lost} ${lost === 1 ? 'gateway' : 'gateways'} lost`,
      title: 'A gateway has not answered for 10 seconds. See Lines.',
      mark: 'wrong',
    };
  if (engine.flashesHeld)
    return {
      text: 'Flashes held back',
      title: 'Something flashes faster than is safe over a large part of the plot. The limit is under Settings.',
      mark: 'look',
    };
  const total = rig.universes.length;
  const sent = total - rig.unrouted.length;
  const title = `${engine.frameRateMeasured.toFixed(1)} frames a second; ${sending.reduce((sum, o) => sum + o.packetsPerSecond, 0)} packets a second`;
  return {
    text: `Sending ${sent} of ${total} universes`,
    short: `Sending ${sent} of ${total}`,
    title,
    mark: sent < total ? 'look' : null,
  };
}

/** What keeps work from being saved now, and what becomes of it; null while all is well. */
export function troubleWords(live: {
  readonly connection: 'connecting' | 'open' | 'lost';
  readonly unsaved: number;
  readonly notSaved: Fault | null;
  readonly system: SystemState;
}): string | null {
  const { unsaved, notSaved, system } = live;
  const waits = unsaved > 0 ? ` ${plural(unsaved, 'edit')} not saved yet: kept here, and sent by itself.` : '';
  if (live.connection !== 'open') return `Connection lost: the lights go on.${waits || ' Trying again…'}`;
  if (system.disk === 'full')
    return `The disk is full: nothing can be saved. Make room on the disk of the data folder. The lights go on.${waits}`;
  if (notSaved) return `${faultWords(notSaved)}${waits}`;
  if (system.database === 'down') return `The database does not answer and is started again. The lights go on.${waits}`;
  return null;
}

/** How long ago something was, from two moments in ms. */
export function agoWords(now: number, at: number | null): string {
  if (at === null) return 'never';
  const s = Math.max(0, (now - at) / 1000);
  if (s < 3) return 'now';
  return s < 120
    ? `${Math.round(s)} s ago`
    : s < 7200
      ? `${Math.round(s / 60)} min ago`
      : `${Math.round(s / 3600)} h ago`;
}

/** `1 unit`, `3 units`. */
export const plural = (count: number, word: string): string => `${count} ${word}${count === 1 ? '' : 's'}`;

/** A message as a sentence begins. */
export const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A fault as people read it: what is wrong, and the way out. */
export const faultWords = (fault: { readonly message: string; readonly remedy: string }): string =>
  `${sentence(fault.message)}. ${fault.remedy}`;
