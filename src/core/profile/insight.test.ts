import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { profileBySlug, scene, showWith, slotsAt, units } from '../../../tests/support/rig.ts';
import { applyChange } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import type { ProfileRecord } from '../records/index.ts';
import { compareModes } from '../patch/compare.ts';
import { homeless, impactOf, keptAside } from '../patch/impact.ts';
import { builtInProfiles } from './library.ts';
import { guessMood, moodChannels, moodsOf } from './moods.ts';
import { layoutOf } from '../patch/of-document.ts';
import { valueToFraction } from './layout.ts';

describe('modes side by side', () => {
  test('smallest first, with what each adds', () => {
    const { modes, rows } = compareModes(profileBySlug('fernlight-plumlet'));
    assert.deepEqual(
      modes.map((m) => `${m.name} ${m.footprint}`),
      ['3 channel 3', '4 channel 4', '7 channel 7'],
    );
    assert.deepEqual(modes[2]!.adds, ['Strobe', 'Colour program']);
    assert.deepEqual(
      rows.find((r) => r.words === 'Colour mixing')!.modes,
      [1, 2, 3].map(() => ({ bits: 8, cells: 0 })),
    );
    assert.equal(rows.find((r) => r.words === 'Strobe')!.differs, true);
    assert.equal(rows.find((r) => r.words === 'Colour mixing')!.differs, false);
  });
  test('fine channels and more cells count as something added', () => {
    assert.deepEqual(compareModes(profileBySlug('quillon-heron')).modes[1]!.adds, ['Level in 16 bit']);
    const wash = compareModes(profileBySlug('fernlight-dipper')).modes[1]!.adds;
    assert.deepEqual(wash, ['Pan in 16 bit', 'Tilt in 16 bit']);
    const strip = compareModes(profileBySlug('quillon-strip')).modes;
    assert.deepEqual(strip[1]!.adds, ['Colour mixing, each cell: 170 instead of 50']);
  });
  test('what a larger mode lacks is said as well', () => {
    const bar = compareModes(profileBySlug('quillon-stave16')).modes;
    const cells = bar.find((m) => m.footprint === 48)!;
    assert.ok(cells.lacks.includes('Strobe'));
    assert.ok(!cells.lacks.includes('Colour mixing'), 'every cell has it');
    assert.ok(cells.adds.includes('Colour mixing, each cell'));
  });
});

describe('moods', () => {
  test('turning starts at rest and gets faster', () => {
    const channel = profileBySlug('marrow-whirligig').channels.find((c) => c.key === 'turn')!;
    assert.deepEqual(guessMood(channel), [
      { range: 'Stop', at: 0.5 },
      ...[0.2, 0.45, 0.75, 1].map((at) => ({ range: 'Forward slow to fast', at })),
    ]);
  });
  test('no mood that is guessed closes a shutter, in any profile of the library', () => {
    for (const profile of builtInProfiles())
      for (const { channel, row, guessed } of moodsOf(profile))
        for (const value of guessed ? (row ?? []) : []) {
          const range = channel.ranges.find(
            ({ name }) => typeof value === 'object' && value !== null && 'range' in value && value.range === name,
          );
          assert.notEqual(range?.light, 'closed', `${profile.model}, ${channel.attribute}: ${range?.name}`);
        }
  });
  test('a range that begins fast is run backwards', () => {
    const channel = profileBySlug('marrow-whirligig').channels.find((c) => c.key === 'turn')!;
    const turned = {
      ...channel,
      ranges: [{ from: 0, to: 255, name: 'Fast to slow', physical: { from: 30, to: 1, unit: 'rpm' as const } }],
    };
    assert.deepEqual(
      guessMood(turned)!.slice(1),
      [0.8, 0.55, 0.25, 0].map((at) => ({ range: 'Fast to slow', at })),
    );
  });
  test('a strobe waits for the peak', () => {
    const channel = profileBySlug('fernlight-plumlet').channels.find((c) => c.attribute === 'Shutter1')!;
    const row = guessMood(channel)!;
    assert.equal(new Set(row.slice(0, 4).map((v) => (v as { range: string }).range)).size, 1);
    assert.equal((row[4] as { range: string }).range, 'Strobe slow to fast');
  });
  test('ordinary channels have none', () => {
    const par = profileBySlug('fernlight-plumlet');
    assert.ok(!moodChannels(par).some((c) => c.attribute.startsWith('ColorAdd') || c.attribute === 'Dimmer'));
    assert.equal(guessMood(par.channels.find((c) => c.attribute === 'Dimmer')!), null);
  });
  test('every guess of the whole library can be sent by its channel', () => {
    for (const profile of builtInProfiles())
      for (const { channel, row } of moodsOf(profile))
        for (const value of row ?? [])
          if (value !== null)
            assert.notEqual(valueToFraction(channel, value), null, `${profile.model} ${channel.name}`);
  });
  test('what somebody wrote is kept', () => {
    const profile = { ...profileBySlug('marrow-whirligig'), moods: { turn: [null, null, null, null, 1] } };
    const row = moodsOf(profile).find((m) => m.channel.key === 'turn')!;
    assert.deepEqual([row.row, row.guessed], [[null, null, null, null, 1], false]);
  });
});

