import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import fc from 'fast-check';
import { profileBySlug } from '../../../../tests/support/rig.ts';
import { zeroBomb } from '../../../../tests/support/zip.ts';
import { footprintOf } from '../../profile/layout.ts';
import { builtInProfiles } from '../../profile/library.ts';
import type { ProfileRecord } from '../../records/index.ts';
import { fromCie, toCie } from './colour.ts';
import { readGdtf } from './read.ts';
import { flatten, gather } from './slots.ts';
import { writeGdtf } from './write.ts';

const newId = () => 'profile:fresh' as const;
const read = (bytes: Uint8Array) => readGdtf(bytes, newId);
const codes = (bytes: Uint8Array): string[] => read(bytes).faults.map((f) => f.code);
const one = (bytes: Uint8Array): ProfileRecord => {
  const { profiles, faults } = read(bytes);
  assert.deepEqual(faults, []);
  assert.equal(profiles.length, 1);
  return profiles[0]!;
};
/** A file as another program would write it: the description alone. */
const foreign = (xml: string, more: Record<string, Uint8Array> = {}): Uint8Array =>
  zipSync({ 'description.xml': strToU8(xml), ...more });
const PNG = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
  (c) => c.charCodeAt(0),
);

const channel = (offset: string, attribute: string, inside = '', more = 'Geometry="Body"'): string =>
  `<DMXChannel DMXBreak="1" Offset="${offset}" Highlight="None" ${more}><LogicalChannel Attribute="${attribute}" Snap="No" Master="None">${inside || `<ChannelFunction Name="${attribute}" Attribute="${attribute}" DMXFrom="0/1" Default="0/1"/>`}</LogicalChannel></DMXChannel>`;
const description = (
  modes: string,
  parts: { geometries?: string; wheels?: string; version?: string; attributes?: string } = {},
): string =>
  `<?xml version="1.0"?><GDTF DataVersion="${parts.version ?? '1.1'}"><FixtureType Name="Sample" Manufacturer="Somebody &amp; Co" Description="">
  <AttributeDefinitions><Attributes>${parts.attributes ?? ''}</Attributes></AttributeDefinitions>
  <Wheels>${parts.wheels ?? ''}</Wheels><PhysicalDescriptions><Properties><Weight Value="3.5"/></Properties></PhysicalDescriptions>
  <Models><Model Name="M" Length="0.2" Width="0.3" Height="0.4"/></Models>
  <Geometries><Geometry Name="Body" Model="M"><Beam Name="B" PowerConsumption="120" BeamAngle="18"/>${parts.geometries ?? ''}</Geometry></Geometries>
  <DMXModes>${modes}</DMXModes></FixtureType></GDTF>`;
const mode = (name: string, ...channels: string[]): string =>
  `<DMXMode Name="${name}" Geometry="Body"><DMXChannels>${channels.join('')}</DMXChannels></DMXMode>`;

