import { documentOf, type Document } from '../../src/core/document/change.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { make, type AnyRecord, type ProfileRecord } from '../../src/core/records/index.ts';
import type { UnitValues } from '../../src/core/records/scene.ts';
import {
  compileRig,
  compileTarget,
  initialLive,
  makeFrame,
  prepareLive,
  render,
  type LiveState,
  type TargetId,
} from '../../src/core/show/index.ts';

const PROFILES = builtInProfiles();

/** Small shows for tests: `unit:a`, `unit:b`, ... of built-in profiles. */
export interface UnitRow {
  readonly slug: string;
  readonly profile: string;
  readonly mode: string;
  readonly universe?: number;
  readonly address: number | null;
  readonly fields?: Partial<Parameters<typeof make<'unit'>>[1]>;
}

export const profileBySlug = (slug: string): ProfileRecord => {
  const found = PROFILES.find((p) => p.id === `profile:${slug}`);
  if (!found) throw new Error(`no profile ${slug}`);
  return found;
};

/** One RGB pixel after the other, for props of any size. */
export const PIXELS: ProfileRecord = make('profile', {
  id: 'profile:px',
  maker: 'Test',
  model: 'Pixel',
  fixtureKind: 'strip',
  flow: true,
  channels: (['R', 'G', 'B'] as const).map((c) => ({ key: c, name: c, attribute: `ColorAdd_${c}` })),
  modes: [
    {
      key: 'px',
      name: 'Pixels',
      slots: [{ cells: 1, slots: [{ channel: 'R' }, { channel: 'G' }, { channel: 'B' }] }],
    },
  ],
});
export const units = (...rows: UnitRow[]): AnyRecord[] =>
  rows.map((row, i) =>
    make('unit', {
      id: `unit:${row.slug}`,
      number: i + 1,
      name: `Unit ${row.slug}`,
      profileId: `profile:${row.profile}`,
      mode: row.mode,
      patch: row.address === null ? null : { universe: row.universe ?? 1, address: row.address },
      ...row.fields,
    }),
  );

export const scene = (
  slug: string,
  values: Record<string, UnitValues>,
  fields: Partial<Parameters<typeof make<'scene'>>[1]> = {},
): AnyRecord =>
  make('scene', {
    id: `scene:${slug}`,
    number: 1,
    name: slug,
    fadeInMs: 0,
    fadeOutMs: 0,
    values: Object.fromEntries(Object.entries(values).map(([unit, v]) => [`unit:${unit}`, v])),
    ...fields,
  });

export const chase = (
  slug: string,
  scenes: readonly string[],
  fields: Partial<Parameters<typeof make<'chase'>>[1]> = {},
): AnyRecord =>
  make('chase', {
    id: `chase:${slug}`,
    number: 1,
    name: slug,
    steps: scenes.map((s) => ({ sceneId: `scene:${s}` as const })),
    fadeOutMs: 0,
    ...fields,
  });

/** A whole document: a show record, every built-in profile and the given records. */
export const showWith = (...records: AnyRecord[]): Document =>
  documentOf([make('show', { id: 'show:test', name: 'Test show' }), ...PROFILES, ...records]);

/** Renders one moment of a document; `at` in ms, with whatever plays started at 0. Gives 512 slots of a universe. */
export function slotsAt(
  document: Document,
  options: { play?: readonly TargetId[]; at?: number; live?: Partial<LiveState>; universe?: number } = {},
): Uint8Array {
  const rig = compileRig(document);
  const state: LiveState = {
    ...initialLive(0),
    playing: (options.play ?? []).map((target, i) => ({
      id: `p${i}`,
      target,
      startedAt: i / 1000,
      startedBeat: 0,
      releasedAt: null,
    })),
    ...options.live,
  };
  const prepared = prepareLive(rig, state, (target) => compileTarget(rig, document, target), document);
  const bytes = render(rig.arrays, prepared, options.at ?? 0, makeFrame(rig.arrays));
  const index = rig.arrays.universes.indexOf(options.universe ?? 1);
  if (index < 0) throw new Error(`universe ${options.universe ?? 1} is not in this rig`);
  return bytes.slice(index * 512, index * 512 + 512);
}
