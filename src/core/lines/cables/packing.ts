import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import type { LineId } from '../../ids.ts';
import { CONNECTOR_WORDS, needsCrossing } from './faults.ts';
import { pixelPort } from './pixels.ts';
import { resolveLine } from './run.ts';

/** One row of what has to be in the van. */
export interface PackingItem {
  readonly group: 'Cables' | 'Adapters' | 'Terminators' | 'Splitters' | 'Power';
  readonly what: string;
  readonly count: number;
  /** Where it goes, in a few words. */
  readonly where: string;
}

/** Lengths cables are sold in; a piece is rounded up to the next. */
export const CABLE_LENGTHS_M = [0.5, 1, 2, 3, 5, 10, 15, 20, 25, 30, 50, 75, 100, 150, 200, 300];
export const cableLengthFor = (metres: number): number =>
  CABLE_LENGTHS_M.find((length) => length >= metres) ?? Math.ceil(metres / 50) * 50;

const GROUPS: readonly PackingItem['group'][] = ['Cables', 'Adapters', 'Terminators', 'Splitters', 'Power'];

/** What the lines of a show need (or one line of it): cables by length, adapters, terminators, splitters, power. */
export function packingList(document: Document, only: LineId | null = null): PackingItem[] {
  const items = new Map<string, { group: PackingItem['group']; what: string; count: number; lines: Set<string> }>();
  const add = (group: PackingItem['group'], what: string, line: string, count = 1): void => {
    const key = `${group} ${what}`;
    const item = items.get(key) ?? { group, what, count: 0, lines: new Set<string>() };
    item.count += count;
    item.lines.add(line);
    items.set(key, item);
  };
  for (const line of recordsOf(document, 'line')) {
    if (only !== null && line.id !== only) continue;
    const { drops, runs } = resolveLine(document, line);
    if (line.medium !== 'mains')
      for (const drop of drops) {
        if (drop.fromConnector === 'wireless' || drop.connector === 'wireless') continue;
        const kind = CONNECTOR_WORDS[drop.fromConnector];
        const length = drop.lengthM === null ? 'length not measured' : `${cableLengthFor(drop.lengthM)} m`;
        add('Cables', `${kind}, ${length}`, line.name);
        if (needsCrossing(drop.fromConnector, drop.connector))
          add('Adapters', 'RJ45 crossed, pins 1 2 to 4 5', line.name);
        else if (drop.fromConnector !== drop.connector)
          add('Adapters', `${kind} to ${CONNECTOR_WORDS[drop.connector]}`, line.name);
        if (drop.splitter) add('Splitters', 'DMX splitter output', line.name);
      }
    if (line.medium === 'dmx')
      for (const end of runs.flatMap((r) => r.ends)) {
        const connector = drops.find((d) => d.unit.id === end)!.connector;
        if (connector !== 'wireless') add('Terminators', `120 ohm, ${CONNECTOR_WORDS[connector]}`, line.name);
      }
    power(document, line.id, add);
  }
  return [...items.values()]
    .map(({ group, what, count, lines }) => ({ group, what, count, where: [...lines].join(', ') }))
    .sort(
      (a, b) =>
        GROUPS.indexOf(a.group) - GROUPS.indexOf(b.group) || a.what.localeCompare(b.what, 'en', { numeric: true }),
    );
}

/** Mains for what the profiles say; supplies for pixels. What a profile does not say is counted as not known. */
function power(
  document: Document,
  lineId: LineId,
  add: (group: PackingItem['group'], what: string, line: string, count?: number) => void,
): void {
  const line = getRecord(document, 'line', lineId)!;
  if (line.medium === 'pixels') {
    const port = pixelPort(document, line);
    if (port.pixels === 0) return;
    const share = Math.ceil(port.watts / (port.injections.length + 1));
    add('Power', `${line.volts} V, ${share} W, for a feed of pixels`, line.name, port.injections.length + 1);
    return;
  }
  let watts = 0;
  let unknown = 0;
  for (const id of line.unitIds) {
    const unit = getRecord(document, 'unit', id);
    const power = unit && getRecord(document, 'profile', unit.profileId)?.physical.powerW;
    if (power === undefined || power === 0) unknown++;
    else watts += power;
  }
  const rest = unknown > 0 ? ` and ${unknown} ${unknown === 1 ? 'unit whose' : 'units whose'} power is not known` : '';
  if (line.unitIds.length > 0) add('Power', `mains for ${Math.round(watts)} W${rest}`, line.name);
}
