import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { standinAddresses } from '../../addresses.ts';
import { showWith, units } from '../../../tests/support/rig.ts';
import { documentOf, recordsOf } from '../document/change.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { frontDirection } from '../plot/beam.ts';
import { builtInProfiles } from '../profile/library.ts';
import { make, type AnyRecord, type UnitRecord } from '../records/index.ts';
import { roomFaults, roomSummary } from './check.ts';
import { focusSheet, pointedAt, withFocus } from './focus.ts';

const par = (fields: Partial<UnitRecord> = {}): UnitRecord => ({
  ...(units({ slug: 'a', profile: 'fernlight-brambleq', mode: '8ch', address: 1 })[0] as UnitRecord),
  ...fields,
});
const near = (actual: number, wanted: number, by = 1e-6): void =>
  assert.ok(Math.abs(actual - wanted) < by, `${actual} is not ${wanted}`);

test('one that stands points by hand-computed turns', () => {
  const at = { x: 0, y: 0, z: 0 };
  const turns = (position: UnitRecord['position'], target: UnitRecord['position'], y = 0) =>
    pointedAt({ position, rotation: { x: 0, y, z: 0 } }, target);
  assert.deepEqual(turns(at, { x: 0, y: 5, z: 0 }), { x: 0, y: 0, z: 0 });
  assert.deepEqual(turns(at, { x: -5, y: 0, z: 0 }), { x: 0, y: 0, z: 90 });
  assert.deepEqual(turns(at, { x: 5, y: 0, z: 5 }), { x: 45, y: 0, z: -90 });
  // One that hangs upside down leans the other way to look down: 3 down, 4 across.
  const down = turns({ x: 0, y: 0, z: 3 }, { x: 0, y: 4, z: 0 }, 180);
  near(down.x, Math.asin(0.6) * (180 / Math.PI), 0.001);
  assert.deepEqual([down.y, down.z], [180, 0]);
  // Straight down keeps the turn it had.
  assert.deepEqual(pointedAt({ position: { x: 0, y: 0, z: 3 }, rotation: { x: 0, y: 0, z: 30 } }, at), {
    x: -90,
    y: 0,
    z: 30,
  });
  assert.deepEqual(pointedAt({ position: at, rotation: { x: 1, y: 2, z: 3 } }, at), { x: 1, y: 2, z: 3 });
});

test('whatever it hangs like, its front meets the place', () => {
  const metres = fc.double({ min: -20, max: 20, noNaN: true });
  const place = fc.record({ x: metres, y: metres, z: metres });
  const degrees = fc.oneof(fc.constantFrom(0, 90, 180, -90), fc.integer({ min: -180, max: 180 }));
  fc.assert(
    fc.property(place, place, fc.record({ x: degrees, y: degrees, z: degrees }), (position, target, rotation) => {
      const far = Math.hypot(target.x - position.x, target.y - position.y, target.z - position.z);
      fc.pre(far > 0.1);
      const way = frontDirection({ rotation: pointedAt({ position, rotation }, target) });
      // Turns are kept to a thousandth of a degree.
      near(way.x, (target.x - position.x) / far, 1e-4);
      near(way.y, (target.y - position.y) / far, 1e-4);
      near(way.z, (target.z - position.z) / far, 1e-4);
    }),
    { numRuns: 500 },
  );
});

test('the focusing sheet says where each fixed lamp points', () => {
  const lamp = par({ position: { x: 0, y: -3, z: 3 }, rotation: { x: 0, y: 180, z: 0 } });
  const pointed = { ...lamp, rotation: pointedAt(lamp, { x: 0, y: 1, z: 0 }) };
  const head = units({ slug: 'h', profile: 'quillon-heron', mode: '16ch', address: 40 })[0]!;
  const [line, ...more] = focusSheet(showWith(pointed, head));
  assert.equal(more.length, 0, 'a moving head is not focused by hand');
  assert.deepEqual([line!.target, line!.on, line!.distanceM], [{ x: 0, y: 1, z: 0 }, 'floor', 5]);
  near(line!.panDeg, 0);
  near(line!.tiltDeg, 36.9);
});

