import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { profileBySlug } from '../../../tests/support/rig.ts';
import { layoutOf } from '../patch/of-document.ts';
import { make, type ProfileRecord } from '../records/index.ts';
import { FIXTURE_KINDS } from '../records/profile.ts';
import { ATTRIBUTE_PATTERNS, attributeInfo, attributeKey, isAttribute, splitAttributeKey } from '../attributes.ts';
import {
  footprintOf,
  fractionToValue,
  fullScale,
  hasAttribute,
  highlightFraction,
  homeFraction,
  layoutMode,
  physicalOf,
  profileFaults,
  valueToFraction,
} from './layout.ts';
import { builtInProfiles } from './library.ts';

const layout = (slug: string, mode: string) => layoutOf(profileBySlug(slug), mode);
const names = (slug: string, mode: string): string[] =>
  layout(slug, mode).programmable.map((p) => (p.cells > 0 ? `${p.attribute}x${p.cells}` : p.attribute));

describe('attributes', () => {
  test('are known in people’s words', () => {
    assert.equal(attributeInfo('Dimmer')?.words, 'Level');
    assert.equal(attributeInfo('Gobo2')?.words, 'Gobo 2');
    assert.equal(attributeInfo('Gobo1')?.words, 'Gobo');
    assert.equal(attributeInfo('Effects1Adjust2')?.words, 'Effect 1 adjustment 2');
    assert.deepEqual(
      ATTRIBUTE_PATTERNS.filter((p) => p.words.trim() === '').map((p) => p.pattern),
      [],
    );
  });
  test('only levels merge highest-takes-precedence', () => {
    assert.equal(attributeInfo('Dimmer')?.merge, 'htp');
    for (const name of ['ColorAdd_R', 'Pan', 'Shutter1', 'Gobo1']) assert.equal(attributeInfo(name)?.merge, 'ltp');
  });
  test('that nobody knows are refused, however written', () => {
    for (const name of ['', 'dimmer', 'Gobo', 'Gobo0', 'Gobo1x', 'Gobo100', 'constructor', ' Dimmer'])
      assert.equal(isAttribute(name), false, name);
  });
  test('a key of a cell is taken apart and put together', () => {
    assert.deepEqual(splitAttributeKey('Dimmer#16'), { attribute: 'Dimmer', cell: 16 });
    assert.deepEqual(splitAttributeKey('Dimmer'), { attribute: 'Dimmer', cell: 0 });
    assert.equal(attributeKey('Dimmer', 3), 'Dimmer#3');
  });
});

describe('layout of a mode', () => {
  test('16-bit channels take two slots, coarse first', () => {
    const { channels, footprint } = layout('quillon-heron', '16ch');
    assert.equal(footprint, 16);
    const at = (attribute: string) => channels.find((c) => c.channel.attribute === attribute)?.offsets;
    assert.deepEqual(
      [at('Pan'), at('Tilt'), at('Dimmer')],
      [
        [0, 1],
        [2, 3],
        [6, 7],
      ],
    );
  });
  test('a short mode of the same channels moves what comes after', () => {
    const { channels } = layout('quillon-heron', '14ch');
    assert.deepEqual(channels.find((c) => c.channel.attribute === 'Dimmer')?.offsets, [6]);
  });
  test('cells repeat their block', () => {
    const { channels, cells, cellFootprint, footprint } = layout('quillon-stave16', '50ch');
    assert.deepEqual([cells, cellFootprint, footprint], [16, 3, 50]);
    const last = channels.filter((c) => c.cell === 16).map((c) => c.offsets[0]);
    assert.deepEqual(last, [47, 48, 49]);
  });
  test('mixed colour stands for emitters and for filters; level is made up where there is none', () => {
    assert.deepEqual(names('fernlight-plumlet', '3ch'), ['Dimmer', 'ColorRGB_Red', 'ColorRGB_Green', 'ColorRGB_Blue']);
    assert.equal(layout('fernlight-plumlet', '3ch').virtualDimmer, true);
    assert.equal(layout('fernlight-plumlet', '4ch').virtualDimmer, false);
    assert.deepEqual(names('quillon-stave16', '48ch'), [
      'Dimmer',
      'ColorRGB_Redx16',
      'ColorRGB_Greenx16',
      'ColorRGB_Bluex16',
    ]);
    assert.deepEqual(names('low-harbour-pack4', '4ch'), ['Dimmerx4']);
  });
  test('other emitters stay their own', () => {
    const found = names('tansy-sixfold12', '6ch');
    for (const name of ['ColorAdd_W', 'ColorAdd_RY', 'ColorAdd_UV']) assert.ok(found.includes(name), name);
    assert.ok(hasAttribute(layout('tansy-sixfold12', '6ch'), 'ColorAdd_UV#1'));
    assert.ok(!hasAttribute(layout('tansy-sixfold12', '6ch'), 'Pan'));
  });
  test('an unknown mode is empty rather than an exception', () => {
    assert.equal(layoutOf(profileBySlug('generic-dimmer'), 'none').footprint, 0);
    assert.equal(layoutOf(undefined, 'none').footprint, 0);
  });
});

