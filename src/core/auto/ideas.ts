import {
  effectSpecSchema,
  type AimPath,
  type EffectPart,
  type EffectSpec,
  type PixelPattern,
} from '../records/effect.ts';
import type { AimId } from '../ids.ts';
import type { Mood } from '../records/profile.ts';
import type { TargetId } from '../records/target.ts';
import { PRESETS, type Preset } from '../ready/presets.ts';
import { PLAYED_ROLES, type PlayedRole } from '../records/variant.ts';
import type { z } from 'zod';

/** What an idea is carried out in. */
export interface Setting {
  readonly colours: readonly string[];
  /** Another of its variants, 0-3, so that a phrase is not the one before. */
  readonly turn: number;
  /** Beats of a bar, and on which of them (0 the first) a snare falls. */
  readonly metre: number;
  readonly snares: readonly number[];
  /** Aims of the show that heads may move round. */
  readonly aims: readonly AimId[];
}
/** What it comes to: something of the show that plays, or an effect that is in no record. */
export type Played =
  { readonly target: TargetId; readonly spec: null } | { readonly target: null; readonly spec: EffectSpec };

/** What a role may play: a name, the moods it is meant for, and what it is in a setting. */
export interface Idea {
  readonly key: string;
  readonly name: string;
  readonly moods: readonly Mood[];
  readonly play: (setting: Setting) => Played;
}
type Spec = (setting: Setting) => EffectSpec;

type Input = z.input<typeof effectSpecSchema>;
const made = (input: Input): EffectSpec => effectSpecSchema.parse(input);
/** Goes by the beat, and lights what it plays on; `light` null leaves that to its parts. */
const onBeats = (rate: number, parts: Input['parts'], light: number | null = 1): EffectSpec =>
  made({ rate, beats: true, light, parts });
const way = (turn: number): 'forward' | 'backward' => (turn % 2 === 0 ? 'forward' : 'backward');
const two = (colours: readonly string[]): string[] => (colours.length > 1 ? [...colours] : [colours[0]!, colours[0]!]);

const still =
  (light: number): Spec =>
  ({ colours, turn }) =>
    made({
      rate: 0.01,
      light,
      parts: [
        { does: 'colour', way: 'gradient', spread: 0.5, each: 'unit', colours: two(colours), direction: way(turn) },
      ],
    });
const breathing =
  (rate: number, least: number): Spec =>
  ({ colours, turn }) =>
    onBeats(rate, [
      { does: 'colour', way: 'gradient', spread: 0.5, each: 'unit', colours: two(colours), times: 0.25 },
      {
        does: 'level',
        wave: 'breath',
        offset: least,
        size: 1 - least,
        spread: 0.5,
        each: 'unit',
        direction: way(turn),
      },
    ]);
const changing =
  (rate: number): Spec =>
  ({ colours, turn }) =>
    onBeats(rate, [
      { does: 'colour', way: 'swap', size: 0.3, each: 'unit', groupsOf: 1 + (turn % 2), colours: two(colours) },
    ]);
const running =
  (rate: number, width: number): Spec =>
  ({ colours, turn }) =>
    onBeats(rate, [
      { does: 'colour', way: 'gradient', spread: 1, each: 'unit', colours: two(colours), times: 0.25 },
      {
        does: 'level',
        wave: 'pulse',
        width,
        offset: 0.15,
        size: 0.85,
        spread: 1,
        each: 'unit',
        direction: way(turn),
        mirror: turn > 1,
      },
    ]);
const moving =
  (path: AimPath, rate: number, spread: number): Spec =>
  ({ colours, turn, aims }) =>
    onBeats(rate, [
      { does: 'colour', way: 'swap', size: 0.3, each: 'unit', colours: two(colours), times: 0.25 },
      {
        does: 'aim',
        path,
        panDeg: 30,
        tiltDeg: 14,
        spread,
        mirror: turn > 1,
        direction: way(turn),
        round: aims.length > 0 ? aims[turn % aims.length]! : null,
      },
    ]);
/** Heads at an aim: as good as still, and in the colours. */
export const aimedAt =
  (aim: AimId): Spec =>
  ({ colours, turn }) =>
    onBeats(0.03125, [
      { does: 'colour', way: 'swap', size: 0.3, each: 'unit', colours: two(colours), times: 4 },
      { does: 'aim', path: 'circle', panDeg: 3, tiltDeg: 2, direction: way(turn), round: aim },
    ]);
const picture =
  (pattern: PixelPattern, rate: number, repeat: number, width: number, soft: number): Spec =>
  ({ colours, turn }) =>
    onBeats(rate, [
      { does: 'pixels', pattern, colours: two(colours), repeat, width, soft, angleDeg: [0, 180, 90, -90][turn]! },
    ]);
