import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { engine, output } from '../../../tests/support/health.ts';
import { FINDING_KINDS } from './preflight.ts';
import { tonightFaults, type Tonight } from './tonight.ts';

const well: Tonight = { engine: engine(), database: 'up', disk: 'fine' };
const found = (over: Partial<Tonight>): [string, string, boolean][] =>
  tonightFaults({ ...well, ...over }).map((f) => [f.code, f.title, f.severe]);
const lost = { ip: '10.0.0.7', name: 'Left tower', lastSeenMs: null, state: 'lost' as const, outputs: [] };

describe('what is wrong at this moment with the way out', () => {
  test('nothing while all is well', () => assert.deepEqual(found({}), []));
  test('a cable that is out, once an output; one that is off or has nothing to send is no trouble', () => {
    const out = { lastError: 'packets do not leave: nothing is at the other end of eth0; is the cable out?' };
    const outputs = [
      output({ name: 'Tower', ...out }),
      output({ name: 'Off', enabled: false, ...out }),
      output({ name: 'Idle', universes: 0, ...out }),
    ];
    assert.deepEqual(found({ engine: engine({ outputs }) }), [['NOT_LEAVING', 'Tower', true]]);
  });
  test('a gateway that has gone, by its name', () =>
    assert.deepEqual(found({ engine: engine({ outputs: [output({ gateways: [lost] })] }) }), [
      ['GATEWAY_LOST', 'Left tower', true],
    ]));
  test('machine: engine, disk, database; a disk that is nearly full is only worth a look', () => {
    assert.deepEqual(found({ engine: null, disk: 'full', database: 'down' }), [
      ['ENGINE_AWAY', 'Engine', true],
      ['DISK', 'Data folder', true],
      ['DATABASE', 'Database', true],
    ]);
    assert.deepEqual(found({ disk: 'low' }), [['DISK', 'Data folder', false]]);
  });
  test('each has its heading and its remedy in pre-flight', () => {
    const all = tonightFaults({
      engine: engine({ showFaults: [{ code: 'A', path: 'b', message: 'broken', remedy: 'mend' }] }),
      disk: 'low',
      database: 'down',
    });
    assert.equal(all.length, 3);
    for (const { code } of all) assert.ok(FINDING_KINDS[code], code);
  });
});
