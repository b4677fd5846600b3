import { recordsOf } from '../core/document/change.ts';
import { FaultError } from '../core/faults.ts';
import { dipSwitches, parseAddress, toAbsolute, type SlotsPerUniverse } from '../core/patch/address.ts';
import {
  applyLive,
  compileRig,
  compileTarget,
  initialLive,
  makeFrame,
  prepareLive,
  render,
} from '../core/show/index.ts';
import { numberOption, oneWord, unusable, type Command, type CommandTable } from './command.ts';
import { readArchiveFile, readShowFile } from './files.ts';

/** Commands that compute and need neither database nor engine. */

export const address: Command = {
  usage: 'address TEXT [--slots 512|510]',
  summary: 'Reads an address in any notation.',
  run: ({ words, options }) => {
    if (words.length === 0)
      throw unusable('ARGUMENT_MISSING', 'address', 'the address is missing', null, 'Usage: address 3.145');
    const slots = options['slots'] ?? '512';
    if (slots !== '512' && slots !== '510')
      throw unusable('OPTION_RANGE', '--slots', '--slots is not 512 or 510', slots, 'Give 512 or 510.');
    const parsed = parseAddress(words.join(' '), Number(slots) as SlotsPerUniverse);
    if (!parsed.ok) throw new FaultError(parsed.fault);
    const { universe, address: at } = parsed.value;
    return {
      output: {
        universe,
        address: at,
        absolute512: toAbsolute(universe, at, 512),
        absolute510: toAbsolute(universe, at, 510),
        switches: dipSwitches(at),
      },
    };
  },
};

export const archiveCheck: Command = {
  usage: 'archive check FILE',
  summary: 'Checks a show archive.',
  run: async (args) => {
    const { version, faults } = await readArchiveFile(oneWord(args, 'FILE', archiveCheck.usage));
    return { output: { ok: faults.length === 0, version, faults }, faults };
  },
};

/** The longest a render may be asked for: a day. */
const LONGEST_S = 86_400;

export const renderAt: Command = {
  usage: 'render FILE --play "NAME" --at SECONDS',
  summary: 'Renders the moment at which a scene or chase has run that long.',
  run: async (args) => {
    const file = oneWord(args, 'FILE', renderAt.usage);
    const at = numberOption(args, 'at', 0, LONGEST_S);
    const name = args.options['play'];
    if (name === undefined)
      throw unusable(
        'OPTION_MISSING',
        '--play',
        '--play is missing',
        null,
        'Add --play with the name of a scene or chase.',
      );
    const document = await readShowFile(file);
    const all = [...recordsOf(document, 'scene'), ...recordsOf(document, 'chase')];
    const target = all.find((p) => p.name === name || p.id === name);
    if (!target)
      throw unusable(
        'UNKNOWN_PLAY',
        '--play',
        `the show has no scene or chase “${name}”`,
        name,
        `Names are: ${all.map((p) => p.name).join(', ')}.`,
      );
    const rig = compileRig(document);
    const live = applyLive(
      initialLive(0, recordsOf(document, 'show')[0]?.tempoBpm),
      { do: 'play', target: target.id },
      0,
      'render',
    );
    const frame = makeFrame(rig.arrays);
    render(
      rig.arrays,
      prepareLive(rig, live, (id) => compileTarget(rig, document, id)),
      at * 1000,
      frame,
    );
    const universes: Record<string, number[]> = {};
    rig.arrays.universes.forEach(
      (universe, i) => (universes[universe] = [...frame.bytes.subarray(i * 512, i * 512 + 512)]),
    );
    return { output: { frames: [{ at, universes }] } };
  },
};

export const PURE: CommandTable = {
  address: { command: address, options: ['slots'] },
  'archive check': { command: archiveCheck, options: [] },
  render: { command: renderAt, options: ['play', 'at'] },
};
