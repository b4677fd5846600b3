import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, drawing, profileBySlug, scene, showWith, units } from '../../../../tests/support/rig.ts';
import type { Id } from '../../ids.ts';
import { documentOf, type Document } from '../../document/change.ts';
import type { UnitValues } from '../../records/scene.ts';
import { make, type AnyRecord, type ChaseRecord, type SceneRecord } from '../../records/index.ts';
import { effectSpecSchema, type EffectRecord, type EffectSpec } from '../../records/effect.ts';
import { initialLive, newPlay, type LiveState, type Play, type TargetId } from '../index.ts';

/**
 * The fast renderer against a slow one that follows the rules word by word and shares no code with it, on made-up shows:
 * dimmers (level, highest takes precedence) and heads of which only the aim is looked at (latest takes precedence), under
 * scenes, a chase and effects of levels and aims.
 */
const UNITS = [
  ...units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
    { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2 },
    { slug: 'p', profile: 'fernlight-dipper', mode: '9ch', address: 10 },
    { slug: 'q', profile: 'fernlight-dipper', mode: '9ch', address: 20 },
  ),
];
/** What is compared: unit, attribute, slot, whether it is a level, and its value at rest. */
const WATCHED = [
  { unit: 'a', attribute: 'Dimmer', slot: 0, level: true, home: 0 },
  { unit: 'b', attribute: 'Dimmer', slot: 1, level: true, home: 0 },
  { unit: 'p', attribute: 'Pan', slot: 9, level: false, home: 0.5 },
  { unit: 'q', attribute: 'Pan', slot: 19, level: false, home: 0.5 },
  { unit: 'p', attribute: 'Dimmer', slot: 11, level: true, home: 0 },
] as const;

const fraction = fc.integer({ min: 0, max: 20 }).map((n) => n / 20);
const values = fc
  .subarray(WATCHED.map((_, i) => i))
  .chain((picked) => fc.tuple(...picked.map((i) => fraction.map((v) => [i, v] as const))))
  .map((list) => {
    const byUnit: Record<string, UnitValues> = {};
    for (const [i, value] of list) (byUnit[WATCHED[i]!.unit] ??= {})[WATCHED[i]!.attribute] = value;
    return byUnit;
  });
const priority = fc.constantFrom(50, 100, 150);
const fade = fc.constantFrom(0, 1000, 4000);
const ON = { levels: ['unit:a', 'unit:b'], aims: ['unit:p', 'unit:q'] } as const;
const quarter = (from: number, to: number): fc.Arbitrary<number> =>
  fc.integer({ min: from * 4, max: to * 4 }).map((n) => n / 4);
const spreading = {
  times: fc.constantFrom(0.5, 1, 3),
  direction: fc.constantFrom('forward', 'backward', 'bounce'),
  spread: quarter(-2, 2),
  phase: quarter(-1, 1),
  mirror: fc.boolean(),
  groupsOf: fc.constantFrom(1, 2),
};
const levelPart = fc.record({
  does: fc.constant('level'),
  wave: fc.constantFrom('wave', 'triangle', 'rise', 'fall', 'pulse', 'square', 'breath', 'strobe'),
  size: fraction,
  offset: fraction,
  width: fc.constantFrom(0.1, 0.5, 0.9),
  combine: fc.constantFrom('over', 'add', 'brightest', 'through', 'cut'),
  ...spreading,
});
const aimPart = fc.record({
  does: fc.constant('aim'),
  path: fc.constantFrom('circle', 'eight', 'line', 'cross', 'fan'),
  panDeg: fc.constantFrom(0, 30, 200),
  ...spreading,
});
const spec = fc
  .record({
    rate: fc.constantFrom(0, 0.3, 1, 2.5),
    light: fc.option(fraction, { nil: null }),
    levels: fc.constantFrom('over', 'scale', 'highest'),
    parts: fc.oneof(fc.array(levelPart, { minLength: 1, maxLength: 3 }), fc.tuple(aimPart)),
  })
  // What only moves heads lights nobody here.
  .map((made): EffectSpec => effectSpecSchema.parse(made.parts[0]!.does === 'aim' ? { ...made, light: null } : made));
