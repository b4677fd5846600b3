import { pointedAt, withFocus } from '../../core/room/focus.ts';
import type { PaletteId, UnitId } from '../../core/ids.ts';
import { documentOf } from '../../core/document/change.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import type { UnitValues } from '../../core/records/scene.ts';
import type { StandinAddresses } from '../../addresses.ts';
import { colour, effects, palettes } from './copperline-effects.ts';
import { aims, toAim } from './copperline-aims.ts';
import { belongings, places, TAGS } from './copperline-places.ts';
import { ROWS } from './copperline-rig.ts';
import { beamOf, things } from './copperline-things.ts';

/** Copperline Rink in Fennick Weir: a roller-skating rink with a Friday disco skate. All of it is made up. */

const id = (slug: string): UnitId => `unit:${slug}`;
const named = (prefix: string): UnitId[] => ROWS.filter((r) => r.slug.startsWith(prefix)).map((r) => id(r.slug));

const from = (palette: PaletteId): UnitValues => ({
  ColorRGB_Red: { palette },
  ColorRGB_Green: { palette },
  ColorRGB_Blue: { palette },
});
const each = (ids: readonly UnitId[], values: (i: number) => UnitValues): Record<string, UnitValues> =>
  Object.fromEntries(ids.map((unit, i) => [unit, values(i)]));

const SPOTS = named('spot');
const SCANS = named('scan');
const WASHES = named('wash');
const NORTH = WASHES.slice(0, 4);
const SOUTH = WASHES.slice(4);
const DERBIES = named('derby');
const BARS = named('bar');
const PINS = named('pin');
const HOUSE = [id('hire'), id('festoon'), id('snack'), id('exitwall')];
const turn = (at: number): UnitValues => ({ Effects1PosRotate: { range: 'Forward slow to fast', at } });
const wheel = (range: string): UnitValues => ({ Color1: { range, at: 0.5 } });

/** Counter bars: eight cells lit, eight dim, moved on by four cells a step. */
function counterWave(step: number, lit: string): Record<string, UnitValues> {
  return each(BARS, (bar) => {
    const values: UnitValues = { Dimmer: 0.9 };
    for (let cell = 1; cell <= 16; cell++) {
      const on = (bar * 16 + cell + step * 4) % 16 < 8;
      for (const [key, value] of Object.entries(colour(on ? lit : '#140a28'))) values[`${key}#${cell}`] = value;
    }
    return values;
  });
}

interface SceneRow {
  readonly slug: string;
  readonly name: string;
  readonly hex: string;
  readonly fadeS: number;
  readonly values: Record<string, UnitValues>;
}

const SCENES: readonly SceneRow[] = [
  {
    slug: 'doors',
    name: 'Doors open',
    hex: '#ffb870',
    fadeS: 3,
    values: {
      ...each(HOUSE, () => ({ Dimmer: 0.8 })),
      ...each(WASHES, () => ({ Dimmer: 0.45, ...colour('#ffb469') })),
      ...each(BARS, () => ({ Dimmer: 0.5, ...colour('#ff9d45') })),
    },
  },
  {
    slug: 'blue',
    name: 'Blue lap',
    hex: '#2f6bff',
    fadeS: 2,
    values: {
      ...each(WASHES, (i) => ({ Dimmer: 0.85, ...(i % 2 ? colour('#1748ff') : from('palette:lagoon')) })),
      ...each(SPOTS, (i) => ({ Dimmer: 0.9, ...wheel('Deep blue'), Pan: 0.35 + i * 0.1, Tilt: 0.62 })),
    },
  },
  {
    slug: 'rose',
    name: 'Rose slow skate',
    hex: '#ff5c8a',
    fadeS: 3,
    values: {
      ...each(WASHES, () => ({ Dimmer: 0.6, ...colour('#ff3f78') })),
      ...each(PINS, () => ({ Dimmer: 1 })),
      [id('globe')]: turn(0.15),
    },
  },
  {
    slug: 'globe',
    name: 'Mirror ball',
    hex: '#cfe3ff',
    fadeS: 2,
    values: { ...each(PINS, () => ({ Dimmer: 1 })), [id('globe')]: turn(0.3) },
  },
  {
    slug: 'north',
    name: 'North side',
    hex: '#31e0b8',
    fadeS: 0.3,
    values: each(NORTH, () => ({ Dimmer: 1, ...colour('#14e0a8') })),
  },
  {
    slug: 'south',
    name: 'South side',
    hex: '#ff7a33',
    fadeS: 0.3,
    values: each(SOUTH, () => ({ Dimmer: 1, ...colour('#ff6a14') })),
  },
  {
    slug: 'cross',
    name: 'Beams crossed',
    hex: '#9b6bff',
    fadeS: 0.8,
    values: {
      ...each(SPOTS, (i) => ({
        Dimmer: 1,
        ...wheel('Heather'),
        Pan: i < 2 ? 0.62 : 0.38,
        Tilt: 0.6,
        Gobo1: { range: 'Sparks', at: 0.5 },
      })),
      ...each(SCANS, (i) => ({ Dimmer: 1, ...wheel('Lake'), Pan: i ? 0.3 : 0.7, Tilt: 0.45 })),
    },
  },
  {
    slug: 'fan',
    name: 'Beams fanned',
    hex: '#ffe45c',
    fadeS: 0.8,
    values: {
      ...each(SPOTS, (i) => ({
        Dimmer: 1,
        ...wheel('Straw'),
        Pan: 0.32 + i * 0.12,
        Tilt: 0.66,
        Gobo1: { range: 'Open', at: 0.5 },
      })),
      ...each(SCANS, (i) => ({ Dimmer: 1, ...wheel('Gorse'), Pan: i ? 0.6 : 0.4, Tilt: 0.6 })),
    },
  },
  {
    slug: 'derby',
    name: 'Derbies turning',
    hex: '#ff4fd8',
    fadeS: 0.5,
    values: each(DERBIES, (i) => ({ Dimmer: 1, ...colour(i ? '#ff2fd0' : '#30d5ff'), ...turn(0.45) })),
  },
  ...['#ff3a1c', '#ffb81c', '#1cff8e', '#1c8eff'].map((hex, n) => ({
    slug: `wave${n + 1}`,
    name: `Counter wave ${n + 1}`,
    hex,
    fadeS: 0.2,
    values: counterWave(n, hex),
  })),
  {
    slug: 'haze',
    name: 'Haze',
    hex: '#b8c4d8',
    fadeS: 1,
    values: { [id('hazer')]: { Haze1: { range: 'Haze', at: 0.4 }, Fan1: { range: 'Fan slow to fast', at: 0.5 } } },
  },
  {
    slug: 'flash',
    name: 'Strobe slow',
    hex: '#ffffff',
    fadeS: 0,
    values: {
      [id('strobe')]: { Dimmer: 0.7, Shutter1: { range: 'Flash slow to fast', at: 0.12 }, StrobeDuration: 0.3 },
    },
  },
];

