import { toBase64 } from '../../base64.ts';
import { strFromU8 } from 'fflate';
import { faultsFromZod } from '../../faults.ts';
import type { ProfileId } from '../../ids.ts';
import { freeKey } from '../../profile/keys.ts';
import { profileFaults } from '../../profile/layout.ts';
import type { ProfileRecord } from '../../records/index.ts';
import { pictureSchema, profileSchema, type Channel, type Mode } from '../../records/profile.ts';
import type { ProfilesReading } from '../profiles.ts';
import { collector, unpackZip, type Say } from '../zip.ts';
import { readChannel, type ChannelContext, type Wheels } from './channel.ts';
import { fromCie } from './colour.ts';
import { EXTRAS } from './extras.ts';
import { fixtureKindOf, withExtras } from './overlay.ts';
import { gather, type FlatSlot } from './slots.ts';
import { childOf, childrenOf, numberOf, readXml, textOf, type Element } from './xml.ts';

const LIMITS = { fileBytes: 256 * 1024 * 1024, unpackedBytes: 128 * 1024 * 1024, members: 2000 };
const DESCRIPTION_BYTES = 32 * 1024 * 1024;
/** 48 KiB as base64 is what a picture of ours may have. */
const PICTURE_BYTES = 48 * 1024;
const MOST_SLOTS = 65_536;

/**
 * Reads a GDTF file (DIN SPEC 15800, data versions 1.1 and 1.2) as one profile. Nothing in it is trusted. A mode that
 * cannot be used is named and left out, the others are kept; what we have no place for is listed in `notKept`.
 * Faults: those of the zip, DESCRIPTION_MISSING, XML_*, GDTF_*, and those of profiles.
 */
export function readGdtf(file: Uint8Array, newId: () => ProfileId): ProfilesReading {
  const { faults, say } = collector();
  const notKept: string[] = [];
  const nothing = { profiles: [], faults, notKept };
  const members = unpackZip(file, say, {
    ...LIMITS,
    what: 'a .gdtf file',
    want: (name) => {
      if (name === 'description.xml') return DESCRIPTION_BYTES;
      if (name === EXTRAS) return 1024 * 1024;
      if (/^wheels\/[^/]{1,100}\.png$/i.test(name)) return PICTURE_BYTES;
      if (!name.endsWith('/')) notKept.push(`file ${name.slice(0, 100)}`);
      return 'skip';
    },
    rule: '',
  });
  if (!members) return nothing;
  const description = members.get('description.xml');
  if (!description) {
    if (faults.length === 0)
      say(
        'DESCRIPTION_MISSING',
        'description.xml',
        'is not in the file',
        null,
        'A GDTF file has one; get the file again.',
      );
    return nothing;
  }
  const root = readXml(strFromU8(description), 'description.xml', say);
  const type = childOf(childOf(root ?? undefined, 'GDTF'), 'FixtureType');
  if (!root) return nothing;
  if (!type) {
    say('GDTF_NO_TYPE', 'description.xml', 'has no GDTF/FixtureType', null, 'This is no fixture description.');
    return nothing;
  }
  const profile = readType(type, members, newId, say, (line) => notKept.length < 500 && notKept.push(line));
  const whole = profile && withExtras(profile, members.get(EXTRAS));
  const parsed = whole ? profileSchema.safeParse(whole) : null;
  if (parsed && !parsed.success) faults.push(...faultsFromZod(parsed.error, whole, 'description.xml').slice(0, 20));
  const unsound = parsed?.success ? profileFaults(parsed.data) : [];
  faults.push(...unsound.slice(0, 20));
  const profiles = parsed?.success && unsound.length === 0 ? [parsed.data] : [];
  return { profiles, faults, notKept };
}

const clip = (text: string, most: number): string =>
  text
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]+/g, ' ')
    .trim()
    .slice(0, most);

