import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { scene, showWith, units, type UnitRow } from '../../../../tests/support/rig.ts';
import { make } from '../../records/index.ts';
import { dimmers, dimmerIds, flasher, run, SAFETY } from '../../../../tests/support/flash-rig.ts';

/** Rises of at least a tenth of full light within the last `seconds` of what slot `at` did. */
function flashes(slots: readonly number[][], at: number, seconds: number): number {
  const values = slots.slice(-seconds * 40).map((s) => s[at]! / 255);
  let low = values[0]!;
  let up = false;
  let count = 0;
  for (const v of values) {
    if (!up && v > low + 0.1) {
      up = true;
      low = v;
      count++;
    } else if (up && v < low - 0.1) {
      up = false;
      low = v;
    } else low = up ? Math.max(low, v) : Math.min(low, v);
  }
  return count;
}

describe('flashing faster than is safe', () => {
  test('at 8 Hz over all: without the guard it does, with it it comes to rest', () => {
    const show = showWith(...dimmers(4), flasher(dimmerIds(4), 8));
    assert.ok(flashes(run(show, 'effect:f', 4, null).slots, 0, 2) >= 14);
    const { slots, held } = run(show, 'effect:f', 4, SAFETY);
    assert.ok(held);
    assert.ok(flashes(slots, 0, 2) <= 1, `${flashes(slots, 0, 2)} flashes in 2 s`);
  });
  for (const [name, rate, lit, expected] of [
    ['three a second are let be', 3, 4, false],
    ['two a second are let be', 2, 4, false],
    ['four a second are held', 4, 4, true],
    ['a quarter of the plot may', 8, 1, false],
    ['more than a quarter may not', 8, 2, true],
  ] as const)
    test(name, () =>
      assert.equal(run(showWith(...dimmers(4), flasher(dimmerIds(lit), rate)), 'effect:f', 3, SAFETY).held, expected),
    );
  test('two halves that change places flash too, though the whole stays as bright', () => {
    const swap = make('effect', {
      id: 'effect:f',
      number: 1,
      name: 'F',
      on: dimmerIds(4),
      rate: 8,
      fadeInMs: 0,
      parts: [{ does: 'level', wave: 'square', width: 0.5, spread: 2 }],
    });
    assert.ok(run(showWith(...dimmers(4), swap), 'effect:f', 3, SAFETY).held);
  });
  test('a slow chase and a steady light pass as they are', () => {
    const show = showWith(...dimmers(4), flasher(dimmerIds(4), 1));
    assert.deepEqual(run(show, 'effect:f', 3, SAFETY).slots, run(show, 'effect:f', 3, null).slots);
  });
  test('lifted by its switch', () =>
    assert.ok(
      flashes(
        run(showWith(...dimmers(4), flasher(dimmerIds(4), 8)), 'effect:f', 4, { ...SAFETY, limitFlashes: false }).slots,
        0,
        2,
      ) >= 14,
    ));
  test('a colour that flashes is held like a level', () => {
    const rgb = units(
      ...[0, 1].map((i): UnitRow => ({ slug: `c${i}`, profile: 'fernlight-plumlet', mode: '3ch', address: 1 + i * 3 })),
    );
    const swap = make('effect', {
      id: 'effect:f',
      number: 1,
      name: 'F',
      on: ['unit:c0', 'unit:c1'],
      rate: 7,
      light: 1,
      fadeInMs: 0,
      parts: [{ does: 'colour', way: 'walk', size: 0, colours: ['#ffffff', '#000000'] }],
    });
    const { slots, held } = run(showWith(...rgb, swap), 'effect:f', 4, SAFETY);
    assert.ok(held && flashes(slots, 0, 2) <= 1);
  });
});

describe('built-in strobes', () => {
  const row = (n: number): UnitRow[] =>
    Array.from({ length: n }, (_, i) => ({
      slug: `s${i}`,
      profile: 'quillon-snapjack',
      mode: '3ch',
      address: 1 + i * 8,
    }));
  const strobe = make('profile', {
    id: 'profile:strobe',
    maker: 'Test',
    model: 'Strobe',
    fixtureKind: 'strobe',
    channels: [
      { key: 'level', name: 'Level', attribute: 'Dimmer' },
      {
        key: 'shutter',
        name: 'Shutter',
        attribute: 'Shutter1',
        ranges: [
          { from: 0, to: 9, name: 'Closed', light: 'closed' },
          { from: 10, to: 19, name: 'Open', light: 'open' },
          { from: 20, to: 255, name: 'Flash slow to fast', light: 'strobe', physical: { from: 1, to: 20, unit: 'hz' } },
        ],
      },
    ],
    modes: [{ key: '2ch', name: '2', slots: [{ channel: 'level' }, { channel: 'shutter' }] }],
  });
  const rig = units(
    ...row(3).map((r, i): UnitRow => ({ ...r, profile: 'strobe', mode: '2ch', address: 1 + i * 2 })),
    ...Array.from({ length: 9 }, (_, i): UnitRow => ({
      slug: `d${i}`,
      profile: 'generic-dimmer',
      mode: '1ch',
      address: 20 + i,
    })),
  );
  const hz = (raw: number): number => 1 + (19 * (raw - 20)) / 235;
  const sent = (strobing: number, at: number): number => {
    const values = Object.fromEntries(
      Array.from({ length: strobing }, (_, i) => [
        `s${i}`,
        { Dimmer: 1, Shutter1: { range: 'Flash slow to fast', at } },
      ]),
    );
    const show = showWith(strobe, ...rig, scene('s', values));
    return run(show, 'scene:s', 0.1, SAFETY).slots.at(-1)![1]!;
  };
  test('one goes as fast as the cap lets it', () => {
    assert.ok(hz(sent(1, 1)) <= 12 && hz(sent(1, 1)) > 11.8);
    assert.ok(Math.abs(hz(sent(1, 0.3)) - 6.7) < 0.3, 'slower ones stay as they are');
  });
  test('over a quarter of the units none goes faster than is safe', () => {
    const all = units(...row(3).map((r, i): UnitRow => ({ ...r, profile: 'strobe', mode: '2ch', address: 1 + i * 2 })));
    const values = Object.fromEntries(
      [0, 1, 2].map((i) => [`s${i}`, { Dimmer: 1, Shutter1: { range: 'Flash slow to fast', at: 1 } }]),
    );
    const shutter = run(showWith(strobe, ...all, scene('s', values)), 'scene:s', 0.1, SAFETY).slots.at(-1)![1]!;
    assert.ok(hz(shutter) <= 3 && shutter >= 20, `${hz(shutter)} Hz`);
  });
});