test('what stands nearer than the wall is what is lit; past a truss light goes', () => {
  const lamp = par({ position: { x: 0, y: -3, z: 1 }, rotation: { x: 0, y: 0, z: 0 } });
  const stands = (shape: 'box' | 'truss') =>
    make('thing', {
      id: 'thing:a',
      number: 1,
      name: 'Counter',
      shape,
      position: { x: 0, y: 1, z: 0 },
      rotation: { x: 0, y: 0, z: 45 },
      size: { widthM: Math.SQRT2, depthM: Math.SQRT2, heightM: 2 },
    });
  // A square on its corner: the corner is a metre nearer than its middle.
  const [line] = focusSheet(showWith(lamp, stands('box')));
  assert.deepEqual([line!.on, line!.distanceM, line!.target], ['Counter', 3, { x: 0, y: 0, z: 1 }]);
  assert.equal(focusSheet(showWith(lamp, stands('truss')))[0]!.on, 'back');
  assert.equal(line!.poolM, Math.round(2 * 3 * Math.tan((line!.beamDeg! * Math.PI) / 360) * 100) / 100);
});

test('how a lamp is set is kept with it, and is nothing where all is as it comes', () => {
  const set = withFocus(par(), { beamDeg: 20, gelName: 'Straw' });
  assert.deepEqual(set.focus, { beamDeg: 20, edge: null, shutters: null, gelName: 'Straw' });
  const blades = [0.2, 0, 0, 0].map((pushed) => ({ in: pushed, deg: 0 }));
  const cut = withFocus(set, { shutters: blades });
  assert.deepEqual(focusSheet(showWith(cut))[0]!.shutters, blades);
  assert.equal(focusSheet(showWith(cut))[0]!.beamDeg, 20);
  const none = withFocus(withFocus(cut, { shutters: blades.map(() => ({ in: 0, deg: 0 })) }), { beamDeg: null });
  assert.equal(withFocus(none, { gelName: '' }).focus, null);
  const zoomed = (records: AnyRecord[]) =>
    records.map((r) =>
      r.kind === 'profile' ? { ...r, physical: { ...r.physical, beamFromDeg: 25, beamToDeg: 50 } } : r,
    );
  const document = documentOf(zoomed([...showWith(set).values()]));
  assert.deepEqual(
    roomFaults(document).map((f) => `${f.code} ${String(f.received)}`),
    ['BEAM_ANGLE 20'],
  );
});

test('the demo is sound; what cannot be is named', () => {
  const records = copperlineRink(builtInProfiles(), standinAddresses('/somewhere'));
  const document = documentOf(records);
  assert.deepEqual(roomFaults(document), []);
  const { units: count, hanging, highestM, things } = roomSummary(document);
  assert.deepEqual([count, hanging, highestM, things['truss']], [29, 19, 4.6, 4]);
  const sheet = focusSheet(document);
  assert.ok(sheet.every((line) => line.on !== null));
  const pin = sheet.find(({ unit }) => unit.id === 'unit:pin2')!;
  // From 3 m stage left and 4.4 m down-stage of the ball, at its height.
  near(pin.panDeg, Math.round(Math.atan2(3, 4.4) * (180 / Math.PI) * 10) / 10);
  assert.deepEqual([pin.tiltDeg, pin.gelName, pin.beamDeg], [0, 'Millrace blue', 7]);
  const [first, second, third] = recordsOf(document, 'unit');
  const spoiled = documentOf([
    ...records,
    make('thing', {
      id: 'thing:pillar',
      number: 99,
      name: 'Pillar',
      shape: 'box',
      size: { widthM: 1, depthM: 1, heightM: 5 },
      position: { x: 20, y: 0, z: 0 },
      rotation: { x: 0, y: 0, z: 45 },
    }),
    { ...first!, hungOn: null, position: { x: 0, y: -1, z: -0.5 } },
    { ...second!, hungOn: null, position: { x: 20, y: 0, z: 2 } },
    { ...third!, position: { x: 0, y: -6.5, z: 2 } },
  ]);
  assert.deepEqual(
    roomFaults(spoiled).map((f) => `${f.code} ${f.path}`),
    [
      `UNDER_FLOOR ${first!.id}.position.z`,
      `OUTSIDE_ROOM ${second!.id}.position`,
      `INSIDE_THING ${second!.id}.position`,
      `FAR_FROM_BEARER ${third!.id}.hungOn`,
    ],
  );
});