const GROUPS: readonly (readonly [slug: string, name: string, units: readonly UnitId[]])[] = [
  ['spots', 'Beam spots', SPOTS],
  ['washes', 'All washes', WASHES],
  ['north', 'North washes', NORTH],
  ['south', 'South washes', SOUTH],
  ['bars', 'Counter bars', BARS],
  ['effects', 'Derbies and scanners', [...DERBIES, ...SCANS]],
  ['house', 'House lamps', HOUSE],
];

const chases = (): AnyRecord[] => [
  make('chase', {
    id: 'chase:sides',
    number: 1,
    name: 'Side to side',
    colour: '#7fd4c1',
    timeUnit: 'beats',
    fade: 0.25,
    hold: 0.75,
    steps: [{ sceneId: 'scene:north' }, { sceneId: 'scene:south' }],
  }),
  make('chase', {
    id: 'chase:counter',
    number: 2,
    name: 'Counter run',
    colour: '#ffb347',
    fade: 0.4,
    hold: 0.3,
    order: 'thereAndBack',
    steps: [1, 2, 3, 4].map((n) => ({ sceneId: `scene:wave${n}` as const })),
  }),
  make('chase', {
    id: 'chase:beams',
    number: 3,
    name: 'Beams in and out',
    colour: '#b39bff',
    timeUnit: 'beats',
    fade: 3,
    hold: 1,
    steps: [{ sceneId: 'scene:cross' }, { sceneId: 'scene:fan' }],
  }),
  make('chase', {
    id: 'chase:aims',
    number: 5,
    name: 'Beams across the floor',
    colour: '#7fd4c1',
    folder: 'Disco',
    timeUnit: 'beats',
    travel: 'straight',
    fade: 6,
    hold: 2,
    steps: ['row', 'arc-south', 'row', 'arc-north'].map((slug) => ({ sceneId: `scene:${slug}` as const })),
  }),
  make('chase', {
    id: 'chase:evening',
    number: 4,
    name: 'Lap and sides',
    colour: '#12b5ff',
    folder: 'Disco',
    timeUnit: 'beats',
    fade: 4,
    hold: 12,
    steps: [{ effectId: 'effect:lap' }, { chaseId: 'chase:sides' }],
  }),
];