describe('values', () => {
  const gobo = profileBySlug('quillon-heron').channels.find((c) => c.attribute === 'Gobo1')!;
  const dimmer = profileBySlug('quillon-heron').channels.find((c) => c.attribute === 'Dimmer')!;

  test('a place in a range reaches from its first raw value to its last', () => {
    assert.equal(valueToFraction(gobo, { range: 'Kites', at: 0 })! * 255, 48);
    assert.equal(valueToFraction(gobo, { range: 'Kites', at: 1 })! * 255, 63);
    assert.equal(valueToFraction(gobo, { range: 'Nowhere', at: 0 }), null);
    assert.equal(valueToFraction(null, { range: 'Kites', at: 0 }), null);
    assert.equal(valueToFraction(gobo, 2), 1);
  });
  test('in 16 bit a range takes all the fine values of its last coarse one', () => {
    const wide = {
      ...dimmer,
      ranges: [
        { from: 0, to: 127, name: 'Low' },
        { from: 128, to: 255, name: 'High' },
      ],
    };
    assert.equal(Math.round(valueToFraction(wide, { range: 'Low', at: 1 })! * 65535), 128 * 256 - 1);
    assert.equal(Math.round(valueToFraction(wide, { range: 'High', at: 0 })! * 65535), 128 * 256);
  });
  test('go from fraction to range and back without moving a raw step', () => {
    for (const profile of builtInProfiles())
      for (const channel of profile.channels) {
        const full = fullScale(channel.bits);
        fc.assert(
          fc.property(fc.integer({ min: 0, max: full }), (raw) => {
            const back = valueToFraction(channel, fractionToValue(channel, raw / full));
            assert.equal(Math.round(back! * full), raw);
          }),
          { numRuns: 25 },
        );
      }
  });
  test('say what they do in the world', () => {
    const strobe = profileBySlug('fernlight-plumlet').channels.find((c) => c.attribute === 'Shutter1')!;
    assert.deepEqual(physicalOf(strobe, 1), { value: 20, unit: 'hz' });
    assert.deepEqual(physicalOf(strobe, 8 / 255), { value: 0.5, unit: 'hz' });
    assert.equal(physicalOf(strobe, 0), null);
  });
  test('rest and "light it"', () => {
    const items = layout('quillon-heron', '16ch').programmable;
    const of = (attribute: string) => items.find((p) => p.attribute === attribute)!;
    assert.equal(homeFraction(of('Dimmer')), 0);
    assert.equal(highlightFraction(of('Dimmer')), 1);
    const shutter = of('Shutter1');
    const open = fractionToValue(shutter.channel, highlightFraction(shutter));
    assert.ok(typeof open === 'object');
    assert.equal(shutter.channel?.ranges.find((r) => r.name === open.range)?.light, 'open');
    const [level, red] = layout('fernlight-plumlet', '3ch').programmable;
    assert.deepEqual([homeFraction(level!), homeFraction(red!)], [0, 1]);
  });
});

