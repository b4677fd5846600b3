import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, drawing, scene, showWith, slotsAt, units } from '../../../../tests/support/rig.ts';
import { initialLive, newPlay } from '../index.ts';

const dimmers = units(
  { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
  { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2 },
);
const first = (slots: Uint8Array, count: number): number[] => [...slots.subarray(0, count)];

describe('merging levels', () => {
  const show = showWith(
    ...dimmers,
    scene('low', { a: { Dimmer: 0.2 } }),
    scene('high', { a: { Dimmer: 0.8 } }),
    scene('over', { a: { Dimmer: 0.4 } }, { priority: 150 }),
    scene('off', { a: { Dimmer: 0 } }, { priority: 150 }),
    scene('slow', { a: { Dimmer: 1 } }, { fadeInMs: 1000 }),
  );
  const a = (...play: `scene:${string}`[]): number => slotsAt(show, { play, at: 500 })[0]!;

  test('nothing plays: at rest', () => assert.equal(a(), 0));
  test('the highest takes precedence, in whatever order they start', () => {
    assert.equal(a('scene:low', 'scene:high'), 204);
    assert.equal(a('scene:high', 'scene:low'), 204);
  });
  test('a higher priority wins over a higher level', () => assert.equal(a('scene:over', 'scene:high'), 102));
  test('a higher priority at nothing holds it dark', () => assert.equal(a('scene:high', 'scene:off'), 0));
  test('half through a fade in is half way', () => assert.equal(a('scene:slow'), 128));
  test('a fade in under a higher level does not show', () => assert.equal(a('scene:high', 'scene:slow'), 204));
  test('the hand is above every priority', () => {
    const slots = slotsAt(show, { play: ['scene:over'], live: { hand: { 'unit:a': { Dimmer: 0.1 } } } });
    assert.equal(slots[0], 26);
  });
  test('identify is above the hand', () => {
    const live = { hand: { 'unit:a': { Dimmer: 0.1 } }, identify: ['unit:a' as const] };
    assert.deepEqual(first(slotsAt(show, { live }), 2), [255, 0]);
  });
});

describe('masters', () => {
  const rig = units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
    { slug: 'rgb', profile: 'fernlight-plumlet', mode: '3ch', address: 2 },
    { slug: 'par', profile: 'fernlight-plumlet', mode: '7ch', address: 5 },
    { slug: 'scan', profile: 'tansy-flitter', mode: '5ch', address: 20 },
    { slug: 'haze', profile: 'marrow-millmist', mode: '2ch', address: 30 },
  );
  const show = showWith(
    ...rig,
    scene('all', {
      a: { Dimmer: 1 },
      rgb: { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 0.5, ColorRGB_Blue: 0 },
      par: { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 },
      scan: { Pan: 0.5, Shutter1: { range: 'Open', at: 0 } },
      haze: { Haze1: 1 },
    }),
  );
  const at = (grand: number, dark = false): Uint8Array =>
    slotsAt(show, {
      play: ['scene:all'],
      at: 5000,
      live: { grand, dark: { on: dark, at: 0, from: dark ? 1 : 0 } },
    });

  test('the grand master scales levels and made-up levels, not colour and aim', () => {
    const [full, half] = [at(1), at(0.5)];
    assert.deepEqual(first(full, 4), [255, 255, 128, 0]);
    assert.deepEqual(first(half, 4), [128, 128, 64, 0]);
    assert.deepEqual([half[4], half[5]], [128, 255]);
    assert.equal(half[19], full[19]);
  });
  test('Dark takes everything down, closes shutters of units without a level, and leaves haze alone', () => {
    const [full, dark] = [at(1), at(1, true)];
    assert.deepEqual(first(dark, 5), [0, 0, 0, 0, 0]);
    assert.equal(dark[19], full[19]);
    const shutter = show.get('profile:tansy-flitter');
    assert.ok(shutter?.kind === 'profile');
    const ranges = shutter.channels.find((c) => c.attribute === 'Shutter1')!.ranges;
    const light = (value: number) => ranges.find((r) => value >= r.from && value <= r.to)?.light;
    assert.equal(light(full[23]!), 'open');
    assert.equal(light(dark[23]!), 'closed');
    assert.equal(dark[29], 255);
  });
  test('going dark takes half a second', () => {
    const level = (ms: number): number =>
      slotsAt(show, { play: ['scene:all'], at: 1000 + ms, live: { dark: { on: true, at: 1000, from: 1 } } })[0]!;
    assert.deepEqual([0, 250, 500, 900].map(level), [255, 128, 0, 0]);
  });
});

