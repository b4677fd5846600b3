import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { standinAddresses } from '../../addresses.ts';
import { preflight } from '../../core/check/preflight.ts';
import { documentOf, recordsOf } from '../../core/document/change.ts';
import { changeFaults } from '../../core/rules/faults.ts';
import { readArchive, writeArchive } from '../../core/format/archive.ts';
import { areaIdOf } from '../../core/patch/areas.ts';
import { builtInProfiles } from '../../core/profile/library.ts';
import { layoutOfUnit } from '../../core/patch/of-document.ts';
import { readDrawnGrid } from '../../core/records/grid.ts';
import { slotsAt } from '../../../tests/support/rig.ts';
import { millpondFiles, millpondWalk } from './millpond.ts';
import { kiteGrid, pixelCount } from './millpond-rig.ts';

const records = millpondWalk(builtInProfiles(), standinAddresses('/somewhere'));
const document = documentOf(records);
const unit = (slug: string) => recordsOf(document, 'unit').find((u) => u.id === `unit:${slug}`)!;

describe('the lantern walk', () => {
  test('is sound, clashes nowhere and round-trips', () => {
    assert.deepEqual(changeFaults(documentOf([]), { put: records, remove: [] }), []);
    assert.deepEqual(
      preflight(document).map((f) => [f.code, f.title]),
      [],
    );
    assert.deepEqual(
      readArchive(writeArchive(records, new Map(millpondFiles().map(({ hash, bytes }) => [hash, bytes])))).faults,
      [],
    );
  });
  test('is as large as it should be', () => {
    const universes = new Set(recordsOf(document, 'route').map((r) => r.universe));
    assert.ok(pixelCount > 8500 && pixelCount < 9600, String(pixelCount));
    assert.ok(universes.size >= 60 && universes.size <= 75, String(universes.size));
    assert.equal(layoutOfUnit(document, unit('kite3')).cells, 86);
    assert.equal(layoutOfUnit(document, unit('wall')).cells, 1000);
    const { columns, numbers } = kiteGrid();
    const rows = Array.from({ length: numbers.length / columns }, (_, r) =>
      Array.from(numbers.subarray(r * columns, (r + 1) * columns), (n) => (n ? String(n) : '')),
    );
    const { cells, missing, repeated } = readDrawnGrid(rows);
    assert.deepEqual([cells, missing, repeated], [86, [], []]);
  });
  test('units stand in their areas', () => {
    assert.equal(areaIdOf(document, unit('arch3')), 'area:bridge');
    assert.equal(areaIdOf(document, unit('kite1')), 'area:pond');
    assert.equal(areaIdOf(document, unit('wall')), 'area:mill');
  });
  test('every scene lights something', () => {
    const universes = recordsOf(document, 'route').map((r) => r.universe);
    for (const { id, name } of recordsOf(document, 'scene'))
      assert.ok(
        universes.some((universe) => slotsAt(document, { play: [id], universe, at: 3000 }).some((v) => v > 0)),
        name,
      );
  });
});
