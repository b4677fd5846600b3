import { modelFaults } from '../core/check/models.ts';
import { roomFaults, roomSummary } from '../core/room/check.ts';
import { focusSheet } from '../core/room/focus.ts';
import { unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowAndFiles, readShowFile } from './files.ts';

function oneArchive({ words }: Arguments, usage: string): string {
  const [archive, ...more] = words;
  if (!archive || more.length > 0)
    throw unusable('ARGUMENT_MISSING', 'ARCHIVE', 'one file is needed', words.join(' '), `Usage: ${usage}`);
  return archive;
}

const check: Command = {
  usage: 'room check ARCHIVE',
  summary: 'What stands and hangs in the room of a show, and what cannot be there.',
  run: async (args) => {
    const { document, blobs } = await readShowAndFiles(oneArchive(args, check.usage));
    const faults = [...roomFaults(document), ...modelFaults(document, blobs)];
    return { output: { ok: faults.length === 0, ...roomSummary(document), faults }, faults };
  },
};

const focus: Command = {
  usage: 'room focus ARCHIVE',
  summary: 'The focusing sheet: where each fixed lamp points.',
  run: async (args) => {
    const lines = focusSheet(await readShowFile(oneArchive(args, focus.usage)));
    return {
      output: lines.map(({ unit, ...line }) => ({ number: unit.number, unit: unit.name, id: unit.id, ...line })),
    };
  },
};

export const ROOM: CommandTable = {
  'room check': { command: check, options: [] },
  'room focus': { command: focus, options: [] },
};
