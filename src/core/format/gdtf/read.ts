import { toBase64 } from '../../base64.ts';
import { faultsFromZod } from '../../faults.ts';
import type { ProfileId } from '../../ids.ts';
import { freeKey } from '../../profile/keys.ts';
import { profileFaults } from '../../profile/layout.ts';
import type { ProfileRecord } from '../../records/index.ts';
import { pictureSchema, profileSchema, type Mode } from '../../records/profile.ts';
import type { ProfilesReading } from '../profiles.ts';
import { collector, unpackZip, type Say } from '../zip.ts';
import type { ChannelContext, Wheels } from './channel.ts';
import { fromCie } from './colour.ts';
import { EXTRAS } from './extras.ts';
import { fixtureKindOf, withExtras } from './overlay.ts';
import { ChannelBook, readMode } from './mode.ts';
import { readPhysical } from './physical.ts';
import { gather } from './slots.ts';
import { childOf, childrenOf, decodeXml, numberOf, readXml, textOf, type Element } from './xml.ts';

const LIMITS = { fileBytes: 256 * 1024 * 1024, unpackedBytes: 128 * 1024 * 1024, members: 2000 };
const DESCRIPTION_BYTES = 32 * 1024 * 1024;
/** 48 KiB as base64 is what a picture of ours may have. */
const PICTURE_BYTES = 48 * 1024;

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
  const text = decodeXml(description, 'description.xml', say);
  const root = text === null ? null : readXml(text, 'description.xml', say);
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
    // Our own files carry their measures in a member of their own.
    physical: readPhysical(type, geometries, dmxModes, members.has(EXTRAS) ? () => undefined : notKept),
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