const SCENES = ['s0', 's1', 's2', 's3'];
const anyShow = fc
  .tuple(
    fc.tuple(...SCENES.map(() => fc.tuple(values, priority, fade, fade))),
    fc.array(fc.constantFrom(...SCENES), { minLength: 1, maxLength: 4 }),
    fc.tuple(priority, fade, fc.constantFrom(0, 0.5, 2), fc.constantFrom(0, 1, 3)),
    fc.constantFrom('repeat', 'once', 'thereAndBack'),
    fc.tuple(spec, priority, fade, fade),
    fc.tuple(spec, priority, fade, fade),
  )
  .map(([scenes, steps, [p, fadeInMs, stepFade, hold], order, ...specs]): Document => {
    const made = scenes.map(([v, pr, fadeInMs, fadeOutMs], i) =>
      scene(SCENES[i]!, v, { priority: pr, fadeInMs, fadeOutMs }),
    );
    const run = chase('c', steps, {
      priority: p,
      fadeInMs,
      fade: stepFade,
      hold: hold + 0.25,
      order: order as ChaseRecord['order'],
    });
    const effects = specs.map(([own, pr, inMs, outMs], i) =>
      make('effect', {
        ...own,
        id: `effect:e${i}`,
        number: i + 1,
        name: `e${i}`,
        on: own.parts.some((part) => part.does === 'aim') ? [...ON.aims] : [...ON.levels],
        priority: pr,
        fadeInMs: inMs,
        fadeOutMs: outMs,
      }),
    );
    return documentOf([...showWith(...UNITS, ...made, run, ...effects).values()]);
  });
const anyPlays = fc.uniqueArray(
  fc.record({
    target: fc.constantFrom<TargetId>(
      'scene:s0',
      'scene:s1',
      'scene:s2',
      'scene:s3',
      'chase:c',
      'effect:e0',
      'effect:e1',
    ),
    startedAt: fc.integer({ min: 0, max: 5000 }),
    released: fc.option(fc.integer({ min: 0, max: 5000 }), { nil: null }),
  }),
  { selector: (p) => p.target, maxLength: 7 },
);

/** The steps of a chase in the order in which they come round. */
function orderOf({ order, steps }: ChaseRecord): number[] {
  const list = steps.map((_, i) => i);
  return order === 'thereAndBack' && list.length > 2 ? [...list, ...list.slice(1, -1).reverse()] : list;
}

const clamp = (v: number): number => Math.min(1, Math.max(0, v));
/** How far something is in: up from its start, and down from wherever it was once it was let go. */
function levelAt(from: number, inMs: number, released: number, outMs: number, nowMs: number): number {
  const up = (ms: number): number => (ms < from ? 0 : inMs <= 0 ? 1 : clamp((ms - from) / inMs));
  if (nowMs < released) return up(nowMs);
  return outMs <= 0 ? 0 : up(released) * clamp(1 - (nowMs - released) / outMs);
}

