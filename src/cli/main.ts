/**
 * The headless command. JSON on stdout; problems as JSON on stderr. Exit 0: done; 1: a check found faults; 2: the
 * input cannot be used. docs/cli.md describes every command.
 */
import { FaultError, type Fault } from '../core/faults.ts';
import { readArguments, unusable, type Answer, type CommandTable } from './command.ts';
import { discover } from './discover.ts';
import { listenFor } from './listen.ts';
import { standin } from './standin.ts';
import { testSignal } from './test-signal.ts';
import { PLOT } from './plot.ts';
import { PROP } from './prop.ts';
import { PROFILE } from './profile.ts';
import { PATCH } from './patch.ts';
import { SHEET } from './sheet.ts';
import { PLAY } from './play.ts';
import { PURE } from './pure.ts';

const COMMANDS: CommandTable = {
  ...PURE,
  ...PLAY,
  ...PATCH,
  ...SHEET,
  ...PROFILE,
  ...PROP,
  ...PLOT,
  listen: { command: listenFor, options: ['seconds', 'universes'] },
  discover: { command: discover, options: ['seconds', 'own', 'broadcast', 'devices'] },
  test: {
    command: testSignal,
    options: ['sweep', 'slot', 'all!', 'ramp', 'every', 'level', 'from', 'to', 'seconds', 'priority', 'interface'],
  },
  standin: {
    command: standin,
    options: [
      'address',
      'universes',
      'rdm',
      'path',
      'to',
      'priority',
      'seconds',
      'loss',
      'delay',
      'jitter',
      'reorder',
      'duplicate',
      'rubbish',
    ],
  },
};

/** The longest command name (of one or two words) that the line begins with. */
function find(argv: readonly string[]): { name: string; rest: readonly string[] } | null {
  for (const count of [2, 1]) {
    const name = argv.slice(0, count).join(' ');
    if (argv.length >= count && Object.hasOwn(COMMANDS, name)) return { name, rest: argv.slice(count) };
  }
  return null;
}

async function answer(argv: readonly string[]): Promise<Answer> {
  const found = find(argv);
  if (!found) {
    const usage = Object.values(COMMANDS).map(({ command }) => command.usage);
    throw unusable(
      'UNKNOWN_COMMAND',
      'command',
      argv.length === 0 ? 'no command was given' : `there is no command “${argv.slice(0, 2).join(' ')}”`,
      argv[0] ?? null,
      `Commands: ${usage.join(' | ')}`,
    );
  }
  const { command, options } = COMMANDS[found.name]!;
  return command.run(readArguments(found.rest, options));
}

const complain = (faults: readonly Fault[]): void => {
  const [first, ...more] = faults;
  process.stderr.write(`${JSON.stringify({ ...first, ...(more.length > 0 ? { more } : {}) })}\n`);
};

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
