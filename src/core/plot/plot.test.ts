import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import type { UnitRecord } from '../records/index.ts';
import { propSchema } from '../records/prop.ts';
import { PLOT_SIDES } from '../records/picture.ts';
import { makeReader } from '../patch/readout.ts';
import { PIXELS, profileBySlug, showWith, units } from '../../../tests/support/rig.ts';
import { align, distribute, mirror, numbered, putOn, rotate, spotsOf, type Pattern } from './arrange.ts';
import { beamEnd, headDirection } from './beam.ts';
import { bodyMiddle, bodyOf, hits, nearestDot } from './body.ts';
import { makeBatch, readColours } from './cell-colours.ts';
import { everyNth, inBox, inLoop, nextTo, shrunk, type Spotted } from './choose.ts';
import { unitSize } from './dots.ts';
import { lengthNumber, lengthText, parseLength, parsePlace } from './lengths.ts';
import { bounds, tidyTurn } from './paper.ts';
import { inRoom, rotationOf } from './rotation.ts';
import { snap } from './snap.ts';

const near = (a: number, b: number): void => assert.ok(Math.abs(a - b) < 1e-5, `${a} is not ${b}`);
const BAR = profileBySlug('quillon-stave16');
const bar = (fields: object = {}): UnitRecord => {
  const [unit] = units({ slug: 'bar', profile: 'quillon-stave16', mode: '50ch', address: 1, fields });
  assert.ok(unit?.kind === 'unit');
  return unit;
};
const HUNG = { position: { x: 2, y: 1, z: 3 } };

describe('bodies on the paper', () => {
  test('take sizes from the profile, but never too small to see', () => {
    assert.equal(unitSize(BAR).widthM, 1);
    assert.ok(unitSize(BAR).depthM >= 0.08);
    assert.equal(unitSize(undefined).widthM, 0.3);
  });
  test('cells lie along the width, first at the left, in any turn', () => {
    const flat = bodyOf('plan', bar(HUNG), BAR, 16).dots.xyz;
    near(flat[0]!, 2 - 0.5 + 1 / 32);
    near(flat[45]!, 2 + 0.5 - 1 / 32);
    const up = bodyOf('plan', bar({ ...HUNG, rotation: { x: 0, y: 0, z: 90 } }), BAR, 16).dots.xyz;
    near(up[0]!, 2);
    near(up[1]!, 1 - 0.5 + 1 / 32);
  });
  test('are hit where they lie, on each paper', () => {
    const turned = bar({ ...HUNG, rotation: { x: 0, y: 0, z: 90 } });
    const body = bodyOf('plan', turned, BAR, 16);
    assert.ok(hits('plan', body, { x: 2, y: 1.4 }, 0.05));
    assert.ok(!hits('plan', body, { x: 2.4, y: 1 }, 0.05));
    assert.ok(hits('front', bodyOf('front', turned, BAR, 16), { x: 2, y: 3 }, 0.05));
    assert.ok(hits('side', bodyOf('side', turned, BAR, 16), { x: 1.4, y: 3 }, 0.05));
  });
  test('an upright prop is a line on the plan and itself from the front', () => {
    const prop = propSchema.parse({ shape: { shape: 'ring', count: 40, diameterM: 2 } });
    const unit = bar({ ...HUNG, prop });
    const [plan, front] = [bodyOf('plan', unit, BAR, 40), bodyOf('front', unit, BAR, 40)];
    near(plan.box.max.y - plan.box.min.y, 0);
    near(front.box.max.y - front.box.min.y, 2);
    assert.equal(nearestDot('front', front, { x: 2, y: 3 }, 0.1), 0);
  });
  test('bounds of nothing are nothing', () => assert.equal(bounds([]), null));
  test('turning keeps lengths; 90 degrees about each axis goes the right-handed way', () => {
    const at = (rotation: object) =>
      inRoom({ position: { x: 0, y: 0, z: 0 }, rotation: { x: 0, y: 0, z: 0, ...rotation } }, { x: 1, y: 2, z: 3 });
    const is = (a: { x: number; y: number; z: number }, ...b: number[]) =>
      [a.x, a.y, a.z].forEach((v, i) => near(v, b[i]!));
    is(at({ x: 90 }), 1, -3, 2);
    is(at({ y: 90 }), 3, 2, -1);
    is(at({ z: 90 }), -2, 1, 3);
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -360, max: 360 }))), ([x, y, z]) => {
        const r = rotationOf({ x: x!, y: y!, z: z! });
        near(Math.hypot(r[0]!, r[3]!, r[6]!), 1);
        near(r[0]! * r[1]! + r[3]! * r[4]! + r[6]! * r[7]!, 0);
      }),
    );
  });
});

