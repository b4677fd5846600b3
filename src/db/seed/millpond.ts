import type { TargetId } from '../../core/show/index.ts';
import { fromHex } from '../../core/colour/convert.ts';
import { documentOf } from '../../core/document/change.ts';
import type { LitId, UnitId } from '../../core/ids.ts';
import { patchedUnit } from '../../core/patch/of-document.ts';
import { hashOf, type BlobFile } from '../../core/records/blob.ts';
import { make, type AnyRecord, type UnitRecord } from '../../core/records/index.ts';
import { propSchema } from '../../core/records/prop.ts';
import type { UnitValues } from '../../core/records/scene.ts';
import type { StandinAddresses } from '../../addresses.ts';
import { PATH, PROPS } from './millpond-rig.ts';
import { things } from './millpond-things.ts';
import { drawPng } from './png.ts';

/** Millpond Lantern Walk in Fennick Weir: a winter lantern trail around a watermill. All of it is made up. */

const LANTERNS = 24;
const GROUND = { widthM: 60, depthM: 44 };
const POND = { x: 1, y: 0, rx: 12, ry: 7 };
const id = (slug: string): UnitId => `unit:${slug}`;

function units(profiles: readonly AnyRecord[]): UnitRecord[] {
  const list: UnitRecord[] = [];
  const number = (): number => list.length + 1;
  for (let i = 0; i < LANTERNS; i++) {
    const turn = (i / LANTERNS) * 2 * Math.PI;
    list.push(
      make('unit', {
        id: id(`reed${i + 1}`),
        number: number(),
        name: `Reed lantern ${i + 1}`,
        profileId: 'profile:generic-dimmer',
        mode: '1ch',
        patch: { universe: 1, address: i + 1 },
        gel: i % 3 === 0 ? '#ff9d45' : '#ffd08a',
        position: at(POND.x + Math.cos(turn) * (POND.rx + 0.6), POND.y + Math.sin(turn) * (POND.ry + 0.6), 0.6),
      }),
    );
  }
  ['counter', 'door', 'window'].forEach((where, i) =>
    list.push(
      make('unit', {
        id: id(`hut-${where}`),
        number: number(),
        name: `Hut lamp ${where}`,
        profileId: 'profile:low-harbour-hutlamp',
        mode: '3ch',
        patch: { universe: 1, address: 101 + i * 3 },
        position: at(-26.5 + i, -17, 2.2),
      }),
    ),
  );
  // Every prop begins its own universe: the controllers' ports do.
  let universe = 2;
  for (const row of PROPS) {
    const unit = make('unit', {
      id: id(row.slug),
      number: number(),
      name: row.name,
      profileId: 'profile:generic-prop-rgb',
      mode: 'px',
      patch: { universe, address: 1 },
      prop: propSchema.parse({ shape: row.shape, ...row.wiring }),
      levelLimit: 0.8,
      position: at(row.x, row.y, row.z),
      rotation: { x: 0, y: 0, z: row.turn ?? 0 },
    });
    list.push(unit);
    universe = Math.max(...patchedUnit(documentOf(profiles), unit).spans.map((s) => s.universe)) + 1;
  }
  return list;
}

const at = (x: number, y: number, z: number) => ({ x: round(x), y: round(y), z: round(z) });
const round = (v: number): number => Math.round(v * 100) / 100;

const light = (hex: string, level = 1): UnitValues => {
  const { r, g, b } = fromHex(hex);
  const short = (v: number): number => Math.round(v * 1e4) / 1e4;
  return { Dimmer: level, ColorRGB_Red: short(r), ColorRGB_Green: short(g), ColorRGB_Blue: short(b) };
};
const slugs = (start: string): UnitId[] => PROPS.filter((p) => p.slug.startsWith(start)).map((p) => id(p.slug));
const reeds = Array.from({ length: LANTERNS }, (_, i) => id(`reed${i + 1}`));
const each = (ids: readonly LitId[], values: (i: number) => UnitValues) =>
  Object.fromEntries(ids.map((lit, i) => [lit, values(i)]));
const KITE_HUES = ['#ff4d2e', '#ffb020', '#4dff88', '#2ea8ff', '#c45cff'];

const SCENES: readonly (readonly [slug: string, name: string, hex: string, values: Record<string, UnitValues>])[] = [
  [
    'dusk',
    'Dusk',
    '#ffb870',
    { ...each(reeds, () => ({ Dimmer: 0.7 })), ...each(slugs('path'), () => light('#ff9a3c', 0.35)) },
  ],
  ['kites', 'Five kites', '#ff6a3d', each(slugs('kite'), (i) => light(KITE_HUES[i]!))],
  [
    'mill',
    'The mill awake',
    '#ffd27a',
    {
      ...each(slugs('window'), () => light('#ffc46b', 0.9)),
      ...each(slugs('eaves'), () => light('#bfe3ff', 0.8)),
      [id('wheel')]: light('#59b7ff', 0.8),
      [id('wall')]: light('#16307a', 0.7),
    },
  ],
  [
    'wings',
    'Wings only',
    '#37c8ff',
    { ...each(['part:kite1-sail', 'part:kite3-sail', 'part:kite5-sail'], () => light('#1fb6ff', 0.9)) },
  ],
  ['tree', 'Tower tree', '#4dff88', { [id('tree')]: light('#26e07f', 0.9) }],
  ['bridge', 'Over the bridge', '#ff5c8a', each(slugs('arch'), (i) => light(i % 2 ? '#ff3f78' : '#ffb0c8', 0.9))],
  ['lines', 'Festoons', '#ffe0a0', each(slugs('line'), () => light('#ffd79a', 0.7))],
];

