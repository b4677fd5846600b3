import { searchWords, findWord, indexWords, type WordIndex } from '../profile/word-index.ts';
import type { ProfileRecord } from '../records/profile.ts';
import { canBeProp } from './wiring.ts';
import type { Shape } from '../records/shape.ts';

/** A prop as people look for it: a shape of usual size, to be added as it is and changed afterwards. */
export interface PropForm {
  readonly id: `prop:${string}`;
  readonly name: string;
  /** What it is for, in a few words. */
  readonly about: string;
  /** What else it is called. */
  readonly also: string;
  readonly shape: Shape;
}

const form = (key: string, name: string, about: string, also: string, shape: Shape): PropForm => ({
  id: `prop:${key}`,
  name,
  about,
  also,
  shape,
});

/** Every kind of prop there is, the commonest first. */
export const PROP_FORMS: readonly PropForm[] = [
  form('strip', 'Pixel line', 'eaves, edges, bars', 'strip, tape, roof line, string, row, led', {
    shape: 'line',
    count: 50,
    widthM: 2.5,
  }),
  form('arch', 'Arch', 'paths, doors, a row along the drive', 'bow, leaping arch, rainbow', {
    shape: 'arch',
    count: 50,
    widthM: 2,
    heightM: 1,
  }),
  form('matrix', 'Matrix', 'pictures and text', 'panel, screen, grid, curtain, video wall', {
    shape: 'matrix',
    columns: 24,
    rows: 12,
    widthM: 2.4,
    heightM: 1.2,
    corner: 'bottom-left',
    along: 'rows',
    zigzag: true,
  }),
  form('tree', 'Tree of strings', 'a cone of straight strings round a pole', 'big tree, cone, christmas tree, mega', {
    shape: 'tree',
    strings: 12,
    perString: 40,
    heightM: 4,
    bottomM: 2,
    topM: 0.2,
    zigzag: true,
  }),
  form('spiral', 'Spiral tree', 'one string wound up a cone', 'wound tree, helix, christmas tree', {
    shape: 'spiral',
    count: 100,
    heightM: 2,
    bottomM: 1,
    topM: 0,
    turns: 6,
  }),
  form('ring', 'Wreath', 'rings and wreaths', 'ring, circle, hoop, advent', {
    shape: 'ring',
    count: 40,
    diameterM: 1,
    startDeg: 0,
    clockwise: true,
  }),
  form('star', 'Star', 'the top of a tree, windows', 'tree topper', {
    shape: 'star',
    count: 50,
    tips: 5,
    outerM: 1,
    innerM: 0.4,
  }),
  form('icicles', 'Icicles', 'short strings that hang from the eaves', 'drops, curtain, fringe', {
    shape: 'icicles',
    drops: 20,
    spacingM: 0.15,
    cells: [5, 3, 7, 4],
    cellM: 0.08,
  }),
  form('frame', 'Window frame', 'round a window or a door', 'outline, rectangle, door', {
    shape: 'frame',
    count: 60,
    widthM: 1.2,
    heightM: 1.5,
  }),
  form('garland', 'Garland', 'a string hung between two points', 'hung string, catenary, festoon, swag, bulbs', {
    shape: 'hung',
    count: 50,
    from: [-2.5, 0, 0],
    to: [2.5, 0, 0],
    sagM: 0.4,
  }),
  form('roof', 'Roof line', 'a line with corners: gables, eaves', 'gable, polyline, outline, house', {
    shape: 'polyline',
    count: 100,
    points: [
      [-3, 0, 0],
      [0, 0, 2],
      [3, 0, 0],
    ],
  }),
];

let index: WordIndex | null = null;

/** Forms that have every word of a query, in their order; all of them where it has none. */
export function searchForms(query: string): readonly PropForm[] {
  const words = searchWords(query);
  index ??= indexWords(
    PROP_FORMS.map(({ name, about, also }) => ({
      phrases: [name, ...about.split(', '), ...also.split(', '), 'prop pixels pixel prop', 'led'],
    })),
  );
  const known = index;
  const sets = words.map((word) => new Set(findWord(known, word).lists.flatMap((list) => [...list])));
  return PROP_FORMS.filter((_, place) => sets.every((set) => set.has(place)));
}

/** Profiles a prop can be made of: pixels that flow on, with one block that is repeated. */
export const propProfiles = (profiles: readonly ProfileRecord[]): ProfileRecord[] =>
  profiles.filter((p) => p.flow && p.modes.some(canBeProp));
