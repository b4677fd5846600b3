import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { make } from '../records/index.ts';
import { applyLive, initialLive, liveCommandSchema, type LiveState } from '../show/index.ts';
import { scene, showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { slotsOfScope, TEST_LEASE_MS, testRequestSchema, type TestRequest, type TestSignal } from './index.ts';

const show = showWith(
  ...units(
    { slug: 'wash', profile: 'fernlight-brambleq', mode: '8ch', address: 1 },
    { slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', address: 9 },
    { slug: 'haze', profile: 'marrow-millmist', mode: '2ch', address: 11 },
    { slug: 'dim', profile: 'generic-dimmer', mode: '1ch', address: 20, fields: { levelLimit: 0.5 } },
    { slug: 'bar', profile: 'quillon-stave16', mode: '50ch', address: 101 },
  ),
  scene('all', { lamp: { Dimmer: 0.3 }, dim: { Dimmer: 1 } }),
  make('line', { id: 'line:a', number: 1, name: 'A', unitIds: ['unit:lamp', 'unit:dim'] }),
);
const whole = { universe: 1, from: 1, to: 64 };
const live = (test: TestRequest, over: Partial<LiveState> = {}): Partial<LiveState> => ({
  test: { ...test, startedAt: 0, until: 1e9 },
  ...over,
});
const signal = (given: TestSignal, at = 0, over: Partial<LiveState> = {}, scope: TestRequest['scope'] = whole) =>
  slotsAt(show, { live: live({ scope, signal: given, level: 1 }, over), at });
const lit = (slots: Uint8Array, to = 64): number[] =>
  [...slots.subarray(0, to)].flatMap((v, i) => (v > 0 ? [i + 1] : []));

describe('what a test is put on', () => {
  test('slots of a universe with owner, attribute and whether it is a machine', () => {
    const slots = slotsOfScope(show, whole);
    assert.equal(slots.length, 64);
    assert.deepEqual([slots[8]!.unitId, slots[8]!.level, slots[8]!.address], ['unit:lamp', true, 9]);
    assert.equal(slots[9]!.unitId, null);
    assert.ok(slots[10]!.machine || slots[11]!.machine);
  });
  test('units in the order of the selection, a line in the order of its cable', () => {
    const of = (scope: TestRequest['scope']) => slotsOfScope(show, scope).map((s) => s.address);
    assert.deepEqual(of({ unitIds: ['unit:dim', 'unit:lamp'] }), [20, 9]);
    assert.deepEqual(of({ lineId: 'line:a' }), [9, 20]);
    assert.deepEqual(of({ lineId: 'line:gone' }), []);
  });
  test('cells are counted through the units', () => {
    const slots = slotsOfScope(show, { unitIds: ['unit:bar'] });
    assert.equal(Math.max(...slots.map((s) => s.cell)), 15);
    assert.equal(slots.length, 50);
  });
});

describe('signals', () => {
  test('one slot alone', () => assert.deepEqual(lit(signal({ kind: 'slot', index: 8 })), [9]));
  test('a sweep goes on slot by slot and leaves machines out', () => {
    const seen = new Set<number>();
    for (let i = 0; i < 64; i++) {
      const now = lit(signal({ kind: 'sweep', perSecond: 10 }, i * 100 + 1));
      assert.equal(now.length, 1);
      seen.add(now[0]!);
    }
    const machines = slotsOfScope(show, whole).flatMap((s) => (s.machine ? [s.address] : []));
    assert.ok(machines.length > 0);
    for (const machine of machines) assert.ok(!seen.has(machine));
    assert.equal(seen.size, 64 - machines.length);
  });
  test('every third, standing and moving', () => {
    const every = { kind: 'every', n: 3, offset: 0, perSecond: 0 } as const;
    assert.deepEqual(lit(signal(every), 9), [1, 4, 7]);
    assert.deepEqual(lit(signal({ ...every, perSecond: 1 }, 1000), 9), [2, 5, 8]);
  });
  test('a ramp rises and begins again', () => {
    const at = (ms: number): number => signal({ kind: 'ramp', seconds: 2 }, ms)[8]!;
    assert.deepEqual([at(0), at(1000), at(1990), at(2000)], [0, 128, 254, 0]);
  });
  test('all at the level', () => {
    const half = { scope: whole, signal: { kind: 'all' } as const, level: 0.5 };
    assert.equal(slotsAt(show, { live: live(half) })[8], 128);
  });
  test('colours in turn; cells come on one by one, every tenth is marked', () => {
    const scope = { unitIds: ['unit:bar' as const] };
    const cellsOf = (ms: number) => {
      const slots = signal({ kind: 'colours', cellsPerSecond: 10 }, ms, {}, scope);
      return slotsOfScope(show, scope).flatMap((s) =>
        s.cell >= 0 && slots[s.address - 1]! > 0 ? [[s.cell, s.role]] : [],
      );
    };
    assert.deepEqual(cellsOf(0), [[0, 0]]);
    assert.deepEqual(cellsOf(250), [
      [0, 0],
      [1, 0],
      [2, 0],
    ]);
    const red = cellsOf(1590).filter(([, role]) => role === 0);
    assert.equal(red.length, 16);
    // The tenth cell shows all its colours.
    assert.deepEqual(
      cellsOf(1590)
        .filter(([cell]) => cell === 9)
        .map(([, role]) => role),
      [0, 1, 2],
    );
    // Sixteen cells at ten a second, and 0.8 s to stand: then green begins.
    assert.deepEqual(cellsOf(2410), [[0, 1]]);
  });
  test('one cell after the other along the wire, with a tail, round and round', () => {
    const scope = { unitIds: ['unit:bar' as const] };
    const red = (ms: number): [number, number][] => {
      const slots = signal({ kind: 'wire', cellsPerSecond: 10 }, ms, {}, scope);
      return slotsOfScope(show, scope).flatMap((s): [number, number][] =>
        s.role === 0 && slots[s.address - 1]! > 0 ? [[s.cell, slots[s.address - 1]!]] : [],
      );
    };
    assert.deepEqual(red(0), [[0, 255]]);
    assert.deepEqual(red(350), [
      [0, 3],
      [1, 15],
      [2, 63],
      [3, 255],
    ]);
    assert.deepEqual(red(1650), [[0, 255]]);
  });
  test('lies over what plays, in its scope alone', () => {
    const slots = slotsAt(show, {
      play: ['scene:all'],
      live: { ...live({ scope: { universe: 1, from: 1, to: 10 }, signal: { kind: 'slot', index: 0 }, level: 1 }) },
    });
    assert.deepEqual([slots[0], slots[8], slots[19]], [255, 0, 128]);
  });
});

describe('a test never passes', () => {
  test('the grand master, Dark or the limit of a unit', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.boolean(),
        (grand, level, dark) => {
          const slots = slotsAt(show, {
            live: {
              ...live({ scope: whole, signal: { kind: 'all' }, level }, { grand }),
              ...(dark ? { dark: { on: true, at: -1e6, from: 0 } } : {}),
            },
          });
          const master = dark ? 0 : grand;
          assert.ok(slots[8]! <= 255 * master, `${slots[8]} at ${master}`);
          assert.ok(slots[19]! <= 255 * master * 0.5, `${slots[19]} with a limit of a half at ${master}`);
        },
      ),
    );
  });
  test('its lease: nothing is lit from the moment it ends', () => {
    const test = { scope: whole, signal: { kind: 'all' } as const, level: 1, startedAt: 0, until: 5000 };
    assert.equal(slotsAt(show, { live: { test }, at: 4999 })[8], 255);
    assert.equal(slotsAt(show, { live: { test }, at: 5000 })[8], 0);
  });
  test('three changes a second over whole areas', () => {
    const ask = (given: unknown) => testRequestSchema.safeParse({ scope: whole, signal: given, level: 1 }).success;
    assert.equal(ask({ kind: 'every', n: 2, perSecond: 3 }), true);
    assert.equal(ask({ kind: 'every', n: 2, perSecond: 3.1 }), false);
    assert.equal(ask({ kind: 'ramp', seconds: 0.3 }), false);
  });
});