const PARTS = Array.from({ length: 5 }, (_, i) => [
  make('part', { id: `part:kite${i + 1}-sail`, unitId: id(`kite${i + 1}`), number: 1, name: 'Sail', cells: '1-46' }),
  make('part', { id: `part:kite${i + 1}-tail`, unitId: id(`kite${i + 1}`), number: 2, name: 'Tail', cells: '66-86' }),
]).flat();

const ellipse = (x: number, y: number, rx: number, ry: number, corners: number) =>
  Array.from({ length: corners }, (_, i) => {
    const turn = (i / corners) * 2 * Math.PI;
    return { x: round(x + Math.cos(turn) * rx), y: round(y + Math.sin(turn) * ry) };
  });
const box = (x1: number, y1: number, x2: number, y2: number) => [
  { x: x1, y: y1 },
  { x: x2, y: y1 },
  { x: x2, y: y2 },
  { x: x1, y: y2 },
];

const AREAS = [
  make('area', { id: 'area:mill', number: 1, name: 'Mill', outline: box(-13, 16, 13, 21) }),
  make('area', {
    id: 'area:pond',
    number: 2,
    name: 'Pond',
    outline: ellipse(POND.x, POND.y, POND.rx + 3, POND.ry + 3, 24),
  }),
  make('area', { id: 'area:bridge', number: 3, name: 'Footbridge', parentId: 'area:pond', outline: box(-7, 2, 7, 6) }),
  make('area', { id: 'area:gate', number: 4, name: 'Gate', outline: box(-29, -20, -21, -11) }),
];

const [PLAN_WIDTH, PLAN_HEIGHT] = [600, 440];

/** A made-up plan of the ground to draw over. */
function groundPlan(): BlobFile {
  const [width, height] = [PLAN_WIDTH, PLAN_HEIGHT];
  const path = [...PATH];
  const bytes = drawPng(width, height, (px, py) => {
    const x = (px / width - 0.5) * GROUND.widthM;
    const y = (0.5 - py / height) * GROUND.depthM;
    if (x > -13 && x < 13 && y > 17 && y < 21) return (px + py) % 9 < 1 ? [70, 62, 58] : [58, 51, 48];
    if (((x - POND.x) / POND.rx) ** 2 + ((y - POND.y) / POND.ry) ** 2 < 1)
      return py % 7 < 1 ? [30, 50, 66] : [24, 42, 58];
    if (nearPath(path, x, y) < 0.9) return [66, 60, 50];
    return (px * 7 + py * 13) % 23 < 1 ? [34, 46, 36] : [28, 38, 32];
  });
  return { hash: hashOf(bytes), bytes };
}

/** The files that the show names. */
export const millpondFiles = (): readonly BlobFile[] => [groundPlan()];

function groundPicture(): AnyRecord[] {
  const { hash, bytes } = groundPlan();
  return [
    make('picture', {
      id: 'picture:ground',
      name: 'Ground plan',
      widthPx: PLAN_WIDTH,
      heightPx: PLAN_HEIGHT,
      type: 'image/png',
      bytes: bytes.length,
      blob: hash,
    }),
    make('backdrop', {
      id: 'backdrop:ground',
      name: 'Ground plan',
      pictureId: 'picture:ground',
      side: 'plan',
      widthM: GROUND.widthM,
      opacity: 0.8,
      locked: true,
    }),
  ];
}

function nearPath(path: readonly (readonly [number, number])[], x: number, y: number): number {
  let least = Infinity;
  for (let i = 0; i + 1 < path.length; i++) {
    const [ax, ay] = path[i]!;
    const [bx, by] = path[i + 1]!;
    const t = Math.max(
      0,
      Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)),
    );
    least = Math.min(least, Math.hypot(x - ax - (bx - ax) * t, y - ay - (by - ay) * t));
  }
  return least;
}

/** What plays when the show is opened for the first time. */
export const MILLPOND_PLAYS: readonly TargetId[] = [
  'effect:wheel',
  'effect:fire',
  'effect:bridge',
  'effect:reeds',
  'effect:path',
];