function outputs(addresses: StandinAddresses): AnyRecord[] {
  return [
    make('output', {
      id: 'output:beams',
      name: 'Beam gateway',
      protocol: 'sacn',
      destinations: [addresses.sacn],
      notes: 'Roof beams and counter. Stand-in on this machine.',
    }),
    make('output', {
      id: 'output:house',
      name: 'Bar gateway',
      protocol: 'artnet',
      destinations: [addresses.artnet],
      interfaceAddress: addresses.engine,
      notes: 'House lamps. Stand-in on this machine.',
    }),
    make('output', {
      id: 'output:picture',
      name: 'Picture of the rig',
      protocol: 'sacn',
      multicast: true,
      interfaceAddress: '127.0.0.1',
      notes: 'All universes for programs that listen on this machine.',
    }),
    make('output', {
      id: 'output:spare',
      name: 'Spare for the house',
      protocol: 'serial',
      serialPath: addresses.usb,
      notes: 'USB interface behind the counter, for when the bar gateway fails. Stand-in on this machine.',
    }),
    make('route', { id: 'route:spare3', universe: 3, outputId: 'output:spare', wireUniverse: 1 }),
    make('input', {
      id: 'input:visitor',
      name: 'Visiting desk',
      protocol: 'sacn',
      use: 'show',
      universes: [{ wireUniverse: 1, universe: 1 }],
      notes: 'The desk that bands bring. Stand-in on this machine.',
    }),
    ...[1, 2].map((u) =>
      make('route', { id: `route:beams${u}`, universe: u, outputId: 'output:beams', wireUniverse: u }),
    ),
    make('route', { id: 'route:house3', universe: 3, outputId: 'output:house', wireUniverse: 0 }),
    // The beam run hangs on both gateways: the second reads what the units are set to.
    make('route', { id: 'route:house1', universe: 1, outputId: 'output:house', wireUniverse: 1 }),
    ...[1, 2, 3].map((u) =>
      make('route', { id: `route:picture${u}`, universe: u, outputId: 'output:picture', wireUniverse: u }),
    ),
  ];
}

/** Looks that say where the beams point, and not how they have to be turned for it. */
const AIMED: readonly SceneRow[] = [
  {
    slug: 'row',
    name: 'Beams in a row',
    hex: '#7fd4c1',
    fadeS: 1.5,
    values: each(SPOTS, () => ({ Dimmer: 1, ...wheel('Heather'), ...toAim('row') })),
  },
  ...(['south', 'north'] as const).map((side) => ({
    slug: `arc-${side}`,
    name: `Beams in an arc ${side}`,
    hex: '#9b6bff',
    fadeS: 1.5,
    values: each(SPOTS, () => ({ Dimmer: 1, ...wheel('Deep blue'), ...toAim(`arc-${side}`) })),
  })),
  {
    slug: 'out',
    name: 'Beams out over the heads',
    hex: '#ffe45c',
    fadeS: 1.5,
    values: each(SPOTS, () => ({ Dimmer: 1, ...wheel('Straw'), ...toAim('out') })),
  },
];

/** Degrees that the washes lean out of the level. */
const WASH_LEAN = 38;

/** The whole demo show as records. */
/** A unit, pointed and focused where it is a fixed lamp that was set. */
function pointed(lamp: (typeof ROWS)[number]['lamp'], given: Parameters<typeof make<'unit'>>[1]): AnyRecord {
  const unit = make('unit', given);
  if (!lamp) return unit;
  const { to, ...focus } = lamp;
  return withFocus({ ...unit, rotation: pointedAt(unit, to) }, focus);
}

export function copperlineRink(profiles: readonly AnyRecord[], addresses: StandinAddresses): AnyRecord[] {
  const records = withoutAims(profiles, addresses);
  return [...records, ...aims(documentOf(records.filter((r) => r.kind !== 'scene')))];
}

function withoutAims(profiles: readonly AnyRecord[], addresses: StandinAddresses): AnyRecord[] {
  return [
    make('show', {
      id: 'show:copperline',
      name: 'Copperline Rink',
      notes: 'Friday disco skate.',
      tempoBpm: 118,
      tags: [...TAGS],
      room: { name: 'Rink hall', widthM: 24, depthM: 14, heightM: 5.2 },
    }),
    ...profiles.filter((p) => ROWS.some((row) => p.id === `profile:${row.profile}`)),
    ...things(),
    ...ROWS.map((row, i) =>
      pointed(row.lamp, {
        id: id(row.slug),
        number: i + 1,
        name: row.name,
        profileId: `profile:${row.profile}`,
        mode: row.mode,
        patch: { universe: row.at[0], address: row.at[1] },
        position: { x: row.x, y: row.y, z: row.z },
        // What hangs from the beams stands on its head; washes lean down to the floor.
        rotation: {
          x: row.slug.startsWith('wash') ? WASH_LEAN : 0,
          y: /^(spot|scan|wash|derby)/.test(row.slug) ? 180 : 0,
          z: row.turn ?? 0,
        },
        hungOn: beamOf(row.slug),
        gel: row.gel ?? null,
        ...belongings(row.slug),
      }),
    ),
    ...GROUPS.map(([slug, name, unitIds], i) =>
      make('group', { id: `group:${slug}`, number: i + 1, name, unitIds: [...unitIds] }),
    ),
    ...outputs(addresses),
    ...places(),
    ...[...SCENES, ...AIMED].map((scene, i) =>
      make('scene', {
        id: `scene:${scene.slug}`,
        number: i + 1,
        name: scene.name,
        colour: scene.hex,
        fadeInMs: scene.fadeS * 1000,
        fadeOutMs: Math.max(0.5, scene.fadeS) * 1000,
        values: scene.values,
      }),
    ),
    ...palettes(),
    ...effects(),
    ...chases(),
  ];
}
