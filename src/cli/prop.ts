import { faultsFromZod, FaultError } from '../core/faults.ts';
import { GRID_LIMITS } from '../core/format/grid.ts';
import { cellCount, cellPlaces } from '../core/prop/cells.ts';
import { readGridFile } from '../core/format/grid-text.ts';
import { shapeSchema } from '../core/records/shape.ts';
import { oneWord, unusable, type Command, type CommandTable } from './command.ts';
import { readLimited } from './files.ts';

const SPEC_BYTES = 1024 * 1024;
const gridCheck: Command = {
  usage: 'grid check FILE.csv',
  summary: 'Reads a drawn grid: numbers are the wiring order; says what is missing, repeated or no number.',
  run: async (args) => {
    const file = oneWord(args, 'FILE', gridCheck.usage);
    const { grid, faults } = readGridFile(await readLimited(file, GRID_LIMITS.fileBytes, 'cut'));
    if (!grid) throw new FaultError(faults);
    const { order: _, ...reading } = grid;
    const { missing, repeated, notNumbers } = reading;
    const wrong = missing.length + repeated.length + notNumbers.length;
    return {
      output: reading,
      faults:
        wrong === 0
          ? []
          : [
              {
                code: 'GRID_FAULTS',
                path: file,
                message: `${missing.length} missing, ${repeated.length} repeated, ${notNumbers.length} no numbers`,
                received: wrong,
                remedy: 'Correct the places named. A number that repeats on purpose is a twin cell.',
              },
            ],
    };
  },
};

const propCells: Command = {
  usage: 'prop cells SPEC.json',
  summary: 'Places of the cells of a shape in wiring order, in metres.',
  run: async (args) => {
    const file = oneWord(args, 'SPEC', propCells.usage);
    const text = new TextDecoder().decode(await readLimited(file, SPEC_BYTES));
    let json: unknown;
    try {
      json = JSON.parse(text);
    } catch (error) {
      throw unusable(
        'NOT_JSON',
        file,
        (error as Error).message.slice(0, 200),
        text.slice(0, 80),
        'Give a shape as JSON.',
      );
    }
    const parsed = shapeSchema.safeParse(json);
    if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, json, file).slice(0, 20));
    const cells = cellPlaces(parsed.data).map((place) =>
      Number.isNaN(place[0]) ? null : place.map((v) => Math.round(v * 1e6) / 1e6),
    );
    return { output: { shape: parsed.data.shape, count: cellCount(parsed.data), cells } };
  },
};

export const PROP: CommandTable = {
  'grid check': { command: gridCheck, options: [] },
  'prop cells': { command: propCells, options: [] },
};
