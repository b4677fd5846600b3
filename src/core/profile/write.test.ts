import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { make, type ProfileRecord } from '../records/index.ts';
import { footprintOf, profileFaults } from './layout.ts';
import { addChannels, byteName, channelNames, coarseOf, fillMode, FIRST, isUnwritten, joinFine } from './write.ts';

const fresh = make('profile', {
  id: 'profile:p',
  maker: 'M',
  model: 'N',
  fixtureKind: 'head',
  channels: [FIRST],
  modes: [{ key: 'a', name: 'A', slots: [{ channel: FIRST.key }] }],
});
const write = (names: string[], profile: ProfileRecord = fresh, apart = false): ProfileRecord => {
  const written = addChannels(profile, names, profile.modes[0]!.key, apart).profile;
  assert.deepEqual(profileFaults(written), []);
  return written;
};
const channels = (p: ProfileRecord): string[] => p.channels.map((c) => `${c.name} ${c.attribute} ${c.bits}`);
const slots = (p: ProfileRecord, mode = 0): string[] =>
  p.modes[mode]!.slots.map((s) => ('channel' in s ? `${s.channel}/${s.byte}` : '-'));

describe('names of bytes', () => {
  for (const name of [
    'Pan fine',
    'PAN FINE',
    'Pan (fine)',
    'pan LSB',
    'Pan 16 bit',
    'Pan 16-bit',
    'Pan low byte',
    'Fine pan',
    'pan_fine',
    'Pan, fine',
  ])
    test(name, () => {
      const { base, byte } = byteName(name);
      assert.deepEqual([base.toLowerCase(), byte], ['pan', 1]);
    });
  test('ultra fine and coarse', () => {
    assert.deepEqual(byteName('Pan ultra fine'), { base: 'Pan', byte: 2, said: true });
    assert.deepEqual(byteName('Tilt MSB'), { base: 'Tilt', byte: 0, said: true });
    assert.deepEqual(byteName('Fine frost speed'), { base: 'Frost speed', byte: 1, said: true });
    assert.deepEqual(byteName('Refined glow'), { base: 'Refined glow', byte: 0, said: false });
  });
});

describe('channels by their names', () => {
  test('the one nobody wrote goes, and fine ones make 16 bit where their line stands', () => {
    const p = write(['Pan', 'Tilt', 'Pan fine', 'Tilt fine', 'Dimmer']);
    assert.deepEqual(channels(p), ['Pan Pan 16', 'Tilt Tilt 16', 'Dimmer Dimmer 8']);
    assert.deepEqual(slots(p), ['Pan/0', 'Tilt/0', 'Pan/1', 'Tilt/1', 'Dimmer/0']);
  });
  test('coarse, fine and ultra fine are one channel of 24 bit', () => {
    const p = write(['Pan coarse', 'Pan fine', 'Pan ultra fine']);
    assert.deepEqual([channels(p), slots(p)], [['Pan Pan 24'], ['Pancoarse/0', 'Pancoarse/1', 'Pancoarse/2']]);
  });
  test('16 bit in the name alone is one channel of two slots; fine of nothing stays a channel', () => {
    assert.deepEqual(channels(write(['Zoom 16 bit', 'Frost fine'])), ['Zoom Zoom 16', 'Frost fine Frost1 8']);
  });
  test('apart: as somebody wants it who knows better', () =>
    assert.equal(write(['Pan', 'Pan fine'], fresh, true).channels.length, 2));
  test('numbered attributes count on', () =>
    assert.deepEqual(
      write(['Gobo', 'Gobo 2', 'Colour', 'Colour wheel']).channels.map((c) => c.attribute),
      ['Gobo1', 'Gobo2', 'Color1', 'Color2'],
    ));
  test('a written profile keeps what it has; the level is no stray', () => {
    const one = write(['Level']);
    assert.equal(isUnwritten(one), false);
    assert.deepEqual(channels(write(['Red'], one)), ['Level Dimmer 8', 'Red ColorAdd_R 8']);
  });
  test('a mode without the coarse slot takes no fine one', () => {
    const p = write(['Pan']);
    const two = { ...p, modes: [...p.modes, { key: 'b', name: 'B', slots: [{ unused: true as const }] }] };
    const { profile } = addChannels(two, ['Pan fine'], 'b');
    assert.deepEqual([profileFaults(profile), slots(profile, 1)], [[], ['-']]);
  });
});

test('a list that counts its slots loses the numbers', () =>
  assert.deepEqual(channelNames('1 Pan\n2 Pan fine\n3-4 Zoom'), ['Pan', 'Pan fine', 'Zoom']));
test('a pasted list of a manual: numbers, bullets and columns fall away', () =>
  assert.deepEqual(
    channelNames(
      '1 Pan\n2. Pan fine\r\nCH3: Tilt\n4\tTilt fine\t0-255\n5-6 Zoom\n\n• Dimmer\n16 bit focus\n3 facet prism',
    ),
    ['1 Pan', 'Pan fine', 'Tilt', 'Tilt fine', '5-6 Zoom', 'Dimmer', '16 bit focus', '3 facet prism'],
  ));

test('all that a mode does not have is put at its end', () => {
  const p = write(['Pan', 'Pan fine', 'Dimmer']);
  const short = { key: 's', name: 'S', slots: [{ channel: 'Dimmer', byte: 0 }] };
  const slotsOf = fillMode(p, short);
  assert.equal(footprintOf({ ...short, slots: slotsOf }), 3);
  assert.deepEqual(fillMode(p, { ...short, slots: slotsOf }), slotsOf);
});

test('two channels that were written apart are joined in every mode, and its own twin is found', () => {
  const p = write(['Pan', 'Pan fine', 'Tilt'], fresh, true);
  const fine = p.channels[1]!;
  assert.equal(coarseOf(p.channels, fine.name)?.name, 'Pan');
  const joined = joinFine(
    { ...p, modes: [...p.modes, { key: 'b', name: 'B', slots: [...p.modes[0]!.slots] }] },
    fine.key,
  );
  assert.deepEqual(profileFaults(joined), []);
  assert.deepEqual(channels(joined), ['Pan Pan 16', 'Tilt Tilt 8']);
  for (const mode of [0, 1]) assert.deepEqual(slots(joined, mode), ['Pan/0', 'Pan/1', 'Tilt/0']);
});
