import { toBase64 } from '../base64.ts';
import { hashOf, type BlobFile } from './blob.ts';
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

describe('records of version 6', () => {
  const read = (raw: unknown) => {
    const files: BlobFile[] = [];
    const { records, faults } = readStored([raw], 6, { keep: (file) => files.push(file) });
    return { record: records[0], faults, files };
  };
  const png = Uint8Array.from([137, 80, 78, 71, 13, 10, 26, 10, 0, 0]);
  const picture = { kind: 'picture', id: 'picture:p', name: 'P', widthPx: 3, heightPx: 2 };
  test('had pictures in them: they come out as files, named by their hash', () => {
    const { record, files } = read({ ...picture, data: `data:image/png;base64,${toBase64(png)}` });
    assert.deepEqual(files, [{ hash: hashOf(png), bytes: png }]);
    assert.deepEqual(record, { ...picture, type: 'image/png', bytes: 10, blob: hashOf(png) });
  });
  test('with what is no picture in them are named and not read', () => {
    for (const data of ['data:text/html;base64,AAAA', 'nonsense', 7, undefined]) {
      const { faults, files } = read({ ...picture, data });
      assert.ok(faults.length > 0 && files.length === 0);
      assert.ok(faults.every(({ path }) => path.startsWith('picture:p')));
    }
  });
  test('had other words for what slots of a desk work', () => {
    const at = { wireUniverse: 1, address: 2 };
    const works = ['grand', 'tempo', 'dark', 'releaseAll'].map((word) => ({ ...at, does: { do: word } }));
    const { record } = read({
      kind: 'input',
      id: 'input:i',
      name: 'I',
      protocol: 'sacn',
      controls: [
        ...works,
        { ...at, does: { do: 'play', target: 'scene:s' } },
        { ...at, does: { do: 'unit', unitId: 'unit:u' } },
      ],
    });
    assert.ok(record?.kind === 'input');
    assert.deepEqual(
      record.controls.map(({ does }) => does),
      [
        { do: 'level', of: { what: 'grand' } },
        { do: 'tempo' },
        { do: 'dark' },
        { do: 'releaseAll' },
        { do: 'play', target: 'scene:s', held: true },
        { do: 'level', of: { what: 'unit', id: 'unit:u' } },
      ],
    );
    assert.ok(read({ kind: 'input', id: 'input:i', name: 'I', protocol: 'sacn', controls: [null] }).faults.length > 0);
  });
});