describe('a profile as GDTF', () => {
  test('comes back exactly as it was, for the whole library', () => {
    for (const profile of builtInProfiles()) {
      const back = one(writeGdtf(profile));
      assert.deepEqual(back, profile, profile.id);
    }
  });
  test('holds everything else as well: pictures, moods, notes with odd characters, channels in no mode', () => {
    const base = profileBySlug('quillon-heron');
    const profile: ProfileRecord = {
      ...base,
      notes: 'A <b> & "c"\n\tline two 🪁',
      author: 'Ana & Bo',
      revision: 7,
      pictures: { logo: `data:image/png;base64,${btoa(String.fromCharCode(...PNG))}` },
      moods: { gobo: [null, null, { range: 'Kites', at: 0.5 }, null, null] },
      channels: [
        ...base.channels.map((c) =>
          c.attribute === 'Gobo1'
            ? { ...c, ranges: c.ranges.map((r) => (r.name === 'Reeds' ? { ...r, picture: 'own:logo' } : r)) }
            : c,
        ),
        { key: 'spare', name: 'Spare', attribute: 'Iris', bits: 8, home: 3, snap: true, ranges: [] },
      ],
    };
    assert.deepEqual(one(writeGdtf(profile)), profile);
  });
  test('is the same file every time', () => {
    const profile = profileBySlug('quillon-stave16');
    assert.deepEqual(writeGdtf(profile), writeGdtf({ ...profile }));
  });
  test('says the same to a program that knows nothing of our own member', () => {
    for (const slug of ['quillon-heron', 'quillon-stave16', 'fernlight-plumlet', 'tansy-flitter']) {
      const profile = profileBySlug(slug);
      const { 'amber-kite.json': _, ...members } = unzipSync(writeGdtf(profile));
      const back = one(zipSync(members));
      assert.deepEqual([back.maker, back.model], [profile.maker, profile.model]);
      assert.deepEqual(
        back.modes.map((m) => [m.name, footprintOf(m)]),
        profile.modes.map((m) => [m.name, footprintOf(m)]),
      );
      const ranges = (p: ProfileRecord) =>
        Object.fromEntries(p.channels.map((c) => [c.name, c.ranges.map((r) => [r.from, r.to, r.name, r.colour])]));
      assert.deepEqual(ranges(back), ranges(profile));
      assert.deepEqual(
        back.channels.map((c) => [c.attribute, c.bits, c.home]).sort(),
        profile.channels.map((c) => [c.attribute, c.bits, c.home]).sort(),
      );
    }
  });
  test('changed by another program since, what it changed counts', () => {
    const members = unzipSync(writeGdtf(profileBySlug('fernlight-plumlet')));
    const xml = strFromU8(members['description.xml']!).replace(
      'Name="Open" DMXFrom="0/1"',
      'Name="Fully open" DMXFrom="0/1"',
    );
    const back = one(zipSync({ ...members, 'description.xml': strToU8(xml) }));
    const strobe = back.channels.find((c) => c.attribute === 'Shutter1')!;
    assert.deepEqual(
      strobe.ranges.map((r) => r.name),
      ['Fully open', 'Strobe slow to fast'],
    );
  });
});

