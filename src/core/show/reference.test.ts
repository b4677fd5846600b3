import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, drawing, scene, showWith, units } from '../../../tests/support/rig.ts';
import type { Id } from '../ids.ts';
import { documentOf, type Document } from '../document/change.ts';
import type { UnitValues } from '../records/scene.ts';
import type { AnyRecord, ChaseRecord, SceneRecord } from '../records/index.ts';
import {
  compileRig,
  compilePlay,
  initialLive,
  newPlay,
  playLevel,
  sequenceOf,
  type LiveState,
  type Play,
  type TargetId,
} from './index.ts';

/**
 * The fast renderer against a slow one that follows the rules of merging word by word, on made-up shows: dimmers (level,
 * highest takes precedence) and fixtures of which only the aim is looked at (latest takes precedence).
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
const SCENES = ['s0', 's1', 's2', 's3'];
const anyShow = fc
  .tuple(
    fc.tuple(...SCENES.map(() => fc.tuple(values, priority, fade, fade))),
    fc.array(fc.constantFrom(...SCENES), { minLength: 1, maxLength: 4 }),
    fc.tuple(priority, fade, fc.constantFrom(0, 0.5, 2), fc.constantFrom(0, 1, 3)),
    fc.constantFrom('repeat', 'once', 'thereAndBack'),
  )
  .map(([scenes, steps, [p, fadeInMs, stepFade, hold], order]): Document => {
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
    return documentOf([...showWith(...UNITS, ...made, run).values()]);
  });
const anyPlays = fc.uniqueArray(
  fc.record({
    target: fc.constantFrom<TargetId>('scene:s0', 'scene:s1', 'scene:s2', 'scene:s3', 'chase:c'),
    startedAt: fc.integer({ min: 0, max: 5000 }),
    released: fc.option(fc.integer({ min: 0, max: 5000 }), { nil: null }),
  }),
  { selector: (p) => p.target, maxLength: 5 },
);

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
  const order = sequenceOf(record);
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

/** The rules, word by word. */
function expected(
  document: Document,
  plays: readonly Play[],
  nowMs: number,
  hand: LiveState['hand'],
  grand: number,
): number[] {
  const rig = compileRig(document);
  const sorted = plays
    .map((play) => ({ play, record: document.get(play.target as Id) as SceneRecord | ChaseRecord }))
    .sort((a, b) => a.record.priority - b.record.priority || a.play.startedAt - b.play.startedAt);
  return WATCHED.map((watched, i) => {
    let value: number = watched.home;
    let base = value;
    let current = -1;
    for (const { play, record } of sorted) {
      const program = compilePlay(rig, document, play)!;
      const endsAt =
        record.kind === 'chase' && record.order === 'once'
          ? play.startedAt + record.steps.length * (record.fade + record.hold) * 1000
          : Infinity;
      const level = playLevel(play, program, nowMs, nowMs >= endsAt ? nowMs - endsAt : -1);
      if (level <= 0) continue;
      const own = layerOf(record, document, (nowMs - play.startedAt) / 1000).get(i);
      const weight = (own?.weight ?? 0) * level;
      if (!own || weight <= 0) continue;
      if (!watched.level) value += (own.value - value) * weight;
      else {
        if (current !== record.priority) {
          current = record.priority;
          base = value;
          value = base + (own.value - base) * weight;
        } else value = Math.max(value, base + (own.value - base) * weight);
      }
    }
    const held = hand[`unit:${watched.unit}`]?.[watched.attribute];
    if (typeof held === 'number') value = held;
    return watched.level ? value * grand : value;
  });
}

describe('the renderer does what the rules say', () => {
  test('for any scenes, chase, fades, priorities, hand and master, at any moment', () => {
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
          const wanted = expected(document, playing, nowMs, hand, grand);
          WATCHED.forEach(({ slot, unit, attribute }, i) => {
            const difference = Math.abs(bytes[slot]! - wanted[i]! * 255);
            assert.ok(
              difference <= 0.51,
              `${unit} ${attribute}: sent ${bytes[slot]}, the rules say ${wanted[i]! * 255}`,
            );
          });
        },
      ),
      { numRuns: 400 },
    );
  });
});
