import { FaultError, faultsFromZod } from '../core/faults.ts';
import { readGdtf } from '../core/format/gdtf/read.ts';
import { writeGdtf } from '../core/format/gdtf/write.ts';
import { footprintOf, profileFaults } from '../core/profile/layout.ts';
import { builtInProfiles } from '../core/profile/library.ts';
import { parseRanges } from '../core/profile/paste.ts';
import { indexProfiles, searchProfiles } from '../core/profile/search.ts';
import { profileSchema } from '../core/records/profile.ts';
import { oneWord, unusable, type Command, type CommandTable } from './command.ts';
import { readLimited, writeOut } from './files.ts';

/** Commands about fixture profiles. None needs the database or the engine. */

const find: Command = {
  usage: 'profile find ["WORDS"]',
  summary: 'Finds profiles of the built-in library.',
  run: ({ words }) => {
    const index = indexProfiles(builtInProfiles(), (kind) => kind);
    const found = searchProfiles(index, words.join(' '));
    const profiles = found.map(({ maker, model, fixtureKind, modes }) => ({
      maker,
      model,
      kind: fixtureKind,
      modes: modes.map((m) => ({ name: m.name, footprint: footprintOf(m) })),
    }));
    return { output: { count: profiles.length, profiles } };
  },
};

const read: Command = {
  usage: 'profile read FILE.gdtf',
  summary: 'Reads a GDTF file: what is held of it, and what is not kept.',
  run: async (args) => {
    const bytes = await readLimited(oneWord(args, 'FILE', read.usage), 256 * 1024 * 1024);
    const { profiles, faults, notKept } = readGdtf(bytes, () => 'profile:imported');
    if (profiles.length === 0) throw new FaultError(faults);
    return { output: { profile: profiles[0], notKept, faults }, faults };
  },
};

const write: Command = {
  usage: 'profile write FILE.json OUT.gdtf',
  summary: 'Writes a profile (JSON, as "profile read" gives it) as a GDTF file.',
  run: async ({ words }) => {
    const [file, out, extra] = words;
    if (file === undefined || out === undefined || extra !== undefined)
      throw unusable('ARGUMENT_MISSING', 'FILE OUT', 'two files are expected', words.length, `Usage: ${write.usage}`);
    let json: unknown;
    try {
      json = JSON.parse(new TextDecoder().decode(await readLimited(file, 32 * 1024 * 1024)));
    } catch (error) {
      if (error instanceof FaultError) throw error;
      throw unusable('NOT_JSON', file, (error as Error).message.slice(0, 200), file, 'Give a file of JSON.');
    }
    const given = typeof json === 'object' && json !== null && 'profile' in json ? json.profile : json;
    const parsed = profileSchema.safeParse(given);
    if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, given, file).slice(0, 50));
    const faults = profileFaults(parsed.data);
    if (faults.length > 0) throw new FaultError(faults);
    const bytes = writeGdtf(parsed.data);
    await writeOut(out, bytes);
    return { output: { ok: true, file: out, bytes: bytes.length, modes: parsed.data.modes.length } };
  },
};

const ranges: Command = {
  usage: 'profile ranges FILE.txt [--attribute NAME]',
  summary: 'Reads ranges from the text of a manual’s table.',
  run: async (args) => {
    const bytes = await readLimited(oneWord(args, 'FILE', ranges.usage), 4 * 1024 * 1024);
    const found = parseRanges(new TextDecoder().decode(bytes), args.options['attribute'] ?? '');
    return { output: found, faults: found.faults };
  },
};

export const PROFILE: CommandTable = {
  'profile find': { command: find, options: [] },
  'profile read': { command: read, options: [] },
  'profile write': { command: write, options: [] },
  'profile ranges': { command: ranges, options: ['attribute'] },
};
