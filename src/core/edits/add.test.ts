import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { profileBySlug, showWith, units } from '../../../tests/support/rig.ts';
import { makeId } from '../ids.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import { applyChange, recordsOf } from '../document/change.ts';
import { boxOfUnit, type Box3 } from '../plot/free-place.ts';
import { propSchema } from '../records/prop.ts';
import { newUnits, whyNotThere, type NewUnits } from './add.ts';
import { duplicateUnits } from './duplicate.ts';
import { findClashes } from '../patch/clash.ts';
import { freeNumbers, numberedNames } from '../naming.ts';
import { patchedUnit, patchedUnits, slotsPerUniverseOf } from '../patch/of-document.ts';

describe('names', () => {
  test('run on where the hash stands, padded by the number of hashes', () => {
    assert.deepEqual(numberedNames('Par #', 3, 9), ['Par 9', 'Par 10', 'Par 11']);
    assert.deepEqual(numberedNames('Par ##', 2, 9), ['Par 09', 'Par 10']);
    assert.deepEqual(numberedNames('#/A', 2, 1), ['1/A', '2/A']);
  });
  test('get a number at the end only when there are several', () => {
    assert.deepEqual(numberedNames('Hazer', 1, 1), ['Hazer']);
    assert.deepEqual(numberedNames(' Hazer ', 2, 1), ['Hazer 1', 'Hazer 2']);
  });
  test('free numbers are a whole row that nobody has', () => {
    assert.deepEqual(freeNumbers([1, 2, 5], 2), [3, 4]);
    assert.deepEqual(freeNumbers([1, 2, 5], 3), [6, 7, 8]);
    assert.deepEqual(freeNumbers([], 2, 100), [101, 102]);
  });
});