describe('encoding', () => {
  test('16 bit: coarse and fine, rounded to the whole value', () => {
    const rig = units({ slug: 'h', profile: 'quillon-heron', mode: '16ch', address: 1 });
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 65535 }), (raw) => {
        const show = showWith(...rig, scene('s', { h: { Pan: raw / 65535 } }));
        const [coarse, fine] = slotsAt(show, { play: ['scene:s'] });
        assert.equal(coarse! * 256 + fine!, raw);
      }),
      { numRuns: 60 },
    );
  });
  test('a 16-bit level in a mode with one slot for it uses the coarse one', () => {
    const rig = units({ slug: 'h', profile: 'quillon-heron', mode: '14ch', address: 1 });
    assert.equal(slotsAt(showWith(...rig, scene('s', { h: { Dimmer: 0.5 } })), { play: ['scene:s'] })[6], 128);
  });
  test('inverted pan runs the other way', () => {
    const rig = units({ slug: 'h', profile: 'quillon-heron', mode: '16ch', address: 1, fields: { invertPan: true } });
    const slots = slotsAt(showWith(...rig, scene('s', { h: { Pan: 0, Tilt: 0 } })), { play: ['scene:s'] });
    assert.deepEqual(first(slots, 4), [255, 255, 0, 0]);
  });
  test('RGBW: what is common to the three goes to white, an own white on top if it is more', () => {
    const rig = units({ slug: 'q', profile: 'fernlight-brambleq', mode: '5ch', address: 1 });
    const colour = { Dimmer: 1, ColorRGB_Red: 1, ColorRGB_Green: 0.4, ColorRGB_Blue: 0.6 };
    const show = showWith(...rig, scene('mix', { q: colour }), scene('own', { q: { ...colour, ColorAdd_W: 0.8 } }));
    assert.deepEqual(first(slotsAt(show, { play: ['scene:mix'] }), 5), [255, 153, 0, 51, 102]);
    assert.deepEqual(first(slotsAt(show, { play: ['scene:own'] }), 5), [255, 153, 0, 51, 204]);
  });
  test('cells: a value for the whole unit reaches all, one for a cell lies over it', () => {
    const rig = units({ slug: 'bar', profile: 'quillon-stave16', mode: '50ch', address: 1 });
    const red = { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 };
    const show = showWith(...rig, scene('s', { bar: { ...red, 'ColorRGB_Green#2': 1, 'ColorRGB_Red#2': 0 } }));
    assert.deepEqual(first(slotsAt(show, { play: ['scene:s'] }), 11), [0, 0, 255, 0, 0, 0, 255, 0, 255, 0, 0]);
  });
  test('pixels flow into the next universe', () => {
    const rig = units({ slug: 'p', profile: 'quillon-strip', mode: '300px', address: 1 });
    const show = showWith(...rig, scene('s', { p: { Dimmer: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 } }));
    const [one, two] = [slotsAt(show, { play: ['scene:s'] }), slotsAt(show, { play: ['scene:s'], universe: 2 })];
    assert.deepEqual([one[510], one[511], two[0], two[1], two[387], two[388]], [255, 0, 0, 255, 0, 0]);
  });
  test('slots past the end of a universe are left out', () => {
    const rig = units({ slug: 'q', profile: 'fernlight-brambleq', mode: '5ch', address: 510 });
    const slots = slotsAt(showWith(...rig, scene('s', { q: { Dimmer: 1 } })), { play: ['scene:s'] });
    assert.deepEqual([...slots.subarray(509)], [255, 0, 0]);
  });
  test('wheels jump at the start of a fade, levels and aims glide', () => {
    const rig = units({ slug: 'h', profile: 'quillon-heron', mode: '16ch', address: 1 });
    const values = { h: { Dimmer: 1, Tilt: 1, Gobo1: { range: 'Kites', at: 0 } } };
    const slots = slotsAt(showWith(...rig, scene('s', values, { fadeInMs: 1000 })), { play: ['scene:s'], at: 250 });
    assert.equal(slots[6]! * 256 + slots[7]!, 16384);
    assert.ok([...slots].includes(48));
    const tilt = slots[2]! * 256 + slots[3]!;
    assert.ok(tilt > 32768 && tilt < 65535, `tilt ${tilt}`);
  });
  test('a value without a home here is passed over and everything else stays', () => {
    const show = showWith(...dimmers, scene('s', { a: { Dimmer: 0.5, Pan: 1, Gobo1: { range: 'No such', at: 0 } } }));
    assert.deepEqual(first(slotsAt(show, { play: ['scene:s'] }), 3), [128, 0, 0]);
  });
});