describe('beams', () => {
  const stand = { rotation: { x: 0, y: 0, z: 0 } };
  const hang = { rotation: { x: 0, y: 180, z: 0 } };
  test('go up from what stands, down from what hangs, and lean to the front', () => {
    near(headDirection(stand, 0.5, 0.5, 540, 270).z, 1);
    near(headDirection(hang, 0.5, 0.5, 540, 270).z, -1);
    near(headDirection(stand, 0.5, 0.5 + 90 / 270, 540, 270).y, 1);
    near(headDirection(hang, 0.5, 0.5 + 90 / 270, 540, 270).y, 1);
    near(headDirection(stand, 0.5 + 90 / 540, 0.5 + 90 / 270, 540, 270).x, -1);
  });
  test('end on the floor', () => {
    const end = beamEnd({ x: 0, y: 0, z: 4 }, headDirection(hang, 0.5, 0.5 + 45 / 270, 540, 270));
    near(end.z, 0);
    near(end.y, 4);
  });
});

describe('arranging', () => {
  const row = [0, 1, 5, 6].map((x, i) => bar({ id: `unit:b${i}`, number: i + 1, position: { x, y: i * 0.25, z: 3 } }));
  const bodies = row.map((unit) => bodyOf('plan', unit, BAR, 16));
  const xs = (list: readonly UnitRecord[]) => list.map((u) => u.position.x);
  test('aligned on an edge and on the middle', () => {
    assert.deepEqual(xs(align('plan', bodies, 'left')), [0, 0, 0, 0]);
    assert.deepEqual(xs(align('plan', bodies, 'across')), [3, 3, 3, 3]);
    const heights = align(
      'front',
      row.map((u) => bodyOf('front', u, BAR, 16)),
      'top',
    ).map((u) => u.position.y);
    assert.deepEqual(
      heights,
      row.map((u) => u.position.y),
    );
  });
  test('distributed between the first and the last', () => {
    assert.deepEqual(xs(distribute('plan', bodies, 'x')), [0, 2, 4, 6]);
    assert.deepEqual(distribute('plan', bodies.slice(0, 2), 'x'), []);
  });
  test('mirrored twice and turned round and round they are where they were', () => {
    const twice = mirror(
      'plan',
      mirror('plan', bodies, 'x', 1.5).map((u) => bodyOf('plan', u, BAR, 16)),
      'x',
      1.5,
    );
    assert.deepEqual(
      twice.map((u) => [u.position, u.rotation]),
      row.map((u) => [u.position, u.rotation]),
    );
    let now = row;
    for (let i = 0; i < 4; i++)
      now = rotate(
        'plan',
        now.map((u) => bodyOf('plan', u, BAR, 16)),
        { x: 1, y: 1 },
        90,
      );
    now.forEach((u, i) => near(u.position.x, row[i]!.position.x));
    assert.deepEqual(
      now.map((u) => u.rotation.z),
      [0, 0, 0, 0],
    );
  });
  test('turns on the front and the side look counter-clockwise there', () => {
    for (const side of PLOT_SIDES) {
      const [turned] = rotate(
        side,
        [bodyOf(side, bar(HUNG), BAR, 16)],
        bodyMiddle(bodyOf(side, bar(HUNG), BAR, 16)),
        30,
      );
      near(bodyOf(side, turned!, BAR, 16).turnDeg, 30);
    }
    assert.equal(tidyTurn(270), -90);
    assert.equal(tidyTurn(-180), 180);
  });
});