function readType(
  type: Element,
  members: ReadonlyMap<string, Uint8Array>,
  newId: () => ProfileId,
  say: Say,
  notKept: (line: string) => void,
): Omit<ProfileRecord, never> | null {
  const pictures: Record<string, string> = {};
  const wheels = readWheels(type, members, pictures, notKept);
  const units = readUnits(type);
  const geometries = childOf(type, 'Geometries');
  const book = new ChannelBook();
  const { channels } = book;
  const modes: Mode[] = [];
  const dmxModes = childrenOf(childOf(type, 'DMXModes'), 'DMXMode');
  for (const [i, element] of dmxModes.entries()) {
    const name = clip(textOf(element, 'Name'), 100) || `Mode ${i + 1}`;
    for (const part of ['Relations', 'FTMacros'])
      if (Object.keys(childOf(element, part)?.children ?? {}).length > 0) notKept(`${part} of DMXMode "${name}"`);
    const flat = readMode(element, name, geometries, book, { wheels, units, notKept, where: '' }, say);
    if (!flat) continue;
    if (flat.length === 0) say('GDTF_EMPTY_MODE', `DMXMode "${name}"`, 'has no channels', name, 'It is left out.');
    else modes.push({ key: modeKey(name, modes), name: freeMode(name, modes), slots: gather(flat) });
  }
  if (modes.length === 0) {
    say('GDTF_NO_MODE', 'DMXModes', 'no mode can be used', dmxModes.length, 'See the other faults of this file.');
    return null;
  }
  for (const name of ['FTPresets', 'Protocols'])
    if (Object.keys(childOf(type, name)?.children ?? {}).length > 0) notKept(`${name}`);
  const revision = childrenOf(childOf(type, 'Revisions'), 'Revision').at(-1);
  const model = clip(textOf(type, 'Name') || textOf(type, 'LongName'), 100) || 'Unnamed fixture';
  return {
    kind: 'profile',
    id: newId(),
    maker: clip(textOf(type, 'Manufacturer'), 100) || 'Unknown maker',
    model,
    fixtureKind: fixtureKindOf(channels, modes, model),
    author: clip(textOf(revision, 'ModifiedBy'), 100),
    notes: clip(textOf(type, 'Description'), 4000),
    channels,
    modes,
    physical: readPhysical(type, geometries, dmxModes),
    revision: Math.min(99_999, Math.max(1, Math.floor(numberOf(revision, 'Text') ?? 1))),
    pictures,
    moods: {},
    flow: false,
    addressFromZero: false,
    dipSwitches: false,
  };
}

const freeMode = (name: string, modes: readonly Mode[]): string => {
  let free = name;
  for (let n = 2; modes.some((m) => m.name === free); n++) free = `${name.slice(0, 94)} ${n}`;
  return free;
};
const modeKey = (name: string, modes: readonly Mode[]): string =>
  freeKey(
    name,
    modes.map((m) => m.key),
    'mode',
  );
function readWheels(
  type: Element,
  members: ReadonlyMap<string, Uint8Array>,
  pictures: Record<string, string>,
  notKept: (line: string) => void,
): Wheels {
  return new Map(
    childrenOf(childOf(type, 'Wheels'), 'Wheel').map((wheel) => [
      textOf(wheel, 'Name'),
      childrenOf(wheel, 'Slot').map((slot) => {
        const colour = fromCie(textOf(slot, 'Color'));
        const media = textOf(slot, 'MediaFileName');
        let picture: string | undefined;
        if (media !== '') {
          const bytes = [...members].find(([name]) => name.toLowerCase() === `wheels/${media.toLowerCase()}.png`)?.[1];
          const address = bytes && `data:image/png;base64,${toBase64(bytes)}`;
          if (address && pictureSchema.safeParse(address).success) {
            const key = media.replace(/[^A-Za-z0-9_-]+/g, '').slice(0, 40) || 'picture';
            pictures[key] = address;
            picture = `own:${key}`;
          } else
            notKept(`picture ${media.slice(0, 60)} of wheel ${textOf(wheel, 'Name')}: only PNG up to 48 KiB is kept`);
        }
        const plain = colour === '#ffffff' && picture !== undefined;
        return { ...(colour && !plain ? { colour } : {}), ...(picture ? { picture } : {}) };
      }),
    ]),
  );
}

const UNITS: Readonly<Record<string, ReturnType<ChannelContext['units']['get']>>> = {
  Angle: 'deg',
  AngularSpeed: 'deg/s',
  Frequency: 'hz',
  Temperature: 'kelvin',
  Percent: 'percent',
  Time: 'second',
};