describe('chases play', () => {
  const show = showWith(
    ...dimmers,
    scene('one', { a: { Dimmer: 1 } }),
    scene('two', { b: { Dimmer: 1 } }),
    chase('walk', ['one', 'two'], { fade: 1, hold: 1 }),
  );
  const at = (seconds: number): number[] => first(slotsAt(show, { play: ['chase:walk'], at: seconds * 1000 }), 2);
  test('fading out of one step while fading into the next', () => {
    assert.deepEqual(at(0.5), [128, 0]);
    assert.deepEqual(at(1.5), [255, 0]);
    assert.deepEqual(at(2.5), [128, 128]);
    assert.deepEqual(at(3.5), [0, 255]);
    assert.deepEqual(at(4.5), [128, 128]);
  });
  test('the same moment gives the same bytes in whatever order moments are asked for', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 8 }), (moments) => {
        const playing = [newPlay({ id: 'p', target: 'chase:walk', startedAt: 0 })];
        const { at } = drawing(show, { ...initialLive(0), playing });
        const once = moments.map((ms) => at(ms).slice());
        const again = [...moments].reverse().map((ms) => at(ms).slice());
        assert.deepEqual(again.reverse(), once);
      }),
      { numRuns: 30 },
    );
  });
});

test('where two units share a slot, the one with the higher number is sent', () => {
  const rig = units(
    { slug: 'low', profile: 'generic-dimmer', mode: '1ch', address: 9 },
    { slug: 'high', profile: 'generic-dimmer', mode: '1ch', address: 9 },
  );
  const show = showWith(...rig, scene('s', { low: { Dimmer: 1 }, high: { Dimmer: 0.2 } }));
  assert.equal(slotsAt(show, { play: ['scene:s'] })[8], 51);
});

describe('a probe', () => {
  const probe = (values: number[], address = 3, universe = 1) => ({ live: { probe: { universe, address, values } } });
  test('lies over everything that is sent, and nowhere else; masters hold for it too', () => {
    const show = showWith(...dimmers);
    assert.deepEqual(first(slotsAt(show, probe([9, 8])), 5), [0, 0, 9, 8, 0]);
    const live = { ...probe([70], 1).live, identify: ['unit:a' as const] };
    assert.deepEqual(first(slotsAt(show, { live }), 2), [70, 0]);
    assert.deepEqual(first(slotsAt(show, { live: { ...live, grand: 0.5 } }), 2), [35, 0]);
    const dark = { ...live, dark: { on: true, at: 0, from: 0 } };
    assert.deepEqual(first(slotsAt(show, { live: dark, at: 9000 }), 2), [0, 0]);
  });
  test('past the end of its universe is cut, in an unknown universe it is nothing', () => {
    const show = showWith(...dimmers);
    assert.deepEqual([...slotsAt(show, probe([1, 2, 3, 4], 511)).subarray(509)], [0, 1, 2]);
    assert.ok(slotsAt(show, probe([1], 1, 9)).every((v) => v === 0));
  });
});
