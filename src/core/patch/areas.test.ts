import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { documentOf } from '../document/change.ts';
import { make, parseRecord } from '../records/index.ts';
import { applyLive, initialLive } from '../show/index.ts';
import { scene, showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { areaAt, areaChain, areaIdOf, parentFor } from './areas.ts';
import { surfaceOf, contains, crossesItself } from '../polygon.ts';

const box = (x: number, y: number, w: number, h: number) => [
  { x, y },
  { x: x + w, y },
  { x: x + w, y: y + h },
  { x, y: y + h },
];
const area = (slug: string, number: number, outline: ReturnType<typeof box> | null, parent?: string) =>
  make('area', { id: `area:${slug}`, number, name: slug, outline, parentId: parent ? `area:${parent}` : null });
const AREAS = [
  area('yard', 1, box(-10, -10, 20, 20)),
  area('pond', 2, box(-4, -4, 8, 8), 'yard'),
  area('isle', 3, box(-1, -1, 2, 2), 'pond'),
];

describe('outlines', () => {
  test('inside, outside, and how much they enclose', () => {
    const l = [...box(0, 0, 4, 4).slice(0, 2), { x: 4, y: 2 }, { x: 2, y: 2 }, { x: 2, y: 4 }, { x: 0, y: 4 }];
    assert.equal(surfaceOf(l), 12);
    assert.ok(contains(l, { x: 1, y: 3 }));
    assert.ok(!contains(l, { x: 3, y: 3 }));
  });
  test('a figure of eight crosses itself; a box and a star do not', () => {
    const eight = [
      { x: 0, y: 0 },
      { x: 2, y: 2 },
      { x: 2, y: 0 },
      { x: 0, y: 2 },
    ];
    assert.ok(crossesItself(eight));
    assert.ok(!crossesItself(box(0, 0, 1, 1)));
    const read = parseRecord({ kind: 'area', id: 'area:x', number: 1, name: 'x', outline: eight });
    assert.ok('faults' in read && read.faults[0]!.message === 'must not cross itself');
    const nan = parseRecord({ kind: 'area', id: 'area:x', number: 1, name: 'x', outline: [{ x: NaN, y: 0 }] });
    assert.ok('faults' in nan);
  });
  test('a point of a convex outline is inside exactly when it is on the same side of every edge', () =>
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.integer({ min: 3, max: 12 }),
        (x, y, n) => {
          const ring = Array.from({ length: n }, (_, i) => ({
            x: 2 * Math.cos((i / n) * 2 * Math.PI),
            y: 2 * Math.sin((i / n) * 2 * Math.PI),
          }));
          const sides = ring.map((a, i) => {
            const b = ring[(i + 1) % n]!;
            return (b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x);
          });
          if (sides.some((s) => Math.abs(s) < 1e-9)) return;
          assert.equal(
            contains(ring, { x, y }),
            sides.every((s) => s > 0),
          );
        },
      ),
    ));
});

describe('areas', () => {
  const show = documentOf(AREAS);
  test('the innermost one is meant', () => {
    assert.equal(areaAt(show, { x: 0, y: 0 })?.id, 'area:isle');
    assert.equal(areaAt(show, { x: 3, y: 3 })?.id, 'area:pond');
    assert.equal(areaAt(show, { x: 9, y: 9 })?.id, 'area:yard');
    assert.equal(areaAt(show, { x: 11, y: 0 }), null);
    assert.deepEqual(areaChain(show, 'area:isle'), ['area:isle', 'area:pond', 'area:yard']);
  });
  test('a new one lies in the smallest that holds it whole, but never in itself', () => {
    assert.equal(parentFor(show, box(-3, -3, 1, 1)), 'area:pond');
    assert.equal(parentFor(show, box(-4, -4, 8, 2)), 'area:pond');
    assert.equal(parentFor(show, box(3, 3, 3, 3)), 'area:yard');
    assert.equal(parentFor(show, box(9, 9, 3, 3)), null);
    assert.equal(parentFor(show, box(-3, -3, 1, 1), 'area:pond'), 'area:yard');
  });
  test('by hand comes before where it stands', () => {
    const [a, b] = units(
      { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
      { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2, fields: { areaId: 'area:yard' } },
    );
    assert.ok(a?.kind === 'unit' && b?.kind === 'unit');
    assert.equal(areaIdOf(show, a), 'area:isle');
    assert.equal(areaIdOf(show, b), 'area:yard');
  });
});

describe('the level of an area', () => {
  const at = (x: number, address: number) => ({
    slug: `d${address}`,
    profile: 'generic-dimmer',
    mode: '1ch',
    address,
    fields: { position: { x, y: 0, z: 0 } },
  });
  const show = showWith(
    ...AREAS,
    ...units(at(0, 1), at(3, 2), at(9, 3), at(20, 4)),
    scene('all', { d1: { Dimmer: 1 }, d2: { Dimmer: 1 }, d3: { Dimmer: 1 }, d4: { Dimmer: 1 } }),
  );
  const sent = (areas: Record<string, number>, test?: object) =>
    [...slotsAt(show, { live: { areas, ...test }, play: ['scene:all'], at: 1 })].slice(0, 4);
  test('multiplies down through those that lie in it', () => {
    assert.deepEqual(sent({}), [255, 255, 255, 255]);
    assert.deepEqual(sent({ 'area:yard': 0.5 }), [128, 128, 128, 255]);
    assert.deepEqual(sent({ 'area:yard': 0.5, 'area:isle': 0.5 }), [64, 128, 128, 255]);
    assert.deepEqual(sent({ 'area:pond': 0 }), [0, 0, 255, 255]);
  });
  test('holds for a test signal as well', () => {
    const test = {
      test: {
        scope: { universe: 1, from: 1, to: 4 },
        signal: { kind: 'all' },
        level: 1,
        startedAt: 0,
        until: 1e9,
      },
    };
    assert.deepEqual(sent({ 'area:pond': 0.5 }, test), [127, 127, 255, 255]);
  });
  test('is a command; at full it is forgotten', () => {
    const down = applyLive(initialLive(0), { do: 'area', areaId: 'area:pond', level: 0.3 }, 0, 'p');
    assert.deepEqual(down.areas, { 'area:pond': 0.3 });
    assert.deepEqual(applyLive(down, { do: 'area', areaId: 'area:pond', level: 1 }, 0, 'p').areas, {});
  });
});
