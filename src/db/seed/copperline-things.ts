import type { ThingId } from '../../core/ids.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import type { ThingShape } from '../../core/records/thing.ts';

/** What stands and hangs in the rink hall besides what is lit. Metres. */
interface Row {
  readonly slug: string;
  readonly name: string;
  readonly shape: ThingShape;
  readonly at: readonly [x: number, y: number, z: number];
  readonly size: readonly [width: number, depth: number, height: number];
  readonly turn?: number;
  readonly colour?: string;
}

const RINK = { x: 10.4, north: 5.4, south: -4 };
const BARRIER_M = 1.05;
const board = '#7b6a4e';
const steel = '#6f7886';

const ROWS: readonly Row[] = [
  { slug: 'beam1', name: 'South beam', shape: 'truss', at: [0, -4.6, 4.2], size: [23, 0.3, 0.35], colour: steel },
  { slug: 'beam2', name: 'Middle beam', shape: 'truss', at: [0, 0.5, 4.75], size: [23, 0.3, 0.35], colour: steel },
  { slug: 'beam3', name: 'Ball beam', shape: 'truss', at: [0, 3.4, 4.6], size: [23, 0.3, 0.35], colour: steel },
  { slug: 'beam4', name: 'North beam', shape: 'truss', at: [0, 6.2, 4.3], size: [23, 0.3, 0.35], colour: steel },
  {
    slug: 'board-north',
    name: 'Barrier north',
    shape: 'wall',
    at: [0, RINK.north, 0],
    size: [RINK.x * 2, 0.08, BARRIER_M],
    colour: board,
  },
  {
    slug: 'board-south',
    name: 'Barrier south',
    shape: 'wall',
    at: [0, RINK.south, 0],
    size: [RINK.x * 2, 0.08, BARRIER_M],
    colour: board,
  },
  ...([-1, 1] as const).map((side): Row => ({
    slug: side < 0 ? 'board-left' : 'board-right',
    name: `Barrier ${side < 0 ? 'left' : 'right'}`,
    shape: 'wall',
    at: [RINK.x * side, (RINK.north + RINK.south) / 2, 0],
    size: [RINK.north - RINK.south, 0.08, BARRIER_M],
    turn: 90,
    colour: board,
  })),
  {
    slug: 'counter',
    name: 'Snack counter',
    shape: 'box',
    at: [1, -6, 0],
    size: [9, 0.7, 1.1],
    colour: '#8a5a3c',
  },
  { slug: 'booth', name: 'Music booth', shape: 'booth', at: [0, 6.3, 0], size: [2.4, 0.8, 1.15], colour: '#39414f' },
  ...(
    [
      [-9.8, 6.3, 200],
      [9.8, 6.3, 160],
      [-9.8, -5.2, -20],
      [9.8, -5.2, 20],
    ] as const
  ).map(([x, y, turn], i): Row => ({
    slug: `speaker${i + 1}`,
    name: `Loudspeaker ${i + 1}`,
    shape: 'loudspeaker',
    at: [x, y, 2.4],
    size: [0.5, 0.5, 0.9],
    turn,
    colour: '#2c323c',
  })),
  { slug: 'skater', name: 'Skater', shape: 'person', at: [-3, 0, 0], size: [0.5, 0.3, 1.75], colour: '#a07b68' },
  {
    slug: 'guest',
    name: 'Guest at the counter',
    shape: 'person',
    at: [2.5, -5.2, 0],
    size: [0.5, 0.3, 1.7],
    colour: '#6d7f95',
  },
];

export const things = (): AnyRecord[] =>
  ROWS.map(({ slug, name, shape, at: [x, y, z], size: [widthM, depthM, heightM], turn = 0, colour }, i) =>
    make('thing', {
      id: `thing:${slug}`,
      number: i + 1,
      name,
      shape,
      position: { x, y, z },
      rotation: { x: 0, y: 0, z: turn },
      size: { widthM, depthM, heightM },
      ...(colour ? { colour } : {}),
    }),
  );

/** The beam a unit hangs on. */
export function beamOf(slug: string): ThingId | null {
  if (/^spot/.test(slug)) return 'thing:beam2';
  if (/^(derby|globe|pin1)/.test(slug)) return 'thing:beam3';
  if (/^(wash[1-4]|strobe|scan)/.test(slug)) return 'thing:beam4';
  return /^wash[5-8]/.test(slug) ? 'thing:beam1' : null;
}