describe('files of others', () => {
  test('channels of several modes become one where they are alike, as fine as the finest', () => {
    const profile = one(
      foreign(
        description(
          mode('Short', channel('1', 'Dimmer'), channel('2', 'Pan')) +
            mode('Long', channel('1,2', 'Dimmer'), channel('3,4', 'Pan')),
        ),
      ),
    );
    assert.deepEqual(
      profile.channels.map((c) => [c.key, c.bits]),
      [
        ['Dimmer', 16],
        ['Pan', 16],
      ],
    );
    assert.deepEqual(profile.modes.map(footprintOf), [2, 4]);
    assert.deepEqual(profile.maker, 'Somebody & Co');
    assert.deepEqual(profile.physical, {
      widthMm: 300,
      depthMm: 200,
      heightMm: 400,
      massKg: 3.5,
      powerW: 120,
      beamDeg: 18,
    });
  });
  test('several functions of one channel become its ranges, and what is lost is listed', () => {
    const functions = `<ChannelFunction Name="Closed" Attribute="Shutter1" DMXFrom="0/1" Default="255/1"/>
      <ChannelFunction Name="Strobe" Attribute="Shutter1Strobe" DMXFrom="10/1" PhysicalFrom="1" PhysicalTo="20"/>
      <ChannelFunction Name="Open" Attribute="Shutter1" DMXFrom="200/1"/>`;
    const { profiles, notKept } = read(foreign(description(mode('A', channel('1', 'Shutter1', functions)))));
    const [shutter] = profiles[0]!.channels;
    assert.deepEqual(shutter!.ranges, [
      { from: 0, to: 9, name: 'Closed', light: 'closed' },
      { from: 10, to: 199, name: 'Strobe', light: 'strobe', physical: { from: 1, to: 20, unit: 'hz' } },
      { from: 200, to: 255, name: 'Open', light: 'open' },
    ]);
    assert.equal(shutter!.home, 255);
    assert.ok(notKept.some((line) => /Shutter1Strobe.*kept as a range/.test(line)));
  });
  test('wheels give colours and pictures; pan and tilt their range', () => {
    const wheels = `<Wheel Name="W"><Slot Name="Red" Color="0.64,0.33,21.26"/><Slot Name="Stars" Color="0.3127,0.3290,100" MediaFileName="stars"/></Wheel>`;
    const sets = `<ChannelFunction Name="Wheel" Attribute="Gobo1" DMXFrom="0/1" Default="0/1" Wheel="W"><ChannelSet Name="Red" DMXFrom="0/1" WheelSlotIndex="1"/><ChannelSet Name="Stars" DMXFrom="20/1" WheelSlotIndex="2"/><ChannelSet Name="" DMXFrom="40/1"/></ChannelFunction>`;
    const pan =
      '<ChannelFunction Name="Pan" Attribute="Pan" DMXFrom="0/1" Default="32768/2" PhysicalFrom="-270" PhysicalTo="270"/>';
    const profile = one(
      foreign(description(mode('A', channel('1', 'Gobo1', sets), channel('2,3', 'Pan', pan)), { wheels }), {
        'wheels/stars.png': PNG,
      }),
    );
    const [gobo, panned] = profile.channels;
    assert.deepEqual(
      gobo!.ranges.map((r) => [r.from, r.to, r.name, r.picture]),
      [
        [0, 19, 'Red', undefined],
        [20, 39, 'Stars', 'own:stars'],
      ],
    );
    assert.ok(Number.parseInt(gobo!.ranges[0]!.colour!.slice(1, 3), 16) > 250);
    assert.match(profile.pictures['stars']!, /^data:image\/png;base64,/);
    assert.deepEqual([panned!.home, profile.physical.panDeg, profile.fixtureKind], [32768, 540, 'head']);
  });
  test('references repeat their channels as cells, wherever they begin', () => {
    const geometries = [1, 4, 7]
      .map(
        (o, i) =>
          `<GeometryReference Name="P${i}" Geometry="Pixel"><Break DMXBreak="1" DMXOffset="${o + 1}"/></GeometryReference>`,
      )
      .join('');
    const xml = description(
      mode(
        'A',
        channel('1', 'Dimmer'),
        ...['R', 'G', 'B'].map((c, i) => channel(`${i + 1}`, `ColorAdd_${c}`, '', 'Geometry="Pixel"')),
      ),
      { geometries },
    ).replace('</Geometries>', '<Geometry Name="Pixel"/></Geometries>');
    const profile = one(foreign(xml));
    assert.deepEqual(profile.modes[0]!.slots, [
      { channel: 'Dimmer', byte: 0 },
      { cells: 3, firstCell: 1, slots: ['ColorAddR', 'ColorAddG', 'ColorAddB'].map((c) => ({ channel: c, byte: 0 })) },
    ]);
  });
  test('parts that are alike without references are cells too', () => {
    const xml = description(
      mode(
        'A',
        ...[1, 2].flatMap((p) =>
          ['R', 'G', 'B'].map((c, i) =>
            channel(`${(p - 1) * 3 + i + 1}`, `ColorAdd_${c}`, '', `Geometry="Pixel ${p}"`),
          ),
        ),
      ),
    );
    const [slot] = one(foreign(xml)).modes[0]!.slots;
    assert.ok(slot && 'cells' in slot && slot.cells === 2);
  });
  test('holes are slots that are not used; names and aliases are put right', () => {
    const profile = one(
      foreign(description(mode('A', channel('1', 'ColorAdd_A'), channel('4', 'Shutter')), { version: '1.2' })),
    );
    assert.deepEqual(
      profile.channels.map((c) => c.attribute),
      ['ColorAdd_RY', 'Shutter1'],
    );
    assert.equal(footprintOf(profile.modes[0]!), 4);
  });
  test('physical values of a function reach its sets that say none, each its share', () => {
    const one_ = `<ChannelFunction Name="Strobe" Attribute="Shutter1Strobe" DMXFrom="0/1" PhysicalFrom="1" PhysicalTo="25"><ChannelSet Name="Strobe" DMXFrom="0/1"/></ChannelFunction>`;
    const two = `<ChannelFunction Name="Strobe" Attribute="Shutter1Strobe" DMXFrom="0/1" PhysicalFrom="0" PhysicalTo="25.5"><ChannelSet Name="Slow" DMXFrom="0/1"/><ChannelSet Name="Fast" DMXFrom="100/1"/><ChannelSet Name="Own" DMXFrom="200/1" PhysicalFrom="3" PhysicalTo="4"/></ChannelFunction>`;
    const ranges = (functions: string) =>
      one(foreign(description(mode('A', channel('1', 'Shutter1Strobe', functions))))).channels[0]!.ranges.map((r) => [
        r.name,
        r.physical?.from,
        r.physical?.to,
        r.physical?.unit,
      ]);
    assert.deepEqual(ranges(one_), [['Strobe', 1, 25, 'hz']]);
    assert.deepEqual(ranges(two), [
      ['Slow', 0, 9.9, 'hz'],
      ['Fast', 10, 19.9, 'hz'],
      ['Own', 3, 4, 'hz'],
    ]);
  });
  test('a DMX value that cannot be is said, never taken for 0', () => {
    const functions = `<ChannelFunction Name="A" Attribute="Gobo1" DMXFrom="0/1" Default="999/1"/><ChannelFunction Name="B" Attribute="Gobo1" DMXFrom="300/1"/><ChannelFunction Name="C" Attribute="Gobo1" DMXFrom="x"/>`;
    const { profiles, faults } = read(foreign(description(mode('A', channel('1', 'Gobo1', functions)))));
    assert.deepEqual(
      faults.map((f) => [f.code, f.path.replace('DMXMode "A", DMXChannel 1, ', ''), f.received]),
      [
        ['GDTF_DMX_VALUE', '“B”', '300/1'],
        ['GDTF_DMX_VALUE', '“C”', 'x'],
        ['GDTF_DMX_VALUE', 'Default', '999/1'],
      ],
    );
    assert.deepEqual([profiles[0]!.channels[0]!.ranges, profiles[0]!.channels[0]!.home], [[], 0]);
  });
  test('geometries that are not there, luminous values and what else is described of the light are told', () => {
    const xml = description(
      mode('A', channel('1', 'Dimmer', '', 'Geometry="Nowhere"')).replace('Geometry="Body"', 'Geometry="Gone"'),
    )
      .replace('BeamAngle="18"', 'BeamAngle="18" LuminousFlux="5200" ColorTemperature="6500"')
      .replace(
        '<PhysicalDescriptions>',
        '<PhysicalDescriptions><Emitters><Emitter Name="R"><Measurement LuminousIntensity="900"/></Emitter></Emitters>',
      )
      .replace('<Weight', '<LegHeight Value="0.1"/><Weight');
    const { profiles, notKept } = read(foreign(xml));
    assert.equal(profiles[0]!.physical.fluxLm, 5200);
    for (const expected of [/“Gone”/, /“Nowhere”/, /ColorTemperature 6500/, /Emitters .*luminous/, /LegHeight/])
      assert.ok(
        notKept.some((line) => expected.test(line)),
        `${String(expected)} in ${notKept.join('\n')}`,
      );
  });
  test('UTF-16 with and without mark, and other encodings by name', () => {
    const xml = description(mode('Größe', channel('1', 'Dimmer')));
    const wide = (text: string, little: boolean, mark: boolean): Uint8Array => {
      const bytes = new Uint8Array((text.length + (mark ? 1 : 0)) * 2);
      const view = new DataView(bytes.buffer);
      [...(mark ? ['\ufeff'] : []), ...text].forEach((c, i) => view.setUint16(i * 2, c.charCodeAt(0), little));
      return bytes;
    };
    const said = (encoding: string): string =>
      xml.replace('<?xml version="1.0"?>', `<?xml version="1.0" encoding="${encoding}"?>`);
    const latin = Uint8Array.from(said('ISO-8859-1'), (c) => c.charCodeAt(0));
    const files: Uint8Array[] = [
      wide(said('UTF-16'), true, true),
      wide(said('UTF-16'), false, true),
      wide(xml, true, false),
      wide(xml, false, false),
      latin,
      strToU8('\ufeff' + said('UTF-8')),
    ];
    for (const [i, bytes] of files.entries())
      assert.equal(one(zipSync({ 'description.xml': bytes })).modes[0]!.name, 'Größe', `file ${i}`);
    const unknown = read(foreign(said('Marsh-7')));
    assert.deepEqual([unknown.faults[0]?.code, unknown.faults[0]?.received], ['XML_ENCODING', 'Marsh-7']);
    assert.deepEqual(codes(zipSync({ 'description.xml': Uint8Array.from([...strToU8('<GDTF a="'), 0xff, 0xfe]) })), [
      'XML_ENCODING',
    ]);
  });
  test('what we do not keep is listed', () => {
    const xml = description(
      mode(
        'A',
        channel('1', 'Dimmer'),
        channel('2', 'SomethingNew'),
        channel('None', 'Pan'),
        channel('3', 'Tilt').replace('DMXBreak="1"', 'DMXBreak="2"'),
      ),
    )
      .replace('</FixtureType>', '<Protocols><FTRDM/></Protocols></FixtureType>')
      .replace('</DMXChannels></DMXMode>', '</DMXChannels><FTMacros><FTMacro Name="Reset"/></FTMacros></DMXMode>');
    const { notKept, faults } = read(foreign(xml, { 'models/3ds/body.3ds': new Uint8Array(10), 'thumbnail.png': PNG }));
    assert.deepEqual(faults, []);
    for (const expected of [
      /SomethingNew/,
      /virtual channel/,
      /break 2/,
      /Protocols/,
      /FTMacros of DMXMode "A"/,
      /models\/3ds\/body\.3ds/,
      /thumbnail/,
    ])
      assert.ok(
        notKept.some((line) => expected.test(line)),
        String(expected),
      );
  });
});

