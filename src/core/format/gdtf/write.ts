import { fromBase64 } from '../../base64.ts';
import { strToU8, zipSync } from 'fflate';
import { attributeInfo } from '../../attributes.ts';
import { sortedRanges } from '../../profile/ranges.ts';
import type { ProfileRecord } from '../../records/index.ts';
import type { Channel, Mode } from '../../records/profile.ts';
import { FIXED_TIME, sortKeys } from '../zip.ts';
import { toCie } from './colour.ts';
import { EXTRAS, extrasOf } from './extras.ts';
import { flatten, type FlatSlot } from './slots.ts';

/**
 * A profile as a GDTF file (DIN SPEC 15800:2022, data version 1.2): `description.xml`, pictures of wheel slots, and one
 * member of our own with what GDTF has no place for. The same profile always gives the same bytes.
 */
export function writeGdtf(profile: ProfileRecord): Uint8Array {
  const files: Record<string, Uint8Array> = { 'description.xml': strToU8(describe(profile)) };
  for (const [key, address] of Object.entries(profile.pictures)) files[`wheels/${key}.png`] = pngBytes(address);
  files[EXTRAS] = strToU8(`${JSON.stringify(sortKeys(extrasOf(profile)), null, 1)}\n`);
  return zipSync(files, { mtime: FIXED_TIME, level: 6 });
}

const pngBytes = (address: string): Uint8Array => fromBase64(address.slice(address.indexOf(',') + 1));

type Attributes = Readonly<Record<string, string | number | undefined>>;

// Characters that XML 1.0 forbids cannot be in our names; the five special ones are escaped, and so are line ends.
const escape = (text: string): string =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;')
    .replace(/\t/g, '&#9;')
    .replace(/\n/g, '&#10;')
    .replace(/\r/g, '&#13;');

function tag(name: string, attributes: Attributes, children: readonly string[] = []): string {
  const written = Object.entries(attributes)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => ` ${key}="${escape(String(value))}"`)
    .join('');
  if (children.length === 0) return `<${name}${written}/>`;
  return `<${name}${written}>\n${children.join('\n').replace(/^/gm, ' ')}\n</${name}>`;
}

function describe(profile: ProfileRecord): string {
  const wheels = profile.channels.filter(isWheel);
  const type = tag(
    'FixtureType',
    {
      Name: profile.model,
      ShortName: profile.model,
      LongName: `${profile.maker} ${profile.model}`,
      Manufacturer: profile.maker,
      Description: profile.notes,
      FixtureTypeID: guidOf(profile.id),
      Thumbnail: '',
    },
    [
      attributeDefinitions(profile),
      ...(wheels.length > 0
        ? [
            tag(
              'Wheels',
              {},
              wheels.map((c) => wheel(c)),
            ),
          ]
        : [tag('Wheels', {})]),
      physicalDescriptions(profile),
      models(profile),
      geometries(profile),
      tag(
        'DMXModes',
        {},
        profile.modes.map((m) => dmxMode(profile, m)),
      ),
      tag('Revisions', {}, [
        tag('Revision', {
          Text: `${profile.revision}`,
          Date: '1980-01-01T00:00:00',
          UserID: 0,
          ModifiedBy: profile.author,
        }),
      ]),
    ],
  );
  return `<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n${tag('GDTF', { DataVersion: '1.2' }, [type])}\n`;
}

/** A GUID made of the id, so that the same profile is the same fixture type everywhere. */
function guidOf(id: string): string {
  let hash = 0xcbf29ce484222325n;
  const digits: string[] = [];
  for (let round = 0; round < 2; round++) {
    for (const character of id) hash = BigInt.asUintN(64, (hash ^ BigInt(character.codePointAt(0)!)) * 0x100000001b3n);
    digits.push(hash.toString(16).padStart(16, '0'));
  }
  const all = digits.join('').toUpperCase();
  return `${all.slice(0, 8)}-${all.slice(8, 12)}-${all.slice(12, 16)}-${all.slice(16, 20)}-${all.slice(20, 32)}`;
}

const FEATURES = {
  level: ['Dimmer', 'Dimmer'],
  colour: ['Color', 'Color'],
  aim: ['Position', 'PanTilt'],
  beam: ['Beam', 'Beam'],
  effect: ['Beam', 'Effects'],
  control: ['Control', 'Control'],
} as const;

