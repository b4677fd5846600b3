import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import type { LineId, UnitId } from '../../ids.ts';
import type { LineRecord } from '../../records/index.ts';
import type { Connector } from '../../records/line.ts';
import { pixelPort, tooFastFor } from './pixels.ts';
import { resolveLine, type Drop } from './run.ts';

/** ANSI E1.11 / TIA-485: unit loads on one transmitter, and metres of cable. */
const MOST_LOADS = 32;
const MOST_METRES = 300;

export const CONNECTOR_WORDS: Readonly<Record<Connector, string>> = {
  xlr5: '5-pin XLR',
  xlr3: '3-pin XLR',
  rj45: 'RJ45',
  'rj45-45': 'RJ45, data on 4 and 5',
  screw: 'screw terminal',
  pixel3: '3-wire pixel plug',
  pixel4: '4-wire pixel plug',
  wireless: 'radio',
};

/** Something about the cable of a line. `severe` will fail tonight. */
export interface LineFault {
  readonly code: 'LOADS' | 'LENGTH' | 'NO_TERMINATOR' | 'FORK' | 'CROSSED' | 'PIXEL_RATE' | 'PIXEL_LIMIT' | 'NO_PORT';
  readonly severe: boolean;
  readonly lineId: LineId;
  readonly unitIds: readonly UnitId[];
  readonly message: string;
  readonly remedy: string;
}

const known = new WeakMap<Document, readonly LineFault[]>();

/** What is wrong with the cables of a show. Kept for as long as the document. */
export function lineFaults(document: Document): readonly LineFault[] {
  let found = known.get(document);
  if (!found) {
    found = recordsOf(document, 'line').flatMap((line) => faultsOfLine(document, line));
    known.set(document, found);
  }
  return found;
}

const nameOf = (document: Document, id: UnitId | undefined): string => {
  const unit = id && getRecord(document, 'unit', id);
  return unit ? `${unit.number} ${unit.name}` : '';
};

function faultsOfLine(document: Document, line: LineRecord): LineFault[] {
  if (line.medium === 'mains' || line.unitIds.length === 0) return [];
  const faults: LineFault[] = [];
  const say = (
    code: LineFault['code'],
    severe: boolean,
    message: string,
    remedy: string,
    unitIds: readonly UnitId[],
  ): void => void faults.push({ code, severe, lineId: line.id, unitIds, message, remedy });
  if (!line.outputId)
    say('NO_PORT', false, 'hangs on no output', 'Choose the output and port it is plugged into.', line.unitIds);
  const { drops, runs } = resolveLine(document, line);
  crossed(document, drops, say);
  if (line.medium === 'pixels') {
    pixels(document, line, say);
    return faults;
  }
  for (const run of runs) {
    const loads = run.units.length;
    if (loads > MOST_LOADS)
      say(
        'LOADS',
        true,
        `${loads} units hang on one transmitter, ${MOST_LOADS} is the most`,
        'Put a splitter before one of them, so that it drives those behind it.',
        run.units.slice(MOST_LOADS),
      );
    if (run.lengthM > MOST_METRES)
      say(
        'LENGTH',
        true,
        `${round(run.lengthM)} m of cable on one transmitter, ${MOST_METRES} m is the most`,
        'Put a splitter or repeater in the middle, or shorten the run.',
        run.units.slice(-1),
      );
    for (const fork of run.forks)
      say(
        'FORK',
        true,
        `the cable forks at ${nameOf(document, fork)}: a Y reflects the signal`,
        'Put a splitter there, or lead the cable from unit to unit.',
        [fork],
      );
  }
  const ends = runs.flatMap((r) => r.ends);
  if (!line.terminated && ends.length > 0)
    say(
      'NO_TERMINATOR',
      false,
      `no terminator is noted at ${ends
        .slice(0, 3)
        .map((id) => nameOf(document, id))
        .join(' and ')}`,
      'Plug a 120 ohm terminator into the last unit and tick it here.',
      ends,
    );
  return faults;
}

type Say = (
  code: LineFault['code'],
  severe: boolean,
  message: string,
  remedy: string,
  unitIds: readonly UnitId[],
) => void;

/** Both RJ45, with the data on other pins: a straight cable gives no signal at all. */
export const needsCrossing = (a: Connector, b: Connector): boolean =>
  (a === 'rj45' && b === 'rj45-45') || (a === 'rj45-45' && b === 'rj45');

function crossed(document: Document, drops: readonly Drop[], say: Say): void {
  for (const drop of drops)
    if (needsCrossing(drop.fromConnector, drop.connector))
      say(
        'CROSSED',
        true,
        `the pins of ${drop.from ? nameOf(document, drop.from) : 'the port'} and ${nameOf(document, drop.unit.id)} differ`,
        'Use a crossed adapter: data is on pins 1 and 2 on one side (ANSI E1.27-2), on 4 and 5 on the other.',
        [drop.unit.id],
      );
}

function pixels(document: Document, line: LineRecord, say: Say): void {
  const port = pixelPort(document, line);
  const wanted = tooFastFor(document, port);
  if (wanted !== null)
    say(
      'PIXEL_RATE',
      false,
      `${port.pixels} pixels on one port reach ${Math.floor(port.frameRate)} frames a second, the show asks for ${wanted}`,
      'Spread the pixels over more ports, or cap the frame rate of the output.',
      line.unitIds,
    );
  if (line.pixelLimit !== null && port.pixels > line.pixelLimit)
    say(
      'PIXEL_LIMIT',
      true,
      `${port.pixels} pixels on a port for ${line.pixelLimit}`,
      'Move units to another port.',
      line.unitIds,
    );
}

const round = (metres: number): string => String(Math.round(metres * 10) / 10);
