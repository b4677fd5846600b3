import { documentOf, type Document } from '../src/core/document/change.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { layoutOf } from '../src/core/patch/of-document.ts';
import { make, type AnyRecord, type UnitRecord } from '../src/core/records/index.ts';
import type { UnitValues } from '../src/core/records/scene.ts';

/** Large made-up shows to measure with. */
const PROFILES = builtInProfiles();
const MIX = [
  ['fernlight-brambleq', '8ch'],
  ['quillon-heron', '16ch'],
  ['quillon-stave16', '50ch'],
  ['fernlight-plumlet', '7ch'],
  ['tansy-flitter', '6ch'],
  ['generic-dimmer', '1ch'],
] as const;

const footprint = (profile: string, mode: string): number =>
  layoutOf(
    PROFILES.find((p) => p.id === `profile:${profile}`),
    mode,
  ).footprint;

/** Units of mixed profiles until every universe is full. */
function mixedUnits(universes: number): UnitRecord[] {
  const units: UnitRecord[] = [];
  for (let universe = 1; universe <= universes; universe++) {
    for (let address = 1, i = 0; ; i++) {
      const [profile, mode] = MIX[i % MIX.length]!;
      const size = footprint(profile, mode);
      if (address + size - 1 > 512) break;
      const number = units.length + 1;
      units.push(
        make('unit', {
          id: `unit:u${number}`,
          number,
          name: `Unit ${number}`,
          profileId: `profile:${profile}`,
          mode,
          patch: { universe, address },
        }),
      );
      address += size;
    }
  }
  return units;
}

const look = (i: number, hue: number): UnitValues => ({
  Dimmer: ((i * 37 + hue * 11) % 100) / 100,
  ColorRGB_Red: ((i + hue) % 7) / 6,
  ColorRGB_Green: ((i * 3 + hue) % 5) / 4,
  ColorRGB_Blue: ((i * 5 + hue) % 9) / 8,
  Pan: ((i * 7 + hue) % 100) / 100,
  Tilt: ((i * 13 + hue) % 100) / 100,
});

const sceneOf = (
  units: readonly UnitRecord[],
  n: number,
  fields: Partial<Parameters<typeof make<'scene'>>[1]> = {},
): AnyRecord =>
  make('scene', {
    id: `scene:s${n}`,
    number: n,
    name: `Scene ${n}`,
    fadeInMs: 3_600_000,
    values: Object.fromEntries(units.map((u, i) => [u.id, look(i, n)])),
    ...fields,
  });

const chaseOf = (n: number, scenes: readonly number[]): AnyRecord =>
  make('chase', {
    id: `chase:c${n}`,
    number: n,
    name: `Chase ${n}`,
    fade: 0.7,
    hold: 0.3,
    steps: scenes.map((s) => ({ sceneId: `scene:s${s}` as const })),
  });

const base = (): AnyRecord[] => [make('show', { id: 'show:bench', name: 'Bench' }), ...PROFILES];

/** 16 universes of mixed fixtures; eight layers: four scenes in the middle of their fades, four chases. */
export function mixedShow(universes = 16): { document: Document; targets: (`scene:${string}` | `chase:${string}`)[] } {
  const units = mixedUnits(universes);
  const scenes = [1, 2, 3, 4, 5, 6, 7, 8].map((n) => sceneOf(units, n));
  const chases = [1, 2, 3, 4].map((n) => chaseOf(n, [n, n + 1, n + 2, n + 3]));
  return {
    document: documentOf([...base(), ...units, ...scenes, ...chases]),
    targets: ['scene:s1', 'scene:s2', 'scene:s3', 'scene:s4', 'chase:c1', 'chase:c2', 'chase:c3', 'chase:c4'],
  };
}

/** A unit at the first address of each universe. */
const unitEach = (universes: number, name: string, profileId: `profile:${string}`, mode: string): UnitRecord[] =>
  Array.from({ length: universes }, (_, i) =>
    make('unit', {
      id: `unit:u${i + 1}`,
      number: i + 1,
      name: `${name} ${i + 1}`,
      profileId,
      mode,
      patch: { universe: i + 1, address: 1 },
    }),
  );

/** RGB pixels, 170 to a universe, and four chases over every pixel at once. */
export function pixelShow(universes: number): { document: Document; targets: `chase:${string}`[] } {
  const units = unitEach(universes, 'Strip', 'profile:quillon-strip', '170px');
  const scenes = [1, 2, 3, 4, 5, 6, 7].map((n) => sceneOf(units, n));
  const chases = [1, 2, 3, 4].map((n) => chaseOf(n, [n, n + 1, n + 2, n + 3]));
  return {
    document: documentOf([...base(), ...units, ...scenes, ...chases]),
    targets: ['chase:c1', 'chase:c2', 'chase:c3', 'chase:c4'],
  };
}

/** A dimmer in each universe, up and down: next to nothing to work out, and every packet is another. */
export function lampShow(universes: number): { document: Document; targets: `effect:${string}`[] } {
  const units = unitEach(universes, 'Lamp', 'profile:generic-dimmer', '1ch');
  const effect = make('effect', {
    id: 'effect:e1',
    number: 1,
    name: 'Up and down',
    on: units.map((u) => u.id),
    rate: 0.5,
    fadeInMs: 0,
    parts: [{ does: 'level', wave: 'triangle', spread: 1 }],
  });
  return { document: documentOf([...base(), ...units, effect]), targets: ['effect:e1'] };
}
