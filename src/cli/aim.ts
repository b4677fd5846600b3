import { readFile } from 'node:fs/promises';
import { axesOf, sentFor } from '../core/aim/axes.ts';
import { solve } from '../core/aim/solve.ts';
import { readTrueUpFile } from '../core/aim/trueup-file.ts';
import { trueUp, unusableReadings, type TrueUp } from '../core/aim/trueup.ts';
import { aimTable, outOfReach } from '../core/aim/table.ts';
import { applyChange, recordsOf, type Document } from '../core/document/change.ts';
import { switchRoom } from '../core/edits/rooms.ts';
import type { Place3 } from '../core/plot/paper.ts';
import { unusable, type Command, type CommandTable } from './command.ts';
import { readShowFile } from './files.ts';

const round = (value: number, step = 1000): number => Math.round(value * step) / step + 0;

/** Three lengths in metres with commas between. */
function placeOf(text: string | undefined): Place3 {
  const [x, y, z, ...more] = (text ?? '').split(',').map((part) => (part.trim() === '' ? NaN : Number(part)));
  if (more.length > 0 || ![x, y, z].every((v) => v !== undefined && Number.isFinite(v) && Math.abs(v) <= 1000))
    throw unusable(
      'PLACE',
      '--at',
      'is no place in the room',
      text ?? null,
      'Give three metres such as --at 2,-1.5,0.',
    );
  return { x: x!, y: y!, z: z! };
}

const solveOne: Command = {
  usage: 'aim solve ARCHIVE --unit N --at X,Y,Z',
  summary: 'Pan and tilt of one head for a place in the room.',
  run: async ({ words, options }) => {
    const [archive, ...more] = words;
    if (!archive || more.length > 0)
      throw unusable('ARGUMENT_MISSING', 'ARCHIVE', 'one file is needed', words.join(' '), `Usage: ${solveOne.usage}`);
    const at = placeOf(options['at']);
    const document = await readShowFile(archive);
    const wanted = options['unit'] ?? '';
    const unit = recordsOf(document, 'unit').find((u) => String(u.number) === wanted.trim());
    if (!unit)
      throw unusable(
        'NO_SUCH_UNIT',
        '--unit',
        'there is no unit of that number',
        wanted,
        'Give the number of a unit in the show.',
      );
    const axes = axesOf(document, unit);
    if (!axes)
      throw unusable(
        'NO_AXES',
        '--unit',
        `${unit.number} ${unit.name} has neither pan nor tilt`,
        wanted,
        'Choose a head or a scanner.',
      );
    const found = solve(axes, axes.standing, at);
    if (!found)
      throw unusable(
        'AT_THE_UNIT',
        '--at',
        `${unit.number} ${unit.name} is at that very place`,
        options['at'],
        'Give a place away from it.',
      );
    return {
      output: {
        pan: round(found.pan),
        tilt: round(found.tilt),
        ...sentFor(axes, unit, found),
        flipped: found.flipped,
        missDeg: round(found.missDeg),
      },
    };
  },
};

const table: Command = {
  usage: 'aim table ARCHIVE [--room NAME]',
  summary: 'Pan and tilt of all heads for all aims, and what is out of reach.',
  run: async ({ words, options }) => {
    const [archive, ...more] = words;
    if (!archive || more.length > 0)
      throw unusable('ARGUMENT_MISSING', 'ARCHIVE', 'one file is needed', words.join(' '), `Usage: ${table.usage}`);
    const document = inRoomNamed(await readShowFile(archive), options['room']);
    const lines = aimTable(document);
    return {
      output: {
        room: recordsOf(document, 'show')[0]?.room.name ?? '',
        lines: lines.map(({ unit, aim, solution, panDmx, tiltDmx, takesPart }) => ({
          unit: unit.number,
          name: unit.name,
          aim: aim.name,
          takesPart,
          pan: round(solution.pan),
          tilt: round(solution.tilt),
          panDmx,
          tiltDmx,
          flipped: solution.flipped,
          missDeg: round(solution.missDeg),
        })),
        outOfReach: outOfReach(document).map(({ unit, aim, solution }) => ({
          unit: unit.number,
          name: unit.name,
          aim: aim.name,
          missDeg: round(solution.missDeg),
        })),
      },
    };
  },
};

/** The show as it stands in one of its rooms, by its name; as it is where none is named. */
function inRoomNamed(document: Document, name: string | undefined): Document {
  if (name === undefined) return document;
  const here = recordsOf(document, 'show')[0];
  const alike = (other: string | undefined): boolean => other?.trim().toLowerCase() === name.trim().toLowerCase();
  if (alike(here?.room.name)) return document;
  const rooms = recordsOf(document, 'room');
  const room = rooms.find((r) => alike(r.name) || alike(r.kept?.measures.name));
  if (!room)
    throw unusable(
      'NO_SUCH_ROOM',
      '--room',
      'this show has no room of that name',
      name,
      `Its rooms: ${[here?.room.name, ...rooms.filter((r) => r.kept).map((r) => r.name)].join(', ')}.`,
    );
  return applyChange(document, switchRoom(document, room.id, () => 'room:left').change);
}

const told = ({ hanging, swap, invertPan, invertTilt, panOffset, tiltOffset, residualDeg, residuals }: TrueUp) => ({
  hanging: { x: round(hanging.x), y: round(hanging.y), z: round(hanging.z) },
  inversion: { pan: invertPan, tilt: invertTilt },
  swap,
  offset: { pan: round(panOffset), tilt: round(tiltOffset) },
  residualDeg: round(residualDeg),
  residuals: residuals.map((r) => round(r)),
});

const trueUpOne: Command = {
  usage: 'aim trueup FILE.json',
  summary: 'How a head hangs and is wired, from where it stood to meet known spots.',
  run: async ({ words }) => {
    const [file, ...more] = words;
    if (!file || more.length > 0)
      throw unusable('ARGUMENT_MISSING', 'FILE', 'one file is needed', words.join(' '), `Usage: ${trueUpOne.usage}`);
    const text = await readFile(file, 'utf8').catch((error: unknown) => {
      throw unusable(
        'FILE_UNREADABLE',
        file,
        (error as Error).message,
        file,
        'Give the path of a file that can be read.',
      );
    });
    const { unit, readings } = readTrueUpFile(text, file);
    const wrong = unusableReadings(unit.position, readings);
    if (wrong)
      throw unusable(
        'READINGS',
        'readings',
        wrong,
        readings.length,
        'Point the head at two spots or more that lie apart.',
      );
    const { best, second, contradicts } = trueUp(unit.joint, unit, readings);
    return { output: { ...told(best), second: second && told(second), contradicts } };
  },
};

export const AIM: CommandTable = {
  'aim solve': { command: solveOne, options: ['unit', 'at'] },
  'aim table': { command: table, options: ['room'] },
  'aim trueup': { command: trueUpOne, options: [] },
};