describe('patterns', () => {
  const spots = (pattern: Pattern) =>
    spotsOf(pattern).map((s) => [s.x, s.y].map((v) => Math.round(v * 1000) / 1000 + 0));
  test('in a line, evenly between two points, one alone in the middle', () => {
    assert.deepEqual(spots({ pattern: 'line', from: { x: 1, y: 1 }, step: { x: 2, y: 0 }, count: 3 }), [
      [1, 1],
      [3, 1],
      [5, 1],
    ]);
    assert.deepEqual(spots({ pattern: 'between', from: { x: 0, y: 0 }, to: { x: 9, y: 3 }, count: 4 }), [
      [0, 0],
      [3, 1],
      [6, 2],
      [9, 3],
    ]);
    assert.deepEqual(spots({ pattern: 'between', from: { x: 0, y: 0 }, to: { x: 4, y: 0 }, count: 1 }), [[2, 0]]);
  });
  test('in rows from the top, round a circle, along a path', () => {
    assert.deepEqual(spots({ pattern: 'rectangle', from: { x: 0, y: 0 }, columns: 2, rows: 2, dx: 1, dy: 2 }), [
      [0, 0],
      [1, 0],
      [0, -2],
      [1, -2],
    ]);
    const circle = { pattern: 'circle', centre: { x: 0, y: 0 }, radius: 1, startDeg: 0, face: false } as const;
    assert.deepEqual(spots({ ...circle, count: 4, sweepDeg: 360 }), [
      [1, 0],
      [0, 1],
      [-1, 0],
      [0, -1],
    ]);
    assert.deepEqual(spots({ ...circle, count: 3, sweepDeg: 180 }), [
      [1, 0],
      [0, 1],
      [-1, 0],
    ]);
    const corner = [
      { x: 0, y: 0 },
      { x: 2, y: 0 },
      { x: 2, y: 2 },
    ];
    assert.deepEqual(spots({ pattern: 'path', points: corner, count: 3 }), [
      [0, 0],
      [2, 0],
      [2, 2],
    ]);
  });
  test('every numbering is a permutation', () => {
    const grid = spotsOf({ pattern: 'rectangle', from: { x: 0, y: 0 }, columns: 3, rows: 2, dx: 1, dy: 1 });
    const order = (how: Parameters<typeof numbered>[1]) => numbered(grid, how, 3).map((s) => grid.indexOf(s));
    assert.deepEqual(order('zigzag'), [0, 1, 2, 5, 4, 3]);
    assert.deepEqual(order('backward'), [5, 4, 3, 2, 1, 0]);
    assert.deepEqual(order('middle'), [2, 3, 1, 4, 0, 5]);
  });
  test('units go on them in order; too few places leave the rest', () => {
    const row = [bar({ id: 'unit:b1' }), bar({ id: 'unit:b2', position: { x: 9, y: 9, z: 1 } })];
    const put = putOn('front', row, [{ x: 1, y: 2, turnDeg: 30 }]);
    assert.deepEqual([put[0]!.position, put[0]!.rotation.y], [{ x: 1, y: 0, z: 2 }, -30]);
    assert.equal(put[1], row[1]);
  });
});

describe('snapping', () => {
  const to = { gridM: 0.5, guidesX: [2.05], guidesY: [], units: [{ x: 3.02, y: 7 }], reachM: 0.1 };
  test('guides before units before the grid, each way by itself', () => {
    assert.deepEqual(snap({ x: 2.1, y: 1.1 }, to), { x: 2.05, y: 1, onX: 'guide', onY: 'grid' });
    assert.deepEqual(snap({ x: 3, y: 7.3 }, to), { x: 3.02, y: 7.5, onX: 'unit', onY: 'grid' });
    assert.deepEqual(snap({ x: 2.3, y: 1.1 }, { ...to, gridM: 0 }), { x: 2.3, y: 1.1, onX: null, onY: null });
  });
});

