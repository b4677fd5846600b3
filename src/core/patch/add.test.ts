import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { profileBySlug, showWith, units } from '../../../tests/support/rig.ts';
import { makeId } from '../ids.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import { newUnits } from './add.ts';
import { findClashes } from './clash.ts';
import { freeNumbers, numberedNames } from './naming.ts';
import { patchedUnit, patchedUnits, slotsPerUniverseOf } from './of-document.ts';

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
