import { applyChange, recordsOf, type Document } from '../core/document/change.ts';
import { FaultError } from '../core/faults.ts';
import { writeArchive } from '../core/format/archive.ts';
import { type UnitId } from '../core/ids.ts';
import { formatAddress, parseAddress } from '../core/patch/address.ts';
import { membersOf } from '../core/patch/groups.ts';
import { packUnits, type Move } from '../core/patch/pack.ts';
import { UNIT_ORDERS, type UnitOrder } from '../core/records/group.ts';
import { numberOption, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowAndFiles, writeOut } from './files.ts';

/** Commands about the patch. None needs the database or the engine. */

const renumber: Command = {
  usage: `renumber ARCHIVE [OUT.kite] [--dry-run] [--units 1-20,33] [--group NAME] [--order ${UNIT_ORDERS.join('|')}] [--start 1.1] [--gap N] [--block N]`,
  summary: 'Packs the addresses of units in an order. Scenes are untouched.',
  run: async (args) => {
    const [archive, out, extra] = args.words;
    const dry = args.options['dry-run'] !== undefined;
    if (archive === undefined || extra !== undefined || (out === undefined && !dry))
      throw unusable(
        'ARGUMENT_MISSING',
        'ARCHIVE',
        'an archive, and a file to write or --dry-run',
        args.words.length,
        `Usage: ${renumber.usage}`,
      );
    const { document, blobs } = await readShowAndFiles(archive);
    const order = (args.options['order'] ?? 'number') as UnitOrder;
    if (!UNIT_ORDERS.includes(order))
      throw unusable(
        'OPTION_RANGE',
        '--order',
        'there is no such order',
        order,
        `Orders are ${UNIT_ORDERS.join(', ')}.`,
      );
    const start = parseAddress(args.options['start'] ?? '1.1');
    if (!start.ok) throw new FaultError({ ...start.fault, path: '--start' });
    const packing = packUnits(document, chosenUnits(document, args), {
      order,
      start: start.value,
      gap: numberOption(args, 'gap', 0, 511, 0),
      block: numberOption(args, 'block', 0, 512, 0),
    });
    if (!dry && out !== undefined)
      await writeOut(out, writeArchive([...applyChange(document, packing.change).values()], blobs));
    const line = ({ unit, before, after }: Move) => ({
      number: unit.number,
      name: unit.name,
      before: before ? formatAddress(before.universe, before.address) : null,
      after: after ? formatAddress(after.universe, after.address) : null,
    });
    return {
      output: {
        dryRun: dry,
        moves: packing.moves.map(line),
        unplaced: packing.unplaced.map((u) => ({ number: u.number, name: u.name })),
      },
    };
  },
};

/** The units that are named by numbers or by a group; all where nothing is said. */
function chosenUnits(document: Document, args: Arguments): UnitId[] {
  const units = recordsOf(document, 'unit');
  const { units: text, group: name } = args.options;
  if (name !== undefined) {
    const groups = recordsOf(document, 'group');
    const group = groups.find((g) => g.name === name);
    if (!group)
      throw unusable(
        'NO_SUCH_GROUP',
        '--group',
        `there is no group “${name}”`,
        name,
        `Groups are: ${groups.map((g) => g.name).join(', ') || 'none'}.`,
      );
    return membersOf(document, group);
  }
  if (text === undefined) return units.map((u) => u.id);
  const wanted = text.split(',').flatMap((part): [number, number][] => {
    const found = /^\s*(\d{1,5})(?:\s*-\s*(\d{1,5}))?\s*$/.exec(part);
    if (!found)
      throw unusable(
        'OPTION_RANGE',
        '--units',
        `“${part}” is no number of a unit`,
        text,
        'Write numbers such as 1-20,33.',
      );
    return [[Number(found[1]), Number(found[2] ?? found[1])]];
  });
  const found = units.filter((u) => wanted.some(([low, high]) => u.number >= low && u.number <= high));
  if (found.length === 0)
    throw unusable(
      'NO_SUCH_UNIT',
      '--units',
      'no unit has one of these numbers',
      text,
      'Give numbers that the show has.',
    );
  return found.map((u) => u.id);
}

export const PATCH: CommandTable = {
  renumber: { command: renumber, options: ['units', 'group', 'order', 'start', 'gap', 'block', 'dry-run!'] },
};
