import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { make, type AnyRecord } from '../records/index.ts';
import { propSchema } from '../records/prop.ts';
import type { Document } from '../document/change.ts';
import { PIXELS, showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { DOT_NUMBERS, thumbnailOf, type Thumbnail } from './thumbnail.ts';

const matrix = (slug: string, universe: number, x: number): AnyRecord =>
  make('unit', {
    id: `unit:${slug}`,
    number: universe,
    name: slug,
    profileId: 'profile:px',
    mode: 'px',
    patch: { universe, address: 1 },
    prop: propSchema.parse({ shape: { shape: 'matrix', columns: 5, rows: 4, widthM: 2, heightM: 1 } }),
    position: { x, y: 0, z: 0 },
  });

interface Dot {
  readonly x: number;
  readonly y: number;
  readonly lit: boolean;
}
const dotsOf = ({ dots }: Thumbnail): Dot[] =>
  Array.from({ length: dots.length / DOT_NUMBERS }, (_, i) => {
    const [x, y, r, g, b] = dots.subarray(i * DOT_NUMBERS, (i + 1) * DOT_NUMBERS);
    return { x: x!, y: y!, lit: r! + g! + b! > 0.01 };
  });

const framesOf = (universes: readonly number[], bytes: (universe: number) => Uint8Array): Map<number, Uint8Array> =>
  new Map(universes.map((u) => [u, bytes(u)]));
const looked = (document: Document, universes: readonly number[], lit: Readonly<Record<number, number>>): Thumbnail => {
  const rest = framesOf(universes, (universe) => slotsAt(document, { universe }));
  const frames = new Map([...rest].map(([universe, slots]) => [universe, slots.slice()]));
  for (const [universe, count] of Object.entries(lit)) frames.get(Number(universe))!.fill(255, 0, count);
  return thumbnailOf(document, frames, rest);
};

describe('a look', () => {
  const document = showWith(PIXELS, matrix('a', 1, -20), matrix('b', 2, 20));

  test('shows what is touched from the side on which it is largest, all of it inside', () => {
    const look = looked(document, [1, 2], { 1: 60 });
    const dots = dotsOf(look);
    // A wall: seen from the front, wider than it is high, and the other one, 40 m away, is not in the picture.
    assert.equal(dots.length, 20);
    assert.ok(dots.every((d) => d.lit && d.x > 0 && d.x < 1 && d.y > 0 && d.y < 1));
    assert.ok(new Set(dots.map((d) => d.y.toFixed(3))).size === 4, 'four rows');
    assert.ok(look.shape > 1);
  });

  test('shows what lies around it dark', () => {
    const near = showWith(PIXELS, matrix('a', 1, 0), matrix('b', 2, 2.2));
    const dots = dotsOf(looked(near, [1, 2], { 1: 60 }));
    assert.equal(dots.filter((d) => d.lit).length, 20);
    assert.ok(
      dots.some((d) => !d.lit),
      'a part of the neighbour',
    );
  });

  test('shows the whole rig where nothing is touched', () => {
    const dots = dotsOf(looked(document, [1, 2], {}));
    assert.equal(dots.length, 40);
    assert.ok(dots.every((d) => !d.lit));
  });

  test('a head that only turns glimmers', () => {
    const show = showWith(
      ...units(
        { slug: 'a', profile: 'quillon-heron', mode: '16ch', address: 1 },
        { slug: 'b', profile: 'quillon-heron', mode: '16ch', address: 101 },
      ),
    );
    const rest = framesOf([1], (universe) => slotsAt(show, { universe }));
    const frames = new Map([[1, rest.get(1)!.slice()]]);
    // Pan of the first.
    frames.get(1)![0] = 17;
    assert.deepEqual(
      dotsOf(thumbnailOf(show, frames, rest)).map((d) => d.lit),
      [true, false],
    );
    // With its dimmer up it is seen in its light.
    const lit = looked(show, [1], { 1: 16 }).dots;
    assert.ok(Math.max(lit[2]!, lit[3]!, lit[4]!) > 0.5);
  });

  test('a rig of nothing is an empty look', () => {
    assert.equal(thumbnailOf(showWith(), new Map(), new Map()).dots.length, 0);
  });
});
