import { oneWord, type Command, type CommandTable } from './command.ts';
import { readArchiveFile } from './files.ts';

const archiveCheck: Command = {
  usage: 'archive check FILE',
  summary: 'Checks a show archive.',
  run: async (args) => {
    const { version, faults } = await readArchiveFile(oneWord(args, 'FILE', archiveCheck.usage));
    return { output: { ok: faults.length === 0, version, faults }, faults };
  },
};

export const ARCHIVE: CommandTable = {
  'archive check': { command: archiveCheck, options: [] },
};
