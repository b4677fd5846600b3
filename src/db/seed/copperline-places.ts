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

/** Cable runs from the gateways, each in the order in which the cable goes. */
const LINES: readonly (readonly [slug: string, name: string, output: string, port: string, units: readonly Slug[]])[] =
  [
    ['beam', 'Beam run', 'beams', '1', ['strobe', 'spot1', 'spot2', 'derby1', 'globe', 'derby2', 'spot3', 'spot4']],
    [
      'sides',
      'Side run',
      'beams',
      '1 via splitter',
      ['scan1', 'wash1', 'wash2', 'wash3', 'wash4', 'scan2', 'hazer', 'wash8', 'wash7', 'wash6', 'wash5'],
    ],
    ['bars', 'Counter run', 'beams', '2', ['bar1', 'bar2', 'bar3', 'bar4']],
    ['house', 'House dimmers', 'house', '1', ['hire', 'festoon', 'snack', 'pin1', 'pin2', 'exitwall']],
  ];

export function places(): AnyRecord[] {
  return [
    ...AREAS.map(([slug, name, parent], i) =>
      make('area', { id: `area:${slug}`, number: i + 1, name, parentId: parent ? `area:${parent}` : null }),
    ),
    ...LINES.map(([slug, name, output, port, units], i) =>
      make('line', {
        id: `line:${slug}`,
        number: i + 1,
        name,
        outputId: `output:${output}`,
        port,
        unitIds: units.map(id),
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