describe('faults of a profile', () => {
  const profile = (over: Partial<Parameters<typeof make<'profile'>>[1]>): ProfileRecord =>
    make('profile', {
      id: 'profile:t',
      maker: 'Maker',
      model: 'Model',
      fixtureKind: 'other',
      channels: [{ key: 'a', name: 'A', attribute: 'Dimmer', bits: 16 }],
      modes: [{ key: 'm', name: 'M', slots: [{ channel: 'a' }] }],
      ...over,
    });
  const range = (from: number, to: number, name: string) => ({ from, to, name });
  const channels = (...ranges: ReturnType<typeof range>[]) => ({
    channels: [{ key: 'a', name: 'A', attribute: 'Gobo1', ranges }],
  });
  const cases: [title: string, over: Parameters<typeof profile>[0], code: string | null][] = [
    ['none in a sound one', {}, null],
    [
      'two channels of one key',
      { channels: ['a', 'a'].map((key) => ({ key, name: 'A', attribute: 'Dimmer' })) },
      'CHANNEL_TWICE',
    ],
    [
      'two modes of one key',
      { modes: [1, 2].map(() => ({ key: 'm', name: 'M', slots: [{ channel: 'a' }] })) },
      'MODE_TWICE',
    ],
    ['a channel nobody wrote', { modes: [{ key: 'm', name: 'M', slots: [{ channel: 'z' }] }] }, 'UNKNOWN_CHANNEL'],
    [
      'a third byte of 16 bits',
      { modes: [{ key: 'm', name: 'M', slots: [{ channel: 'a' }, { channel: 'a', byte: 2 }] }] },
      'NO_SUCH_BYTE',
    ],
    [
      'one slot twice',
      { modes: [{ key: 'm', name: 'M', slots: [{ channel: 'a' }, { channel: 'a' }] }] },
      'CHANNEL_REUSED',
    ],
    [
      'fine without coarse',
      { modes: [{ key: 'm', name: 'M', slots: [{ channel: 'a', byte: 1 }] }] },
      'FINE_WITHOUT_COARSE',
    ],
    [
      '513 slots',
      { modes: [{ key: 'm', name: 'M', slots: [{ cells: 513, slots: [{ channel: 'a' }] }] }] },
      'MODE_TOO_LONG',
    ],
    [
      '513 slots that flow on',
      { flow: true, modes: [{ key: 'm', name: 'M', slots: [{ cells: 513, slots: [{ channel: 'a' }] }] }] },
      null,
    ],
    [
      'a rest value past its bits',
      { channels: [{ key: 'a', name: 'A', attribute: 'Dimmer', home: 256 }] },
      'VALUE_TOO_HIGH',
    ],
    ['a range that runs backwards', channels(range(9, 3, 'X')), 'RANGE_BACKWARDS'],
    ['ranges that overlap', channels(range(0, 10, 'X'), range(10, 20, 'Y')), 'RANGE_OVERLAP'],
    ['a range name used twice', channels(range(0, 9, 'X'), range(10, 20, 'X')), 'RANGE_TWICE'],
  ];
  for (const [title, over, code] of cases)
    test(title, () => {
      const found = profileFaults(profile(over)).map((f) => f.code);
      assert.deepEqual(found.slice(0, 1), code === null ? [] : [code]);
    });

  test('never an exception in laying out, whatever the slots', () => {
    const slot = fc.oneof(
      fc.record({ channel: fc.constantFrom('a', 'b', 'z'), byte: fc.integer({ min: 0, max: 2 }) }),
      fc.constant({ unused: true as const }),
      fc.record({
        cells: fc.integer({ min: 1, max: 20 }),
        firstCell: fc.integer({ min: 1, max: 9 }),
        slots: fc.array(fc.record({ channel: fc.constantFrom('a', 'z'), byte: fc.integer({ min: 0, max: 2 }) }), {
          minLength: 1,
          maxLength: 4,
        }),
      }),
    );
    fc.assert(
      fc.property(fc.array(slot, { minLength: 1, maxLength: 12 }), (slots) => {
        const odd = profile({ modes: [{ key: 'm', name: 'M', slots }] });
        profileFaults(odd);
        const laid = layoutMode(odd, odd.modes[0]!);
        assert.equal(laid.footprint, footprintOf(odd.modes[0]!));
        for (const { offsets } of laid.channels) for (const o of offsets) assert.ok(o >= 0 && o < laid.footprint);
      }),
    );
  });
});