/** What moves on the meadow: functions of time over the plot, nothing recorded. */
const EFFECTS: readonly AnyRecord[] = [
  make('effect', {
    id: 'effect:wheel',
    number: 1,
    name: 'Water over the wheel',
    colour: '#6fc3ff',
    on: [id('wheel')],
    rate: 0.16,
    light: 0.9,
    parts: [
      {
        does: 'pixels',
        pattern: 'waves',
        colours: ['#0a3cff', '#7fd8ff', '#0a3cff'],
        width: 1,
        soft: 1,
        repeat: 1,
        angleDeg: -60,
      },
      { does: 'level', wave: 'sparkle', width: 0.35, offset: 0.55, size: 0.45, combine: 'through', times: 5 },
    ],
  }),
  make('effect', {
    id: 'effect:fire',
    number: 2,
    name: 'Hearth on the wall',
    colour: '#ff7a1f',
    on: [id('wall')],
    rate: 0.3,
    light: 1,
    parts: [{ does: 'pixels', pattern: 'fire', colours: ['#fff0a0', '#ff9a10', '#c01800'], angleDeg: 90, width: 0.6 }],
  }),
  make('effect', {
    id: 'effect:words',
    number: 3,
    name: 'Welcome on the wall',
    colour: '#ffe0a0',
    on: [id('wall')],
    rate: 0.07,
    light: 1,
    parts: [{ does: 'pixels', pattern: 'text', text: 'FENNICK WEIR', colours: ['#ffcf70', '#7fd4c1'] }],
  }),
  make('effect', {
    id: 'effect:bridge',
    number: 4,
    name: 'Comets over the bridge',
    colour: '#cfe8ff',
    on: ['group:bridge'],
    rate: 0.35,
    light: 0.9,
    parts: [{ does: 'pixels', pattern: 'comet', colours: ['#cfe8ff', '#ffd9a0'], width: 0.35, soft: 0.9, repeat: 1 }],
  }),
  make('effect', {
    id: 'effect:reeds',
    number: 5,
    name: 'Reeds breathe',
    colour: '#ffd9a0',
    on: ['group:reeds'],
    rate: 0.12,
    parts: [{ does: 'level', wave: 'breath', offset: 0.15, size: 0.7, order: 'x', spread: 1.5 }],
  }),
  make('effect', {
    id: 'effect:path',
    number: 6,
    name: 'Lanterns along the path',
    colour: '#ffb347',
    on: ['group:path'],
    rate: 0.08,
    light: 0.7,
    parts: [
      { does: 'colour', way: 'gradient', colours: ['#ff8a1c', '#ffd070', '#ff5a10'], order: 'wire', spread: 3 },
      {
        does: 'level',
        wave: 'wave',
        offset: 0.35,
        size: 0.65,
        order: 'wire',
        spread: 12,
        combine: 'through',
        times: 3,
      },
    ],
  }),
];

/** The whole demo show as records. */
export function millpondWalk(profiles: readonly AnyRecord[], addresses: StandinAddresses): AnyRecord[] {
  const used = profiles.filter((p) =>
    ['profile:generic-dimmer', 'profile:low-harbour-hutlamp', 'profile:generic-prop-rgb'].includes(p.id),
  );
  const rig = units(used);
  const document = documentOf([...used, ...rig]);
  const universes = new Set(rig.flatMap((unit) => patchedUnit(document, unit).spans.map((s) => s.universe)));
  return [
    make('show', {
      firstPaper: 'front',
      id: 'show:millpond',
      name: 'Millpond Lantern Walk',
      notes: 'A winter trail around the mill. From sunset to 22:00 in December.',
      tempoBpm: 96,
      room: { name: 'Mill meadow', widthM: GROUND.widthM, depthM: GROUND.depthM, heightM: 12, walls: false },
    }),
    ...used,
    ...AREAS,
    ...things(POND),
    ...rig,
    ...PARTS,
    make('group', { id: 'group:kites', number: 1, name: 'Kites', unitIds: slugs('kite') }),
    make('group', { id: 'group:bridge', number: 2, name: 'Footbridge', unitIds: slugs('arch') }),
    make('group', { id: 'group:reeds', number: 3, name: 'Reed lanterns', unitIds: reeds }),
    make('group', { id: 'group:path', number: 4, name: 'Path', unitIds: slugs('path') }),
    make('group', {
      id: 'group:mill',
      number: 5,
      name: 'Mill',
      unitIds: [id('wheel'), id('wall'), ...slugs('window'), ...slugs('eaves')],
    }),
    make('output', {
      id: 'output:meadow',
      name: 'Meadow controllers',
      protocol: 'sacn',
      destinations: [addresses.pixels],
      notes: 'All pixel ports. Stand-in on this machine.',
    }),
    ...[...universes]
      .sort((a, b) => a - b)
      .map((universe) =>
        make('route', { id: `route:m${universe}`, universe, outputId: 'output:meadow', wireUniverse: universe }),
      ),
    ...SCENES.map(([slug, name, colour, values], i) =>
      make('scene', {
        id: `scene:${slug}`,
        number: i + 1,
        name,
        colour,
        fadeInMs: 2000,
        fadeOutMs: 2000,
        values: values as Record<LitId, UnitValues>,
      }),
    ),
    ...EFFECTS,
    ...groundPicture(),
  ];
}
