import type { Shape } from '$core/records/shape.ts';
import type { ShapeKind } from '$core/prop/reshape.ts';

export const SHAPE_WORDS: Readonly<Record<ShapeKind, string>> = {
  line: 'straight line',
  polyline: 'line with corners',
  arch: 'arch',
  ring: 'ring',
  matrix: 'matrix',
  spiral: 'spiral up a cone',
  tree: 'tree of strings',
  star: 'star',
  icicles: 'icicles',
  frame: 'window frame',
  hung: 'string hung between two points',
  grid: 'drawn grid',
  given: 'places given one by one',
};

/** A number of a shape: how many, how long, or plain. */
export interface ShapeField {
  readonly key: string;
  readonly label: string;
  readonly kind: 'count' | 'length' | 'number';
  readonly suffix?: string;
}

const count = (key: string, label: string): ShapeField => ({ key, label, kind: 'count' });
const length = (key: string, label: string): ShapeField => ({ key, label, kind: 'length' });
const CELLS = count('count', 'Cells');

/** The numbers of each shape in the order they are asked for. */
export const SHAPE_FIELDS: Readonly<Record<ShapeKind, readonly ShapeField[]>> = {
  line: [CELLS, length('widthM', 'Width')],
  polyline: [CELLS],
  arch: [CELLS, length('widthM', 'Width'), length('heightM', 'Height')],
  ring: [
    CELLS,
    length('diameterM', 'Diameter'),
    { key: 'startDeg', label: 'First cell at', kind: 'number', suffix: '°' },
  ],
  matrix: [count('columns', 'Columns'), count('rows', 'Rows'), length('widthM', 'Width'), length('heightM', 'Height')],
  spiral: [
    CELLS,
    length('heightM', 'Height'),
    length('bottomM', 'Foot across'),
    length('topM', 'Top across'),
    { key: 'turns', label: 'Turns', kind: 'number' },
  ],
  tree: [
    count('strings', 'Strings'),
    count('perString', 'Cells a string'),
    length('heightM', 'Height'),
    length('bottomM', 'Foot across'),
    length('topM', 'Top across'),
  ],
  star: [CELLS, count('tips', 'Tips'), length('outerM', 'Across tips'), length('innerM', 'Across inside')],
  icicles: [count('drops', 'Drops'), length('spacingM', 'Between drops'), length('cellM', 'Between cells')],
  frame: [CELLS, length('widthM', 'Width'), length('heightM', 'Height')],
  hung: [CELLS, length('sagM', 'Sag')],
  grid: [length('pitchM', 'Between cells')],
  given: [CELLS],
};

/** The value of a field of a shape. */
export const fieldOf = (shape: Shape, key: string): number => (shape as unknown as Record<string, number>)[key]!;
