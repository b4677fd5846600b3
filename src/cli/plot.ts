import { toBase64 } from '../core/base64.ts';
import { plotSvg, PAPER_SIZES, type PaperSize } from '../core/format/plot-svg.ts';
import { recordsOf } from '../core/document/change.ts';
import { PLOT_SIDES, type PlotSide } from '../core/records/picture.ts';
import { numberOption, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowAndFiles, writeOut } from './files.ts';

function oneOf<T extends string>(args: Arguments, name: string, known: readonly T[], fallback: T): T {
  const text = args.options[name];
  if (text === undefined) return fallback;
  const found = known.find((k) => k === text);
  if (!found) throw unusable('OPTION_RANGE', `--${name}`, `--${name} is not known`, text, `Give ${known.join(', ')}.`);
  return found;
}

const draw: Command = {
  usage: 'plot draw ARCHIVE OUT.svg [--side plan|front|side] [--sheet A4|A3|A2] [--scale N]',
  summary: 'Draws the plot of a show to scale as a page of SVG.',
  run: async (args) => {
    const [archive, out, ...more] = args.words;
    if (!archive || !out || more.length > 0)
      throw unusable(
        'ARGUMENT_MISSING',
        'plot draw',
        'two files are needed',
        args.words.join(' '),
        `Usage: ${draw.usage}`,
      );
    const side: PlotSide = oneOf(args, 'side', PLOT_SIDES, 'plan');
    const sheet: PaperSize = oneOf(args, 'sheet', Object.keys(PAPER_SIZES) as PaperSize[], 'A3');
    const scale = args.options['scale'] === undefined ? null : numberOption(args, 'scale', 1, 100_000);
    const { document, blobs } = await readShowAndFiles(archive);
    const addresses = new Map(
      recordsOf(document, 'picture').map(({ blob, type }) => [
        blob,
        `data:${type};base64,${toBase64(blobs.get(blob)!)}`,
      ]),
    );
    const svg = plotSvg(document, {
      side,
      sheet,
      scale,
      labels: ['number', 'address'],
      pictures: addresses,
      areas: true,
      date: new Date().toISOString().slice(0, 10),
    });
    const bytes = new TextEncoder().encode(svg);
    await writeOut(out, bytes);
    return { output: { file: out, side, sheet, units: recordsOf(document, 'unit').length, bytes: bytes.length } };
  },
};

export const PLOT: CommandTable = { 'plot draw': { command: draw, options: ['side', 'sheet', 'scale'] } };