const ease = (x: number): number => x * x * (3 - 2 * x);
const WAVES: Readonly<Record<string, (at: number, width: number) => number>> = {
  wave: (at) => (1 - Math.cos(2 * Math.PI * at)) / 2,
  triangle: (at) => 1 - Math.abs(1 - 2 * at),
  rise: (at) => at,
  fall: (at) => 1 - at,
  pulse: (at, width) => (at < width ? 1 - ease(at / width) : 0),
  square: (at, width) => (at < width ? 1 : 0),
  breath: (at) => (at < 0.4 ? ease(at / 0.4) : at < 0.9 ? 1 - ease((at - 0.4) / 0.5) : 0),
  strobe: (at, width) => (at < width * 0.4 ? 1 : 0),
};
const COMBINED: Readonly<Record<string, (before: number, v: number) => number>> = {
  over: (_, v) => v,
  add: (before, v) => Math.min(1, before + v),
  brightest: Math.max,
  through: (before, v) => before * v,
  cut: (before, v) => before * (1 - v),
};
/** Turns of a part for the n-th of so many: what it has done, less how far that one is behind. */
function turnsOf(part: EffectSpec['parts'][number], turns: number, n: number, count: number): number {
  const own = turns * part.times;
  const done = part.direction === 'forward' ? own : part.direction === 'backward' ? -own : 1 - Math.abs(1 - (own % 2));
  const groups = Math.ceil(count / part.groupsOf);
  const group = Math.floor(n / part.groupsOf);
  const place = part.mirror ? Math.abs((2 * group + 1) / groups - 1) : group / groups;
  return done - part.spread * place + part.phase;
}
/** The light of an effect for the n-th it plays on. */
function lightOf(effect: EffectSpec, turns: number, n: number, count: number): number {
  let light = 1;
  for (const part of effect.parts) {
    if (part.does !== 'level') continue;
    const at = turnsOf(part, turns, n, count);
    const wave = WAVES[part.wave]!(at - Math.floor(at), part.width);
    light = COMBINED[part.combine]!(light, clamp(part.offset + part.size * wave));
  }
  return light * (effect.light ?? 1);
}
/** How far the n-th head is turned aside, degrees of pan. */
function asideOf(effect: EffectSpec, turns: number, n: number, count: number): number {
  const [part] = effect.parts;
  if (part?.does !== 'aim') return 0;
  const at = 2 * Math.PI * turnsOf(part, turns, n, count);
  const groups = Math.ceil(count / part.groupsOf);
  const group = Math.floor(n / part.groupsOf);
  const across = groups > 1 ? (2 * group) / (groups - 1) - 1 : 0;
  const still = effect.rate === 0 || part.times === 0;
  const mirrored = part.mirror && across > 0 ? -1 : 1;
  switch (part.path) {
    case 'circle':
      return part.panDeg * Math.cos(at) * mirrored;
    case 'cross':
      return part.panDeg * Math.sin(at) * (group % 2 === 0 ? 1 : -1);
    case 'fan':
      return part.panDeg * (still ? 1 : (1 - Math.cos(at)) / 2) * across;
    default:
      return part.panDeg * Math.sin(at) * mirrored;
  }
}
const PAN_DEG = profileBySlug('fernlight-dipper').physical.panDeg ?? 540;

/** Values of one layer at a moment: by watched index, with a weight that fades in over what is below. */
function layerOf(
  record: AnyRecord,
  document: Document,
  elapsedS: number,
): Map<number, { value: number; weight: number }> {
  const found = new Map<number, { value: number; weight: number }>();
  const of = (s: SceneRecord, i: number): number | undefined => {
    const own = s.values[`unit:${WATCHED[i]!.unit}`]?.[WATCHED[i]!.attribute];
    return typeof own === 'number' ? own : undefined;
  };
  if (record.kind === 'scene') {
    WATCHED.forEach((_, i) => {
      const value = of(record, i);
      if (value !== undefined) found.set(i, { value, weight: 1 });
    });
    return found;
  }
  assert.ok(record.kind === 'chase');
  const order = orderOf(record);
  const length = record.fade + record.hold;
  const passed = record.order === 'once' ? Math.min(elapsedS, order.length * length - 1e-9) : elapsedS;
  const step = Math.floor(passed / length);
  const within = record.order === 'once' && elapsedS >= order.length * length ? length : passed - step * length;
  const sceneAt = (n: number): SceneRecord =>
    document.get(record.steps[order[n % order.length]!]!.sceneId!) as SceneRecord;
  const mix = record.fade === 0 ? 1 : Math.min(1, within / record.fade);
  WATCHED.forEach((_, i) => {
    const after = of(sceneAt(step), i);
    const before = mix < 1 && step > 0 ? of(sceneAt(step - 1), i) : undefined;
    if (after !== undefined && before !== undefined)
      found.set(i, { value: before + (after - before) * mix, weight: 1 });
    else if (after !== undefined) found.set(i, { value: after, weight: mix });
    else if (before !== undefined) found.set(i, { value: before, weight: 1 - mix });
  });
  return found;
}

