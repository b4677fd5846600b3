import assert from 'node:assert/strict';
import { test } from 'node:test';
import { documentOf, recordsOf, type Document } from '../document/change.ts';
import type { UnitRecord } from '../records/index.ts';
import { showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { aimValues, axesOf, sentFor } from './axes.ts';
import { solve } from './solve.ts';

const unitOf = (document: Document): UnitRecord => recordsOf(document, 'unit')[0]!;
const showOf = (profile: string, mode: string, fields: Partial<UnitRecord> = {}): Document =>
  showWith(
    ...units({ slug: 'a', profile, mode, address: 1 }).map((r) => (r.kind === 'unit' ? { ...r, ...fields } : r)),
  );

test('what the axes can do, by profile and mode; what has none has none', () => {
  const head = showOf('quillon-heron', '16ch');
  const { joint, pan, tilt } = axesOf(head, unitOf(head))!;
  assert.deepEqual({ joint, pan, tilt }, { joint: 'head', pan: [-270, 270], tilt: [-135, 135] });
  const scanner = showOf('tansy-flitter', '6ch');
  const mirror = axesOf(scanner, unitOf(scanner))!;
  assert.deepEqual([mirror.joint, mirror.pan, mirror.tilt], ['mirror', [-90, 90], [-45, 45]]);
  const drum = showOf('marrow-barrel', '4ch');
  assert.equal(axesOf(drum, unitOf(drum)), null);
  const par = showOf('fernlight-brambleq', '8ch');
  assert.equal(axesOf(par, unitOf(par)), null);
});

test('what is programmed comes out of the renderer as what is said to be sent, inverted or not', () => {
  for (const fields of [{}, { invertPan: true }, { invertTilt: true }, { invertPan: true, invertTilt: true }]) {
    const document = showOf('quillon-heron', '16ch', {
      ...fields,
      position: { x: 1, y: 2, z: 4 },
      rotation: { x: 0, y: 180, z: 20 },
    });
    const unit = unitOf(document);
    const axes = axesOf(document, unit)!;
    const found = solve(axes, unit, { x: -2, y: -1, z: 0.5 })!;
    const hand = { [unit.id]: aimValues(axes, found) };
    const slots = slotsAt(documentOf([...document.values()]), { live: { hand } });
    const { panDmx, tiltDmx } = sentFor(axes, unit, found);
    assert.ok(Math.abs(slots[0]! * 256 + slots[1]! - panDmx!) <= 1);
    assert.ok(Math.abs(slots[2]! * 256 + slots[3]! - tiltDmx!) <= 1);
  }
});
