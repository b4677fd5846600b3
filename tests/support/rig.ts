import { documentOf, type Document } from '../../src/core/document/change.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { make, type AnyRecord, type ProfileRecord } from '../../src/core/records/index.ts';
import type { UnitValues } from '../../src/core/records/scene.ts';
import type { z } from 'zod';
import {
  applyLive,
  compileRig,
  compilePlay,
  initialLive,
  liveCommandSchema,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type CompiledRig,
  type FlashGuard,
  type Frame,
  type LiveState,
  type PreparedLive,
  type TargetId,
} from '../../src/core/show/index.ts';

export type LiveCommandGiven = z.input<typeof liveCommandSchema>;
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

/** The live state after commands, each at its moment in ms; the plays they begin are `p0`, `p1`, ... */
export const after = (
  document: Document,
  ...commands: readonly (readonly [ms: number, command: LiveCommandGiven])[]
): LiveState =>
  commands.reduce(
    (state, [ms, command], i) => applyLive(state, liveCommandSchema.parse(command), ms, `p${i}`, document),
    initialLive(0),
  );

/** A live state made ready to be drawn; `at` gives the bytes of all universes at a moment, the same array each time. */
export function drawing(document: Document, state: LiveState): Drawing {
  const rig = compileRig(document);
  const live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document);
  const frame = makeFrame(rig.arrays);
  return { rig, live, frame, at: (ms, guard) => render(rig.arrays, live, ms, frame, guard) };
}
interface Drawing {
  readonly rig: CompiledRig;
  readonly live: PreparedLive;
  readonly frame: Frame;
  at(ms: number, guard?: FlashGuard | null): Uint8Array;
}

/** Renders one moment of a document; `at` in ms, with whatever plays started at 0. Gives 512 slots of a universe. */
export function slotsAt(
  document: Document,
  options: { play?: readonly TargetId[]; at?: number; live?: Partial<LiveState>; universe?: number } = {},
): Uint8Array {
  const state: LiveState = {
    ...initialLive(0),
    playing: (options.play ?? []).map((target, i) => newPlay({ id: `p${i}`, target, startedAt: i / 1000 })),
    ...options.live,
  };
  const { rig, at } = drawing(document, state);
  const bytes = at(options.at ?? 0);
  const index = rig.arrays.universes.indexOf(options.universe ?? 1);
  if (index < 0) throw new Error(`universe ${options.universe ?? 1} is not in this rig`);
  return bytes.slice(index * 512, index * 512 + 512);
}
