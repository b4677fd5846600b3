import { make, type AnyRecord } from '../../core/records/index.ts';
import type { Tag } from '../../core/records/show.ts';
import type { ROWS } from './copperline-rig.ts';

/** Where the units of Copperline Rink belong: areas of the hall, cable runs, colour tags, a group with a rule. */

type Slug = (typeof ROWS)[number]['slug'];
const id = (slug: Slug) => `unit:${slug}` as const;

export const TAGS: readonly Tag[] = [
  { key: 'ladder', name: 'Needs the ladder', colour: '#6cb8ff', shape: 'triangle' },
  { key: 'house', name: 'House lights', colour: '#ffb347', shape: 'disc' },
];

const HOUSE = new Set<Slug>(['hire', 'festoon', 'snack', 'exitwall']);
const AREA_OF: readonly (readonly [area: string, test: (slug: Slug) => boolean])[] = [
  ['beams', (s) => /^(spot|derby|globe|strobe|pin)/.test(s)],
  ['north', (s) => /^(wash[1-4]$|scan)/.test(s)],
  ['south', (s) => /^wash[5-8]$/.test(s)],
  ['counter', (s) => /^(bar|snack|hire)/.test(s)],
];

/** What a unit of the rig has beyond its address and place. */
export function belongings(slug: Slug): { areaId: `area:${string}` | null; tag: string | null } {
  const area = AREA_OF.find(([, test]) => test(slug))?.[0];
  return { areaId: area ? `area:${area}` : null, tag: HOUSE.has(slug) ? 'house' : area === 'beams' ? 'ladder' : null };
}

const AREAS = [
  ['hall', 'Rink hall', null],
  ['beams', 'Roof beams', 'hall'],
  ['north', 'North side', 'hall'],
  ['south', 'South side', 'hall'],
  ['counter', 'Snack counter', null],
] as const;

/** Where people skate: no beam is to meet them in the eyes, but for one that comes down on their heads. */
const floor = (): AnyRecord =>
  make('area', {
    id: 'area:floor',
    number: AREAS.length + 1,
    name: 'Rink floor',
    parentId: 'area:hall',
    outline: [
      { x: -10.2, y: -3.8 },
      { x: 10.2, y: -3.8 },
      { x: 10.2, y: 5.2 },
      { x: -10.2, y: 5.2 },
    ],
    keepOut: { on: true, fromM: 1.2, toM: 1.9, level: 0, softDeg: 6, steepDeg: 30 },
  });

interface Run {
  readonly slug: string;
  readonly name: string;
  readonly output: string;
  readonly port: string;
  readonly medium?: 'dmx' | 'mains';
  readonly terminated: boolean;
  /** Each with the metres of cable that lead to it; null where nobody measured. */
  readonly units: readonly (readonly [unit: Slug, lengthM: number | null])[];
  /** Units before which a splitter stands. */
  readonly splitters?: readonly Slug[];
}

/** Cable runs from the gateways, each in the order in which the cable goes. */
const LINES: readonly Run[] = [
  {
    slug: 'beam',
    name: 'Beam run',
    output: 'beams',
    port: '1',
    terminated: true,
    units: [
      ['strobe', 9],
      ['spot1', 8],
      ['spot2', 5.5],
      ['derby1', 3],
      ['globe', 4.5],
      ['derby2', 4.5],
      ['spot3', 3],
      ['spot4', 5.5],
    ],
  },
  {
    slug: 'sides',
    name: 'Side run',
    output: 'beams',
    port: '1 via splitter',
    terminated: false,
    splitters: ['scan1'],
    units: [
      ['scan1', 14],
      ['wash1', 3],
      ['wash2', 6.5],
      ['wash3', 6.5],
      ['wash4', 6.5],
      ['scan2', 3],
      ['hazer', null],
      ['wash8', 12],
      ['wash7', 6.5],
      ['wash6', 6.5],
      ['wash5', 6.5],
    ],
  },
  {
    slug: 'bars',
    name: 'Counter run',
    output: 'beams',
    port: '2',
    terminated: true,
    units: [
      ['bar1', 12],
      ['bar2', 1.8],
      ['bar3', 1.8],
      ['bar4', 1.8],
    ],
  },
  {
    slug: 'house',
    name: 'House dimmers',
    output: 'house',
    port: '1',
    medium: 'mains',
    terminated: false,
    units: (['hire', 'festoon', 'snack', 'pin1', 'pin2', 'exitwall'] as const).map((slug) => [slug, null] as const),
  },
];

export function places(): AnyRecord[] {
  return [
    ...AREAS.map(([slug, name, parent], i) =>
      make('area', { id: `area:${slug}`, number: i + 1, name, parentId: parent ? `area:${parent}` : null }),
    ),
    floor(),
    ...LINES.map(({ slug, name, output, port, medium = 'dmx', terminated, units, splitters = [] }, i) =>
      make('line', {
        id: `line:${slug}`,
        number: i + 1,
        name,
        outputId: `output:${output}`,
        port,
        medium,
        terminated,
        unitIds: units.map(([unit]) => id(unit)),
        cables: Object.fromEntries(
          units.map(([unit, lengthM]) => [id(unit), { lengthM, splitter: splitters.includes(unit) }]),
        ),
      }),
    ),
    make('group', {
      id: 'group:ladder',
      number: 8,
      name: 'Up the ladder',
      unitIds: [],
      rule: { tag: 'ladder', order: 'plot' },
      tag: 'ladder',
    }),
  ];
}