describe('files that are broken or hostile', () => {
  const good = mode('Good', channel('1', 'Dimmer'));
  test('a mode that cannot be is named, the others are kept', () => {
    for (const [bad, code] of [
      [mode('Bad', channel('1', 'Dimmer'), channel('1', 'Pan')), 'GDTF_SLOT_TWICE'],
      [mode('Bad', channel('0', 'Dimmer')), 'GDTF_OFFSET'],
      [mode('Bad', channel('1,2,3,4', 'Dimmer')), 'GDTF_OFFSET'],
      [mode('Bad', channel('99999', 'Dimmer')), 'GDTF_OFFSET'],
      [mode('Bad'), 'GDTF_EMPTY_MODE'],
      [mode('Bad', '<DMXChannel Offset="1" Geometry="Body"/>'), 'GDTF_NO_FUNCTION'],
    ] as const) {
      const { profiles, faults } = read(foreign(description(good + bad)));
      assert.deepEqual(
        faults.map((f) => f.code),
        [code],
      );
      assert.match(faults[0]!.path, /DMXMode "Bad"/);
      assert.deepEqual(
        profiles[0]?.modes.map((m) => m.name),
        ['Good'],
      );
    }
  });
  test('broken XML is told with line and column', () => {
    const { faults } = read(foreign('<?xml version="1.0"?>\n<GDTF>\n <FixtureType>\n</GDTF>'));
    assert.equal(faults[0]?.code, 'XML_BROKEN');
    assert.match(faults[0]!.path, /description\.xml line \d+, column \d+/);
  });
  test('entities are never expanded', () => {
    const bomb =
      '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;">]><GDTF>&b;</GDTF>';
    assert.deepEqual(codes(foreign(bomb)), ['XML_DOCTYPE']);
    assert.deepEqual(codes(foreign(`${description(good)}<!doctype a>`)), ['XML_DOCTYPE']);
  });
  test('deep nesting is refused, not run into', () => {
    const found = codes(foreign(`${'<a>'.repeat(50_000)}${'</a>'.repeat(50_000)}`));
    assert.ok(found.length === 1 && /^XML_/.test(found[0]!), found.join());
  });
  test('the wrong zip, no zip, no description, no type, no mode', () => {
    assert.deepEqual(codes(strToU8('hello')), ['NOT_AN_ARCHIVE']);
    assert.deepEqual(codes(zipSync({ 'something.txt': PNG })), ['DESCRIPTION_MISSING']);
    assert.deepEqual(codes(foreign('<GDTF/>')), ['GDTF_NO_TYPE']);
    assert.deepEqual(codes(foreign(description(''))), ['GDTF_NO_MODE']);
  });
  test('huge pictures and models do no harm', () => {
    const huge = zeroBomb(['wheels/a.png', 'models/b.3ds'], 200 * 1024 * 1024);
    assert.ok(codes(huge).some((c) => c === 'ARCHIVE_BOMB' || c === 'DESCRIPTION_MISSING' || c === 'MEMBER_TOO_LARGE'));
    const wheels = '<Wheel Name="W"><Slot Name="A" MediaFileName="big"/></Wheel>';
    const sets =
      '<ChannelFunction Name="G" Attribute="Gobo1" DMXFrom="0/1" Wheel="W"><ChannelSet Name="A" DMXFrom="0/1" WheelSlotIndex="1"/></ChannelFunction>';
    const { profiles, notKept } = read(
      foreign(description(mode('A', channel('1', 'Gobo1', sets)), { wheels }), {
        'wheels/big.png': new Uint8Array(5_000_000),
        'wheels/big.svg': strToU8('<svg onload="alert(1)"/>'),
      }),
    );
    assert.equal(profiles[0]?.channels[0]?.ranges[0]?.picture, undefined);
    assert.ok(notKept.some((l) => /big\.svg/.test(l)) && notKept.some((l) => /picture big/.test(l)));
  });
  test('anything changed in a sound file gives faults or a sound profile, never an exception', () => {
    const members = unzipSync(writeGdtf(profileBySlug('quillon-heron')));
    const xml = strFromU8(members['description.xml']!);
    const extras = strFromU8(members['amber-kite.json']!);
    const cut = fc.tuple(
      fc.nat(xml.length - 1),
      fc.nat(40),
      fc.constantFrom('', '"', '<', '&', '0', '-1', '999999', 'x', '\u0000', '/9'),
    );
    fc.assert(
      fc.property(fc.array(cut, { minLength: 1, maxLength: 4 }), fc.boolean(), (cuts, inExtras) => {
        let text = inExtras ? extras : xml;
        for (const [at, length, put] of cuts) text = text.slice(0, at) + put + text.slice(at + length);
        const file = zipSync(
          { ...members, [inExtras ? 'amber-kite.json' : 'description.xml']: strToU8(text) },
          { level: 0 },
        );
        const { profiles, faults } = read(file);
        assert.ok(profiles.length === 1 || faults.length > 0);
      }),
      { numRuns: 150 },
    );
  });
});

describe('small parts', () => {
  test('colours go through CIE and back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (value) => {
        const hex = `#${value.toString(16).padStart(6, '0')}`;
        assert.equal(fromCie(toCie(hex)), hex);
      }),
    );
    assert.equal(fromCie('nonsense'), null);
    assert.equal(fromCie('0.3,0,50'), '#000000');
  });
  test('slots are taken apart and gathered again', () => {
    for (const profile of builtInProfiles())
      for (const m of profile.modes) assert.deepEqual(gather(flatten(m)), m.slots, `${profile.id} ${m.key}`);
  });
});
