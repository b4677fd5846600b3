/**
 * The headless command. JSON on stdout; problems as JSON on stderr. Exit 0: done; 1: a check found faults; 2: the
 * input cannot be used. docs/cli.md describes every command.
 */
import { FaultError, type Fault } from '../core/faults.ts';
import { readArguments, unusable, type Answer, type CommandTable } from './command.ts';
import { GROUPS } from './groups.ts';

/** The longest command name (of one or two words) that the line begins with; only what it needs is loaded. */
async function find(argv: readonly string[]): Promise<{ entry: CommandTable[string]; rest: readonly string[] } | null> {
  const group = GROUPS.find(({ first }) => first.includes(argv[0] ?? ''));
  if (!group) return null;
  const table = await group.load();
  for (const count of [2, 1]) {
    const name = argv.slice(0, count).join(' ');
    if (argv.length >= count && Object.hasOwn(table, name)) return { entry: table[name]!, rest: argv.slice(count) };
  }
  return null;
}

async function answer(argv: readonly string[]): Promise<Answer> {
  const found = await find(argv);
  if (!found) {
    const tables = await Promise.all(GROUPS.map(({ load }) => load()));
    const usage = tables.flatMap((table) => Object.values(table)).map(({ command }) => command.usage);
    throw unusable(
      'UNKNOWN_COMMAND',
      'command',
      argv.length === 0 ? 'no command was given' : `there is no command “${argv.slice(0, 2).join(' ')}”`,
      argv[0] ?? null,
      `Commands: ${usage.join(' | ')}`,
    );
  }
  const { command, options } = found.entry;
  return command.run(readArguments(found.rest, options));
}

const complain = (faults: readonly Fault[]): void => {
  const [first, ...more] = faults;
  process.stderr.write(`${JSON.stringify({ ...first, ...(more.length > 0 ? { more } : {}) })}\n`);
};

// Whoever reads may have had enough, as `head` has.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(0);
});

try {
  const { output, faults = [] } = await answer(process.argv.slice(2));
  process.stdout.write(`${JSON.stringify(output)}\n`);
  if (faults.length > 0) complain(faults);
  process.exitCode = faults.length > 0 ? 1 : 0;
} catch (error) {
  if (error instanceof FaultError) complain(error.faults);
  else
    complain([
      {
        code: 'INTERNAL',
        path: '',
        message: String((error as Error).stack ?? error),
        remedy: 'This is a bug: please report it with the command.',
      },
    ]);
  process.exitCode = 2;
}