describe('choosing', () => {
  const grid: Spotted[] = Array.from({ length: 25 }, (_, i) => ({ id: `unit:g${i}`, x: i % 5, y: Math.floor(i / 5) }));
  const set = (...n: number[]) => new Set(n.map((i) => `unit:g${i}` as const));
  test('next to, and the rim taken off again', () => {
    const around = nextTo(grid, set(12));
    assert.deepEqual(
      around.map((id) => Number(id.slice(6))).sort((a, b) => a - b),
      [6, 7, 8, 11, 13, 16, 17, 18],
    );
    assert.deepEqual(shrunk(grid, new Set([...around, 'unit:g12'])), ['unit:g12']);
  });
  test('in a box, in a loop, every Nth', () => {
    assert.equal(inBox(grid, { x: 4.5, y: -1 }, { x: 2.5, y: 4.5 }).length, 10);
    const loop = [
      { x: -1, y: -1 },
      { x: 1.8, y: -1 },
      { x: -1, y: 1.8 },
    ];
    assert.deepEqual(inLoop(grid, loop), ['unit:g0']);
    assert.deepEqual(inLoop(grid, loop.slice(0, 2)), []);
    assert.deepEqual(everyNth(['a', 'b', 'c', 'd', 'e'], 2, 2), ['b', 'd']);
  });
});

describe('colours of dots', () => {
  const read = (rows: Parameters<typeof units>, frame: number[], prop: object | null) => {
    const made = units(...rows).map((u) => ({ ...u, prop: prop && propSchema.parse(prop) }) as UnitRecord);
    const show = showWith(PIXELS, ...made);
    const bodies = made.map((unit) => {
      const reader = makeReader(show, unit);
      return { reader, body: bodyOf('plan', unit, show.get(unit.profileId) as never, reader.cells.length) };
    });
    const bytes = new Uint8Array(512);
    bytes.set(frame);
    const batch = makeBatch('plan', bodies);
    return { batch, colours: [...readColours(batch, new Map([[1, bytes]]))].map((c) => (c >>> 0).toString(16)) };
  };
  test('pixels are read from their slots, whatever the order of their colours', () => {
    const row = { slug: 'p', profile: 'px', mode: 'px', address: 1 };
    const shape = { shape: 'line', count: 3, widthM: 1 };
    assert.deepEqual(read([row], [255, 0, 0, 0, 0, 255], { shape }).colours, ['ff0000ff', 'ffff0000', 'ff000000']);
    assert.deepEqual(read([row], [255, 0, 0], { shape, colourOrder: 'GRB' }).colours[0], 'ff00ff00');
  });
  test('cells with a level and a shutter of their unit are read one by one', () => {
    const row = { slug: 'b', profile: 'quillon-stave16', mode: '50ch', address: 1 };
    const { batch, colours } = read([row], [255, 0, 255, 255, 255], null);
    assert.deepEqual([batch.count, batch.odd.length], [16, 16]);
    assert.equal(colours[0], 'ffffffff');
    assert.equal(read([row], [0, 0, 255, 255, 255], null).colours[0], 'ff000000');
  });
});

describe('lengths', () => {
  test('are read as people write them', () => {
    for (const [text, metres] of [
      ['2.4', 2.4],
      ['2,4 m', 2.4],
      ['80 cm', 0.8],
      ['350mm', 0.35],
      ['10 ft', 3.048],
      ['7\' 6"', 2.286],
      ['18 in', 0.4572],
      ['-3', -3],
    ] as const)
      near(parseLength(text, 'metres')!, metres);
    near(parseLength('10', 'feet')!, 3.048);
    for (const text of ['', 'NaN', 'two', '1e3', '3 yd', 'Infinity']) assert.equal(parseLength(text, 'metres'), null);
  });
  test('are shown in the show’s unit', () => {
    assert.equal(lengthText(2.4, 'metres'), '2.4 m');
    assert.equal(lengthText(3.048, 'feet'), '10 ft');
    fc.assert(
      fc.property(fc.double({ min: -900, max: 900, noNaN: true }), (m) => {
        for (const unit of ['metres', 'feet'] as const)
          assert.ok(Math.abs(parseLength(String(lengthNumber(m, unit)), unit)! - m) < 0.002);
      }),
    );
  });
});

test('a place is three lengths, however they are parted', () => {
  const wanted = { x: 2.5, y: -1, z: 0.8 };
  for (const text of ['2.5; -1; 80 cm', '2,5; -1; 0,8', '2.5, -1, 0.8', '2,5, -1, 0,8', '2.5,-1,0.8', ' 2.5  -1 0.8 '])
    assert.deepEqual(parsePlace(text, 'metres'), wanted, text);
  for (const text of ['', '1', '1, 2', '1 2 3 4', '1; 2; x', '1;;3'])
    assert.equal(parsePlace(text, 'metres'), null, text);
});
