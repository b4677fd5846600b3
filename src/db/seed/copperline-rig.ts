/** The units of Copperline Rink: what hangs where, and where it listens. */

import type { Place3 } from '../../core/plot/paper.ts';
import type { UnitFocus } from '../../core/records/unit.ts';

interface Row {
  readonly slug: string;
  readonly name: string;
  readonly profile: string;
  readonly mode: string;
  readonly at: readonly [universe: number, address: number];
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly turn?: number;
  readonly gel?: string;
  /** How a fixed lamp was set on the ladder: where to, and the rest of its focus. */
  readonly lamp?: Partial<UnitFocus> & { readonly to: Place3 };
}

/** The middle of the mirror ball. */
const BALL: Place3 = { x: 0, y: 2, z: 4.4 };
const series = (count: number, row: (i: number) => Row): Row[] => Array.from({ length: count }, (_, i) => row(i));

/** 24 x 14 m; beams at 4.6 m; snack counter along the down-stage side. */
export const ROWS: readonly Row[] = [
  ...series(4, (i) => ({
    slug: `spot${i + 1}`,
    name: `Beam spot ${i + 1}`,
    profile: 'quillon-heron',
    mode: '16ch',
    at: [1, 1 + i * 16],
    x: -7.5 + i * 5,
    y: 0.5,
    z: 4.6,
  })),
  ...series(2, (i) => ({
    slug: `scan${i + 1}`,
    name: `Scanner ${i === 0 ? 'left' : 'right'}`,
    profile: 'tansy-flitter',
    mode: '6ch',
    at: [1, 65 + i * 6],
    x: i === 0 ? -10 : 10,
    y: 5.6,
    z: 4.2,
    turn: i === 0 ? -45 : 45,
  })),
  ...series(8, (i) => ({
    slug: `wash${i + 1}`,
    name: `Wash ${i < 4 ? 'north' : 'south'} ${(i % 4) + 1}`,
    profile: 'fernlight-brambleq',
    mode: '8ch',
    at: [1, 81 + i * 8],
    x: -9 + (i % 4) * 6,
    y: i < 4 ? 6.2 : -4.6,
    z: 4,
    turn: i < 4 ? 180 : 0,
  })),
  ...series(2, (i) => ({
    slug: `derby${i + 1}`,
    name: `Derby ${i === 0 ? 'left' : 'right'}`,
    profile: 'marrow-whirligig',
    mode: '7ch',
    at: [1, 161 + i * 7],
    x: i === 0 ? -4.5 : 4.5,
    y: 3.4,
    z: 4.4,
  })),
  { slug: 'strobe', name: 'Strobe', profile: 'marrow-crackle', mode: '3ch', at: [1, 181], x: 0, y: 6.2, z: 4.2 },
  { slug: 'hazer', name: 'Hazer', profile: 'marrow-millmist', mode: '2ch', at: [1, 191], x: 11, y: -6, z: 0.3 },
  {
    slug: 'globe',
    name: 'Mirror-ball motor',
    profile: 'tansy-globemotor',
    mode: '1ch',
    at: [1, 201],
    x: 0,
    y: 2,
    z: 4.4,
  },
  ...series(4, (i) => ({
    slug: `bar${i + 1}`,
    name: `Counter bar ${i + 1}`,
    profile: 'quillon-stave16',
    mode: '50ch',
    at: [2, 1 + i * 50],
    x: -2.4 + i * 1.6,
    y: -6,
    z: 2.6,
  })),
  {
    slug: 'hire',
    name: 'Skate-hire sign',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 1],
    x: -9,
    y: -6.2,
    z: 2.8,
    gel: '#ffd9a0',
  },
  {
    slug: 'festoon',
    name: 'Entrance festoon',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 2],
    x: -11,
    y: -2.6,
    z: 2.8,
    gel: '#ffb870',
  },
  {
    slug: 'snack',
    name: 'Snack counter',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 3],
    x: 5.5,
    y: -6,
    z: 2.4,
    gel: '#ffe2b8',
  },
  {
    slug: 'pin1',
    name: 'Ball pin spot north',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 4],
    x: -3,
    y: 4.8,
    z: 4.4,
    gel: '#ffffff',
    lamp: { to: BALL, beamDeg: 7, edge: 0.5 },
  },
  {
    slug: 'pin2',
    name: 'Ball pin spot south',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 5],
    x: 3,
    y: -2.4,
    z: 4.4,
    gel: '#9ad0ff',
    lamp: { to: BALL, beamDeg: 7, edge: 0.5, gelName: 'Millrace blue' },
  },
  {
    slug: 'exitwall',
    name: 'Exit wall',
    profile: 'generic-dimmer',
    mode: '1ch',
    at: [3, 6],
    x: 11,
    y: 3,
    z: 2.6,
    gel: '#ff8f8f',
    lamp: {
      to: { x: 12, y: 3, z: 1.4 },
      beamDeg: 60,
      edge: 0.55,
      shutters: [
        { in: 0.3, deg: 0 },
        { in: 0, deg: 0 },
        { in: 0, deg: 0 },
        { in: 0.2, deg: 12 },
      ],
      gelName: 'Robin rose',
    },
  },
];
