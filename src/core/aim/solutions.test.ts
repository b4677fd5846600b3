import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { applyChange, documentOf, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { ownDirection } from '../plot/beam.ts';
import type { Place3 } from '../plot/paper.ts';
import { applied, rotationOf } from '../plot/rotation.ts';
import { lengthOf, minus, times } from '../plot/vector.ts';
import { make, type AimRecord, type UnitRecord } from '../records/index.ts';
import type { Where } from '../records/aim.ts';
import { AS_WIRED } from '../records/movement.ts';
import { removalOf } from '../rules/removal.ts';
import { axesOf, sentFor } from './axes.ts';
import { solutionFor, solutionsOf } from './solutions.ts';
import { anchored, directionAt, freed, headsIn, targetOf } from './target.ts';

const DEG = 180 / Math.PI;
const head = (panDeg = 540, tiltDeg = 270) =>
  make('profile', {
    id: 'profile:head',
    maker: 'Test',
    model: 'Head',
    fixtureKind: 'head',
    channels: [
      { key: 'pan', name: 'Pan', attribute: 'Pan', bits: 16 },
      { key: 'tilt', name: 'Tilt', attribute: 'Tilt', bits: 16 },
      { key: 'dim', name: 'Dimmer', attribute: 'Dimmer' },
    ],
    modes: [
      {
        key: 'm',
        name: 'M',
        slots: [
          { channel: 'pan' },
          { channel: 'pan', byte: 1 },
          { channel: 'tilt' },
          { channel: 'tilt', byte: 1 },
          { channel: 'dim' },
        ],
      },
    ],
    physical: { panDeg, tiltDeg },
  });
const DOWN = { x: 180, y: 0, z: 0 };
let number = 0;
const unit = (id: string, position: Place3, over: Partial<UnitRecord> = {}): UnitRecord =>
  make('unit', {
    id: `unit:${id}`,
    number: ++number,
    name: id,
    profileId: 'profile:head',
    mode: 'm',
    position,
    ...over,
  });
const aim = (id: string, where: Where, over: Partial<AimRecord> = {}): AimRecord =>
  make('aim', { id: `aim:${id}`, number: 1, name: id, where, ...over });
const show = make('show', { id: 'show:t', name: 'T' });
const doc = (...records: Parameters<typeof documentOf>[0] extends Iterable<infer R> ? R[] : never): Document =>
  documentOf([show, head(), ...records]);

/** Where a head's beam goes by the bytes that are sent, worked out here by itself. */
function beamOf(
  document: Document,
  record: UnitRecord,
  sent: { panDmx: number | null; tiltDmx: number | null },
): Place3 {
  const { panRange, tiltRange } = axesOf(document, record)!;
  const [a, b] = record.movement?.swap ? [sent.tiltDmx, sent.panDmx] : [sent.panDmx, sent.tiltDmx];
  const deg = (dmx: number | null, range: number, inverted: boolean, off: number): number => {
    if (dmx === null) return 0;
    const f = dmx / 65_535;
    return ((inverted ? 1 - f : f) - 0.5) * range - off;
  };
  const { panOffsetDeg = 0, tiltOffsetDeg = 0 } = record.movement ?? {};
  const pan = deg(a, panRange?.rangeDeg ?? 0, record.invertPan, panOffsetDeg);
  const tilt = deg(b, tiltRange?.rangeDeg ?? 0, record.invertTilt, tiltOffsetDeg);
  return applied(rotationOf(record.rotation), ownDirection('head', pan, tilt));
}
const away = (a: Place3, b: Place3): number => 2 * Math.asin(Math.min(1, lengthOf(minus(a, b)) / 2)) * DEG;

const metres = fc.double({ min: -8, max: 8, noNaN: true });
const turn = fc.double({ min: -180, max: 180, noNaN: true });
const place = fc.record({ x: metres, y: metres, z: fc.double({ min: 0, max: 8, noNaN: true }) });

describe('a head and an aim', () => {
  test('whatever it hangs like and is wired like: its beam meets the aim by its bytes, or it says by how much it misses', () => {
    fc.assert(
      fc.property(
        place,
        fc.record({ x: turn, y: turn, z: turn }),
        place,
        fc.record({ swap: fc.boolean(), pan: fc.boolean(), tilt: fc.boolean() }),
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.constantFrom([540, 270], [630, 230], [180, 90], [360, 180]),
        (position, rotation, at, wired, off, [panDeg, tiltDeg]) => {
          fc.pre(lengthOf(minus(position, at)) > 0.2);
          const record = unit('a', position, {
            rotation,
            invertPan: wired.pan,
            invertTilt: wired.tilt,
            movement: { ...AS_WIRED, swap: wired.swap, panOffsetDeg: off, tiltOffsetDeg: -off / 2 },
          });
          const document = documentOf([show, head(panDeg, tiltDeg), record, aim('p', { is: 'point', at })]);
          const found = solutionFor(document, 'unit:a', 'aim:p')!;
          const sent = sentFor(axesOf(document, record)!, record, found);
          const apart = minus(at, position);
          const off1 = away(beamOf(document, record, sent), times(apart, 1 / lengthOf(apart)));
          assert.ok(Math.abs(off1 - found.missDeg) < 0.05, `${off1} and said ${found.missDeg}`);
        },
      ),
      { numRuns: 600 },
    );
  });

  test('a set of aims stays in one half: from aim to aim it turns no farther than it must', () => {
    // Its front is up-stage and all it lights is down-stage, on both sides of the seam at half a turn.
    const record = unit('a', { x: 0, y: 4, z: 5 }, { rotation: { x: 180, y: 0, z: 180 } });
    const aims = [-2, -0.3, 0.3, 2].map((x, i) => aim(`p${i}`, { is: 'point', at: { x, y: -4, z: 0 } }));
    const document = doc(record, ...aims);
    const pans = [...solutionsOf(document, 'unit:a').values()].map(({ pan }) => pan);
    for (let i = 1; i < pans.length; i++) assert.ok(Math.abs(pans[i]! - pans[i - 1]!) < 40, pans.join());
    assert.ok([...solutionsOf(document, 'unit:a').values()].every(({ missDeg }) => missDeg === 0));
  });

  test('an aim that moves a little moves a head a little, as long as the others hold it', () => {
    fc.assert(
      fc.property(place, fc.record({ x: turn, y: turn, z: turn }), metres, metres, (position, rotation, x, y) => {
        const record = unit('a', { ...position, z: position.z + 3 }, { rotation });
        const at = { x, y, z: 0 };
        const aims = [
          aim('fixed', { is: 'point', at: { x: 0, y: -3, z: 0 } }),
          aim('other', { is: 'point', at: { x: 2, y: -4, z: 0 } }),
        ];
        const first = doc(record, ...aims, aim('p', { is: 'point', at }));
        const then = applyChange(first, { put: [aim('p', { is: 'point', at: { ...at, x: x + 0.01 } })], remove: [] });
        const [a, b] = [first, then].map((d) => solutionFor(d, 'unit:a', 'aim:p')!) as [
          NonNullable<ReturnType<typeof solutionFor>>,
          NonNullable<ReturnType<typeof solutionFor>>,
        ];
        fc.pre(a.missDeg === 0 && b.missDeg === 0);
        // Near its own axis a head has to turn fast; anywhere else it follows.
        const lean = Math.sin((Math.abs(a.tilt) * Math.PI) / 180);
        fc.pre(Math.abs(lean) > 0.1);
        const seam = Math.abs(a.pan - b.pan) > 300 || a.flipped !== b.flipped;
        assert.ok(seam || Math.abs(a.pan - b.pan) < 0.6 / Math.abs(lean), `${a.pan} ${b.pan}`);
      }),
      { numRuns: 300 },
    );
  });

  test('at its own place it stays in the middle and says so; what is out of reach is named with its miss', () => {
    const record = unit('a', { x: 0, y: 0, z: 4 }, { rotation: DOWN });
    const document = doc(
      record,
      aim('self', { is: 'point', at: { x: 0, y: 0, z: 4 } }),
      aim('up', { is: 'direction', turnDeg: 0, riseDeg: 90, fanDeg: 0 }),
    );
    const own = solutionFor(document, 'unit:a', 'aim:self')!;
    assert.deepEqual([own.pan, own.tilt, own.atHead], [0, 0, true]);
    const up = solutionFor(document, 'unit:a', 'aim:up')!;
    assert.ok(Math.abs(up.missDeg - 45) < 1e-6);
  });

  test('limits are kept, and those that exclude everything leave the nearest there is', () => {
    const at = { x: 3, y: -3, z: 0 };
    const limited = (pan: { fromDeg: number; toDeg: number }) => {
      const record = unit('a', { x: 0, y: 0, z: 4 }, { rotation: DOWN, movement: { ...AS_WIRED, pan } });
      const document = doc(record, aim('p', { is: 'point', at }));
      return solutionFor(document, 'unit:a', 'aim:p')!;
    };
    assert.ok(limited({ fromDeg: -10, toDeg: 10 }).pan <= 10);
    const outside = limited({ fromDeg: 600, toDeg: 700 });
    assert.equal(outside.pan, 270);
    assert.ok(outside.missDeg > 1);
  });

  test('a correction is added, within the limits', () => {
    const record = unit('a', { x: 0, y: 0, z: 4 }, { rotation: DOWN });
    const plain = doc(record, aim('p', { is: 'point', at: { x: 3, y: -3, z: 0 } }));
    const corrected = applyChange(plain, {
      put: [
        aim(
          'p',
          { is: 'point', at: { x: 3, y: -3, z: 0 } },
          { corrections: { 'unit:a': { pan: 1.5, tilt: -180 } } as never },
        ),
      ],
      remove: [],
    });
    const [a, b] = [solutionFor(plain, 'unit:a', 'aim:p')!, solutionFor(corrected, 'unit:a', 'aim:p')!];
    assert.ok(Math.abs(b.pan - a.pan - 1.5) < 1e-9);
    assert.ok(Math.abs(b.tilt - Math.max(-135, a.tilt - 180)) < 1e-9);
  });

  test('only what is concerned is solved anew', () => {
    const one = unit('a', { x: 0, y: 0, z: 4 });
    const document = doc(one, unit('b', { x: 2, y: 0, z: 4 }), aim('p', { is: 'point', at: { x: 3, y: -3, z: 0 } }));
    const before = solutionFor(document, 'unit:b', 'aim:p')!;
    const moved = applyChange(document, { put: [{ ...one, position: { x: 0.5, y: 0, z: 4 } }], remove: [] });
    assert.equal(solutionFor(moved, 'unit:b', 'aim:p')!.target, before.target);
    assert.notEqual(solutionFor(moved, 'unit:a', 'aim:p')!.pan, solutionFor(document, 'unit:a', 'aim:p')!.pan);
  });
});

describe('where an aim is', () => {
  const four = [-3, -1, 1, 3].map((x, i) => unit(`u${i}`, { x, y: 2, z: 5 }));
  const at = (where: Where, over: Partial<AimRecord> = {}) => {
    const document = doc(...four, aim('p', where, over));
    const record = document.get('aim:p') as AimRecord;
    return four.map((u) => {
      const target = targetOf(document, record, u.id, u.position);
      return target.is === 'place' ? target.place : target.is === 'way' ? target.way : null;
    });
  };
  test('a pair: each on its side, or crossing', () => {
    const side = (crossing: boolean) =>
      at({ is: 'pair', at: { x: 4, y: -2, z: 0 }, middleX: 0, crossing }).map((p) => p!.x);
    assert.deepEqual(side(false), [-4, -4, 4, 4]);
    assert.deepEqual(side(true), [4, 4, -4, -4]);
    assert.deepEqual(
      at({ is: 'pair', at: { x: 2, y: 0, z: 0 }, middleX: -2, crossing: false }).map((p) => p!.x),
      [-6, 2, 2, 2],
    );
  });
  test('a spread: first to last, with a bow; a ring; a fan', () => {
    const line = at({ is: 'spread', from: { x: -6, y: 0, z: 0 }, to: { x: 6, y: 0, z: 0 }, bowM: 1 });
    assert.deepEqual(
      line.map((p) => p!.x),
      [-6, -2, 2, 6],
    );
    assert.ok(Math.abs(line[1]!.y - 8 / 9) < 1e-9 && line[0]!.y === 0);
    const ring = at({ is: 'ring', at: { x: 0, y: 0, z: 1 }, radiusM: 2, fromDeg: 0 });
    assert.ok(Math.abs(ring[1]!.y - 2) < 1e-9 && Math.abs(ring[2]!.x + 2) < 1e-9);
    const fan = at({ is: 'direction', turnDeg: 0, riseDeg: 30, fanDeg: 60 });
    assert.ok(fan.every((way) => Math.abs(lengthOf(way!) - 1) < 1e-9));
    assert.ok(fan[0]!.x < fan[1]!.x && fan[3]!.x > 0.4);
  });
  test('directions are those of the room: 0 to the audience, 90 to stage left, up', () => {
    const way = (turnDeg: number, riseDeg: number) =>
      directionAt({ is: 'direction', turnDeg, riseDeg, fanDeg: 0 }, 0.5);
    assert.ok(away(way(0, 0), { x: 0, y: -1, z: 0 }) < 1e-9);
    assert.ok(away(way(90, 0), { x: 1, y: 0, z: 0 }) < 1e-6);
    assert.ok(away(way(33, 90), { x: 0, y: 0, z: 1 }) < 1e-6);
  });
  test('on a thing it follows it, turned or moved; freed and put on another it points where it pointed', () => {
    const booth = make('thing', {
      id: 'thing:booth',
      number: 1,
      name: 'Booth',
      shape: 'booth',
      position: { x: 2, y: 3, z: 0 },
      rotation: { x: 0, y: 0, z: 90 },
      size: { widthM: 2, depthM: 1, heightM: 1 },
    });
    const wheres: Where[] = [
      { is: 'point', at: { x: 1, y: 0, z: 1 } },
      { is: 'ring', at: { x: 1, y: 0, z: 1 }, radiusM: 0, fromDeg: 0 },
      { is: 'spread', from: { x: 1, y: 0, z: 1 }, to: { x: 1, y: 0, z: 2 }, bowM: 0 },
      { is: 'direction', turnDeg: 10, riseDeg: 20, fanDeg: 0 },
    ];
    for (const where of wheres) {
      const on = aim('p', where, { anchor: 'thing:booth' });
      const document = doc(...four, booth, on);
      const [{ id, position }] = four as [UnitRecord];
      const before = targetOf(document, on, id, position);
      if (before.is === 'place') assert.ok(lengthOf(minus(before.place, { x: 2, y: 4, z: 1 })) < 1e-9, where.is);
      const free = freed(document, on);
      const again = anchored(document, free, 'thing:booth');
      for (const other of [free, again]) {
        const target = targetOf(document, other, id, position);
        const [p, q] = [before, target].map((t) => (t.is === 'place' ? t.place : t.is === 'way' ? t.way : null));
        assert.ok(lengthOf(minus(p!, q!)) < 1e-6, where.is);
      }
      // What it stood on goes: it stays where it was.
      const removal = removalOf(document, ['thing:booth']);
      const after = applyChange(document, removal);
      const left = targetOf(after, after.get('aim:p') as AimRecord, id, position);
      const [p, q] = [before, left].map((t) => (t.is === 'place' ? t.place : t.is === 'way' ? t.way : null));
      assert.ok(lengthOf(minus(p!, q!)) < 1e-6, where.is);
    }
  });
  test('a group of it that goes leaves its heads; the last of them that goes leaves nobody, not all', () => {
    const group = make('group', { id: 'group:g', number: 1, name: 'G', unitIds: ['unit:u0', 'unit:u1'] });
    const document = doc(...four, group, aim('p', { is: 'home' }, { heads: ['group:g'] }));
    const without = applyChange(document, removalOf(document, ['group:g']));
    const left = without.get('aim:p') as AimRecord;
    assert.deepEqual(left.heads, ['unit:u0', 'unit:u1']);
    const none = applyChange(without, removalOf(without, ['unit:u0', 'unit:u1']));
    assert.deepEqual(headsIn(none, none.get('aim:p') as AimRecord), []);
  });
  test('heads that go take their corrections along', () => {
    const ids: UnitId[] = ['unit:u0', 'unit:u1'];
    const corrections = Object.fromEntries(ids.map((id) => [id, { pan: 1, tilt: 1 }])) as AimRecord['corrections'];
    const document = doc(...four, aim('p', { is: 'home' }, { corrections }));
    const after = applyChange(document, removalOf(document, ['unit:u0']));
    assert.deepEqual(Object.keys((after.get('aim:p') as AimRecord).corrections), ['unit:u1']);
  });
});
