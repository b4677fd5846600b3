import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { showWith, units } from '../../../tests/support/rig.ts';
import type { EngineHealth, OutputHealth } from '../../core/protocol/link.ts';
import type { UnitRecord } from '../../core/records/index.ts';
import { fitting, toPlan, toScreen, zoomed } from '../components/plot/view.ts';
import { averageColour } from './look.ts';
import { physicalWords } from './physical.ts';
import { editAddress, editMeasure, editName, editNumber, parseNumber, type Edited } from './unit-edits.ts';
import { outputWords, plural } from './words.ts';

const output = (over: Partial<OutputHealth> = {}): OutputHealth => ({
  id: 'output:a',
  name: 'A',
  protocol: 'artnet',
  enabled: true,
  universes: 2,
  packetsPerSecond: 80,
  packets: 1,
  errors: 0,
  lastError: null,
  gateways: [],
  ...over,
});
const engine = (over: Partial<EngineHealth> = {}): EngineHealth => ({
  pid: 1,
  uptimeS: 1,
  showId: 'show:a',
  revision: 1,
  showFaults: [],
  frameRateAsked: 40,
  frameRateMeasured: 40,
  latenessP50Ms: 0,
  latenessP99Ms: 0,
  latenessMaxMs: 0,
  frames: 1,
  framesLate: 0,
  framesSkipped: 0,
  renderMs: 0,
  universes: 2,
  realtime: true,
  outputs: [output()],
  ...over,
});

describe('what the ridge says', () => {
  const rig = { universes: [1, 2], unrouted: [] };
  const words = (e: EngineHealth | null, unrouted: number[] = [], connection: 'open' | 'lost' = 'open'): string =>
    outputWords(connection, { engine: e, standins: null, database: 'up' }, { ...rig, unrouted }).text;
  test('the most pressing thing first', () => {
    assert.equal(words(engine()), 'Sending 2 of 2 universes');
    assert.equal(words(engine(), [2]), 'Sending 1 of 2 universes');
    assert.equal(words(engine({ outputs: [output({ enabled: false })] })), 'Preview only');
    const lost = { ip: '127.0.0.2', name: null, lastSeenMs: null, state: 'lost' as const, outputs: [] };
    assert.equal(words(engine({ outputs: [output({ gateways: [lost] })] })), '1 gateway lost');
    const fault = { code: 'A', path: 'b', message: 'broken', remedy: 'mend' };
    assert.equal(words(engine({ showFaults: [fault] })), 'Show not loaded');
    assert.equal(words(null), 'Engine restarting');
    assert.equal(words(engine(), [], 'lost'), 'Connecting…');
  });
  test('one unit, two units', () => assert.deepEqual([plural(1, 'unit'), plural(2, 'unit')], ['1 unit', '2 units']));
});

