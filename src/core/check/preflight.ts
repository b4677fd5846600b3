import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { Id, UnitId } from '../ids.ts';
import { lineFaults } from '../lines/index.ts';
import { isSevere, type Clash } from '../patch/clash.ts';
import { patchFaults } from '../patch/faults.ts';
import { keptAside } from '../patch/impact.ts';
import { aimFaults } from './aims.ts';
import { programmingFaults } from './programming.ts';

/** Something that will go wrong tonight, or is worth a look, and where to go to put it right. */
export interface Finding {
  readonly code: string;
  readonly severe: boolean;
  /** What it is about, in one line: `12 Arch 3`. */
  readonly title: string;
  readonly message: string;
  readonly remedy: string;
  readonly step: 'patch' | 'lines' | 'plot' | 'scenes' | 'settings';
  readonly unitIds: readonly UnitId[];
  /** The scene, chase or effect it is about. */
  readonly playableId?: Id;
}

/** A kind of finding and what it means: findings are listed under these, the worst first. */
export const FINDING_KINDS: Readonly<Record<string, { title: string; remedy: string; step: Finding['step'] }>> = {
  NOT_LEAVING: {
    title: 'Nothing leaves this machine there',
    remedy: 'Look at the cable and the address of this machine; it heals by itself when they are right.',
    step: 'lines',
  },
  GATEWAY_LOST: {
    title: 'Gateways that do not answer',
    remedy: 'Look at its power and its cable. Packets are sent all the same.',
    step: 'lines',
  },
  NOT_LOADED: {
    title: 'The show is not played',
    remedy: 'Take back the last edit, or mend what it names.',
    step: 'patch',
  },
  ENGINE_AWAY: {
    title: 'Nothing plays now',
    remedy: 'Wait a moment; if it stays away, start Amber Kite again.',
    step: 'settings',
  },
  DISK: {
    title: 'No room on the disk',
    remedy: 'Make room on the disk of the data folder. The lights go on.',
    step: 'settings',
  },
  DATABASE: {
    title: 'Nothing can be saved now',
    remedy: 'It is started again by itself. The lights go on.',
    step: 'settings',
  },
  OVERLAP: {
    title: 'Units that share slots',
    remedy: 'Give one of them another address, or make it a twin where it is on purpose.',
    step: 'patch',
  },
  OVERRUN: {
    title: 'Units that run out of their universe',
    remedy: 'Start them lower, or in the next universe.',
    step: 'patch',
  },
  WIRE_TWICE: {
    title: 'Two universes under one number on the wire',
    remedy: 'Give one of the routes another number.',
    step: 'lines',
  },
  PORT_LIMIT: {
    title: 'Ports with too many pixels',
    remedy: 'Move units to another port, or correct the limit of the line.',
    step: 'patch',
  },
  LINE_SEVERE: {
    title: 'Cables that will not work',
    remedy: 'Look at the line: it says what to change.',
    step: 'lines',
  },
  LINE_DOUBT: { title: 'Cables worth a look', remedy: 'Look at the line: it says what to change.', step: 'lines' },
  NO_ADDRESS: {
    title: 'Units without address',
    remedy: 'Give them an address, one by one or together with Re-address.',
    step: 'patch',
  },
  NUMBER_TWICE: { title: 'Numbers that two units have', remedy: 'Give one of them another number.', step: 'patch' },
  EXPECTED_END: {
    title: 'Units that end elsewhere than expected',
    remedy: 'Correct the start, the mode, or the expected end.',
    step: 'patch',
  },
  TWIN_DIFFERS: {
    title: 'Twins that are not alike',
    remedy: 'Give both the same profile and mode, or separate them.',
    step: 'patch',
  },
  NO_ROUTE: { title: 'Universes that go nowhere', remedy: 'Route the universe through an output.', step: 'lines' },
  FLASHES: {
    title: 'Flashing faster than is safe',
    remedy: 'Slow it down, or let it play on fewer units. The limit is under Settings.',
    step: 'scenes',
  },
  PLAYS_ON_NOBODY: {
    title: 'Effects that play on nobody',
    remedy: 'Give them units, a group or an area.',
    step: 'scenes',
  },
  NO_STEPS: { title: 'Chases without steps', remedy: 'Add scenes to them, or remove them.', step: 'scenes' },
  SILENT_PALETTE: {
    title: 'Palettes that say nothing',
    remedy: 'Store a value for those units in the palette, or take the attribute out of the scene.',
    step: 'scenes',
  },
  AIM_OUT_OF_REACH: {
    title: 'Aims that heads cannot reach',
    remedy: 'Move the aim, hang the head elsewhere, or take it out. It points as near as it can.',
    step: 'plot',
  },
  AIM_AT_HEAD: { title: 'Aims at a head itself', remedy: 'Move the aim away from it.', step: 'plot' },
  BEAMS_KEPT_OUT: {
    title: 'Beams that are held back from eyes',
    remedy: 'Aim higher or steeper, or say under Areas what may pass. Off only where nobody stands.',
    step: 'plot',
  },
  KEEP_OUT_OFF: {
    title: 'Keep-outs that are off on purpose',
    remedy: 'Put them on again before people come.',
    step: 'plot',
  },
  NO_RANGES: {
    title: 'Heads whose ranges nobody has said',
    remedy: 'Say in the profile how many degrees they pan and tilt, or aims will be missed.',
    step: 'plot',
  },
  KEPT_ASIDE: {
    title: 'Programmed values without a home',
    remedy: 'Nothing is lost: they are sent again when the unit has such an attribute.',
    step: 'scenes',
  },
};

