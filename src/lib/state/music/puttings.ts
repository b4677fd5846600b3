import { effectSpecSchema, type EffectSpec } from '$core/records/effect.ts';
import type { BlockPlays } from '$core/records/lane.ts';
import { PRESETS } from '$core/ready/presets.ts';
import type { Rig } from '../rig.svelte.ts';

/** What can be put on a lane: a name, and what a block of it plays. */
export interface Putting {
  readonly key: string;
  readonly group: string;
  readonly name: string;
  readonly plays: BlockPlays;
  /** What part of its length it fades in and out. */
  readonly fades?: { readonly in?: number; readonly out?: number };
}
const quick = (
  name: string,
  spec: Parameters<typeof effectSpecSchema.parse>[0],
  fades?: NonNullable<Putting['fades']>,
): Putting => ({
  ...(fades ? { fades } : {}),
  key: `quick ${name}`,
  group: 'On the spot',
  name,
  plays: { is: 'effect', name, spec: effectSpecSchema.parse(spec) },
});
const still = (colours: [string, string]): unknown => ({ does: 'colour', way: 'gradient', each: 'unit', colours });
const white = still(['#ffffff', '#ffffff']);
const QUICK: readonly Putting[] = [
  quick('On', { rate: 0.01, light: 1, parts: [white] }),
  quick('Amber', { rate: 0.01, light: 1, parts: [still(['#ffae2e', '#ffae2e'])] }),
  quick('Red', { rate: 0.01, light: 1, parts: [still(['#ff2a1a', '#ff2a1a'])] }),
  quick('Green', { rate: 0.01, light: 1, parts: [still(['#18c94a', '#18c94a'])] }),
  quick('Blue', { rate: 0.01, light: 1, parts: [still(['#1f4bff', '#1f4bff'])] }),
  quick('Off', { rate: 0.01, parts: [{ does: 'level', size: 0, offset: 0, each: 'unit' }] }),
  quick('Flash', { rate: 0.01, light: 1, parts: [white] }, { out: 1 }),
  quick('Rise', { rate: 0.01, light: 1, parts: [white] }, { in: 1 }),
  quick('Colours from first to last', {
    rate: 0.01,
    light: 1,
    parts: [{ does: 'colour', way: 'gradient', spread: 1, each: 'cell', colours: ['#ff5a2a', '#2a6bff'] }],
  }),
  quick('From colour to colour', {
    rate: 0.125,
    beats: true,
    light: 1,
    parts: [{ does: 'colour', way: 'walk', each: 'unit', colours: ['#ff3b2a', '#ffb02e', '#2aa8ff'] }],
  }),
  quick('Pulse on each beat', {
    rate: 1,
    beats: true,
    parts: [white, { does: 'level', wave: 'fall', width: 0.8, each: 'unit' }],
  }),
  quick('One after the other', {
    rate: 0.25,
    beats: true,
    parts: [white, { does: 'level', wave: 'pulse', width: 0.3, spread: 1, each: 'unit' }],
  }),
  quick('Twinkle', {
    rate: 1.2,
    parts: [still(['#fff2c9', '#fff2c9']), { does: 'level', wave: 'sparkle', width: 0.3, offset: 0.06 }],
  }),
];

/** Everything that can be put, by where it comes from. */
export function puttingsOf(rig: Rig): readonly Putting[] {
  const of = (group: string, list: readonly { id: string; name: string }[]): Putting[] =>
    list.map(({ id, name }) => ({ key: id, group, name, plays: { is: 'play', target: id as `scene:${string}` } }));
  return [
    ...QUICK,
    ...of('Scenes', rig.scenes),
    ...of(
      'Chases',
      rig.playables.filter((p) => p.kind === 'chase'),
    ),
    ...of(
      'Effects',
      rig.playables.filter((p) => p.kind === 'effect'),
    ),
    ...rig.aims.map(({ id, name }): Putting => ({ key: id, group: 'Aims', name, plays: { is: 'aim', aimId: id } })),
    // A palette of colours is what it says, and stays it when that is edited.
    ...rig.palettes
      .filter(({ family }) => family === 'colour')
      .map(({ id, name }): Putting => {
        const spec = effectSpecSchema.parse({ rate: 0.01, light: 1, parts: [still([id, id])] });
        return { key: id, group: 'Palettes', name, plays: { is: 'effect', name, spec } };
      }),
    ...PRESETS.map(({ key, name, spec }): Putting => ({
      key: `ready ${key}`,
      group: 'Ready',
      name,
      plays: { is: 'effect', name, spec: spec satisfies EffectSpec },
    })),
  ];
}