function readUnits(type: Element): ChannelContext['units'] {
  const attributes = childrenOf(childOf(childOf(type, 'AttributeDefinitions'), 'Attributes'), 'Attribute');
  return new Map(
    attributes.flatMap((a) => {
      const unit = UNITS[textOf(a, 'PhysicalUnit')];
      return unit ? [[textOf(a, 'Name'), unit] as const] : [];
    }),
  );
}

/** Every element below one, itself included, that stands for a part of the fixture. */
function* parts(element: Element | undefined): Generator<readonly [kind: string, Element]> {
  for (const [kind, list] of Object.entries(element?.children ?? {}))
    for (const child of list) {
      yield [kind, child];
      yield* parts(child);
    }
}

/** Where the cells of each referenced geometry begin, by the geometry's name, in slots from 0. */
function referencesIn(top: Element | undefined): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const [kind, element] of parts(top)) {
    if (kind !== 'GeometryReference') continue;
    const offset = numberOf(childOf(element, 'Break'), 'DMXOffset') ?? 1;
    const name = textOf(element, 'Geometry');
    found.set(name, [...(found.get(name) ?? []), offset - 1]);
  }
  return found;
}

function readMode(
  element: Element,
  name: string,
  geometries: Element | undefined,
  book: ChannelBook,
  context: ChannelContext,
  say: Say,
): (FlatSlot | null)[] | null {
  const where = `DMXMode "${name}"`;
  const tops = [...parts(geometries)].map(([, e]) => e);
  const top = tops.find((e) => textOf(e, 'Name') === textOf(element, 'Geometry'));
  const references = referencesIn(top);
  /** A part inside a referenced geometry repeats with it. */
  const templateOf = (geometry: string): string | null => {
    if (references.has(geometry)) return geometry;
    for (const template of references.keys()) {
      const root = tops.find((e) => textOf(e, 'Name') === template);
      if ([...parts(root)].some(([, e]) => textOf(e, 'Name') === geometry)) return template;
    }
    return null;
  };
  const list = childrenOf(childOf(element, 'DMXChannels'), 'DMXChannel');
  const cellOf = siblings(list, (geometry) => templateOf(geometry) !== null);
  const firstCell = new Map<string, number>();
  let nextCell = Math.max(0, ...cellOf.values()) + 1;
  for (const [template, starts] of references) {
    firstCell.set(template, nextCell);
    nextCell += starts.length;
  }
  const flat: (FlatSlot | null)[] = [];
  for (const [i, dmx] of list.entries()) {
    const at = `${where}, DMXChannel ${i + 1}`;
    const written = textOf(dmx, 'Offset');
    if (written === '' || /none/i.test(written)) {
      context.notKept(`${at}: a virtual channel without slots`);
      continue;
    }
    const brk = textOf(dmx, 'DMXBreak');
    if (brk !== '' && brk !== '1' && brk !== 'Overwrite') {
      context.notKept(`${at}: it has an address of its own (break ${brk})`);
      continue;
    }
    const offsets = written.split(',').map((t) => Number(t.trim()));
    if (offsets.length > 3 || offsets.some((o) => !Number.isInteger(o) || o < 1 || o > MOST_SLOTS)) {
      say(
        'GDTF_OFFSET',
        at,
        `the offset "${written.slice(0, 40)}" is not one to three slots`,
        written,
        'The mode is left out.',
      );
      return null;
    }
    const read = readChannel(dmx, offsets.length, { ...context, where: at });
    if (!read) {
      say('GDTF_NO_FUNCTION', at, 'has no logical channel', null, 'The mode is left out.');
      return null;
    }
    const geometry = textOf(dmx, 'Geometry');
    const template = templateOf(geometry);
    const starts = template === null ? [0] : references.get(template)!;
    const cell = template === null ? (cellOf.get(geometry) ?? 0) : firstCell.get(template)!;
    const taken = (key: string): boolean => flat.some((s) => s?.channel === key && s.cell === cell);
    const key =
      read.attribute === 'NoFeature' && read.ranges.length === 0 && read.name === 'Not used'
        ? null
        : book.keyFor(read, taken);
    for (const [n, start] of starts.entries()) {
      for (const [byte, offset] of offsets.entries()) {
        const place = start + offset - 1;
        if (place < 0 || place >= MOST_SLOTS) {
          say('GDTF_OFFSET', at, `slot ${place + 1} does not exist`, place + 1, 'The mode is left out.');
          return null;
        }
        if (flat[place]) {
          say(
            'GDTF_SLOT_TWICE',
            at,
            `slot ${place + 1} is taken by "${flat[place].channel}" already`,
            place + 1,
            'The mode is left out.',
          );
          return null;
        }
        while (flat.length <= place) flat.push(null);
        if (key !== null) flat[place] = { channel: key, byte, cell: cell === 0 ? 0 : cell + n };
      }
    }
  }
  return flat;
}

