import { FaultError, type Fault } from '../core/faults.ts';
import { ipv4Schema } from '../core/records/output.ts';

/** What a command answers: JSON for stdout, and whether it was a check that found faults (exit 1). */
export interface Answer {
  readonly output: unknown;
  readonly faults?: readonly Fault[];
}

/** One headless command. `run` throws FaultError when its input cannot be used (exit 2). */
export interface Command {
  readonly usage: string;
  readonly summary: string;
  run(args: Arguments): Promise<Answer> | Answer;
}

/** Commands by name, with the options each takes. */
export type CommandTable = Readonly<Record<string, { command: Command; options: readonly string[] }>>;

/** Words and `--name value` options of a command line. */
export interface Arguments {
  readonly words: readonly string[];
  readonly options: Readonly<Record<string, string>>;
}

export const unusable = (code: string, path: string, message: string, received: unknown, remedy: string): FaultError =>
  new FaultError({ code, path, message, received, remedy });

/**
 * Splits a command line. Options not in `known` are refused; every option takes a value, but for those that end with
 * `!` there: they are given or not.
 */
export function readArguments(argv: readonly string[], known: readonly string[]): Arguments {
  const words: string[] = [];
  const options: Record<string, string> = {};
  for (let i = 0; i < argv.length; i++) {
    const word = argv[i]!;
    if (!word.startsWith('--')) {
      words.push(word);
      continue;
    }
    const [name, inline] = split(word.slice(2));
    if (known.includes(`${name}!`)) {
      options[name] = 'yes';
      continue;
    }
    if (!known.includes(name))
      throw unusable(
        'UNKNOWN_OPTION',
        `--${name}`,
        `there is no option --${name} here`,
        word,
        known.length > 0
          ? `Options are ${known.map((k) => `--${k.replace('!', '')}`).join(', ')}.`
          : 'This command has no options.',
      );
    const value = inline ?? argv[++i];
    if (value === undefined)
      throw unusable('OPTION_EMPTY', `--${name}`, `--${name} needs a value`, word, `Write --${name} VALUE.`);
    options[name] = value;
  }
  return { words, options };
}

function split(text: string): [string, string | undefined] {
  const at = text.indexOf('=');
  return at < 0 ? [text, undefined] : [text.slice(0, at), text.slice(at + 1)];
}

/** A number option within limits; `fallback` where it is not given. */
export function numberOption(args: Arguments, name: string, low: number, high: number, fallback?: number): number {
  const text = args.options[name];
  if (text === undefined) {
    if (fallback !== undefined) return fallback;
    throw unusable(
      'OPTION_MISSING',
      `--${name}`,
      `--${name} is missing`,
      null,
      `Add --${name} with a number from ${low} to ${high}.`,
    );
  }
  const value = text.trim() === '' ? NaN : Number(text);
  if (!(value >= low && value <= high))
    throw unusable(
      'OPTION_RANGE',
      `--${name}`,
      `--${name} is not a number from ${low} to ${high}`,
      text,
      `Give ${low} to ${high}.`,
    );
  return value;
}

/** An IPv4 address option; null where it is not given. */
export function addressOption(args: Arguments, name: string): string | null {
  const text = args.options[name];
  if (text === undefined) return null;
  const parsed = ipv4Schema.safeParse(text);
  if (parsed.success) return parsed.data;
  throw unusable(
    'OPTION_RANGE',
    `--${name}`,
    `--${name} is not an IPv4 address`,
    text,
    'Give an address such as 192.168.1.20.',
  );
}

export function oneWord(args: Arguments, what: string, usage: string): string {
  const [word, extra] = args.words;
  if (word === undefined) throw unusable('ARGUMENT_MISSING', what, `${what} is missing`, null, `Usage: ${usage}`);
  if (extra !== undefined) throw unusable('ARGUMENT_EXTRA', what, `one ${what} is expected`, extra, `Usage: ${usage}`);
  return word;
}