describe('the live commands', () => {
  const start = { do: 'test' as const, test: { scope: whole, signal: { kind: 'all' as const }, level: 1 } };
  const state = applyLive(initialLive(0), start, 1000, 'p');
  test('a test is leased for 5 s, renewed while its page is there, and not brought back once it ran out', () => {
    assert.equal(state.test?.until, 1000 + TEST_LEASE_MS);
    assert.equal(applyLive(state, { do: 'testAlive' }, 4000, 'p').test?.until, 4000 + TEST_LEASE_MS);
    assert.equal(applyLive(state, { do: 'testAlive' }, 7000, 'p').test?.until, 6000);
    assert.equal(applyLive(state, { do: 'test', test: null }, 2000, 'p').test, null);
  });
  test('raw slots are held by hand and let go with it, or by themselves', () => {
    const held = applyLive(initialLive(0), { do: 'raw', set: { '1.9': 200, '1.10': 7 } }, 0, 'p');
    assert.deepEqual(held.raw, { '1.9': 200, '1.10': 7 });
    assert.deepEqual(applyLive(held, { do: 'raw', set: { '1.9': null } }, 0, 'p').raw, { '1.10': 7 });
    assert.deepEqual(applyLive(held, { do: 'letGo', slots: ['1.10'] }, 0, 'p').raw, { '1.9': 200 });
    assert.deepEqual(applyLive(held, { do: 'letGo', units: ['unit:lamp'] }, 0, 'p').raw, held.raw);
    assert.deepEqual(applyLive(held, { do: 'letGo' }, 0, 'p').raw, {});
    assert.equal(slotsAt(show, { live: { raw: held.raw } })[8], 200);
    assert.equal(slotsAt(show, { live: { raw: held.raw, grand: 0.5 } })[8], 100);
  });
  test('no more than 4,096 slots are held, and those that are go on', () => {
    const many = (first: number) =>
      Object.fromEntries(
        Array.from({ length: 4096 }, (_, i) => [`${first + Math.floor(i / 512)}.${(i % 512) + 1}`, 1]),
      );
    const full = applyLive(initialLive(0), { do: 'raw', set: many(1) }, 0, 'p');
    const more = applyLive(full, { do: 'raw', set: { ...many(9), '1.1': 7 } }, 0, 'p');
    assert.equal(Object.keys(more.raw).length, 4096);
    assert.equal(more.raw['1.1'], 7);
    assert.equal(liveCommandSchema.safeParse({ do: 'raw', set: { ...many(1), '99.1': 1 } }).success, false);
  });
  test('nonsense is refused with the place', () => {
    for (const bad of [
      { do: 'raw', set: { '0.9': 1 } },
      { do: 'raw', set: { '1.9': 256 } },
      { do: 'test', test: { scope: { unitIds: [] }, signal: { kind: 'all' }, level: 1 } },
      { do: 'test', test: { scope: whole, signal: { kind: 'sweep', perSecond: 1000 }, level: 1 } },
    ])
      assert.equal(liveCommandSchema.safeParse(bad).success, false, JSON.stringify(bad));
  });
});