/** The rules, word by word. `earlyS` looks at effects so much earlier or later: jumps may fall on either side of a bit. */
function expected(
  document: Document,
  plays: readonly Play[],
  nowMs: number,
  hand: LiveState['hand'],
  grand: number,
  earlyS = 0,
): number[] {
  const sorted = plays
    .map((play) => ({ play, record: document.get(play.target as Id) as SceneRecord | ChaseRecord | EffectRecord }))
    .sort((a, b) => a.record.priority - b.record.priority || a.play.startedAt - b.play.startedAt);
  return WATCHED.map((watched, i) => {
    let value: number = watched.home;
    let base = value;
    let current = -1;
    /** What stood there before the first of this priority. */
    const enter = (priority: number): boolean => {
      if (current === priority) return false;
      current = priority;
      base = value;
      return true;
    };
    const highest = (priority: number, own: number, weight: number): void => {
      const first = enter(priority);
      const candidate = base + (own - base) * weight;
      value = first ? candidate : Math.max(value, candidate);
    };
    for (const { play, record } of sorted) {
      const endsAt =
        record.kind === 'chase' && record.order === 'once'
          ? play.startedAt + record.steps.length * (record.fade + record.hold) * 1000
          : Infinity;
      const released = play.releasedAt ?? (nowMs >= endsAt ? endsAt : Infinity);
      const level = levelAt(play.startedAt, record.fadeInMs, released, record.fadeOutMs, nowMs);
      if (level <= 0) continue;
      if (record.kind === 'effect') {
        const turns = ((nowMs - play.startedAt) / 1000 + earlyS) * record.rate;
        const n = record.on.indexOf(`unit:${watched.unit}`);
        if (n < 0) continue;
        const aims = record.parts.some((part) => part.does === 'aim');
        if (!watched.level) value = aims ? clamp(value + (asideOf(record, turns, n, 2) / PAN_DEG) * level) : value;
        else if (!aims) {
          const lit = lightOf(record, turns, n, 2);
          if (record.levels === 'scale') value *= 1 + (lit - 1) * level;
          else if (record.levels === 'highest') highest(record.priority, lit, level);
          else {
            enter(record.priority);
            value += (lit - value) * level;
          }
        }
        continue;
      }
      const own = layerOf(record, document, (nowMs - play.startedAt) / 1000).get(i);
      const weight = (own?.weight ?? 0) * level;
      if (!own || weight <= 0) continue;
      if (!watched.level) value += (own.value - value) * weight;
      else highest(record.priority, own.value, weight);
    }
    const held = hand[`unit:${watched.unit}`]?.[watched.attribute];
    if (typeof held === 'number') value = held;
    return watched.level ? value * grand : value;
  });
}

describe('the renderer does what the rules say', () => {
  test('for any scenes, chase, effects, fades, priorities, hand and master, at any moment', () => {
    fc.assert(
      fc.property(
        anyShow,
        anyPlays,
        fc.integer({ min: 0, max: 20_000 }),
        values,
        fraction,
        (document, list, nowMs, byHand, grand) => {
          const playing = list.map((p, i) =>
            newPlay({
              id: `p${i}`,
              target: p.target,
              startedAt: p.startedAt + i / 8,
              releasedAt: p.released === null ? null : p.startedAt + p.released,
            }),
          );
          const hand = Object.fromEntries(
            Object.entries(byHand).map(([u, v]) => [`unit:${u}`, v]),
          ) as LiveState['hand'];
          const bytes = drawing(document, { ...initialLive(-10_000), playing, hand, grand }).at(nowMs);
          // A square or a strobe may jump a bit earlier or later: then any value between is right.
          const around = [0, -1e-5, 1e-5].map((early) => expected(document, playing, nowMs, hand, grand, early));
          WATCHED.forEach(({ slot, unit, attribute }, i) => {
            const wanted = around.map((list) => list[i]! * 255);
            const [low, high] = [Math.min(...wanted), Math.max(...wanted)];
            assert.ok(
              bytes[slot]! >= low - 0.6 && bytes[slot]! <= high + 0.6,
              `${unit} ${attribute}: sent ${bytes[slot]}, the rules say ${wanted[0]}`,
            );
          });
        },
      ),
      { numRuns: 600 },
    );
  });
});