function attributeDefinitions(profile: ProfileRecord): string {
  const names = [...new Set(profile.channels.map((c) => c.attribute))];
  const groups = new Map<string, Set<string>>();
  const attributes = names.map((name) => {
    const info = attributeInfo(name);
    const [group, feature] = FEATURES[info?.family ?? 'control'];
    groups.set(group, (groups.get(group) ?? new Set()).add(feature));
    return tag('Attribute', { Name: name, Pretty: info?.words ?? name, Feature: `${group}.${feature}` });
  });
  return tag('AttributeDefinitions', {}, [
    tag('ActivationGroups', {}),
    tag(
      'FeatureGroups',
      {},
      [...groups].map(([name, features]) =>
        tag(
          'FeatureGroup',
          { Name: name, Pretty: name },
          [...features].map((f) => tag('Feature', { Name: f })),
        ),
      ),
    ),
    tag('Attributes', {}, attributes),
  ]);
}

const isWheel = (channel: Channel): boolean => channel.ranges.some((r) => r.colour ?? r.picture);
const wheelName = (channel: Channel): string => `Wheel ${channel.key}`;

function wheel(channel: Channel): string {
  return tag(
    'Wheel',
    { Name: wheelName(channel) },
    sortedRanges(channel.ranges).map((r) =>
      tag('Slot', {
        Name: r.name,
        Color: toCie(r.colour ?? '#ffffff'),
        MediaFileName: r.picture?.startsWith('own:') ? r.picture.slice(4) : '',
      }),
    ),
  );
}

function physicalDescriptions({ physical }: ProfileRecord): string {
  const properties = [...(physical.massKg === undefined ? [] : [tag('Weight', { Value: physical.massKg })])];
  return tag('PhysicalDescriptions', {}, [tag('Emitters', {}), tag('Filters', {}), tag('Properties', {}, properties)]);
}

const metres = (mm: number | undefined): number => (mm ?? 200) / 1000;

function models({ physical }: ProfileRecord): string {
  return tag('Models', {}, [
    tag('Model', {
      Name: 'Body',
      Length: metres(physical.depthMm),
      Width: metres(physical.widthMm),
      Height: metres(physical.heightMm),
      PrimitiveType: 'Cube',
      File: '',
    }),
  ]);
}

const PLACE = '{1,0,0,0}{0,1,0,0}{0,0,1,0}{0,0,0,1}';
const top = (mode: Mode): string => `Body ${mode.key}`;
const template = (mode: Mode, block: number): string => `Cell ${mode.key} ${block + 1}`;

interface Block {
  readonly entry: Extract<Mode['slots'][number], { cells: number }>;
  /** Slot the block begins at, from 1. */
  readonly start: number;
  readonly index: number;
}

function blocksOf(mode: Mode): Block[] {
  const blocks: Block[] = [];
  let start = 1;
  for (const entry of mode.slots) {
    if ('cells' in entry) blocks.push({ entry, start, index: blocks.length });
    start += 'cells' in entry ? entry.cells * entry.slots.length : 1;
  }
  return blocks;
}

function geometries({ modes, physical }: ProfileRecord): string {
  const beam = tag('Beam', {
    Name: 'Beam',
    Model: '',
    Position: PLACE,
    LampType: 'LED',
    PowerConsumption: physical.powerW ?? 0,
    LuminousFlux: physical.fluxLm ?? 0,
    ColorTemperature: 6000,
    BeamAngle: physical.beamDeg ?? 25,
    FieldAngle: physical.fieldDeg ?? physical.beamDeg ?? 25,
    BeamRadius: 0.05,
    BeamType: 'Wash',
    ColorRenderingIndex: 100,
  });
  const tops = modes.map((mode) => {
    const references = blocksOf(mode).flatMap(({ entry, start, index }) =>
      Array.from({ length: entry.cells }, (_, i) =>
        tag(
          'GeometryReference',
          { Name: `Cell ${entry.firstCell + i}`, Geometry: template(mode, index), Model: '', Position: PLACE },
          [tag('Break', { DMXBreak: 1, DMXOffset: start + i * entry.slots.length })],
        ),
      ),
    );
    return tag('Geometry', { Name: top(mode), Model: 'Body', Position: PLACE }, [
      beam.replace('"Beam"', `"Beam ${escape(mode.key)}"`),
      ...references,
    ]);
  });
  const templates = modes.flatMap((mode) =>
    blocksOf(mode).map(({ index }) => tag('Geometry', { Name: template(mode, index), Model: '', Position: PLACE })),
  );
  return tag('Geometries', {}, [...tops, ...templates]);
}

