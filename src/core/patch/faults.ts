import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import type { LineRecord, OutputRecord, RouteRecord, UnitRecord } from '../records/index.ts';
import { isPacketProtocol } from '../records/output.ts';
import { formatAddress, slotsBetween } from './address.ts';
import { findClashes, slotWords, unitsByUniverse, type Clash } from './clash.ts';
import { layoutOfUnit, patchOf, sameMake, type Patch, type PatchedUnit } from './of-document.ts';

/**
 * Everything that is wrong with the patch of a show: what clashes among the units, ends that were expected elsewhere,
 * ways that lead nowhere, ports with too many pixels. O(n log n) in the number of units.
 */
export function patchFaults(document: Document): readonly Clash[] {
  let found = known.get(document);
  if (!found) known.set(document, (found = allFaults(document)));
  return found;
}
/** Several screens ask of the same document: it is gone through once. */
const known = new WeakMap<Document, readonly Clash[]>();

function allFaults(document: Document): Clash[] {
  const patch = patchOf(document);
  const clashes = findClashes(patch.units);
  for (const record of recordsOf(document, 'unit')) {
    if (record.expectedEnd) expectedEnd(document, record, patch.get(record.id)!, clashes);
    if (record.relation && 'twinOf' in record.relation) twinDiffers(document, record, record.relation.twinOf, clashes);
  }
  routes(document, { ways: recordsOf(document, 'route'), outs: recordsOf(document, 'output') }, patch, clashes);
  portLimits(document, recordsOf(document, 'line'), clashes);
  return clashes;
}

function expectedEnd(document: Document, unit: UnitRecord, patched: PatchedUnit, clashes: Clash[]): void {
  const last = patched.spans.at(-1);
  const wanted = unit.expectedEnd;
  if (!last || !wanted) return;
  const by = slotsBetween(wanted, { universe: last.universe, address: last.to }, patched.slotsPerUniverse);
  if (by === 0) return;
  const { cellFootprint } = layoutOfUnit(document, unit);
  const cells = cellFootprint > 0 ? Math.round((Math.abs(by) / cellFootprint) * 100) / 100 : 0;
  const inCells = cellFootprint > 0 ? ` (${cells} ${cells === 1 ? 'cell' : 'cells'})` : '';
  const message = `ends at ${formatAddress(last.universe, last.to)}, expected ${formatAddress(wanted.universe, wanted.address)}: ${slotWords(Math.abs(by))} too ${by > 0 ? 'far' : 'short'}${inCells}`;
  clashes.push({ code: 'EXPECTED_END', unitId: unit.id, by, message });
}

function twinDiffers(document: Document, unit: UnitRecord, otherId: UnitId, clashes: Clash[]): void {
  const other = getRecord(document, 'unit', otherId);
  if (!other || sameMake(other, unit)) return;
  const alike = other.profileId === unit.profileId && other.mode === unit.mode;
  const what = alike ? 'shape or wiring' : 'profile or mode';
  const message = `is a twin of ${other.number} ${other.name}, which has another ${what}`;
  clashes.push({ code: 'TWIN_DIFFERS', unitId: unit.id, otherId, message });
}

/** Universes that no enabled route carries, and two of ours that meet under one number on the same wire. */
function routes(
  document: Document,
  { ways, outs }: { readonly ways: readonly RouteRecord[]; readonly outs: readonly OutputRecord[] },
  patch: Patch,
  clashes: Clash[],
): void {
  const live = ways.filter((r) => r.enabled && getRecord(document, 'output', r.outputId)?.enabled);
  const routed = new Set(live.map((r) => r.universe));
  const lamps = new Set(outs.flatMap((o) => (o.protocol === 'hub' && o.enabled ? o.lamps.map((l) => l.unitId) : [])));
  const meeting = meetings(document, live);
  // Mostly every universe goes out, and by itself: then no unit need be asked.
  if (meeting.size === 0 && [...unitsByUniverse(patch.units).keys()].every((universe) => routed.has(universe))) return;
  for (const unit of patch.units) {
    let said = false;
    for (const { universe } of unit.spans) {
      if (!said && !routed.has(universe) && !lamps.has(unit.id)) {
        const message = `universe ${universe} goes out through no output`;
        clashes.push({ code: 'NO_ROUTE', unitId: unit.id, universe, message });
        said = true;
      }
      const message = meeting.size > 0 ? meeting.get(universe) : undefined;
      if (message) clashes.push({ code: 'WIRE_TWICE', unitId: unit.id, universe, message });
    }
  }
}

/** Where two universes of ours reach the same device under the same number: by universe, in words. */
function meetings(document: Document, live: readonly RouteRecord[]): Map<number, string> {
  const found = new Map<number, string>();
  const byWire = new Map<string, { route: RouteRecord; output: OutputRecord }[]>();
  for (const route of live) {
    const output = getRecord(document, 'output', route.outputId)!;
    // A serial interface or a hub is a wire of its own: only its own routes can meet there.
    const key = isPacketProtocol(output.protocol) ? `${output.protocol} ${route.wireUniverse}` : output.id;
    const others = byWire.get(key) ?? [];
    for (const other of others) {
      if (other.route.universe === route.universe || !sameWire(output, other.output)) continue;
      const say = (a: number, b: number): void => {
        found.set(
          a,
          isPacketProtocol(output.protocol)
            ? `universes ${a} and ${b} both go out as ${output.protocol === 'sacn' ? 'sACN universe' : 'Art-Net port-address'} ${route.wireUniverse}`
            : `universes ${a} and ${b} both go out through ${output.name}, which carries one`,
        );
      };
      say(route.universe, other.route.universe);
      say(other.route.universe, route.universe);
    }
    byWire.set(key, [...others, { route, output }]);
  }
  return found;
}

function sameWire(a: OutputRecord, b: OutputRecord): boolean {
  if (a.id === b.id) return true;
  // A higher sACN priority wins cleanly: that is a spare, not a quarrel (ANSI E1.31 6.2.3).
  if (a.protocol === 'sacn' && a.priority !== b.priority) return false;
  return (a.multicast && b.multicast) || a.destinations.some((ip) => b.destinations.includes(ip));
}

function portLimits(document: Document, lines: readonly LineRecord[], clashes: Clash[]): void {
  for (const line of lines) {
    if (line.pixelLimit === null) continue;
    let pixels = 0;
    for (const id of line.unitIds) {
      const unit = getRecord(document, 'unit', id);
      if (!unit) continue;
      pixels += layoutOfUnit(document, unit).cells;
      if (pixels <= line.pixelLimit) continue;
      const port = line.port === '' ? '' : `, port ${line.port},`;
      const message = `${line.name}${port} drives ${line.pixelLimit} pixels; with this unit it has ${pixels}, ${pixels - line.pixelLimit} too many`;
      clashes.push({ code: 'PORT_LIMIT', unitId: id, lineId: line.id, message });
    }
  }
}
