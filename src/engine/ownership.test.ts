import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { showWith } from '../../tests/support/rig.ts';
import { FaultError } from '../core/faults.ts';
import { make } from '../core/records/index.ts';
import { owned, ownershipFrom } from './ownership.ts';
import { wireRoutes } from './player.ts';

const document = showWith(
  make('output', { id: 'output:o', name: 'O', protocol: 'sacn', destinations: ['10.0.0.2'], priority: 120 }),
  ...[1, 2, 3, 70].map((universe) =>
    make('route', { id: `route:r${universe}`, universe, outputId: 'output:o', wireUniverse: universe }),
  ),
);
const sent = (env: Record<string, string>) =>
  wireRoutes(owned(document, ownershipFrom(env))).map((r) => [r.universe, r.priority]);

describe('what an engine owns', () => {
  test('is all of the show where nothing is said', () => {
    assert.equal(owned(document, ownershipFrom({})), document);
    assert.equal(owned(document, ownershipFrom({ AMBER_ENGINE_UNIVERSES: ' ' })), document);
  });
  test('is some of its universes, at another priority', () => {
    assert.deepEqual(sent({ AMBER_ENGINE_UNIVERSES: '2-3, 70' }), [
      [2, 120],
      [3, 120],
      [70, 120],
    ]);
    assert.deepEqual(sent({ AMBER_ENGINE_PRIORITY: '90', AMBER_ENGINE_UNIVERSES: '1' }), [[1, 90]]);
    assert.equal(sent({ AMBER_ENGINE_PRIORITY: '0' }).length, 4);
  });
  test('is refused with its name where it cannot be read', () => {
    for (const [name, values] of [
      ['AMBER_ENGINE_UNIVERSES', ['0', 'x', '5-1', '1-64000', '1,,2', '-3']],
      ['AMBER_ENGINE_PRIORITY', ['201', '-1', '1.5', 'high']],
    ] as const)
      for (const value of values)
        assert.throws(
          () => ownershipFrom({ [name]: value }),
          (error: unknown) =>
            error instanceof FaultError && error.faults[0]!.path === name && error.faults[0]!.remedy !== '',
          value,
        );
  });
});