function dmxMode(profile: ProfileRecord, mode: Mode): string {
  const blocks = blocksOf(mode);
  const flat = flatten(mode);
  const own = group(
    flat.map((slot, i) => ({ slot, offset: i + 1 })).filter(({ slot }) => slot === null || slot.cell === 0),
  );
  const channels = own.map(({ channel, offsets }) => dmxChannel(profile, channel, offsets, top(mode)));
  for (const { entry, index } of blocks) {
    const relative = group(entry.slots.map((s, i) => ({ slot: { ...s, cell: 1 }, offset: i + 1 })));
    for (const { channel, offsets } of relative)
      channels.push(dmxChannel(profile, channel, offsets, template(mode, index)));
  }
  return tag('DMXMode', { Name: mode.name, Description: '', Geometry: top(mode) }, [
    tag('DMXChannels', {}, channels),
    tag('Relations', {}),
    tag('FTMacros', {}),
  ]);
}

/** Slots by channel, coarse first; every slot that is not used stands alone. */
function group(
  slots: readonly { slot: FlatSlot | null; offset: number }[],
): { channel: string | null; offsets: number[] }[] {
  const found: { channel: string | null; offsets: number[] }[] = [];
  for (const { slot, offset } of slots) {
    if (!slot) found.push({ channel: null, offsets: [offset] });
    else {
      let entry = found.find((f) => f.channel === slot.channel);
      if (!entry) found.push((entry = { channel: slot.channel, offsets: [] }));
      entry.offsets[slot.byte] = offset;
    }
  }
  return found.map((f) => ({ ...f, offsets: f.offsets.filter((o) => o !== undefined) }));
}

/** A value of the channel's full resolution in as many bytes as the mode has for it. */
const valueIn = (value: number, bits: number, bytes: number): string =>
  `${Math.floor(value / 2 ** (bits - bytes * 8))}/${bytes}`;

function dmxChannel(profile: ProfileRecord, key: string | null, offsets: readonly number[], geometry: string): string {
  const channel = profile.channels.find((c) => c.key === key);
  if (!channel)
    return tag('DMXChannel', { DMXBreak: 1, Offset: offsets.join(','), Highlight: 'None', Geometry: geometry }, [
      tag('LogicalChannel', { Attribute: 'NoFeature', Snap: 'No', Master: 'None' }, [
        tag('ChannelFunction', { Name: 'Not used', Attribute: 'NoFeature', DMXFrom: '0/1', Default: '0/1' }),
      ]),
    ]);
  const bytes = offsets.length;
  const master = channel.attribute === 'Dimmer' ? 'Grand' : 'None';
  const degrees =
    channel.attribute === 'Pan'
      ? profile.physical.panDeg
      : channel.attribute === 'Tilt'
        ? profile.physical.tiltDeg
        : undefined;
  return tag(
    'DMXChannel',
    {
      DMXBreak: 1,
      Offset: offsets.join(','),
      Highlight: channel.highlight === undefined ? 'None' : valueIn(channel.highlight, channel.bits, bytes),
      Geometry: geometry,
    },
    [
      tag('LogicalChannel', { Attribute: channel.attribute, Snap: channel.snap ? 'Yes' : 'No', Master: master }, [
        tag(
          'ChannelFunction',
          {
            Name: channel.name,
            Attribute: channel.attribute,
            DMXFrom: '0/1',
            Default: valueIn(channel.home, channel.bits, bytes),
            PhysicalFrom: degrees === undefined ? 0 : -degrees / 2,
            PhysicalTo: degrees === undefined ? 1 : degrees / 2,
            Wheel: isWheel(channel) ? wheelName(channel) : undefined,
          },
          channelSets(channel),
        ),
      ]),
    ],
  );
}

/** Named sets for the ranges, sets without a name for the gaps between them: a set ends where the next begins. */
function channelSets(channel: Channel): string[] {
  const sets: string[] = [];
  let next = 0;
  for (const [i, range] of sortedRanges(channel.ranges).entries()) {
    if (range.from > next) sets.push(tag('ChannelSet', { Name: '', DMXFrom: `${next}/1` }));
    sets.push(
      tag('ChannelSet', {
        Name: range.name,
        DMXFrom: `${range.from}/1`,
        PhysicalFrom: range.physical?.from,
        PhysicalTo: range.physical?.to,
        WheelSlotIndex: (range.colour ?? range.picture) ? i + 1 : undefined,
      }),
    );
    next = range.to + 1;
  }
  if (sets.length > 0 && next <= 255) sets.push(tag('ChannelSet', { Name: '', DMXFrom: `${next}/1` }));
  return sets;
}