describe('adding units', () => {
  const random = seeded(1);
  const newId = () => makeId('unit', random);

  test('takes the next free addresses around what is there', () => {
    const document = showWith(...units({ slug: 'a', profile: 'fernlight-plumlet', mode: '7ch', address: 8 }));
    const added = newUnits(
      document,
      { profile: profileBySlug('fernlight-plumlet'), mode: '7ch', count: 3, names: 'Par #', firstNumber: 11 },
      newId,
    );
    assert.deepEqual(
      added.map((u) => `${u.number} ${u.name} ${u.patch?.universe}.${u.patch?.address}`),
      ['11 Par 1 1.1', '12 Par 2 1.15', '13 Par 3 1.22'],
    );
    assert.deepEqual(
      findClashes(
        patchedUnits(
          showWith(...units({ slug: 'a', profile: 'fernlight-plumlet', mode: '7ch', address: 8 }), ...added),
        ),
      ),
      [],
    );
  });

  test('stands them in a row inside the room, however many they are', () => {
    const added = newUnits(
      showWith(),
      { profile: profileBySlug('generic-dimmer'), mode: '1ch', count: 100, names: 'Lamp', firstNumber: 1 },
      newId,
    );
    const xs = added.map((u) => u.position.x);
    assert.ok(Math.min(...xs) >= -6 && Math.max(...xs) <= 6);
    assert.equal(new Set(xs).size, 100);
    assert.equal(new Set(added.map((u) => u.id)).size, 100);
  });

  test('names count on: six more of a kind get names of their own', () => {
    const one = showWith(
      ...units({ slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1, fields: { name: 'Lamp 4' } }),
    );
    const named = (names: string, count: number, show = one): string[] =>
      newUnits(
        show,
        { profile: profileBySlug('generic-dimmer'), mode: '1ch', count, names, firstNumber: 9 },
        newId,
      ).map((u) => u.name);
    assert.deepEqual(named('Lamp #', 2), ['Lamp 5', 'Lamp 6']);
    assert.deepEqual(named('lamp', 2), ['lamp 5', 'lamp 6']);
    assert.deepEqual(named('Lamp ##', 1), ['Lamp 05']);
    assert.deepEqual(named('Lamp 4', 1), ['Lamp 4 2']);
    assert.deepEqual(named('Door', 1), ['Door']);
    assert.deepEqual(named('Row (#)', 2), ['Row (1)', 'Row (2)']);
  });

  test('lies on nothing, from above nor from the front, however often it is done', () => {
    let show = showWith();
    const strip = profileBySlug('quillon-strip');
    const arch = propSchema.parse({ shape: { shape: 'arch', count: 50, widthM: 2, heightM: 1 } });
    const wanted: Omit<NewUnits, 'firstNumber'>[] = [
      { profile: profileBySlug('fernlight-plumlet'), mode: '7ch', count: 8, names: 'Par #' },
      { profile: profileBySlug('fernlight-plumlet'), mode: '7ch', count: 6, names: 'Par #' },
      { profile: strip, mode: '50px', prop: arch, count: 3, names: 'Arch #' },
      { profile: strip, mode: '50px', prop: arch, count: 1, names: 'Arch #' },
      { profile: profileBySlug('fernlight-plumlet'), mode: '7ch', count: 1, names: 'Par #' },
    ];
    for (const each of wanted) {
      const added = newUnits(show, { ...each, firstNumber: recordsOf(show, 'unit').length + 1 }, newId);
      show = applyChange(show, { put: [each.profile, ...added], remove: [] });
    }
    const ids = recordsOf(show, 'unit').map((u) => u.id);
    show = applyChange(show, { put: duplicateUnits(show, ids.slice(0, 8), newId), remove: [] });
    show = applyChange(show, { put: duplicateUnits(show, [ids[14]!], newId), remove: [] });
    const boxes = recordsOf(show, 'unit').map((u) => ({ name: u.name, box: boxOfUnit(show, u) }));
    assert.equal(boxes.length, 19 + 8 + 1);
    const apart = (a: Box3, b: Box3, axis: 'x' | 'y' | 'z'): boolean =>
      a.max[axis] <= b.min[axis] || b.max[axis] <= a.min[axis];
    for (const [i, a] of boxes.entries())
      for (const b of boxes.slice(i + 1))
        for (const up of ['y', 'z'] as const)
          assert.ok(apart(a.box, b.box, 'x') || apart(a.box, b.box, up), `${a.name} on ${b.name} (${up})`);
  });

  test('an address that is taken, too high or no block says who lives there and what is next', () => {
    const rack = { profile: profileBySlug('low-harbour-pack4'), mode: '4ch', names: 'Rack #', firstNumber: 9 };
    const show = showWith(
      ...units(
        { slug: 'a', profile: 'low-harbour-pack4', mode: '4ch', address: 1, fields: { name: 'Left' } },
        { slug: 'b', profile: 'low-harbour-pack4', mode: '4ch', address: 5, fields: { name: 'Right' } },
      ),
    );
    const why = (over: Partial<NewUnits>): [string, string, string] | null => {
      const wanted = { ...rack, count: 1, ...over };
      const found = whyNotThere(show, wanted, newUnits(show, wanted, newId));
      return found && [found.code, found.message, found.next ? `${found.next.universe}.${found.next.address}` : 'none'];
    };
    const at = (universe: number, address: number): Partial<NewUnits> => ({ start: { universe, address } });
    assert.equal(why({}), null, 'nothing was asked for');
    assert.equal(why(at(1, 9)), null);
    assert.deepEqual(why(at(1, 3)), ['ADDRESS_TAKEN', '1.3: 1 Left lives at 1.1-4 and 1 more', '1.9']);
    assert.deepEqual(why(at(10, 510)), [
      'PAST_THE_END',
      'from 10.510 the 4 slots run past the end of universe 10 (512)',
      '11.1',
    ]);
    assert.deepEqual(why({ ...at(1, 10), block: 20 }), ['NO_BLOCK', 'no block of 20 begins at 1.10', '1.21']);
    const strip = { profile: profileBySlug('quillon-strip'), mode: '170px' };
    assert.deepEqual(why({ ...strip, ...at(3, 511) }), [
      'PIXEL_PARTED',
      'from 3.511 a pixel would lie half in one universe and half in the next',
      '4.1',
    ]);
    assert.equal(why({ start: { after: 'unit:b', gap: 0 } }), null);
    assert.equal(why({ start: { after: 'unit:a', gap: 0 } })?.[0], 'ADDRESS_TAKEN');
  });

  test('after another unit they are a chain behind it', () => {
    const show = showWith(...units({ slug: 'a', profile: 'low-harbour-pack4', mode: '4ch', address: 7 }));
    const profile = profileBySlug('low-harbour-pack4');
    const made = newUnits(
      show,
      { profile, mode: '4ch', count: 3, names: 'R', firstNumber: 2, gap: 2, start: { after: 'unit:a', gap: 1 } },
      newId,
    );
    const after = applyChange(show, { put: made, remove: [] });
    assert.deepEqual(
      made.map((u) => patchedUnit(after, u).spans[0]!.from),
      [12, 18, 24],
    );
  });

  test('refuses a name nobody could read', () => {
    const wanted = { profile: profileBySlug('generic-dimmer'), mode: '1ch', count: 1, names: '  ', firstNumber: 1 };
    assert.throws(() => newUnits(showWith(), wanted, newId), /unit\.name: must not be empty/);
  });
});

describe('slots of a universe', () => {
  const output = make('output', { id: 'output:pixels', name: 'Pixels', protocol: 'sacn', slotsPerUniverse: 510 });
  const route = make('route', { id: 'route:one', universe: 1, outputId: 'output:pixels', wireUniverse: 1 });
  const strip = units({ slug: 's', profile: 'quillon-strip', mode: '300px', address: 1 });

  test('follow the outputs they go through', () => {
    const slots = slotsPerUniverseOf(showWith(output, route));
    assert.equal(slots(1), 510);
    assert.equal(slots(2), 512);
  });

  test('keep pixels whole where there are 510', () => {
    const document = showWith(output, route, ...strip);
    const [unit] = strip;
    assert.ok(unit?.kind === 'unit');
    const spans = patchedUnit(document, unit).spans;
    assert.deepEqual(
      spans.map((s) => s.to - s.from + 1),
      [510, 390],
    );
  });
});
