import { make, type AnyRecord } from '../../core/records/index.ts';
import type { ThingShape } from '../../core/records/thing.ts';
import { PATH } from './millpond-rig.ts';

/** What stands at the mill besides what is lit. Metres. */
type Row = readonly [
  slug: string,
  name: string,
  shape: ThingShape,
  at: readonly [x: number, y: number, z: number],
  size: readonly [width: number, depth: number, height: number],
  turn: number,
  colour: string,
];

const earth = '#54503f';
/** The path as flat pieces from turn to turn. */
const pieces = PATH.slice(1).map(([x, y], i): Row => {
  const [px, py] = PATH[i]!;
  const turn = (Math.atan2(y - py, x - px) * 180) / Math.PI;
  const size = [Math.hypot(x - px, y - py), 1.6, 0.02] as const;
  return [`path${i + 1}`, `Path ${i + 1}`, 'box', [(x + px) / 2, (y + py) / 2, 0], size, turn, earth];
});

const rows = (pond: { readonly x: number; readonly y: number; readonly rx: number; readonly ry: number }): Row[] => [
  ['mill', 'Mill', 'box', [0, 18.8, 0], [26, 3.6, 7.5], 0, '#5d524b'],
  ['bank', 'Pond bank', 'cylinder', [pond.x, pond.y, 0], [pond.rx * 2 + 2, pond.ry * 2 + 2, 0.25], 0, '#3d4a38'],
  ['water', 'Pond', 'cylinder', [pond.x, pond.y, 0.2], [pond.rx * 2, pond.ry * 2, 0.08], 0, '#22384a'],
  ['bridge', 'Footbridge', 'platform', [0, 4, 0], [14, 2, 0.9], 0, '#6a563f'],
  ['hut', 'Ticket hut', 'box', [-25.5, -18.3, 0], [4, 2, 2.6], 0, '#59483a'],
  ['visitor', 'Visitor', 'person', [-22, -13, 0], [0.5, 0.3, 1.7], 0, '#8a7a70'],
  ...pieces,
];

export const things = (pond: Parameters<typeof rows>[0]): AnyRecord[] =>
  rows(pond).map(([slug, name, shape, [x, y, z], [widthM, depthM, heightM], turn, colour], i) =>
    make('thing', {
      id: `thing:${slug}`,
      number: i + 1,
      name,
      shape,
      position: { x, y, z },
      rotation: { x: 0, y: 0, z: Math.round(turn * 1000) / 1000 },
      size: { widthM: Math.round(widthM * 1000) / 1000, depthM, heightM },
      colour,
    }),
  );
