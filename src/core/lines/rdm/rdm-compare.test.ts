import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { FoundRdm } from '../../protocol/network.ts';
import { make } from '../../records/index.ts';
import { showWith, units } from '../../../../tests/support/rig.ts';
import { compareRdm } from '../index.ts';

const device = (
  uid: FoundRdm['uid'],
  startAddress: number,
  footprint: number,
  over: Partial<FoundRdm> = {},
): FoundRdm => ({
  uid,
  gatewayIp: '10.0.0.2',
  portAddress: 1,
  state: 'ready',
  fault: null,
  info: {
    model: 1,
    category: 0x101,
    software: 1,
    footprint,
    personality: 1,
    personalities: 2,
    startAddress,
    subDevices: 0,
    sensors: 0,
  },
  maker: 'Quillon',
  model: 'Heron',
  label: '',
  software: '1',
  personalities: [
    { number: 1, footprint: 16, name: '16' },
    { number: 2, footprint: 11, name: '11' },
  ],
  sensors: [],
  identifying: false,
  lastSeenMs: 0,
  ...over,
});
const base = [
  make('output', { id: 'output:o', name: 'Gate', protocol: 'artnet', destinations: ['10.0.0.2'] }),
  make('route', { id: 'route:r', universe: 5, outputId: 'output:o', wireUniverse: 1 }),
];
const spots = (given: Record<string, string | null> = {}) =>
  units(
    ...['a', 'b', 'c'].map((slug, i) => ({
      slug,
      profile: 'quillon-heron',
      mode: '16ch',
      universe: 5,
      address: 1 + i * 16,
      fields: { rdmUid: given[slug] ?? null },
    })),
    { slug: 'far', profile: 'generic-dimmer', mode: '1ch', universe: 9, address: 1 },
  );
const rowsOf = (devices: FoundRdm[], given: Record<string, string | null> = {}) =>
  compareRdm(showWith(...base, ...spots(given)), devices).map((r) => ({
    uid: r.device?.uid ?? null,
    unit: r.unit?.id ?? null,
    suggestion: r.suggestion?.id ?? null,
    verdict: r.verdict,
    sure: r.sure,
    differs: [r.addressDiffers, r.modeDiffers],
    set: [r.personality, r.mode],
  }));

describe('devices beside the patch', () => {
  test('a device at the address and footprint of a unit counts as that unit; others are missing', () => {
    const rows = rowsOf([device('7ff1:00000001', 17, 16)]);
    assert.deepEqual(
      rows.map((r) => [r.uid, r.unit, r.verdict]),
      [
        ['7ff1:00000001', 'unit:b', 'matches'],
        [null, 'unit:a', 'missing'],
        [null, 'unit:c', 'missing'],
      ],
    );
  });
  test('two at one address: the first counts, the second is suggested for a free unit of its model', () => {
    const rows = rowsOf([device('7ff1:00000002', 1, 16), device('7ff1:00000001', 1, 16)]);
    assert.deepEqual(
      rows.filter((r) => r.uid).map((r) => [r.uid, r.verdict, r.unit, r.suggestion]),
      [
        ['7ff1:00000002', 'unknown', null, 'unit:b'],
        ['7ff1:00000001', 'matches', 'unit:a', null],
      ],
    );
  });
  test('a unit that names a UID is that device, wherever it stands; both ways to agree are offered', () => {
    const [row] = rowsOf([device('7ff1:00000001', 300, 11)], { c: '7ff1:00000001' });
    assert.deepEqual(row, {
      uid: '7ff1:00000001',
      unit: 'unit:c',
      suggestion: null,
      verdict: 'differs',
      sure: true,
      differs: [true, true],
      set: [1, null],
    });
  });
  test('the wrong mode at the right address differs in its slots alone', () => {
    const [row] = rowsOf([device('7ff1:00000001', 33, 11)]);
    assert.deepEqual([row!.unit, row!.verdict, row!.differs], ['unit:c', 'differs', [false, true]]);
  });
  test('a device of no unit, a faulty one, a lost one', () => {
    const rows = rowsOf([
      device('7ff2:00000001', 400, 2, { model: 'Drizzle' }),
      device('7ff2:00000002', 1, 16, { state: 'faulty', fault: 'no sound answer', info: null }),
      device('7ff2:00000003', 33, 16, { state: 'lost' }),
    ]);
    assert.deepEqual(
      rows.filter((r) => r.uid).map((r) => [r.uid!.at(-1), r.verdict]),
      [
        ['2', 'faulty'],
        ['1', 'unknown'],
        ['3', 'lost'],
      ],
    );
  });
  test('behind a gateway that no route reaches nothing can be compared', () => {
    const rows = rowsOf([device('7ff1:00000001', 1, 16, { gatewayIp: '10.0.0.77' })]);
    assert.deepEqual([rows[0]!.verdict, rows[0]!.unit], ['unknown', null]);
  });
});
