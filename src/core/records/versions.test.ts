import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { FaultError } from '../faults.ts';
import { make } from './index.ts';
import { readStored, RECORDS_VERSION, STEPS, trustStored, upgraded, type Step } from './versions.ts';

/** As if units had once had their place as text, and effects another name for their rate. */
const steps: readonly Step[] = [
  {
    unit: ({ place, ...rest }) => {
      const [universe, address] = String(place).split('.').map(Number);
      return { ...rest, patch: { universe, address } };
    },
  },
  { effect: ({ turns, ...rest }) => ({ ...rest, rate: turns }), unit: (raw) => ({ ...raw, notes: 'was here' }) },
];
const unit = { kind: 'unit', id: 'unit:a', number: 1, name: 'A', profileId: 'profile:p', mode: 'm' };

describe('records of earlier versions', () => {
  test('go through each step from their own version on, kind by kind', () => {
    const { records, faults } = readStored([{ ...unit, place: '3.17' }], 1, { steps });
    assert.deepEqual(faults, []);
    assert.deepEqual(records, [
      make('unit', { ...unit, patch: { universe: 3, address: 17 }, notes: 'was here' } as never),
    ]);
    assert.deepEqual(readStored([{ ...unit, patch: { universe: 3, address: 17 } }], 2, { steps }).records, records);
    const now = { ...unit, patch: null };
    assert.equal(upgraded(now, 3, { steps }), now);
  });
  test('that cannot be read are named with their id, and take nobody along', () => {
    const { records, faults } = readStored(
      [{ ...unit, place: '0.600' }, { kind: 'dream' }, null, { ...unit, place: '1.1' }],
      1,
      { steps },
    );
    assert.equal(records.length, 1);
    assert.deepEqual(
      faults.map((f) => f.path.split('.')[0]),
      ['unit:a', 'unit:a', '1', '2'],
    );
  });
  test('of a version that is not known are refused with what to do', () => {
    for (const version of [0, 4, 1.5, NaN]) {
      const { records, faults } = readStored([unit], version, { steps });
      assert.deepEqual([records, faults.map((f) => f.code)], [[], ['RECORDS_VERSION']]);
    }
    assert.match(readStored([], RECORDS_VERSION + 1).faults[0]!.remedy, /newer Amber Kite/);
  });
  test('of now are taken as they are; others throw where they are not sound', () => {
    const list = [{ anything: true }];
    assert.equal(trustStored(list, RECORDS_VERSION), list);
    assert.throws(() => trustStored(list, 1), FaultError);
  });
  test('there is a step from each version to the next', () => assert.equal(STEPS.length, RECORDS_VERSION - 1));
});
