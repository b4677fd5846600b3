import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { showWith, units } from '../../../tests/support/rig.ts';
import { applyChange, getRecord, reverseOf } from '../document/change.ts';
import { applied, product, rotationOf, transposed } from '../plot/rotation.ts';
import { make, type ThingRecord, type UnitRecord } from '../records/index.ts';
import { THING_SHAPES } from '../records/thing.ts';
import { changeFaults } from '../rules/faults.ts';
import { removalOf } from '../rules/removal.ts';
import { carried, hungOn, storedThings } from './hang.ts';
import { hull, outlineOf } from './outline.ts';
import { partsOfThing, USUAL_SIZE } from './thing-parts.ts';

const TRUSS = make('thing', {
  id: 'thing:t',
  number: 1,
  name: 'Truss',
  shape: 'truss',
  size: USUAL_SIZE.truss,
  position: { x: 0, y: 2, z: 4 },
});
const unit = (fields: Partial<UnitRecord> = {}): UnitRecord => ({
  ...(units({ slug: 'a', profile: 'fernlight-brambleq', mode: '8ch', address: 1 })[0] as UnitRecord),
  hungOn: 'thing:t',
  ...fields,
});

test('a thing that is moved takes along what hangs on it, and nothing else', () => {
  const free = { ...unit(), id: 'unit:b', number: 2, hungOn: null, patch: { universe: 1, address: 20 } } as UnitRecord;
  const document = showWith(TRUSS, unit({ position: { x: 1, y: 2, z: 4 } }), free);
  const change = storedThings(document, [{ ...TRUSS, position: { x: 3, y: 2.5, z: 3 } }]);
  assert.deepEqual(changeFaults(document, change), []);
  assert.deepEqual(
    change.put.map((r) => r.id),
    ['thing:t', 'unit:a'],
  );
  assert.deepEqual((change.put[1] as UnitRecord).position, { x: 4, y: 2.5, z: 3 });
  assert.deepEqual(applyChange(applyChange(document, change), reverseOf(document, change)), document);
  // A new name moves nobody.
  assert.equal(storedThings(document, [{ ...TRUSS, name: 'Beam' }]).put.length, 1);
});

test('turned by a quarter about z: a metre across becomes a metre deep, and the unit is turned with it', () => {
  const moved = carried(unit({ position: { x: 1, y: 2, z: 4 }, rotation: { x: 0, y: 180, z: 0 } }), TRUSS, {
    ...TRUSS,
    rotation: { x: 0, y: 0, z: 90 },
  });
  assert.deepEqual(moved.position, { x: 0, y: 3, z: 4 });
  // It hung upside down with its front up-stage; now its front is to stage right.
  const front = applied(rotationOf(moved.rotation), { x: 0, y: 1, z: 0 });
  assert.deepEqual(
    [front.x, front.y, front.z].map((v) => Math.round(v * 1e6) / 1e6 + 0),
    [-1, 0, 0],
  );
});

test('whatever is done to a thing, what hangs on it keeps its place and its turn on it', () => {
  const metres = fc.integer({ min: -20_000, max: 20_000 }).map((mm) => mm / 1000);
  const degrees = fc.integer({ min: -180, max: 180 });
  const place = fc.record({ x: metres, y: metres, z: metres });
  const turns = fc.record({ x: degrees, y: degrees, z: degrees });
  const own = (of: UnitRecord, thing: ThingRecord): readonly number[] => {
    const back = transposed(rotationOf(thing.rotation));
    const { x, y, z } = of.position;
    const at = applied(back, { x: x - thing.position.x, y: y - thing.position.y, z: z - thing.position.z });
    return [at.x, at.y, at.z, ...product(back, rotationOf(of.rotation))];
  };
  fc.assert(
    fc.property(
      place,
      turns,
      place,
      turns,
      fc.array(fc.tuple(place, turns), { maxLength: 6 }),
      (p, r, up, ur, moves) => {
        let thing: ThingRecord = { ...TRUSS, position: p, rotation: r };
        let document = showWith(thing, unit({ position: up, rotation: ur }));
        const before = own(getRecord(document, 'unit', 'unit:a')!, thing);
        for (const [position, rotation] of moves) {
          thing = { ...thing, position, rotation };
          document = applyChange(document, storedThings(document, [thing]));
        }
        const after = own(getRecord(document, 'unit', 'unit:a')!, thing);
        // Places are kept to a millimetre and turns to a thousandth of a degree, each time.
        before.forEach((value, i) =>
          assert.ok(
            Math.abs(value - after[i]!) < (i < 3 ? 0.002 : 1e-4) * (moves.length + 1) + 1e-9,
            `${i}: ${value} ${after[i]}`,
          ),
        );
      },
    ),
    { numRuns: 200 },
  );
});

test('what hung on a thing that is taken away stays where it is; one undo brings both back', () => {
  const document = showWith(TRUSS, unit({ position: { x: 1, y: 2, z: 4 } }));
  const change = removalOf(document, ['thing:t']);
  const after = applyChange(document, change);
  const left = getRecord(after, 'unit', 'unit:a')!;
  assert.deepEqual([left.hungOn, left.position], [null, { x: 1, y: 2, z: 4 }]);
  assert.deepEqual(hungOn(applyChange(after, reverseOf(document, change)), 'thing:t').length, 1);
  assert.equal(changeFaults(document, { put: [], remove: ['thing:t'] })[0]?.code, 'STILL_USED');
});

test('every thing is put together from bodies within its size', () => {
  for (const shape of THING_SHAPES) {
    const size = USUAL_SIZE[shape];
    const parts = partsOfThing({ shape, size });
    assert.ok(parts.length > 0 && parts.length < 300, shape);
    for (const { at, size: own } of parts) {
      assert.ok(own.x > 0 && own.y > 0 && own.z > 0, shape);
      assert.ok(at.z - own.z / 2 >= -1e-9 && at.z + own.z / 2 <= size.heightM + 0.02, shape);
      assert.ok(Math.abs(at.x) + own.x / 2 <= size.widthM / 2 + 0.02, shape);
    }
  }
  // A truss of a kilometre is not a million bodies.
  assert.ok(partsOfThing({ shape: 'truss', size: { widthM: 1000, depthM: 0.3, heightM: 0.3 } }).length < 300);
});

test('its outline on each paper', () => {
  const box = make('thing', {
    id: 'thing:b',
    number: 2,
    name: 'B',
    shape: 'box',
    size: { widthM: 4, depthM: 2, heightM: 1 },
    position: { x: 1, y: 1, z: 0 },
  });
  const corners = (side: 'plan' | 'front' | 'side', thing: ThingRecord): string[] =>
    outlineOf(side, thing)
      .map(({ x, y }) => `${Math.round(x * 1000) / 1000},${Math.round(y * 1000) / 1000}`)
      .sort();
  assert.deepEqual(corners('plan', box), ['-1,0', '-1,2', '3,0', '3,2']);
  assert.deepEqual(corners('front', box), ['-1,0', '-1,1', '3,0', '3,1']);
  assert.deepEqual(corners('side', box), ['0,0', '0,1', '2,0', '2,1']);
  assert.deepEqual(corners('plan', { ...box, rotation: { x: 0, y: 0, z: 90 } }), ['0,-1', '0,3', '2,-1', '2,3']);
  assert.equal(outlineOf('plan', { ...box, shape: 'cylinder' }).length, 24);
  assert.deepEqual(hull([{ x: 0, y: 0 }]), [{ x: 0, y: 0 }]);
});
