import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { standinAddresses } from '../../addresses.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { solutionFor } from '../aim/solutions.ts';
import { outOfReach } from '../aim/table.ts';
import { applyChange, documentOf, getRecord, recordsOf, type Document } from '../document/change.ts';
import { FaultError } from '../faults.ts';
import type { RoomId } from '../ids.ts';
import { builtInProfiles } from '../profile/library.ts';
import { make, type AnyRecord } from '../records/index.ts';
import { changeFaults } from '../rules/faults.ts';
import { removalOf } from '../rules/removal.ts';
import { roomSetIn, switchRoom, type SetIn } from './rooms.ts';

const rink = documentOf(copperlineRink(builtInProfiles(), standinAddresses('/tests')));
const CLUB: SetIn = {
  measures: { name: 'Cellar club', widthM: 12, depthM: 9, heightM: 3.6, walls: true },
  things: new Map([['thing:booth', { x: 1, y: 3.4 }]]),
  floor: { id: 'area:floor', min: { x: -4, y: -3 }, max: { x: 4, y: 2 } },
};
let count = 0;
const ids = () => ({ room: `room:r${count++}` as RoomId, left: () => `room:r${count++}` as RoomId });
const into = (document: Document, given = CLUB) => {
  const { change, room, notes } = roomSetIn(document, given, ids());
  assert.deepEqual(changeFaults(document, change), []);
  return { document: applyChange(document, change), room, notes };
};
const to = (document: Document, id: RoomId) => {
  const { change, notes } = switchRoom(document, id, () => `room:r${count++}`);
  assert.deepEqual(changeFaults(document, change), []);
  return { document: applyChange(document, change), notes };
};
const bare = (document: Document): AnyRecord[] =>
  [...document.values()].filter((r) => r.kind !== 'room').map((r) => (r.kind === 'show' ? { ...r, roomId: null } : r));
const sorted = (list: AnyRecord[]): AnyRecord[] => list.sort((a, b) => (a.id < b.id ? -1 : 1));

describe('another room', () => {
  test('is one edit: measures, things, units, areas and aims are set in, the programming stays', () => {
    const { document } = into(rink);
    const show = recordsOf(document, 'show')[0]!;
    assert.equal(show.room.name, 'Cellar club');
    assert.deepEqual(recordsOf(document, 'scene'), recordsOf(rink, 'scene'));
    assert.deepEqual(recordsOf(document, 'chase'), recordsOf(rink, 'chase'));
    for (const unit of recordsOf(document, 'unit')) {
      assert.ok(Math.abs(unit.position.x) <= 6.01 && unit.position.z <= 3.6, unit.name);
      assert.equal(unit.patch?.address, getRecord(rink, 'unit', unit.id)!.patch?.address);
    }
    assert.deepEqual(getRecord(document, 'thing', 'thing:booth')!.position, { x: 1, y: 3.4, z: 0 });
    // What hangs on a beam still does, as far under the ceiling.
    const spot = getRecord(document, 'unit', 'unit:spot1')!;
    assert.equal(spot.hungOn, 'thing:beam2');
    assert.ok(Math.abs(3.6 - spot.position.z - (5.2 - 4.6)) < 0.01);
    assert.deepEqual(
      getRecord(document, 'area', 'area:floor')!.outline!.map((c) => c.x),
      [-4, 4, 4, -4],
    );
  });

  test('heads point at what is there: the booth, the corners of the floor', () => {
    const { document } = into(rink);
    const unit = getRecord(document, 'unit', 'unit:spot2')!;
    const at = (id: `aim:${string}`) => {
      const { target } = solutionFor(document, unit.id, id)!;
      return target.is === 'place' ? target.place : null;
    };
    assert.deepEqual(at('aim:booth'), { x: 1, y: 3.4, z: 1.2 });
    assert.deepEqual(at('aim:front-corners'), { x: -3.6, y: -2.75, z: 0 });
    const { pan, tilt } = solutionFor(document, unit.id, 'aim:booth')!;
    const before = solutionFor(rink, unit.id, 'aim:booth')!;
    assert.ok(Math.abs(pan - before.pan) + Math.abs(tilt - before.tilt) > 1);
    assert.ok(outOfReach(document).every(({ solution }) => solution.missDeg > 0));
  });

  test('and back again all is as it was, and there again too', () => {
    const there = into(rink);
    const corrected = {
      ...getRecord(there.document, 'aim', 'aim:booth')!,
      corrections: { 'unit:spot1': { pan: 2, tilt: -1 } } as never,
    };
    const edited = applyChange(there.document, { put: [corrected], remove: [] });
    const rinkId = recordsOf(edited, 'room').find((r) => r.kept)!.id;
    const back = to(edited, rinkId);
    assert.deepEqual(back.notes, []);
    assert.deepEqual(sorted(bare(back.document)), sorted(bare(rink)));
    const again = to(back.document, there.room.id);
    assert.deepEqual(sorted(bare(again.document)), sorted(bare(edited)));
    // Nobody stands in two rooms.
    assert.equal(recordsOf(again.document, 'room').filter((r) => r.kept === null).length, 1);
  });

  test('what was made or taken away meanwhile is named, and nothing dangles', () => {
    const there = into(rink);
    const more = make('unit', {
      id: 'unit:more',
      number: 900,
      name: 'New head',
      profileId: 'profile:quillon-heron',
      mode: '16ch',
    });
    const pillar = make('thing', {
      id: 'thing:pillar',
      number: 90,
      name: 'Pillar',
      shape: 'cylinder',
      size: { widthM: 1, depthM: 1, heightM: 3 },
    });
    const onPillar = make('aim', {
      id: 'aim:pillar',
      number: 90,
      name: 'Pillar',
      anchor: 'thing:pillar',
      where: { is: 'point', at: { x: 0, y: 0, z: 1 } },
    });
    let document = applyChange(there.document, { put: [more, pillar, onPillar], remove: [] });
    document = applyChange(document, removalOf(document, ['unit:spot4', 'aim:lap', 'aim:ball']));
    const rinkId = recordsOf(document, 'room').find((r) => r.kept)!.id;
    const back = to(document, rinkId);
    assert.equal(back.notes.length, 2, back.notes.join());
    assert.ok(back.notes.some((n) => n.includes('New head')) && back.notes.some((n) => n.includes('Pillar')));
    assert.equal(getRecord(back.document, 'aim', 'aim:pillar')!.anchor, null);
    assert.ok(!back.document.has('unit:spot4'));
    // There it stands on its pillar again.
    assert.equal(getRecord(to(back.document, there.room.id).document, 'aim', 'aim:pillar')!.anchor, 'thing:pillar');
  });

  test('the one it stands in is no change, and one that is not there is refused with words', () => {
    const { document, room } = into(rink);
    assert.deepEqual(switchRoom(document, room.id, () => 'room:x').change, { put: [], remove: [] });
    assert.throws(
      () => switchRoom(document, 'room:nowhere', () => 'room:x'),
      (error) => error instanceof FaultError && error.faults[0]!.code === 'NO_SUCH_ROOM',
    );
  });
});
