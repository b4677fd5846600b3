import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { flashRates, type Light } from '../../../../tests/support/flash-meter.ts';
import { dimmers, dimmerIds, flasher, run, SAFETY } from '../../../../tests/support/flash-rig.ts';
import { chase, drawing, PIXELS, scene, showWith, units, type UnitRow } from '../../../../tests/support/rig.ts';
import type { Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import { make, type AnyRecord } from '../../records/index.ts';
import type { UnitValues } from '../../records/scene.ts';
import {
  compilePlay,
  compileRig,
  FlashGuard,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type LiveState,
} from '../index.ts';

const rgb = (count: number): AnyRecord[] =>
  units(
    ...Array.from({ length: count }, (_, i): UnitRow => ({
      slug: `c${i}`,
      profile: 'fernlight-plumlet',
      mode: '3ch',
      address: 1 + i * 3,
    })),
  );
const colours = (rate: number, ...list: readonly string[]): AnyRecord =>
  make('effect', {
    id: 'effect:f',
    number: 1,
    name: 'F',
    on: [0, 1, 2, 3].map((i) => `unit:c${i}` as const),
    rate,
    light: 1,
    fadeInMs: 0,
    parts: [{ does: 'colour', way: 'walk', size: 0, colours: [...list] }],
  });
/** Light of a unit of three slots, as sent. */
const lightOf = (slots: readonly number[][], unit: number): Light[] =>
  slots.map((s) => [s[unit * 3]! / 255, s[unit * 3 + 1]! / 255, s[unit * 3 + 2]! / 255]);

describe('the meter the tests measure with', () => {
  const blink = (one: Light, two: Light, frames: number): Light[] =>
    Array.from({ length: 80 }, (_, i) => (Math.floor(i / frames) % 2 === 0 ? one : two));
  for (const [name, lights, general, red] of [
    ['white, four a second', blink([0, 0, 0], [1, 1, 1], 5), 4, 0],
    ['white, two a second', blink([0, 0, 0], [1, 1, 1], 10), 2, 0],
    ['red, four a second', blink([0, 0, 0], [1, 0, 0], 5), 4, 4],
    ['a change that is too small', blink([0.5, 0.5, 0.5], [0.58, 0.58, 0.58], 5), 0, 0],
    ['both bright', blink([0.85, 0.85, 0.85], [1, 1, 1], 5), 0, 0],
    ['pink is not saturated', blink([0.5, 0.5, 0.5], [0.8, 0.5, 0.5], 5), 0, 0],
  ] as const)
    test(name, () => assert.deepEqual(flashRates(lights), { general, red }));
});

describe('colours that change places', () => {
  for (const [name, list, flashes] of [
    ['red and blue', ['#ff0000', '#0000ff'], true],
    ['red and green', ['#ff0000', '#00ff00'], true],
    ['amber and blue', ['#ffb000', '#0000ff'], true],
    ['white and red', ['#ffffff', '#ff0000'], true],
    ['cyan and red', ['#00ffff', '#ff0000'], true],
    // Too dark for the measure of screens, which lamps outshine by far: held all the same.
    ['blue and nothing', ['#0000ff', '#000000'], false],
  ] as const)
    test(`${name}, 16 changes a second over all: light stays and does not flash`, () => {
      const show = showWith(...rgb(4), colours(8, ...list));
      const free = flashRates(lightOf(run(show, 'effect:f', 4, null).slots, 0));
      assert.equal(Math.max(free.general, free.red) > 3, flashes);
      const { slots, held } = run(show, 'effect:f', 5, SAFETY);
      assert.ok(held);
      for (const unit of [0, 3]) {
        const { general, red } = flashRates(lightOf(slots, unit));
        assert.ok(general <= 3 && red <= 3, `${general} and ${red} flashes a second`);
        assert.deepEqual(flashRates(lightOf(slots.slice(80), unit)), { general: 0, red: 0 });
      }
      assert.ok(slots.slice(80).every((s) => s[0]! + s[1]! + s[2]! > 30));
    });
  test('a chase of 500 steps, amber and blue', () => {
    const amber: UnitValues = { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 0.4, ColorRGB_Blue: 0 };
    const blue: UnitValues = { Dimmer: 1, ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 1 };
    const all = (own: UnitValues): Record<string, UnitValues> => ({ c0: own, c1: own, c2: own, c3: own });
    const steps = Array.from({ length: 500 }, (_, i) => (i % 2 ? 'b' : 'a'));
    const show = showWith(
      ...rgb(4),
      scene('a', all(amber)),
      scene('b', all(blue), { number: 2 }),
      chase('c', steps, { fade: 0, hold: 1 / 16 }),
    );
    const { slots, held } = run(show, 'chase:c', 5, SAFETY);
    assert.ok(held);
    assert.deepEqual(flashRates(lightOf(slots.slice(80), 0)), { general: 0, red: 0 });
  });
  for (const [name, effect] of [
    ['turns of colour that are slow enough', colours(1.5, '#ff0000', '#0000ff')],
    ['what hardly changes', colours(8, '#ffffff', '#f5f5f5')],
    ['a tint that breathes', colours(8, '#ffe0c0', '#ffe8d0')],
  ] as const)
    test(`${name}: let be`, () => {
      const show = showWith(...rgb(4), effect);
      assert.deepEqual(run(show, 'effect:f', 4, SAFETY).slots, run(show, 'effect:f', 4, null).slots);
    });
});

const profile = (slug: string, channels: readonly unknown[]): AnyRecord =>
  make('profile', {
    id: `profile:${slug}`,
    maker: 'Test',
    model: slug,
    fixtureKind: 'par',
    channels: channels as never,
    modes: [{ key: 'm', name: 'm', slots: (channels as { key: string }[]).map(({ key }) => ({ channel: key })) }],
  });
const level = { key: 'level', name: 'Level', attribute: 'Dimmer' };

describe('what else makes light come and go', () => {
  for (const [name, made, one, two] of [
    [
      'a shutter',
      profile('shut', [
        level,
        {
          key: 'shutter',
          name: 'Shutter',
          attribute: 'Shutter1',
          ranges: [
            { from: 0, to: 9, name: 'Closed', light: 'closed' },
            { from: 10, to: 255, name: 'Open', light: 'open' },
          ],
        },
      ]),
      { Dimmer: 1, Shutter1: { range: 'Closed', at: 0 } },
      { Dimmer: 1, Shutter1: { range: 'Open', at: 0.5 } },
    ],
    [
      'a wheel',
      profile('wheel', [
        level,
        {
          key: 'wheel',
          name: 'Wheel',
          attribute: 'Color1',
          ranges: [
            { from: 0, to: 99, name: 'Red', colour: '#ff0000' },
            { from: 100, to: 255, name: 'Blue', colour: '#0000ff' },
          ],
        },
      ]),
      { Dimmer: 1, Color1: { range: 'Red', at: 0.5 } },
      { Dimmer: 1, Color1: { range: 'Blue', at: 0.5 } },
    ],
    [
      'white beside a mixed colour',
      profile('white', [level, ...['R', 'G', 'B', 'W'].map((c) => ({ key: c, name: c, attribute: `ColorAdd_${c}` }))]),
      { Dimmer: 1, ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 0, ColorAdd_W: 0 },
      { Dimmer: 1, ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 0, ColorAdd_W: 1 },
    ],
    [
      'an amber emitter of its own',
      profile('amber', [{ key: 'a', name: 'Amber', attribute: 'ColorAdd_RY' }]),
      { Dimmer: 1, ColorAdd_RY: 0 },
      { Dimmer: 1, ColorAdd_RY: 1 },
    ],
  ] as const)
    test(`${name} is seen, and stands still`, () => {
      const slug = (made as { id: string }).id.slice('profile:'.length);
      const both = (own: UnitValues): Record<string, UnitValues> => ({ u0: own, u1: own });
      const show = showWith(
        made,
        ...units(...[0, 1].map((i): UnitRow => ({ slug: `u${i}`, profile: slug, mode: 'm', address: 1 + i * 10 }))),
        scene('one', both(one as UnitValues)),
        scene('two', both(two as UnitValues), { number: 2 }),
        chase('c', ['one', 'two'], { hold: 1 / 16, fade: 0 }),
      );
      const { slots, held } = run(show, 'chase:c', 5, SAFETY);
      assert.ok(held);
      const late = slots.slice(80);
      for (let slot = 0; slot < 5; slot++) {
        const steps = late.slice(1).map((s, i) => Math.abs(s[slot]! - late[i]![slot]!));
        assert.ok(Math.max(...steps) < 8, `slot ${slot + 1} jumps by ${Math.max(...steps)}`);
      }
      assert.ok(
        late.at(-1)!.some((value) => value > 60),
        'light stays',
      );
    });
});

describe('the plot is measured by area', () => {
  const wall = make('unit', {
    id: 'unit:wall',
    number: 9,
    name: 'Wall',
    profileId: PIXELS.id,
    mode: 'px',
    patch: { universe: 2, address: 1 },
    prop: { shape: { shape: 'matrix', columns: 12, rows: 12, widthM: 2.2, heightM: 2.2 } },
  });
  const flash = (...on: LitId[]): AnyRecord => ({ ...flasher([], 8), on }) as AnyRecord;
  test('a wall of pixels is more than four lamps beside it', () => {
    const show = (...on: LitId[]): Document => showWith(PIXELS, ...dimmers(4), wall, flash(...on));
    assert.ok(run(show('unit:wall'), 'effect:f', 3, SAFETY).held);
    assert.ok(!run(show(...dimmerIds(4)), 'effect:f', 3, SAFETY).held);
  });
  for (const [rows, held] of [
    [2, false],
    [4, true],
  ] as const)
    test(`${rows} of 12 rows of it: ${held ? 'held' : 'let be'}`, () => {
      const part = make('part', { id: 'part:p', unitId: 'unit:wall', number: 1, name: 'P', cells: `1-${rows * 12}` });
      assert.equal(run(showWith(PIXELS, wall, part, flash('part:p')), 'effect:f', 3, SAFETY).held, held);
    });
});

const PLAYING = [newPlay({ id: 'p', target: 'effect:f', startedAt: 0 })];
const flashing = (): Document => showWith(...rgb(4), colours(8, '#ffffff', '#000000'));
const first = (bytes: Uint8Array): Light => [bytes[0]! / 255, bytes[1]! / 255, bytes[2]! / 255];

describe('what the guard knows outlives edits', () => {
  /** 6 s at 8 Hz over all, with `perSecond` edits a second that make a new rig. */
  function edited(perSecond: number, change: (document: Document, n: number) => Document): Light[] {
    let document = flashing();
    const open = () => {
      const rig = compileRig(document);
      const state = { ...initialLive(0), playing: PLAYING };
      const live = prepareLive(rig, state, (p) => compilePlay(rig, document, p), document);
      return { rig, live, frame: makeFrame(rig.arrays) };
    };
    let now = open();
    const guard = new FlashGuard(now.rig.arrays, SAFETY);
    return Array.from({ length: 240 }, (_, i) => {
      if (perSecond > 0 && i > 0 && i % Math.round(40 / perSecond) === 0) {
        document = change(document, i);
        now = open();
        guard.follow(now.rig.arrays, SAFETY);
      }
      return first(render(now.rig.arrays, now.live, i * 25, now.frame, guard));
    });
  }
  const renamed = (document: Document, n: number): Document => {
    const unit = document.get('unit:c1')!;
    return new Map(document).set(unit.id, { ...unit, name: `Renamed ${n}` } as AnyRecord);
  };
  /** One more unit before all others, or one less: every slot moves. */
  const grown = (document: Document): Document => {
    const [unit] = units({ slug: 'a', profile: 'fernlight-plumlet', mode: '3ch', address: 100 });
    const next = new Map(document);
    if (!next.delete(unit!.id)) next.set(unit!.id, unit!);
    return next;
  };
  for (const [what, change] of [
    ['names', renamed],
    ['new units', grown],
  ] as const)
    for (const perSecond of [0, 1, 3, 8])
      test(`${perSecond} ${what} a second: no flash more`, () => {
        const lights = edited(perSecond, change);
        const { general } = flashRates(lights);
        assert.ok(general <= 3, `${general} flashes within a second`);
        assert.equal(flashRates(lights.slice(60)).general, 0);
      });

  test('other limits do not make it forget', () => {
    const { rig, at } = drawing(flashing(), { ...initialLive(0), playing: PLAYING });
    const guard = new FlashGuard(rig.arrays, SAFETY);
    for (let i = 0; i < 80; i++) at(i * 25, guard);
    guard.follow(rig.arrays, { ...SAFETY, flashesPerSecond: 2.5 });
    at(2000, guard);
    assert.ok(guard.holding);
  });
  test('a clock that is set back does not either', () => {
    const { rig, at } = drawing(flashing(), { ...initialLive(0), playing: PLAYING });
    const guard = new FlashGuard(rig.arrays, SAFETY);
    const lights = Array.from({ length: 160 }, (_, i) => first(at(100_000 + i * 25 - (i > 80 ? 60_000 : 0), guard)));
    assert.equal(flashRates(lights.slice(60)).general, 0);
  });
  test('nor does an hour', () => {
    const { rig, at } = drawing(flashing(), { ...initialLive(0), playing: PLAYING });
    const guard = new FlashGuard(rig.arrays, SAFETY);
    at(0, guard);
    const lights = Array.from({ length: 26 * 40 }, (_, i) => first(at(590_000 + i * 25, guard)));
    assert.equal(flashRates(lights.slice(60)).general, 0);
  });
  test('after a crash every lamp counts as having flashed', () => {
    const { rig, at } = drawing(flashing(), { ...initialLive(0), playing: PLAYING });
    const guard = new FlashGuard(rig.arrays, SAFETY);
    guard.suspect(0);
    assert.equal(flashRates(Array.from({ length: 80 }, (_, i) => first(at(i * 25, guard)))).general, 0);
  });
});

test('while it holds, Dark takes the light in its own time', () => {
  const show = flashing();
  const rig = compileRig(show);
  const guard = new FlashGuard(rig.arrays, SAFETY);
  const frame = makeFrame(rig.arrays);
  const at = (ms: number, more: Partial<LiveState>): number => {
    const live = prepareLive(
      rig,
      { ...initialLive(0), playing: PLAYING, ...more },
      (p) => compilePlay(rig, show, p),
      show,
    );
    return render(rig.arrays, live, ms, frame, guard)[0]!;
  };
  for (let ms = 0; ms < 4000; ms += 25) at(ms, {});
  const dark = { on: true, at: 4000, from: 1 };
  assert.ok(at(4000, { dark }) > 60, 'it is lit');
  for (let ms = 4025; ms < 4500; ms += 25) at(ms, { dark });
  assert.equal(at(4500, { dark }), 0);
});
