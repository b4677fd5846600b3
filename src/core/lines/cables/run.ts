import { getRecord, type Document } from '../../document/change.ts';
import type { UnitId } from '../../ids.ts';
import { layoutOfUnit } from '../../patch/of-document.ts';
import type { LineRecord, UnitRecord } from '../../records/index.ts';
import type { Cable, Connector } from '../../records/line.ts';

/** One line as the cable goes: each unit with the piece of cable that leads to it. */
export interface Drop {
  readonly unit: UnitRecord;
  /** Unit the cable comes from; null for the port. */
  readonly from: UnitId | null;
  /** Sockets at both ends of the cable. */
  readonly fromConnector: Connector;
  readonly connector: Connector;
  /** Metres of this piece; null where nobody measured. */
  readonly lengthM: number | null;
  readonly splitter: boolean;
  /** Which electrical run it belongs to: a splitter starts a new one. */
  readonly run: number;
  /** Pixels from the port up to the end of this unit. */
  readonly pixelsBefore: number;
  readonly pixels: number;
}

/** Cable that is driven by one transmitter: the port, or an output of a splitter. */
export interface ElectricalRun {
  readonly units: readonly UnitId[];
  /** Measured metres; pieces nobody measured count nothing and are in `unmeasured`. */
  readonly lengthM: number;
  readonly unmeasured: number;
  /** Units after which nothing comes: where a terminator belongs. */
  readonly ends: readonly UnitId[];
  /** Units that feed two or more without a splitter between. */
  readonly forks: readonly UnitId[];
}

export interface ResolvedLine {
  readonly line: LineRecord;
  readonly drops: readonly Drop[];
  readonly runs: readonly ElectricalRun[];
  readonly pixels: number;
}

const DEFAULT_CABLE: Cable = { lengthM: null, connector: null, from: null, splitter: false };

/** Cable data of a unit of a line, with what was not given. */
export const cableOf = (line: LineRecord, id: UnitId): Cable => line.cables[id] ?? DEFAULT_CABLE;

/** What a profile says about sockets in words, as one of ours; null where it says nothing we know. */
export function connectorIn(words: string | undefined): Connector | null {
  if (!words) return null;
  const text = words.toLowerCase();
  if (/xlr\D*5|5.?pin/.test(text)) return 'xlr5';
  if (/xlr\D*3|3.?pin|xlr/.test(text)) return 'xlr3';
  if (/rj.?45|ethercon/.test(text)) return 'rj45';
  if (/screw|terminal|phoenix/.test(text)) return 'screw';
  return null;
}

/** Socket of a unit: as set for it, else as its profile says, else what its kind mostly has. */
function socketOf(document: Document, line: LineRecord, unit: UnitRecord): Connector {
  const profile = getRecord(document, 'profile', unit.profileId);
  const usual = line.medium === 'dmx' ? 'xlr3' : line.medium === 'pixels' ? 'pixel3' : 'screw';
  return cableOf(line, unit.id).connector ?? connectorIn(profile?.physical.connectors) ?? usual;
}

/** Lays a line out. A `from` that is not an earlier unit of the line counts as the unit before. Linear. */
export function resolveLine(document: Document, line: LineRecord): ResolvedLine {
  const drops: Drop[] = [];
  const runOf = new Map<UnitId, number>();
  const socket = new Map<UnitId, Connector>();
  let runs = 1;
  let pixels = 0;
  for (const id of line.unitIds) {
    const unit = getRecord(document, 'unit', id);
    if (!unit) continue;
    const cable = cableOf(line, id);
    const before = drops.at(-1)?.unit.id ?? null;
    const from = cable.from !== null && runOf.has(cable.from) ? cable.from : before;
    const run = cable.splitter ? runs++ : from === null ? 0 : runOf.get(from)!;
    const connector = socketOf(document, line, unit);
    const own = line.medium === 'pixels' ? pixelsOf(document, unit) : 0;
    drops.push({
      unit,
      from,
      // Mains circuits are wired, not plugged: there is nothing to adapt.
      fromConnector: line.medium === 'mains' ? connector : from === null ? line.connector : socket.get(from)!,
      connector,
      lengthM: cable.lengthM,
      splitter: cable.splitter,
      run,
      pixelsBefore: pixels,
      pixels: own,
    });
    pixels += own;
    runOf.set(id, run);
    socket.set(id, connector);
  }
  const found = Array.from({ length: runs }, (_, run) => electricalRun(drops, run)).filter((r) => r.units.length > 0);
  return { line, drops, runs: found, pixels };
}

/** Cells of a unit; one that has none is a single pixel. */
export function pixelsOf(document: Document, unit: UnitRecord): number {
  return Math.max(1, layoutOfUnit(document, unit).cells);
}

function electricalRun(drops: readonly Drop[], run: number): ElectricalRun {
  const own = drops.filter((d) => d.run === run);
  // What a unit feeds over a splitter is driven by the splitter: it still takes the place of a terminator.
  const fedBy = new Map<UnitId | null, Drop[]>();
  for (const drop of drops) fedBy.set(drop.from, [...(fedBy.get(drop.from) ?? []), drop]);
  const direct = (id: UnitId): Drop[] => (fedBy.get(id) ?? []).filter((d) => !d.splitter);
  return {
    units: own.map((d) => d.unit.id),
    lengthM: own.reduce((sum, d) => sum + (d.lengthM ?? 0), 0),
    unmeasured: own.filter((d) => d.lengthM === null).length,
    ends: own.filter((d) => (fedBy.get(d.unit.id) ?? []).length === 0).map((d) => d.unit.id),
    forks: own.filter((d) => direct(d.unit.id).length > 1).map((d) => d.unit.id),
  };
}