describe('what people type into the sheet', () => {
  const rig = units(
    { slug: 'a', profile: 'fernlight-plumlet', mode: '7ch', address: 1 },
    { slug: 'b', profile: 'fernlight-plumlet', mode: '7ch', address: 8 },
    { slug: 'c', profile: 'fernlight-plumlet', mode: '7ch', address: 15 },
  );
  const show = showWith(...rig);
  const ids = ['unit:a', 'unit:b', 'unit:c'] as const;
  const put = (edited: Edited): UnitRecord[] => {
    assert.ok('change' in edited, 'fault' in edited ? edited.fault : '');
    return edited.change.put as UnitRecord[];
  };
  const fault = (edited: Edited): string => ('fault' in edited ? edited.fault : 'no fault');
  const address = (text: string, slots: 510 | 512 = 512) =>
    editAddress(
      show,
      ids,
      text,
      () => slots,
      () => 7,
    );
  const places = (edited: Edited) => put(edited).map((u) => u.patch && `${u.patch.universe}.${u.patch.address}`);

  test('an address for several: the others follow, and none is split', () => {
    assert.deepEqual(places(address('2.10')), ['2.10', '2.17', '2.24']);
    assert.deepEqual(places(address('1.500')), ['1.500', '2.1', '2.8']);
    assert.deepEqual(places(address('  ')), [null, null, null]);
    assert.match(fault(address('63999.512')), /beyond universe/);
    assert.match(fault(address('hello')), /not an address/);
  });
  test('numbers run on', () => {
    assert.deepEqual(
      put(editNumber(show, ids, ' 21 ')).map((u) => u.number),
      [21, 22, 23],
    );
    for (const text of ['0', '99998', '-1', 'x', '1.5', ''])
      assert.match(fault(editNumber(show, ids, text)), /not a number/);
  });
  test('names are trimmed and never empty', () => {
    assert.deepEqual(
      put(editName(show, ['unit:a'], ' Par ')).map((u) => u.name),
      ['Par'],
    );
    assert.match(fault(editName(show, ids, ' ')), /needs a name/);
    assert.match(fault(editName(show, ids, 'x'.repeat(101))), /101/);
  });
  test('measures take a point or a comma, within limits', () => {
    const x = (text: string) =>
      editMeasure(show, ids, text, [-10, 10], (u, v) => ({ position: { ...u.position, x: v } }));
    assert.deepEqual(
      put(x('1,5')).map((u) => u.position.x),
      [1.5, 1.5, 1.5],
    );
    assert.match(fault(x('11')), /-10 to 10/);
    assert.match(fault(x('1,5,2')), /not a number/);
  });
  test('a number is read only when it is one', () => {
    assert.deepEqual(['.5', '-2.', '+3', '1e3', 'Infinity', '0x10', ''].map(parseNumber), [
      0.5,
      -2,
      3,
      null,
      null,
      null,
      null,
    ]);
    fc.assert(fc.property(fc.integer({ min: -1e6, max: 1e6 }), (n) => assert.equal(parseNumber(String(n)), n)));
  });
  test('unknown ids change nothing', () => {
    assert.deepEqual(put(editName(show, ['unit:ghost'], 'X')), []);
  });
});

describe('small words', () => {
  test('physical values', () => {
    assert.equal(physicalWords({ from: 0, to: 20, unit: 'hz' }, 0.25), '5.0 Hz');
    assert.equal(physicalWords({ from: 0, to: 540, unit: 'deg' }, 0.5), '270°');
    assert.equal(physicalWords({ from: 0.002, to: 0.05, unit: 'second' }, 0), '0.002 s');
    assert.equal(physicalWords({ from: -1, to: -90, unit: 'rpm' }, 1), '-90 rpm');
    assert.equal(physicalWords({ from: 0, to: 100, unit: 'percent' }, 0.05), '5 %');
  });
  test('a pad takes the colour its scene sets, as bright as can be', () => {
    assert.equal(averageColour({ 'unit:a': { ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 0.5 } }), '#0000ff');
    assert.equal(averageColour({ 'unit:a': { Dimmer: 1 } }), '#ffb347');
  });
});

describe('the view of the plan', () => {
  const canvas = { width: 800, height: 600 };
  test('screen and plan go there and back, up-stage is up', () => {
    const view = { x: 1, y: 2, scale: 40 };
    assert.deepEqual(toScreen(view, canvas, { x: 1, y: 3 }), { x: 400, y: 260 });
    assert.deepEqual(toPlan(view, canvas, toScreen(view, canvas, { x: -3, y: 7 })), { x: -3, y: 7 });
  });
  test('zooming keeps the point under the pointer, and stops at its limits', () => {
    const view = { x: 0, y: 0, scale: 40 };
    const at = { x: 100, y: 100 };
    const next = zoomed(view, canvas, at, 2);
    assert.deepEqual(toPlan(next, canvas, at), toPlan(view, canvas, at));
    assert.equal(zoomed(view, canvas, at, 1e9).scale, 800);
  });
  test('fits all points, or a room when there are none', () => {
    const view = fitting(
      [
        { x: -10, y: 0 },
        { x: 10, y: 4 },
      ],
      canvas,
      0,
    );
    assert.deepEqual(view, { x: 0, y: 2, scale: 40 });
    assert.deepEqual(fitting([], canvas), { x: 0, y: 0, scale: 40 });
  });
});
