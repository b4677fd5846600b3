import { documentOf, type Document } from '../src/core/document/change.ts';
import type { UnitId } from '../src/core/ids.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { make, type AnyRecord } from '../src/core/records/index.ts';
import { propSchema } from '../src/core/records/prop.ts';
import type { UnitValues } from '../src/core/records/scene.ts';
import { standinAddresses } from '../src/addresses.ts';
import { millpondWalk } from '../src/db/seed/millpond.ts';

const PROFILES = builtInProfiles();
const profile = (slug: string): AnyRecord => PROFILES.find((p) => p.id === `profile:${slug}`)!;

const hue = (at: number): UnitValues => {
  const wave = (shift: number): number => Math.round((0.5 + 0.5 * Math.sin((at + shift) * 2 * Math.PI)) * 1000) / 1000;
  return { Dimmer: 1, ColorRGB_Red: wave(0), ColorRGB_Green: wave(1 / 3), ColorRGB_Blue: wave(2 / 3) };
};

/** Two looks of all these units and a chase that fades from one to the other and back: every cell changes every frame. */
function fading(ids: readonly UnitId[]): AnyRecord[] {
  const scenes = [0, 1].map((n) =>
    make('scene', {
      id: `scene:bench${n}`,
      number: 900 + n,
      name: `Bench ${n}`,
      values: Object.fromEntries(ids.map((id, i) => [id, hue(i / ids.length + n / 2)])),
    }),
  );
  const steps = scenes.map((s) => ({ sceneId: s.id as `scene:${string}` }));
  return [...scenes, make('chase', { id: 'chase:bench', number: 900, name: 'Bench', fade: 4, hold: 0, steps })];
}

/** `count` matrices of 25 x 20 pixels side by side, each in universes of its own: 100 of them are 50,000 pixels. */
export function matrixShow(count: number): Document {
  const across = Math.ceil(Math.sqrt(count));
  const prop = propSchema.parse({
    shape: { shape: 'matrix', columns: 25, rows: 20, widthM: 4, heightM: 3, zigzag: true },
    split: 'never',
  });
  const units = Array.from({ length: count }, (_, i) =>
    make('unit', {
      id: `unit:m${i}`,
      number: i + 1,
      name: `Matrix ${i + 1}`,
      profileId: 'profile:generic-prop-rgb',
      mode: 'px',
      patch: { universe: 1 + i * 3, address: 1 },
      prop,
      position: { x: ((i % across) - across / 2) * 4.5, y: 0, z: Math.floor(i / across) * 3.5 },
    }),
  );
  return documentOf([
    make('show', {
      id: 'show:bench',
      name: 'Bench',
      room: { name: 'Field', widthM: across * 5, depthM: 10, heightM: across * 4 },
    }),
    profile('generic-prop-rgb'),
    ...units,
    ...fading(units.map((u) => u.id)),
  ]);
}

/** The lantern walk with a chase over all its pixels. */
export function walkShow(): Document {
  const records = millpondWalk(PROFILES, standinAddresses('/bench'));
  const ids = records.flatMap((r) => (r.kind === 'unit' && r.prop ? [r.id] : []));
  return documentOf([...records.filter((r) => r.kind !== 'output' && r.kind !== 'route'), ...fading(ids)]);
}

/** `count` pars on a grid: bodies to be dragged. */
export function bodiesShow(count: number): Document {
  const across = Math.ceil(Math.sqrt(count));
  const units = Array.from({ length: count }, (_, i) =>
    make('unit', {
      id: `unit:p${i}`,
      number: i + 1,
      name: `Par ${i + 1}`,
      profileId: 'profile:fernlight-plumlet',
      mode: '7ch',
      patch: { universe: 1 + Math.floor(i / 73), address: 1 + (i % 73) * 7 },
      position: { x: (i % across) - across / 2, y: Math.floor(i / across) - across / 2, z: 3 },
    }),
  );
  return documentOf([
    make('show', {
      id: 'show:bench',
      name: 'Bench',
      room: { name: 'Field', widthM: across + 2, depthM: across + 2, heightM: 6 },
    }),
    profile('fernlight-plumlet'),
    ...units,
    ...fading(units.map((u) => u.id)),
  ]);
}