describe('the built-in library', () => {
  const library = builtInProfiles();
  test('is sound, of different ids and of at least ninety profiles', () => {
    assert.ok(library.length >= 90, `${library.length}`);
    assert.equal(new Set(library.map((p) => p.id)).size, library.length);
    assert.equal(new Set(library.map((p) => `${p.maker} ${p.model}`)).size, library.length);
    assert.deepEqual(library.flatMap(profileFaults), []);
  });
  test('holds every kind of fixture there is', () => {
    const kinds = new Set(library.map((p) => p.fixtureKind));
    for (const kind of FIXTURE_KINDS) assert.ok(kinds.has(kind), kind);
  });
  test('a mode that says its channel count in its key has that many', () => {
    for (const profile of library)
      for (const mode of profile.modes) {
        const said = /^(\d+)ch$/.exec(mode.key)?.[1];
        if (said) assert.equal(footprintOf(mode), Number(said), `${profile.model} ${mode.name}`);
      }
  });
  test('names every range, and leaves no channel out of all modes', () => {
    for (const profile of library)
      for (const channel of profile.channels) {
        assert.ok(
          profile.modes.some((m) => layoutMode(profile, m).channels.some((c) => c.channel === channel)),
          `${profile.model}: ${channel.name} is in no mode`,
        );
        if (channel.snap)
          assert.ok(channel.ranges.length > 0, `${profile.model}: ${channel.name} jumps but has no ranges`);
      }
  });
  test('has half colours, several wheels, prisms, moving cells and endless turning', () => {
    const all = library.flatMap((p) => p.channels);
    assert.ok(all.some((c) => c.ranges.some((r) => r.colour2)));
    for (const attribute of ['Gobo2', 'Prism2', 'PanRotate', 'ColorSub_C', 'CTO', 'Iris', 'Frost1', 'AnimationWheel1'])
      assert.ok(
        all.some((c) => c.attribute === attribute),
        attribute,
      );
  });
  test('says the power of everything', () => {
    for (const profile of library) assert.ok((profile.physical.powerW ?? 0) > 0, profile.model);
  });
});

describe('light it', () => {
  const wheel = (attribute: string, home: number, names: readonly string[], fields: object = {}) => {
    const ranges = names.map((name, i) => ({ from: i * 20, to: i * 20 + 19, name, ...fields }));
    const profile = make('profile', {
      id: 'profile:wheel',
      maker: 'Tansy Works',
      model: 'Wheel',
      fixtureKind: 'head',
      channels: [{ key: 'wheel', name: 'Wheel', attribute, home, ranges }],
      modes: [{ key: 'm', name: 'M', slots: [{ channel: 'wheel' }] }],
    });
    const item = layoutMode(profile, profile.modes[0]!).programmable.find((p) => p.attribute === attribute)!;
    return Math.floor(highlightFraction(item) * 255);
  };
  test('turns a wheel that rests in a colour or a picture to its open slot', () => {
    const value = wheel('Color1', 5, ['Fern', 'White', 'Gorse']);
    assert.ok(value >= 20 && value <= 39, String(value));
    const gobo = wheel('Gobo1', 5, ['Leaf', 'Web', 'Open']);
    assert.ok(gobo >= 40 && gobo <= 59, String(gobo));
  });
  test('leaves a wheel where it is when it rests open, and one that says nothing at rest', () => {
    assert.ok(wheel('Color1', 45, ['Fern', 'White', 'Open']) >= 40);
    assert.equal(wheel('Gobo1', 25, ['Leaf', 'Web']), 25);
  });
});
