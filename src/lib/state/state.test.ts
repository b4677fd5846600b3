import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { EngineHealth } from '../../core/protocol/link.ts';
import { fitting, toPlan, toScreen, zoomed } from '../components/plot/view.ts';
import { averageColour } from './scenes/average-colour.ts';
import { physicalWords } from './kit/physical.ts';
import { engine, output } from '../../../tests/support/health.ts';
import { outputWords, plural } from './words.ts';

describe('what the ridge says', () => {
  const rig = { universes: [1, 2], unrouted: [] };
  const words = (e: EngineHealth | null, unrouted: number[] = [], connection: 'open' | 'lost' = 'open'): string =>
    outputWords(connection, { engine: e, standins: null, database: 'up', disk: 'fine' }, { ...rig, unrouted }).text;
  test('the most pressing thing first', () => {
    assert.equal(words(engine()), 'Sending 2 of 2 universes');
    assert.equal(words(engine(), [2]), 'Sending 1 of 2 universes');
    assert.equal(words(engine({ outputs: [output({ enabled: false })] })), 'Preview only');
    const lost = { ip: '127.0.0.2', name: null, lastSeenMs: null, state: 'lost' as const, outputs: [] };
    assert.equal(words(engine({ outputs: [output({ gateways: [lost] })] })), '1 gateway lost');
    assert.equal(
      words(engine({ outputs: [output({ gateways: [lost], lastError: 'packets do not leave' })] })),
      'Not leaving',
    );
    assert.equal(
      words(engine({ outputs: [output({ enabled: false, lastError: 'packets do not leave' }), output({})] })),
      'Sending 2 of 2 universes',
      "an output that is off is nobody's trouble",
    );
    const fault = { code: 'A', path: 'b', message: 'broken', remedy: 'mend' };
    assert.equal(words(engine({ showFaults: [fault] })), 'Show not loaded');
    assert.equal(words(null), 'Engine restarting');
    assert.equal(words(engine(), [], 'lost'), 'Connecting…');
  });
  test('one unit, two units', () => assert.deepEqual([plural(1, 'unit'), plural(2, 'unit')], ['1 unit', '2 units']));
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
    assert.equal(zoomed(view, canvas, at, 1e9).scale, 2000);
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