const ORDER = Object.keys(FINDING_KINDS);

/** Everything known to be wrong with a show, the worst first. Two units that clash with each other are one finding. */
export function preflight(document: Document): Finding[] {
  const seen = new Set<string>();
  const findings: Finding[] = [];
  const nowhere = new Map<number, UnitId[]>();
  for (const clash of patchFaults(document)) {
    if (clash.code === 'NO_ROUTE') {
      const list = nowhere.get(clash.universe);
      if (list) list.push(clash.unitId);
      else nowhere.set(clash.universe, [clash.unitId]);
      continue;
    }
    const key = keyOf(clash);
    if (!seen.has(key)) findings.push(ofClash(document, clash));
    seen.add(key);
  }
  for (const [universe, unitIds] of nowhere)
    findings.push({
      ...kind('NO_ROUTE'),
      severe: false,
      title: `Universe ${universe}`,
      message: `goes out through no output; ${unitIds.length} ${unitIds.length === 1 ? 'unit listens' : 'units listen'} there`,
      unitIds,
    });
  for (const { severe, lineId, unitIds, message, remedy } of lineFaults(document)) {
    const line = getRecord(document, 'line', lineId)!;
    const code = severe ? 'LINE_SEVERE' : 'LINE_DOUBT';
    findings.push({ ...kind(code), severe, title: `Line ${line.number} ${line.name}`, message, remedy, unitIds });
  }
  findings.push(...aside(document));
  for (const fault of programmingFaults(document)) findings.push({ ...kind(fault.code), ...fault });
  for (const fault of aimFaults(document)) findings.push({ ...kind(fault.code), severe: false, ...fault });
  return findings.sort((a, b) => ORDER.indexOf(a.code) - ORDER.indexOf(b.code));
}

function keyOf(clash: Clash): string {
  switch (clash.code) {
    case 'OVERLAP':
    case 'NUMBER_TWICE':
      return `${clash.code} ${[clash.unitId, clash.otherId].sort().join(' ')}`;
    case 'WIRE_TWICE':
      return `${clash.code} ${clash.message}`;
    default:
      return `${clash.code} ${clash.unitId} ${clash.message}`;
  }
}

export const kind = (code: string): Pick<Finding, 'code' | 'remedy' | 'step'> => {
  const { remedy, step } = FINDING_KINDS[code]!;
  return { code, remedy, step };
};

function ofClash(document: Document, clash: Clash): Finding {
  const unit = getRecord(document, 'unit', clash.unitId);
  const others = 'otherId' in clash ? [clash.otherId] : [];
  return {
    ...kind(clash.code),
    severe: isSevere(clash),
    title:
      clash.code === 'WIRE_TWICE'
        ? `Universe ${clash.universe}`
        : `${unit?.number ?? ''} ${unit?.name ?? clash.unitId}`,
    message: clash.code === 'NO_ADDRESS' ? 'has no address yet' : clash.message,
    unitIds: [clash.unitId, ...others],
  };
}

function aside(document: Document): Finding[] {
  const scenes = new Map<string, { count: number; units: Set<string>; why: string }>();
  for (const { scene, unit, why } of keptAside(document)) {
    const entry = scenes.get(scene) ?? { count: 0, units: new Set<string>(), why };
    entry.count++;
    entry.units.add(unit);
    scenes.set(scene, entry);
  }
  const byName = new Map(recordsOf(document, 'unit').map((u) => [u.name, u.id]));
  return [...scenes].map(([scene, { count, units, why }]) => ({
    ...kind('KEPT_ASIDE'),
    severe: false,
    title: scene,
    message: `${count} ${count === 1 ? 'value has' : 'values have'} no home (${why}): ${[...units].slice(0, 4).join(', ')}${units.size > 4 ? ` and ${units.size - 4} more` : ''}`,
    unitIds: [...units].flatMap((name) => byName.get(name) ?? []),
  }));
}
