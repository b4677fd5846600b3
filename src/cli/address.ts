import { FaultError } from '../core/faults.ts';
import { dipSwitches, parseAddress, toAbsolute, type SlotsPerUniverse } from '../core/patch/address.ts';
import { unusable, type Command, type CommandTable } from './command.ts';

const address: Command = {
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

export const ADDRESS: CommandTable = {
  address: { command: address, options: ['slots'] },
};