/** Parts of the fixture that have the same attributes as others beside them are cells, in the order they come. */
function siblings(list: readonly Element[], referenced: (geometry: string) => boolean): Map<string, number> {
  const attributes = new Map<string, string[]>();
  for (const dmx of list) {
    const geometry = textOf(dmx, 'Geometry');
    if (referenced(geometry)) continue;
    const names = childrenOf(dmx, 'LogicalChannel').map((l) => textOf(l, 'Attribute'));
    attributes.set(geometry, [...(attributes.get(geometry) ?? []), ...names]);
  }
  const alike = new Map<string, string[]>();
  for (const [geometry, names] of attributes) {
    const signature = names.join(' ');
    alike.set(signature, [...(alike.get(signature) ?? []), geometry]);
  }
  const cells = new Map<string, number>();
  for (const group of alike.values()) if (group.length > 1) for (const g of group) cells.set(g, cells.size + 1);
  return cells;
}

/** The channels found so far, and which of them say the same: modes share them. */
class ChannelBook {
  readonly channels: Channel[] = [];
  readonly #alike = new Map<string, Channel[]>();

  /** The key of a channel like this one that is free in the mode being read, or of a new one. */
  keyFor(read: Omit<Channel, 'key'>, taken: (key: string) => boolean): string {
    const signature = JSON.stringify([read.attribute, read.name, read.snap, read.ranges]);
    const alike = this.#alike.get(signature) ?? [];
    const known = alike.find((c) => !taken(c.key));
    if (known) {
      // The mode with the finest slots tells rest and highlight best.
      if (read.bits > known.bits) Object.assign(known, { bits: read.bits, home: read.home, highlight: read.highlight });
      return known.key;
    }
    const key = freeKey(
      read.name,
      this.channels.map((c) => c.key),
      'channel',
    );
    const channel = { key, ...read };
    this.channels.push(channel);
    this.#alike.set(signature, [...alike, channel]);
    return key;
  }
}

function readPhysical(
  type: Element,
  geometries: Element | undefined,
  modes: readonly Element[],
): ProfileRecord['physical'] {
  const model = childOf(childOf(type, 'Models'), 'Model');
  const properties = childOf(childOf(type, 'PhysicalDescriptions'), 'Properties');
  const beam = [...parts(geometries)].find(([kind]) => kind === 'Beam')?.[1];
  const sweep = (attribute: string): number | null => {
    for (const [kind, f] of modes.flatMap((m) => [...parts(m)])) {
      if (kind !== 'ChannelFunction' || textOf(f, 'Attribute') !== attribute) continue;
      const [from, to] = [numberOf(f, 'PhysicalFrom'), numberOf(f, 'PhysicalTo')];
      if (from !== null && to !== null && Math.abs(to - from) > 2) return Math.abs(to - from);
    }
    return null;
  };
  const mm = (name: string): number | null => {
    const value = numberOf(model, name);
    return value === null || value <= 0 ? null : Math.round(value * 1000);
  };
  const found: Record<string, number | null> = {
    widthMm: mm('Width'),
    depthMm: mm('Length'),
    heightMm: mm('Height'),
    massKg: numberOf(childOf(properties, 'Weight'), 'Value'),
    powerW: numberOf(beam, 'PowerConsumption') || null,
    beamDeg: numberOf(beam, 'BeamAngle'),
    fieldDeg: numberOf(beam, 'FieldAngle'),
    panDeg: sweep('Pan'),
    tiltDeg: sweep('Tilt'),
  };
  return Object.fromEntries(Object.entries(found).filter(([, v]) => v !== null && v >= 0)) as ProfileRecord['physical'];
}
