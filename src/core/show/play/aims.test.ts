import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, drawing, scene, showWith, units } from '../../../../tests/support/rig.ts';
import { axesOf } from '../../aim/axes.ts';
import { solutionFor } from '../../aim/solutions.ts';
import { applyChange, getRecord, type Document } from '../../document/change.ts';
import { makeReader, readAxis } from '../../patch/readout.ts';
import { ownDirection } from '../../plot/beam.ts';
import type { Place3 } from '../../plot/paper.ts';
import { applied, rotationOf } from '../../plot/rotation.ts';
import { plus, times } from '../../plot/vector.ts';
import { make, type AnyRecord } from '../../records/index.ts';
import type { TargetId } from '../index.ts';

const HUNG = { x: 0, y: 180, z: 0 };
const rig = units(
  ...[-3, 0, 3].map((x, i) => ({
    slug: 'abc'[i]!,
    profile: 'quillon-heron',
    mode: '16ch',
    address: 1 + i * 16,
    fields: { position: { x, y: 2, z: 5 }, rotation: HUNG },
  })),
);
const point = (id: string, x: number, y: number, z = 0): AnyRecord =>
  make('aim', { id: `aim:${id}`, number: 1, name: id, where: { is: 'point', at: { x, y, z } } });
const toAim = (id: string) => ({ Pan: { aim: `aim:${id}` as const }, Tilt: { aim: `aim:${id}` as const } });
const all = (id: string) => ({ a: toAim(id), b: toAim(id), c: toAim(id) });
const document = showWith(
  ...rig,
  point('p', 1, -3),
  point('q', -4, 0.5),
  scene('p', all('p')),
  scene('q', all('q')),
  make('chase', {
    id: 'chase:turn',
    number: 1,
    name: 'Turn',
    fade: 4,
    hold: 0,
    steps: [{ sceneId: 'scene:p' }, { sceneId: 'scene:q' }],
  }),
  make('chase', {
    id: 'chase:straight',
    number: 2,
    name: 'Straight',
    travel: 'straight',
    fade: 4,
    hold: 0,
    steps: [{ sceneId: 'scene:p' }, { sceneId: 'scene:q' }],
  }),
  make('effect', {
    id: 'effect:metres',
    number: 1,
    name: 'Round p',
    on: ['unit:a', 'unit:b', 'unit:c'],
    rate: 0.25,
    fadeInMs: 0,
    parts: [{ does: 'aim', path: 'circle', in: 'metres', acrossM: 1, deepM: 0.5, round: 'aim:p' }],
  }),
  make('effect', {
    id: 'effect:there',
    number: 2,
    name: 'Round wherever',
    on: ['unit:a', 'unit:b', 'unit:c'],
    rate: 0.25,
    fadeInMs: 0,
    parts: [{ does: 'aim', path: 'circle', in: 'metres', acrossM: 1, deepM: 0.5 }],
  }),
);

/** Where on the floor a head's beam meets it, by the bytes. */
function onFloor(of: Document, slug: string, bytes: Uint8Array): Place3 {
  const unit = getRecord(of, 'unit', `unit:${slug}`)!;
  const { panRange, tiltRange } = axesOf(of, unit)!;
  const reader = makeReader(of, unit);
  const frames = new Map([[1, bytes.subarray(0, 512)]]);
  const at = (axis: 'pan' | 'tilt', range: number): number =>
    (readAxis(unit, reader, axis, frames, range) - 0.5) * range;
  const way = applied(
    rotationOf(unit.rotation),
    ownDirection('head', at('pan', panRange!.rangeDeg), at('tilt', tiltRange!.rangeDeg)),
  );
  return plus(unit.position, times(way, -unit.position.z / way.z));
}
const played = (of: Document, ...targets: TargetId[]) =>
  drawing(of, after(of, ...targets.map((target) => [0, { do: 'play', target }] as const)));
const near = (a: Place3, b: Place3, metres: number): void =>
  assert.ok(Math.hypot(a.x - b.x, a.y - b.y) < metres, `${JSON.stringify(a)} and not ${JSON.stringify(b)}`);

describe('what plays follows aims', () => {
  test('a scene, to the centimetre', () => {
    const bytes = played(document, 'scene:p').at(10);
    for (const slug of ['a', 'b', 'c']) near(onFloor(document, slug, bytes), { x: 1, y: -3, z: 0 }, 0.01);
  });

  test('an aim that is moved moves them, in whatever refers to it', () => {
    const moved = applyChange(document, { put: [point('p', -2, -1)], remove: [] });
    const bytes = played(moved, 'scene:p').at(10);
    for (const slug of ['a', 'b', 'c']) near(onFloor(moved, slug, bytes), { x: -2, y: -1, z: 0 }, 0.01);
  });

  test('a chase along straight lines: at every moment on the line between both; as heads turn it is not', () => {
    let off = 0;
    for (const [target, straight] of [
      ['chase:straight', true],
      ['chase:turn', false],
    ] as const) {
      const { at } = played(document, target);
      for (const ms of [4400, 5000, 6000, 7000, 7700]) {
        const bytes = at(ms);
        const mix = (ms - 4000) / 4000;
        const line = { x: 1 - 5 * mix, y: -3 + 3.5 * mix, z: 0 };
        for (const slug of ['a', 'b', 'c']) {
          const found = onFloor(document, slug, bytes);
          if (straight) near(found, line, 0.02);
          else off = Math.max(off, Math.hypot(found.x - line.x, found.y - line.y));
        }
      }
    }
    assert.ok(off > 0.1, `${off}`);
  });

  test('an effect in metres: a circle on the floor round its aim, of the size that was said', () => {
    for (const targets of [['effect:metres'], ['scene:p', 'effect:there']] as const) {
      const { at } = played(document, ...(targets as unknown as TargetId[]));
      for (const ms of [100, 700, 1500, 2600, 3900]) {
        const turn = (ms / 1000) * 0.25 * 2 * Math.PI;
        const wanted = { x: 1 + Math.cos(turn), y: -3 + 0.5 * Math.sin(turn), z: 0 };
        const bytes = at(ms);
        for (const slug of ['a', 'b', 'c']) near(onFloor(document, slug, bytes), wanted, 0.03);
      }
    }
  });

  test('a correction stays while it moves round', () => {
    const aim = getRecord(document, 'aim', 'aim:p')!;
    const off = applyChange(document, {
      put: [{ ...aim, corrections: { 'unit:a': { pan: 3, tilt: 0 } } as typeof aim.corrections }],
      remove: [],
    });
    const [plain, corrected] = [document, off].map((d) => onFloor(d, 'a', played(d, 'effect:metres').at(500)));
    const turned = solutionFor(off, 'unit:a', 'aim:p')!.pan - solutionFor(document, 'unit:a', 'aim:p')!.pan;
    assert.ok(Math.abs(turned - 3) < 1e-9);
    assert.ok(Math.hypot(plain!.x - corrected!.x, plain!.y - corrected!.y) > 0.1);
  });
});