/** Moments of white on snares: so seldom that they stay something. Which of them, goes by the turn. */
const hit =
  (level: number, dense: boolean): Spec =>
  ({ turn, metre, snares }) => {
    const places = snares.length > 0 ? snares : [metre - 1];
    const place = turn % 2 === 0 ? places.at(-1)! : places[0]!;
    // Once a bar, or in the last of two or of four bars.
    const bars = dense ? 1 + (turn >> 1) : 2 + 2 * (turn >> 1);
    const beats = bars * metre;
    const at = (bars - 1) * metre + place;
    return onBeats(
      1 / beats,
      [
        {
          does: 'level',
          wave: 'fall',
          size: level,
          width: Math.min(1, 0.8 / beats),
          each: 'unit',
          phase: (beats - at) / beats,
        },
      ],
      null,
    );
  };

const idea = (key: string, name: string, moods: readonly Mood[], spec: Spec): Idea => ({
  key,
  name,
  moods,
  play: (setting) => ({ target: null, spec: spec(setting) }),
});
const WASHES = [
  idea('still', 'Colours that stand', ['calm', 'easy'], still(0.6)),
  idea('breath', 'Slow breath', ['calm', 'easy', 'lively'], breathing(0.125, 0.45)),
  idea('change', 'Colours that change places', ['easy', 'lively', 'strong'], changing(0.25)),
  idea('run', 'Light that runs along', ['lively', 'strong'], running(0.25, 0.5)),
  idea('quick', 'Quick change', ['strong', 'peak'], changing(0.5)),
  idea('chase', 'Quick run', ['peak'], running(0.5, 0.4)),
];
/** Ideas of each role, the calmest first. */
export const IDEAS: Readonly<Record<PlayedRole, readonly Idea[]>> = {
  wash: WASHES,
  wash2: [idea('back', 'A still ground', ['calm', 'easy', 'lively', 'strong'], still(0.35)), ...WASHES.slice(1)],
  beams: [
    idea('fan', 'A fan that breathes', ['easy', 'lively'], moving('fan', 0.0625, 0)),
    idea('circle', 'Slow circles', ['easy', 'lively'], moving('circle', 0.0625, 0.5)),
    idea('eight', 'Eights', ['lively', 'strong'], moving('eight', 0.125, 0.5)),
    idea('sweep', 'Sweeps', ['strong', 'peak'], moving('line', 0.25, 0)),
    idea('cross', 'Crossing', ['strong', 'peak'], moving('cross', 0.25, 0.25)),
  ],
  effects: [idea('glow', 'Its own light, in the colours', ['easy', 'lively', 'strong', 'peak'], changing(0.25))],
  pixels: [
    idea('swell', 'A swell', ['calm', 'easy'], picture('waves', 0.0625, 1, 1, 1)),
    idea('snow', 'Snow', ['calm', 'easy'], picture('snow', 0.0625, 2, 0.25, 0.5)),
    idea('plasma', 'Clouds of colour', ['easy', 'lively'], picture('plasma', 0.0625, 2, 0.5, 0.3)),
    idea('comet', 'Comets', ['lively', 'strong'], picture('comet', 0.25, 1, 0.5, 0.8)),
    idea('bars', 'Bars', ['strong', 'peak'], picture('bars', 0.25, 4, 0.5, 0.2)),
    idea('wipe', 'Wipes', ['strong', 'peak'], picture('wipe', 0.25, 1, 0.5, 0.1)),
  ],
  whites: [
    idea('seldom', 'A hit now and then', ['strong', 'peak'], hit(0.7, false)),
    idea('hit', 'Hits on a snare', ['peak'], hit(0.9, true)),
  ],
};

/** Roles that an effect is for, by what it does. */
export const FOR_PART: Readonly<Record<EffectPart['does'], readonly PlayedRole[]>> = {
  level: ['wash', 'wash2', 'pixels'],
  colour: ['wash', 'wash2', 'pixels', 'effects'],
  aim: ['beams'],
  pixels: ['pixels'],
};
/** A ready effect in colours that are given, where it has any of its own; a level or a movement gets them besides. */
function readySpec({ spec, family }: Preset, colours: readonly string[]): EffectSpec {
  const parts = spec.parts.map((part) =>
    'colours' in part && !(part.does === 'colour' && part.way === 'hue') ? { ...part, colours: two(colours) } : part,
  );
  if (family === 'colour' || family === 'pixels') return { ...spec, parts };
  const ground = {
    does: 'colour',
    way: 'gradient',
    spread: 0.5,
    each: 'unit',
    times: 0.1,
    colours: two(colours),
  } as const;
  return made({ ...spec, light: family === 'aim' ? 1 : spec.light, parts: [ground, ...parts] });
}
/** Ready effects: none is meant for a mood by itself, each may be let in. */
export const READY_IDEAS: Readonly<Record<PlayedRole, readonly Idea[]>> = Object.fromEntries(
  PLAYED_ROLES.map((role) => [
    role,
    PRESETS.filter(({ family }) => FOR_PART[family].includes(role)).map((preset): Idea => ({
      key: `ready${preset.key.replace(/[^a-z0-9]/g, '')}`,
      name: preset.name,
      moods: [],
      play: ({ colours }) => ({ target: null, spec: readySpec(preset, colours) }),
    })),
  ]),
) as unknown as Readonly<Record<PlayedRole, readonly Idea[]>>;