describe('changing a profile that is used', () => {
  const rig = units({ slug: 'h', profile: 'quillon-heron', mode: '16ch', address: 1 });
  const show = showWith(
    ...rig,
    scene('s', { h: { Dimmer: 1, Gobo1: { range: 'Kites', at: 0 }, Pan: 0.5 } }),
    scene('t', { h: { Dimmer: 0.5 } }),
  );
  const profile = profileBySlug('quillon-heron');
  const withoutKites: ProfileRecord = {
    ...profile,
    channels: profile.channels.map((c) => ({ ...c, ranges: c.ranges.filter((r) => r.name !== 'Kites') })),
  };
  const longer: ProfileRecord = {
    ...profile,
    modes: profile.modes.map((m) => ({ ...m, slots: [{ unused: true as const }, ...m.slots] })),
  };

  test('that changes nothing has no impact', () => {
    const { units: touched, scenes } = impactOf(show, profile);
    assert.deepEqual(
      [touched.length, touched[0]!.footprintBefore, touched[0]!.footprintAfter, scenes],
      [1, 16, 16, []],
    );
  });
  test('lists the values that lose their home, keeps them, and sends them again when it is back', () => {
    const [impact] = impactOf(show, withoutKites).scenes;
    assert.deepEqual(impact?.lost, [{ unit: 'Unit h', key: 'Gobo1', words: 'Gobo', why: 'there is no range “Kites”' }]);
    const after = applyChange(show, { put: [withoutKites], remove: [] });
    assert.deepEqual(changeFaults(show, { put: [withoutKites], remove: [] }), []);
    assert.deepEqual(keptAside(after), [
      { scene: 's', unit: 'Unit h', key: 'Gobo1', why: 'there is no range “Kites”' },
    ]);
    assert.equal(impactOf(after, profile).scenes[0]!.regained, 1);
    const back = applyChange(after, { put: [profile], remove: [] });
    assert.deepEqual(slotsAt(back, { play: ['scene:s'] }), slotsAt(show, { play: ['scene:s'] }));
    assert.deepEqual(keptAside(back), []);
  });
  test('programming by attribute goes with the attribute to its new slot', () => {
    const after = applyChange(show, { put: [longer], remove: [] });
    assert.deepEqual(
      [...slotsAt(after, { play: ['scene:s'] }).subarray(1, 17)],
      [...slotsAt(show, { play: ['scene:s'] }).subarray(0, 16)],
    );
    assert.equal(impactOf(show, longer).units[0]!.footprintAfter, 17);
  });
  test('a mode that is gone is named', () => {
    const fewer = { ...profile, modes: profile.modes.filter((m) => m.key !== '16ch') };
    assert.equal(impactOf(show, fewer).units[0]!.modeGone, true);
  });
  test('why a value has no home', () => {
    const layout = layoutOf(profileBySlug('quillon-stave16'), '48ch');
    assert.equal(homeless(layout, 'ColorRGB_Red#16', 1), null);
    assert.match(homeless(layout, 'ColorRGB_Red#17', 1)!, /cell 17/);
    assert.match(homeless(layout, 'Pan', 1)!, /no such attribute/);
  });
});
